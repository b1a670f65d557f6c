using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;

namespace Zenrik.Workshop.Repairs;

/// <summary>A repair as the Counter lists it.</summary>
/// <param name="Blocks">What it waits for; empty when it can go ahead.</param>
public sealed record CounterRow(
    Repair Repair,
    string What,
    IReadOnlyList<Candidate> Parts,
    Minutes Minutes,
    IReadOnlyList<string> Blocks
);

/// <summary>Everything in the workshop now.</summary>
public sealed record CounterView(
    IReadOnlyList<CounterRow> Ready,
    IReadOnlyList<CounterRow> Waiting,
    IReadOnlyList<BenchView> OnBench
);

/// <summary>Sorts open repairs by what can be done now.</summary>
public sealed class ViewCounter(WorkshopDb db, RepairOf repairs)
{
    public async Task<CounterView> Run(CancellationToken stop = default)
    {
        var numbers = await db
            .Repairs.Where(r => r.State == RepairState.Open || r.State == RepairState.OnBench)
            .OrderBy(r => r.PromisedOn ?? DateOnly.MaxValue)
            .ThenBy(r => r.Number)
            .Select(r => r.Number)
            .ToListAsync(stop);
        var (ready, waiting, onBench) = (new List<CounterRow>(), new List<CounterRow>(), new List<BenchView>());
        foreach (var number in numbers)
        {
            var view = (await repairs.Run(number, stop)).Value;
            if (view.Bench is { } bench)
            {
                onBench.Add(bench);
                continue;
            }

            var row = new CounterRow(
                view.Repair,
                string.Join(", ", view.Repair.Lines.Select(l => l.Fault)),
                [.. view.Lines.Select(l => l.Chosen).OfType<Candidate>()],
                view.Plan.Minutes,
                view.Blocks
            );
            (row.Blocks.Count == 0 ? ready : waiting).Add(row);
        }

        return new CounterView(ready, waiting, onBench);
    }
}
