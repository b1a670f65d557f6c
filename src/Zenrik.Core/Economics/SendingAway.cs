using Zenrik.Core.Triage;

namespace Zenrik.Core.Economics;

/// <summary>What a specialist is likely to cure.</summary>
public static class SendingAway
{
    /// <summary>Where no part can be had here. Common practice, no published source.</summary>
    private const double NoOtherWay = 0.75;

    /// <summary>Where nothing known explains the trouble. Common practice, no published source.</summary>
    private const double Unexplained = 0.5;

    /// <summary>
    /// The chance that the specialist cures the fault: what the triage files say of it; where they say nothing, that of
    /// an unexplained fault, or of a part that cannot be had.
    /// </summary>
    /// <param name="specialist">The remedy that ends beyond the bench.</param>
    /// <param name="onlyWay">True when nothing else but retiring is left.</param>
    /// <returns>Null where sending it away is no way.</returns>
    public static double? Chance(Remedy specialist, Fault fault, bool onlyWay) =>
        TriageKnowledge.CureChance(specialist, fault) is var known && known > 0 ? known
        : fault.Nature == FaultNature.Unknown ? Unexplained
        : onlyWay && fault.Component is not null ? NoOtherWay
        : null;
}
