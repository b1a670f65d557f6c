using Microsoft.Extensions.Caching.Memory;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// Sessions as this instance last saw them, so that the next line need not replay all lines before it. Only a shortcut:
/// a line is stored only if the session stored is still the one remembered, and whatever is forgotten is read again.
/// </summary>
public sealed class KeptBenches(IMemoryCache cache)
{
    private static readonly TimeSpan Kept = TimeSpan.FromMinutes(30);

    internal BenchView? Find(long repairNumber) => cache.Get<BenchView>(Key(repairNumber));

    internal BenchView Keep(BenchView view) => cache.Set(Key(view.Repair.Number), view, Kept);

    /// <summary>The numbers a session expects and what proved faulty, as one text to compare with what is stored.</summary>
    internal static string Expectation(Repair repair) =>
        string.Join(
            '|',
            repair
                .Lines.OrderBy(l => l.Position)
                .Select(l => $"{l.ExpectedOut}>{l.ExpectedIn}{(l.AwaitsAnother ? "!" : "")}")
        );

    private static (string, long) Key(long repairNumber) => (nameof(KeptBenches), repairNumber);
}
