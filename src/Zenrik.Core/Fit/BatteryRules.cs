using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Batteries. 100 Wh is the line above which air carriers ask for approval (IATA, from memory).</summary>
internal static class BatteryRules
{
    /// <summary>Above this a battery is no small one for air transport, Wh.</summary>
    public const double AirLineWh = 100;

    /// <summary>
    /// Cells in series and whether they are charged to the higher voltage, from a pack's nominal volts. Ordinary cells are
    /// written 3.6 or 3.7 V each and charged to 4.2, those for the higher voltage 3.8 or 3.85 and charged to 4.35 or 4.4:
    /// a charger for one harms the other, while 10.8 and 11.1 V name the same three cells. Reckoned in whole millivolts.
    /// Common practice, no published source.
    /// </summary>
    /// <returns>Null for a voltage no such pack has.</returns>
    public static (int Series, bool Higher)? CellClass(double volts)
    {
        var millivolts = (int)Math.Round(volts * 1000);
        for (var series = 1; series <= 7; series++)
        {
            if (millivolts >= 3500 * series && millivolts <= 3950 * series)
            {
                return (series, millivolts > 3750 * series);
            }
        }

        return null;
    }

    private static bool SameCells(double a, double b) =>
        CellClass(a) is { } x && CellClass(b) is { } y
            ? x == y
            : (int)Math.Round(a * 1000) == (int)Math.Round(b * 1000);

    public static void Judge(FitQuestion q, Specification.Battery slot, Reasons reasons)
    {
        if (reasons.Wanted<ItemSpecification.Battery>(ItemKind.Battery) is not { } item)
        {
            return;
        }

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
                SameCells(volts, wanted),
                FormattableString.Invariant($"{volts:0.0#} V"),
                FormattableString.Invariant($"and the board charges {wanted:0.0#} V"),
                reasons
            );
        }

        if (
            q.TooSmall
            && item.EnergyWh is { } more
            && q.Inside.GetValueOrDefault(q.Slot) is ItemSpecification.Battery { EnergyWh: { } had }
            && more <= had
        )
        {
            reasons.Against(
                FormattableString.Invariant($"{more:0} Wh is no more than the {had:0} in it, which was too small."),
                Evidence.Practice
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
