using Zenrik.Core.Reliability;

namespace Zenrik.Core.Sourcing;

/// <summary>Whether a part that failed may be its seller's to replace. Common practice, no published source.</summary>
public static class SellersGuarantee
{
    /// <summary>For how long most sellers answer for a part, unless their terms say more.</summary>
    private const int Days = 365;

    /// <summary>Why its seller is asked first.</summary>
    public const string Says = "What fails by itself within a year is usually the seller's to replace.";

    /// <param name="came">The day it was delivered.</param>
    /// <param name="cause">What the repair says of it: harm is nobody's guarantee.</param>
    public static bool MayCover(DateOnly came, DateOnly today, RemovalCause cause) =>
        cause == RemovalCause.Wear && today.DayNumber - came.DayNumber <= Days;
}
