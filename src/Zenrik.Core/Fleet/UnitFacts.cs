using System.Globalization;

namespace Zenrik.Core.Fleet;

/// <summary>What is said of a unit beside its tag and its model, and may be put right.</summary>
/// <param name="Serial">In capitals.</param>
/// <param name="User">Null for a shared machine.</param>
/// <param name="Warranty">The maker's last day; null: not known.</param>
/// <param name="Loan">True when it is lent out while others' machines are repaired.</param>
public sealed record UnitFacts(string Serial, string Site, string? User, DateOnly Bought, DateOnly? Warranty, bool Loan)
{
    /// <summary>Whether they can be so.</summary>
    /// <returns>Null when they can.</returns>
    public Refusal? Impossible(DateOnly today) =>
        Bought > today
            ? new Refusal(
                RefusalReason.Invalid,
                $"It cannot have been bought on {Day(Bought)}, which is still to come."
            )
        : Warranty < Bought
            ? new Refusal(
                RefusalReason.Invalid,
                $"Its warranty ends on {Day(Warranty)}, before it was bought on {Day(Bought)}."
            )
        : null;

    /// <summary>What is said otherwise now.</summary>
    public IReadOnlyList<FactChange> To(UnitFacts after) =>
        [
            .. new FactChange[]
            {
                new("serial", Serial, after.Serial),
                new("site", Site, after.Site),
                new("user", User, after.User),
                new("bought on", Day(Bought), Day(after.Bought)),
                new("warranty until", Day(Warranty), Day(after.Warranty)),
                new("loan unit", YesNo(Loan), YesNo(after.Loan)),
            }.Where(c => c.Before != c.After),
        ];

    private static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static string YesNo(bool yes) => yes ? "yes" : "no";
}
