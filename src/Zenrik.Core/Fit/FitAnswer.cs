using Zenrik.Core.HouseRules;

namespace Zenrik.Core.Fit;

public enum FitVerdict
{
    Fits,

    /// <summary>It fits when what its conditions say is done or accepted.</summary>
    FitsWithConditions,
    DoesNotFit,

    /// <summary>A fact is missing that decides it.</summary>
    NotKnown,
}

/// <summary>What a reason rests on.</summary>
public enum Evidence
{
    /// <summary>The model's map or the number's own data.</summary>
    Specification,

    /// <summary>A published standard; the reason names it.</summary>
    Standard,

    /// <summary>Common practice, no published source.</summary>
    Practice,

    /// <summary>What this workshop has fitted before.</summary>
    Record,
    HouseRule,

    /// <summary>What somebody saw and noted in the passport.</summary>
    ByEye,

    /// <summary>A person of this workshop said so, by name and day.</summary>
    Person,
}

public enum FitWeight
{
    For,
    Condition,
    Against,

    /// <summary>A fact is missing; the text says which one would settle it.</summary>
    Missing,
}

/// <summary>One reason of a verdict.</summary>
/// <param name="Waiver">Set where a house rule lets a person accept it: the rule's id.</param>
public sealed record FitReason(FitWeight Weight, string Text, Evidence Evidence, string? Waiver = null)
{
    /// <summary>True for a missing fact of the number, as against one of the unit.</summary>
    internal bool OfNumber { get; init; }
}

/// <summary>Whether an item fits a slot of a unit, and why.</summary>
public sealed record FitAnswer(IReadOnlyList<FitReason> Reasons)
{
    public FitVerdict Verdict =>
        Reasons.Any(r => r.Weight == FitWeight.Against) ? FitVerdict.DoesNotFit
        : Reasons.Any(r => r.Weight == FitWeight.Missing) ? FitVerdict.NotKnown
        : Reasons.Any(r => r.Weight == FitWeight.Condition) ? FitVerdict.FitsWithConditions
        : FitVerdict.Fits;

    /// <summary>Rules by which a person may accept it all the same; empty when something stands against it that no rule waives.</summary>
    public IReadOnlyList<string> Waivable =>
        Verdict == FitVerdict.DoesNotFit
        && Reasons.Where(r => r.Weight == FitWeight.Against).All(r => r.Waiver is not null)
            ? [.. Reasons.Where(r => r.Weight == FitWeight.Against).Select(r => r.Waiver!).Distinct()]
            : [];
}
