namespace Zenrik.Core.Economics;

/// <summary>
/// A part that still works, in a machine that is to be opened for something else: exchanged now, or when it fails. Later it
/// is a repair of its own, with the whole way in and out and a loan unit; now it is what it adds to this one.
/// </summary>
/// <param name="Fails">The chance that it fails while the unit is of use, from its own age; 0 to 1.</param>
/// <param name="Left">How often it is exchanged while the unit is of use when it is left now, in expectation.</param>
/// <param name="Exchanged">How often from now on when a new one goes in now.</param>
/// <param name="AloneMinutes">The whole plan of a repair of its own.</param>
/// <param name="MoreMinutes">What it adds to the plan of the repair that is made anyway.</param>
/// <param name="Price">Of a new one, in the house's currency.</param>
public sealed record WhileOpen(
    double Fails,
    double Left,
    double Exchanged,
    double AloneMinutes,
    double MoreMinutes,
    decimal Price,
    Rates Rates
)
{
    /// <summary>Days a unit is away for a repair of its own, and a loan unit with its user. Common practice, no published source.</summary>
    public const int DaysAway = 2;

    /// <summary>What it costs now, come what may.</summary>
    public decimal Now => Price + (Rates.LabourPerHour * (decimal)(MoreMinutes / 60));

    /// <summary>What a failure costs later.</summary>
    public decimal Later =>
        Price + (Rates.LabourPerHour * (decimal)(AloneMinutes / 60)) + (DaysAway * Rates.LoanPerDay);

    /// <summary>
    /// What is gained by it in expectation: left × later − (now + exchanged × later). A part that does not age, which fails
    /// new as often as old, never gains: nothing is won by the exchange but another of the same.
    /// </summary>
    public decimal Gain => ((decimal)(Left - Exchanged) * Later) - Now;

    public bool Pays => Gain > 0;
}
