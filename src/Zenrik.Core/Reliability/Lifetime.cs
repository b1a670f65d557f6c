namespace Zenrik.Core.Reliability;

/// <summary>How long a part served in a unit.</summary>
/// <param name="From">The day it went in.</param>
/// <param name="To">The day it came out, or the day of the question for one that still serves.</param>
/// <param name="Failed">True when it came out because it had failed by itself; false for one that serves, or left for another reason.</param>
public readonly record struct Lifetime(DateOnly From, DateOnly To, bool Failed)
{
    /// <summary>Days in service, at least half a day: what failed on its first day served part of it.</summary>
    public double Days => Math.Max(0.5, To.DayNumber - From.DayNumber);

    /// <summary>The same as it was known on an earlier day; null for one that had not begun.</summary>
    public Lifetime? On(DateOnly day) =>
        From >= day ? null
        : To <= day ? this
        : new Lifetime(From, day, false);
}

/// <summary>Why a part came out, as far as wear is concerned.</summary>
public enum RemovalCause
{
    /// <summary>It failed by itself: what reliability counts.</summary>
    Wear,

    /// <summary>A drop, a knock, liquid: says something of its user, not of the part.</summary>
    Accident,

    /// <summary>It worked: an upgrade, a strip, no fault found.</summary>
    Worked,
}

/// <summary>Tells wear from accidents by what a closed repair says. Common practice, no published source.</summary>
public static class RemovalCauses
{
    private static readonly string[] Accidental = ["after-drop", "after-liquid"];
    private static readonly string[] AccidentWords = ["broken", "cracked", "missing", "liquid", "wet", "bent", "torn"];

    /// <param name="purpose">What the unit was taken in for; null where the part left without a repair.</param>
    /// <param name="circumstances">Ids of triage's circumstances, as said at intake.</param>
    /// <param name="fault">What was said of the part.</param>
    public static RemovalCause Of(Repairs.RepairPurpose? purpose, IEnumerable<string> circumstances, string? fault) =>
        purpose is not (Repairs.RepairPurpose.Fault or Repairs.RepairPurpose.CheckUp)
        || fault is null or Repairs.RepairPurposes.ToBeUpgraded
        || fault.Contains("too small", StringComparison.OrdinalIgnoreCase)
            ? RemovalCause.Worked
        : circumstances.Any(Accidental.Contains)
        || fault.Split(' ', ',').Any(w => AccidentWords.Contains(w, StringComparer.OrdinalIgnoreCase))
            ? RemovalCause.Accident
        : RemovalCause.Wear;
}
