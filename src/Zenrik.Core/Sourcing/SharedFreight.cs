namespace Zenrik.Core.Sourcing;

/// <summary>A line of a shipment: for whom, and how heavy.</summary>
/// <param name="For">A repair or the shelf, as it is shown.</param>
/// <param name="WeightKg">Of all pieces of the line.</param>
public sealed record ShipmentLine(string For, decimal WeightKg);

/// <param name="Alone">What sending the line by itself would have cost.</param>
/// <param name="Share">What it pays of the shipment.</param>
public sealed record FreightShare(ShipmentLine Line, Money Alone, Money Share);

/// <summary>
/// Freight and brokerage of one shipment shared among its lines in proportion to what each would have paid alone. Since
/// sending together never costs more than sending apart, nobody pays more than alone. Shares are whole coins and add up
/// to the shipment (largest remainders).
/// </summary>
public static class SharedFreight
{
    public static Outcome<(Money Together, IReadOnlyList<FreightShare> Shares)> Of(
        FreightOption freight,
        IReadOnlyList<ShipmentLine> lines,
        Exchange exchange
    )
    {
        if (lines.Count == 0 || lines.Any(l => l.WeightKg < 0))
        {
            return new Refusal(
                RefusalReason.Invalid,
                "A shipment has at least one line, and none weighs less than nothing."
            );
        }

        if (
            !exchange.ToHome(freight.Base).Try(out var fixedPart, out var unknown)
            || !exchange.ToHome(freight.PerKg).Try(out var perKg, out unknown)
            || !exchange
                .ToHome(freight.BrokerageIncluded ? freight.Brokerage * 0 : freight.Brokerage)
                .Try(out var brokerage, out unknown)
        )
        {
            return unknown;
        }

        Money Of(decimal kg) => (fixedPart + brokerage + (perKg * kg)).Rounded();
        var alone = lines.Select(l => Of(l.WeightKg)).ToList();
        var sum = alone.Sum(a => a.Amount);
        // Rounding the sum up must not make it dearer than the rounded parts.
        var together = Of(lines.Sum(l => l.WeightKg));
        together = together with { Amount = Math.Min(together.Amount, sum) };
        var exact = alone.Select(a => sum == 0 ? 0 : together.Amount * a.Amount / sum).ToList();
        var coins = exact.Select(e => Math.Floor(e * 100)).ToList();
        var missing = (int)((together.Amount * 100) - coins.Sum());
        foreach (
            var (_, i) in exact
                .Select((e, i) => ((e * 100) - coins[i], i))
                .Where(r => coins[r.i] < alone[r.i].Amount * 100)
                .OrderByDescending(r => r.Item1)
                .ThenBy(r => r.i)
                .Take(missing)
        )
        {
            coins[i]++;
        }

        return (
            together,
            (IReadOnlyList<FreightShare>)
                [.. lines.Select((l, i) => new FreightShare(l, alone[i], new Money(coins[i] / 100, exchange.Home)))]
        );
    }
}
