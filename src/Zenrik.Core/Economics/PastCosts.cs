using MathNet.Numerics.Distributions;
using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;

namespace Zenrik.Core.Economics;

/// <summary>Why a repair cost what it did.</summary>
public enum CostCause
{
    /// <summary>Something failed by itself.</summary>
    Wear,

    /// <summary>A drop, a knock, liquid.</summary>
    Accident,

    /// <summary>It was cleaned, seated, set right: no part was wanted.</summary>
    WithoutPart,

    /// <summary>Nothing was wrong with it, or with something else.</summary>
    NothingWrong,

    /// <summary>Somebody wished for it: an upgrade, a campaign.</summary>
    Wanted,
}

/// <summary>Tells causes apart by what a closed repair says, as <see cref="RemovalCauses"/> does of parts.</summary>
public static class CostCauses
{
    /// <param name="circumstances">Ids of triage's circumstances.</param>
    /// <param name="faults">What was said of each part that was exchanged.</param>
    public static CostCause Of(
        RepairPurpose purpose,
        RepairEnd? end,
        IReadOnlyCollection<string> circumstances,
        IEnumerable<string> faults
    )
    {
        var of = faults.Select(f => RemovalCauses.Of(purpose, circumstances, f)).ToList();
        return purpose is not (RepairPurpose.Fault or RepairPurpose.CheckUp) ? CostCause.Wanted
            : of.Contains(RemovalCause.Accident) ? CostCause.Accident
            : of.Contains(RemovalCause.Wear) ? CostCause.Wear
            : of.Count > 0 ? CostCause.Wanted
            : end is RepairEnd.NoFaultFound or RepairEnd.Elsewhere ? CostCause.NothingWrong
            : RemovalCauses.Of(purpose, circumstances, "") == RemovalCause.Accident ? CostCause.Accident
            : end is RepairEnd.SentAway or RepairEnd.Retired ? CostCause.Wear
            : CostCause.WithoutPart;
    }

    public static string Name(this CostCause cause) =>
        cause switch
        {
            CostCause.Wear => "failed by itself",
            CostCause.Accident => "drops and liquid",
            CostCause.WithoutPart => "no part wanted",
            CostCause.NothingWrong => "nothing wrong",
            CostCause.Wanted => "upgrades and campaigns",
            _ => throw new ArgumentOutOfRangeException(nameof(cause)),
        };
}

/// <summary>What repairs have cost in all, and between what another time like it would come to.</summary>
/// <param name="Low">In one of ten less.</param>
/// <param name="High">In one of ten more.</param>
public readonly record struct SpentBetween(decimal Sum, decimal Low, decimal High)
{
    /// <summary>
    /// Repairs come by chance, each with a cost of its own: the sum of a compound Poisson process, whose variance is the sum
    /// of the squares (W. Feller, An Introduction to Probability Theory and Its Applications I, XII.2; from memory); the
    /// interval by the normal approximation, as good as there are many.
    /// </summary>
    public static SpentBetween Of(IEnumerable<decimal> costs)
    {
        var (sum, squares) = (0m, 0.0);
        foreach (var cost in costs)
        {
            sum += cost;
            squares += (double)cost * (double)cost;
        }

        var reach = (decimal)(Normal.InvCDF(0, 1, 0.9) * Math.Sqrt(squares));
        return new SpentBetween(sum, Math.Max(0, sum - reach), sum + reach);
    }
}

/// <summary>How long the units of a fleet were in each year of their age within a time that has passed.</summary>
public static class AgeShares
{
    /// <param name="bought">Day it was bought, and how many were.</param>
    /// <param name="from">First day looked at.</param>
    /// <param name="until">The day after the last.</param>
    /// <returns>By whole years of age: unit-years, above 0.</returns>
    public static IReadOnlyDictionary<int, double> Of(
        IEnumerable<(DateOnly Day, int Count)> bought,
        DateOnly from,
        DateOnly until
    )
    {
        const double Year = 365.25;
        var shares = new SortedDictionary<int, double>();
        foreach (var (day, count) in bought)
        {
            var first = from > day ? from : day;
            for (var age = YearsAt(day, first); first < until; age++)
            {
                var birthday = day.AddYears(age + 1);
                var end = birthday < until ? birthday : until;
                shares[age] = shares.GetValueOrDefault(age) + (count * (end.DayNumber - first.DayNumber) / Year);
                first = end;
            }
        }

        return shares;
    }

    /// <summary>Whole years of age on a day; 0 before it was bought.</summary>
    public static int YearsAt(DateOnly bought, DateOnly day)
    {
        var years = Math.Max(0, day.Year - bought.Year);
        return bought.AddYears(years) > day ? Math.Max(0, years - 1) : years;
    }
}
