using Zenrik.Core.Fit;

namespace Zenrik.Web.Hosting;

/// <summary>Words for what a reason rests on.</summary>
public static class Fits
{
    public static string Name(Evidence evidence) =>
        evidence switch
        {
            Evidence.Specification => "specification",
            Evidence.Standard => "standard",
            Evidence.Practice => "common practice",
            Evidence.Record => "our record",
            Evidence.HouseRule => "house rule",
            Evidence.ByEye => "by eye",
            Evidence.Person => "said here",
            _ => throw new ArgumentOutOfRangeException(nameof(evidence)),
        };
}
