namespace Zenrik.Core.Sourcing;

/// <summary>
/// The chance that a part works: a Beta distribution by where it comes from, to which the workshop's own record adds. The
/// unbranded one is worth ten parts of which seven worked (common practice, no published source).
/// </summary>
/// <param name="Worked">Weight of parts that worked, the prior included.</param>
/// <param name="Failed">Weight of parts that did not.</param>
public sealed record WorkingChance(double Worked, double Failed)
{
    /// <summary>Mean of Beta(worked, failed).</summary>
    public double Mean => Worked / (Worked + Failed);

    /// <summary>Standard deviation of Beta(worked, failed).</summary>
    public double Spread =>
        Math.Sqrt(Worked * Failed / ((Worked + Failed) * (Worked + Failed) * (Worked + Failed + 1)));

    /// <summary>Before anything of the kind has been fitted here.</summary>
    public static WorkingChance Before(PartGrade grade) =>
        grade switch
        {
            PartGrade.Brand => new(48, 2),
            PartGrade.Compatible => new(18, 2),
            PartGrade.Unbranded => new(7, 3),
            PartGrade.Used => new(8, 2),
            _ => throw new ArgumentOutOfRangeException(nameof(grade)),
        };

    /// <summary>With what the workshop has seen: Beta(a + worked, b + failed).</summary>
    public static WorkingChance With(PartGrade grade, int worked, int failed)
    {
        var before = Before(grade);
        return new WorkingChance(before.Worked + worked, before.Failed + failed);
    }

    /// <summary>How many must be bought until one works, if all are alike: 1 / chance.</summary>
    public double ExpectedPurchases => 1 / Mean;
}
