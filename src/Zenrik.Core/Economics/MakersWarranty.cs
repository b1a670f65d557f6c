using Zenrik.Core.Reliability;
using Zenrik.Core.Repairs;

namespace Zenrik.Core.Economics;

/// <summary>Whether a repair may be the maker's to do, and what sending it there takes. Common practice, no published source.</summary>
public static class MakersWarranty
{
    /// <summary>Packing, and taking it in again.</summary>
    private const double Minutes = 20;
    private const double DaysOut = 10;
    private const double Works = 0.9;

    /// <summary>What users notice of harm that was done to the machine.</summary>
    public static IReadOnlyList<string> Harm { get; } =
    ["liquid", "liquid-under-power", "glass-cracked", "case-cracked"];

    /// <param name="until">The warranty's last day; null: not known.</param>
    /// <param name="reported">The day the unit was taken in.</param>
    /// <param name="symptoms">Ids of triage's symptoms, as said at intake.</param>
    /// <param name="circumstances">Ids of triage's circumstances.</param>
    /// <param name="faults">What is wrong, where it is known.</param>
    /// <returns>
    /// True where it failed by itself, as far as is known, and in time: harm is nobody's warranty, and what wore with use is none
    /// either.
    /// </returns>
    public static bool MayCover(
        DateOnly? until,
        DateOnly reported,
        RepairPurpose purpose,
        IReadOnlyCollection<string> symptoms,
        IReadOnlyCollection<string> circumstances,
        IReadOnlyCollection<string> faults
    ) =>
        until >= reported
        && !symptoms.Any(Harm.Contains)
        && !faults.Any(f => f.Split(' ').Contains("worn"))
        && faults.DefaultIfEmpty("").All(f => RemovalCauses.Of(purpose, circumstances, f) == RemovalCause.Wear);

    /// <summary>Sending it there: nothing is paid for parts.</summary>
    /// <param name="months">Of use that are left.</param>
    public static WayOut Way(double months) =>
        new(Economics.Way.SendAway, "send it to the maker under warranty", 0, Minutes, DaysOut, Works, months);
}
