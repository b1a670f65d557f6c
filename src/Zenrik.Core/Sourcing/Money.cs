using System.Globalization;

namespace Zenrik.Core.Sourcing;

/// <summary>An amount in a currency. Amounts of different currencies are never added; that is refused by an exception.</summary>
/// <param name="Currency">ISO 4217 code: "GBP".</param>
public readonly record struct Money(decimal Amount, string Currency) : IComparable<Money>
{
    public static Money operator +(Money a, Money b) => new(a.Amount + Same(a, b).Amount, a.Currency);

    public static Money operator -(Money a, Money b) => new(a.Amount - Same(a, b).Amount, a.Currency);

    public static Money operator *(Money a, decimal factor) => new(a.Amount * factor, a.Currency);

    public static bool operator <(Money a, Money b) => a.CompareTo(b) < 0;

    public static bool operator >(Money a, Money b) => a.CompareTo(b) > 0;

    public static bool operator <=(Money a, Money b) => a.CompareTo(b) <= 0;

    public static bool operator >=(Money a, Money b) => a.CompareTo(b) >= 0;

    /// <summary>To the smallest coin, a half upwards.</summary>
    public Money Rounded() => new(Math.Round(Amount, 2, MidpointRounding.AwayFromZero), Currency);

    public int CompareTo(Money other) => Amount.CompareTo(Same(this, other).Amount);

    /// <summary>"GBP 30.00".</summary>
    public override string ToString() => $"{Currency} {Amount.ToString("0.00", CultureInfo.InvariantCulture)}";

    private static Money Same(Money a, Money b) =>
        a.Currency == b.Currency
            ? b
            : throw new InvalidOperationException($"{a.Currency} and {b.Currency} are not added without a rate");
}

/// <summary>What one unit of other currencies costs in the workshop's own.</summary>
/// <param name="Home">ISO 4217 code of the workshop's currency.</param>
/// <param name="Rates">Home currency for one unit, by code; positive.</param>
public sealed record Exchange(string Home, IReadOnlyDictionary<string, decimal> Rates)
{
    public Outcome<Money> ToHome(Money money) =>
        money.Currency == Home ? money
        : Rates.TryGetValue(money.Currency, out var rate) && rate > 0 ? new Money(money.Amount * rate, Home)
        : new Refusal(
            RefusalReason.NotFound,
            $"No rate is known for the currency \"{money.Currency}\". Known: {string.Join(", ", Rates.Keys.Prepend(Home))}."
        );
}
