namespace Zenrik.Core.Sourcing;

/// <summary>How often something was ordered of a supplier lately; says how likely more is needed of it before long.</summary>
/// <param name="Times">Days on which something was ordered; 0 or more.</param>
/// <param name="Days">Out of how many; 1 or more.</param>
public sealed record OrderedLately(int Times, int Days)
{
    /// <summary>Fewer days say nothing of the next weeks. Common practice, no published source.</summary>
    public const int FewestDays = 30;

    /// <summary>
    /// The chance that something is ordered within so many days: orders come by a Poisson process whose rate is not known but
    /// for these (a gamma law by Jeffreys' prior), so the chance that none comes is (D ÷ (D + d)) to the power n + ½.
    /// </summary>
    public double Within(int days) => 1 - Math.Pow((double)Days / (Days + days), Times + 0.5);
}

/// <summary>A sailing that is let go for the next, so that what is needed meanwhile goes along with it.</summary>
/// <param name="Chance">That something else is ordered there meanwhile.</param>
/// <param name="Saves">In expectation: that chance times what a shipment costs whatever is in it, in the workshop's currency.</param>
/// <param name="WaitsMore">What machines wait longer, in money.</param>
public sealed record NextSailing(DateOnly Leaves, DateOnly Arrives, double Chance, Money Saves, Money WaitsMore)
{
    /// <summary>Whether it pays to let the sailing go. That a shelf stays short until then is not weighed.</summary>
    public bool Pays => Saves.Amount > WaitsMore.Amount;
}
