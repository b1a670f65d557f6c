using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>An item of the stores that fits a repair's slot.</summary>
/// <param name="PromisedTo">The repair it is promised to, or null when it is free.</param>
public sealed record Candidate(string Code, string Number, string Name, string? Serial, string Bin, string? PromisedTo);

/// <summary>A line of a repair with what could be fitted.</summary>
public sealed record LineView(RepairLine Line, Candidate? Chosen, IReadOnlyList<Candidate> Candidates);

/// <summary>A consumable the plan uses, and whether it is at hand.</summary>
public sealed record ConsumableView(Consumable Kind, int Needed, int Free, string? Bin);

/// <summary>A repair as its page shows it.</summary>
/// <param name="Plan">The plan as it stands; for a session, the one it began with.</param>
/// <param name="Bench">The session's state, once there is one.</param>
public sealed record RepairView(
    Repair Repair,
    Passport Passport,
    Plan Plan,
    IReadOnlyList<LineView> Lines,
    IReadOnlyList<ConsumableView> Consumables,
    BenchView? Bench
)
{
    /// <summary>What keeps the repair from going to the bench; empty when nothing does.</summary>
    public IReadOnlyList<string> Blocks =>
        Readiness.Blocks(
            Lines.Select(l => (l.Line.AssemblyName, l.Chosen is not null, l.Candidates.Any(c => c.PromisedTo is null))),
            Repair.State == RepairState.Open ? Consumables.Select(c => (c.Kind, c.Needed, c.Free)) : []
        );
}

/// <summary>Reads a repair with everything its page decides on.</summary>
public sealed class RepairOf(WorkshopDb db, PassportOf passports, PlanFor plans, BenchOf benches)
{
    public async Task<Outcome<RepairView>> Run(long number, CancellationToken stop = default)
    {
        var repair = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.OpenedBy)
            .Include(r => r.ClosedBy)
            .Include(r => r.Lines.OrderBy(l => l.Position))
                .ThenInclude(l => l.ItemIn)
            .Include(r => r.Lines)
                .ThenInclude(l => l.ItemOut)
            .AsSplitQuery()
            .SingleOrDefaultAsync(r => r.Number == number, stop);
        if (repair is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(number)}.");
        }

        var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
        var bench = await benches.Find(repair, stop);
        var map =
            passport.Fitted
            ?? throw new InvalidOperationException($"{repair.Code} was opened for a model without a map");
        var plan = bench?.Ledger.Brief.Plan ?? (await plans.Of(map, repair.Goals, stop)).Value;

        var lines = new List<LineView>();
        foreach (var line in repair.Lines)
        {
            var candidates = repair.State is RepairState.Open or RepairState.OnBench
                ? await Candidates(repair.Unit.ModelCode, line.Slot, stop)
                : [];
            lines.Add(new LineView(line, candidates.FirstOrDefault(c => c.PromisedTo == repair.Code), candidates));
        }

        return new RepairView(
            repair,
            passport,
            plan,
            lines,
            ConsumablesFor(plan, await Consumables.Free(db, stop)),
            bench
        );
    }

    /// <summary>What in the stores fits a slot of a model, free ones first.</summary>
    public async Task<IReadOnlyList<Candidate>> Candidates(string modelCode, string slot, CancellationToken stop)
    {
        var rows = await db
            .Items.AsNoTracking()
            .Where(i =>
                i.Bin!.Kind == BinKind.Shelf && i.Number.Fits.Any(f => f.ModelCode == modelCode && f.Slot == slot)
            )
            .OrderBy(i => i.Reservation != null)
            .ThenBy(i => i.Bin!.Code)
            .ThenBy(i => i.Code)
            .Select(i => new
            {
                i.Code,
                i.Number.Number,
                i.Number.Name,
                i.Serial,
                Bin = i.Bin!.Code,
                Promised = i.Reservation != null ? (long?)i.Reservation.Repair.Number : null,
            })
            .ToListAsync(stop);
        return
        [
            .. rows.Select(r => new Candidate(
                r.Code,
                r.Number,
                r.Name,
                r.Serial,
                r.Bin,
                r.Promised is { } n ? Repair.CodeOf(n) : null
            )),
        ];
    }

    private static List<ConsumableView> ConsumablesFor(Plan plan, Dictionary<Consumable, ConsumableLot> lots) =>
        [
            .. plan.Consumables.Select(c =>
                lots.TryGetValue(c.Key, out var lot)
                    ? new ConsumableView(c.Key, c.Value, lot.Free, lot.Bin)
                    : new ConsumableView(c.Key, c.Value, 0, null)
            ),
        ];
}
