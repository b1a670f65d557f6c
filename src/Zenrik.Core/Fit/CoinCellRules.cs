using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Coin cells: CR2032 is 20.0 mm across and 3.2 mm high, 3 V (names by IEC 60086, from memory).</summary>
internal static class CoinCellRules
{
    public static void Judge(FitQuestion q, Reasons reasons)
    {
        if (!reasons.Kind(ItemKind.CoinCell))
        {
            return;
        }

        if (
            reasons.Need(q.Item!.Volts, "its voltage") is { } volts
            && q.Specification!.Volts is { } wanted
            && Math.Abs(volts - wanted) > 0.1
        )
        {
            reasons.Against(
                FormattableString.Invariant(
                    $"{volts:0.#} V instead of {wanted:0.#}: 3.6 V means a rechargeable cell, which this board does not charge."
                ),
                Evidence.Practice
            );
        }

        if (q.Item!.Connector is { } plug && q.Specification!.Connector is { } socket && plug != socket)
        {
            reasons.Against($"Its plug is {plug}, and the board has {socket}.");
        }

        ListedRules.Judge(q, reasons);
    }
}
