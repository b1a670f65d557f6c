using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Coin cells: CR2032 is 20.0 mm across and 3.2 mm high, 3 V (names by IEC 60086, from memory).</summary>
internal static class CoinCellRules
{
    public static void Judge(FitQuestion q, Specification.CoinCell slot, Reasons reasons)
    {
        if (reasons.Wanted<ItemSpecification.CoinCell>(ItemKind.CoinCell) is not { } item)
        {
            return;
        }

        if (
            reasons.Need(item.Volts, "its voltage") is { } volts
            && slot.Volts is { } wanted
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

        var charges = slot.Rechargeable is true;
        if (item.Rechargeable is { } rechargeable && rechargeable != charges)
        {
            reasons.Against(
                rechargeable
                    ? "It is made to be charged, and this board does not charge its cell: it would be flat in weeks."
                    : "This board charges its cell, and this one must not be charged: it can leak or burst.",
                Evidence.Practice
            );
        }

        if (item.Connector is { } plug && slot.Connector is { } socket && plug != socket)
        {
            reasons.Against($"Its plug is {plug}, and the board has {socket}.");
        }

        ListedRules.Judge(q, reasons);
    }
}
