using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>Which acts may be left, and how. What would stay open or unknown may not.</summary>
public static class Leavings
{
    /// <summary>The ways an act of this kind may be left; empty when it must be done.</summary>
    public static IReadOnlyList<Leaving> Of(ActKind kind) =>
        kind switch
        {
            ActKind.Prepare or ActKind.BlowClean or ActKind.ReadRemoved => [Leaving.NotNeeded],
            ActKind.Free or ActKind.Open => [Leaving.AlreadySo],
            ActKind.Check or ActKind.PowerTest or ActKind.FillDrive => [Leaving.NotNeeded, Leaving.StopGap],
            ActKind.CleanAndPaste or ActKind.Lay => [Leaving.StopGap],
            _ => [],
        };

    internal static string WhyNot(ActKind kind, Leaving how) =>
        kind switch
        {
            ActKind.Undo or ActKind.Fasten =>
                "Screws are not left without a count: say that the count differs, and why.",
            ActKind.ReadFitted => "What goes in must be known: read its number.",
            ActKind.Isolate or ActKind.Reconnect => "The battery's plug is not left to chance: it must be done.",
            ActKind.Close or ActKind.PutIn or ActKind.PutBack =>
                "Nothing may stay open or out. Do the act, or take the last one back.",
            _ => Of(kind).Count == 0
                ? "This act cannot be left; everything after it needs it."
                : $"This act may be left only as \"{Of(kind)[0].Said()}\", not as \"{how.Said()}\".",
        };
}
