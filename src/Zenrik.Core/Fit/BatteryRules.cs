using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Batteries. 100 Wh is the line above which air carriers ask for approval (IATA, from memory).</summary>
internal static class BatteryRules
{
    /// <summary>Above this a battery is no small one for air transport, Wh.</summary>
    public const double AirLineWh = 100;

    /// <summary>Makers round the nominal voltage of the same cells differently; V.</summary>
    private const double SameVolts = 0.3;

    public static void Judge(FitQuestion q, Reasons reasons)
    {
        if (!reasons.Kind(ItemKind.Battery))
        {
            return;
        }

        var (slot, item) = (q.Specification!, q.Item!);
        if (reasons.Need(item.Connector, "its plug") is { } plug && slot.Connector is { } socket)
        {
            Same(plug == socket, $"Plug {plug}", $"and the board has {socket}", reasons);
        }

        if (reasons.Need(item.Pack, "the shape of the pack") is { } pack && slot.Pack is { } room)
        {
            Same(pack == room, $"Shape {pack}", $"and the machine takes {room}", reasons);
        }

        if (reasons.Need(item.Volts, "its nominal voltage") is { } volts && slot.Volts is { } wanted)
        {
            Same(
                Math.Abs(volts - wanted) <= SameVolts,
                FormattableString.Invariant($"{volts:0.0#} V"),
                FormattableString.Invariant($"and the board charges {wanted:0.0#} V"),
                reasons
            );
        }

        if (item.Cells is { } cells && slot.Cells is { } cellsWanted && cells != cellsWanted)
        {
            reasons.If(
                $"{cells} cells instead of {cellsWanted}: the same voltage, another layout. Look at the shape.",
                Evidence.Practice
            );
        }

        if (reasons.Need(item.EnergyWh, "its energy in Wh") is { } energy)
        {
            if (slot.EnergyWh is { } design && energy < design * 0.95)
            {
                reasons.If(FormattableString.Invariant($"{energy:0} Wh instead of {design:0}: it runs shorter."));
            }

            if (energy > AirLineWh)
            {
                reasons.If(
                    FormattableString.Invariant(
                        $"{energy:0} Wh is above {AirLineWh:0} Wh: it travels by air only with the carrier's approval."
                    ),
                    Evidence.Standard
                );
            }
        }

        if (item.Unbranded is true)
        {
            if (q.Practice.Of(RuleBook.UnbrandedBatteries) == UnbrandedBatteries.BrandOnly)
            {
                reasons.Against("It is unbranded, and the house buys brand only.", Evidence.HouseRule);
            }
            else
            {
                reasons.If(
                    "It is unbranded: about 70 in 100 turn out to work. Test it for a week before it goes out.",
                    Evidence.Practice
                );
            }
        }
    }

    private static void Same(bool same, string what, string but, Reasons reasons)
    {
        if (same)
        {
            reasons.For($"{what} matches.");
        }
        else
        {
            reasons.Against($"{what}, {but}.");
        }
    }
}
