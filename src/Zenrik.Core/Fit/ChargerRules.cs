using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>
/// Chargers: same plug, same voltage, at least the same power. Where voltage is agreed over the plug (USB Power Delivery,
/// from memory: 5, 9, 15, 20 V and more by contract) only the power counts. Common practice, no published source.
/// </summary>
internal static class ChargerRules
{
    public static void Judge(FitQuestion q, Specification.Charger slot, Reasons reasons)
    {
        if (reasons.Wanted<ItemSpecification.Charger>(ItemKind.Charger) is not { } item)
        {
            return;
        }

        if (reasons.Need(item.Connector, "its plug") is { } plug && slot.Connector is { } socket)
        {
            if (plug == socket)
            {
                reasons.For($"Plug {plug} matches.");
            }
            else
            {
                reasons.Against($"Its plug is {plug}, and the machine takes {socket}.");
            }
        }

        if (slot.PowerDelivery is true)
        {
            if (item.PowerDelivery is false)
            {
                reasons.Against(
                    "It gives one voltage, and this machine agrees on it with the charger.",
                    Evidence.Standard
                );
            }
        }
        else if (reasons.Need(item.Volts, "its voltage") is { } volts && slot.Volts is { } wanted)
        {
            if (Math.Abs((volts * 10) - (wanted * 10)) < 5.5)
            {
                reasons.For(FormattableString.Invariant($"{volts:0.#} V matches."));
            }
            else
            {
                reasons.Against(FormattableString.Invariant($"{volts:0.#} V, and the machine takes {wanted:0.#}."));
            }
        }

        reasons.Watts(item.Watts, slot.Watts);

        if (slot.IdentificationPin is true)
        {
            if (item.IdentificationPin is null)
            {
                reasons.NotKnown("Not known of this number: whether it tells the machine who it is by a pin.");
            }
            else if (item.IdentificationPin is false)
            {
                reasons.If(
                    "The machine asks the charger who it is, and this one does not say: it runs, charges slowly or not at all.",
                    Evidence.Practice
                );
            }
        }
    }
}
