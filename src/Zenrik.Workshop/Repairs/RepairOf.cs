using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fit;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>An item of the stores that may go into a repair's slot.</summary>
/// <param name="PromisedTo">The repair it is promised to, or null when it is free.</param>
public sealed record Candidate(
    string Code,
    string Number,
    string Name,
    string? Serial,
    string Bin,
    string? PromisedTo,
    FitAnswer Fit
)
{
    /// <summary>True when it may be taken as it is.</summary>
    public bool MayBeTaken => PromisedTo is null && Fit.Verdict is FitVerdict.Fits or FitVerdict.FitsWithConditions;
}

/// <summary>A line of a repair with what could be fitted.</summary>
/// <param name="Numbers">Every number that may go in, with its verdict.</param>
/// <param name="Coming">Orders on their way for this slot's numbers.</param>
/// <param name="ToLook">What is still to be seen of the unit and decides which number fits.</param>
public sealed record LineView(
    RepairLine Line,
    Candidate? Chosen,
    IReadOnlyList<Candidate> Candidates,
    IReadOnlyList<JudgedNumber> Numbers,
    IReadOnlyList<PartOrder> Coming,
    IReadOnlyList<Trait> ToLook
)
{
    /// <summary>True when something free on the shelf waits for nothing but a look at the unit.</summary>
    public bool LookDecides =>
        ToLook.Count > 0
        && Candidates.Any(c =>
            c.PromisedTo is null
            && c.Fit.Verdict == FitVerdict.NotKnown
            && c.Fit.Reasons.Where(r => r.Weight == FitWeight.Missing).All(r => r.Evidence == Evidence.ByEye)
        );
}

/// <summary>A consumable the plan uses, and whether it is at hand.</summary>
/// <param name="Number">The number it is ordered by; null when none is known.</param>
public sealed record ConsumableView(Consumable Kind, int Needed, int Free, string? Bin, string? Number = null);

/// <summary>A repair as its page shows it.</summary>
/// <param name="Plan">The plan as it stands; for a session, the one it began with; null while nothing is to be exchanged.</param>
/// <param name="Bench">The session's state, once there is one.</param>
public sealed record RepairView(
    Repair Repair,
    Passport Passport,
    Plan? Plan,
    IReadOnlyList<LineView> Lines,
    IReadOnlyList<ConsumableView> Consumables,
    BenchView? Bench,
    IReadOnlyList<ErasureRecord> Erasures,
    IReadOnlyList<Waiver> Waivers
)
{
    /// <summary>Deliveries that are due after the day the unit is promised for, a sentence each.</summary>
    public IReadOnlyList<string> Late =>
        Repair is not { State: RepairState.Open, PromisedOn: { } promised }
            ? []
            :
            [
                .. Lines
                    .Select(Ready)
                    .Where(l => l.IsLate(promised))
                    .Select(l =>
                        $"Promised for {promised.ToString("ddd d MMM", CultureInfo.InvariantCulture)}, and the {l.Assembly} is due on {l.Coming!.Value.ToString("ddd d MMM", CultureInfo.InvariantCulture)}. Tell the user, or order it elsewhere."
                    ),
            ];

    /// <summary>What keeps the repair from going to the bench; empty when nothing does.</summary>
    public IReadOnlyList<string> Blocks =>
        Readiness.Blocks(
            Lines.Select(Ready),
            Repair.State == RepairState.Open
                ? Consumables
                    .Where(c => !Repair.OwnConsumables.ContainsKey(c.Kind.ToString()))
                    .Select(c => (c.Kind, c.Needed, c.Free))
                : []
        );

    private static LineReadiness Ready(LineView l) =>
        new(
            l.Line.AssemblyName,
            l.Chosen is not null,
            l.Candidates.Any(c => c.MayBeTaken),
            l.LookDecides ? l.ToLook[0].Question : null,
            l.Coming.Count > 0 ? l.Coming.Min(o => o.Expected) : null
        );
}

/// <summary>Reads a repair with everything its page decides on.</summary>
public sealed class RepairOf(WorkshopDb db, PassportOf passports, PlanFor plans, BenchOf benches, FitOf fits)
{
    public async Task<Outcome<RepairView>> Run(long number, CancellationToken stop = default)
    {
        var repair = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.OpenedBy)
            .Include(r => r.ClosedBy)
            .Include(r => r.Photos)
            .Include(r => r.Triage.Where(s => s.TakenBackAt == null).OrderBy(s => s.Id))
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
        var plan =
            bench?.Ledger.Plan
            ?? (
                repair.Lines.Count > 0 && passport.Fitted is { } map
                    ? (await plans.Of(map, repair.Goals, stop)).Value
                    : null
            );

        var underway = repair.State is RepairState.Open or RepairState.OnBench;
        var signed = underway ? await db.Waivers.Of(repair.Id, stop) : null;
        var lines = new List<LineView>();
        foreach (var line in repair.Lines)
        {
            IReadOnlyList<JudgedNumber> numbers = underway
                ? (await fits.Slot(passport, line.Slot, signed, line.IsTooSmall, stop)).Value
                : [];
            var candidates = await Candidates(numbers, stop);
            var names = numbers.Select(n => n.Number.Number).ToList();
            var coming = underway
                ? await db
                    .PartOrders.AsNoTracking()
                    .Include(o => o.Supplier)
                    .Where(o =>
                        o.State == OrderState.Ordered
                        && (o.LineId == line.Id || (o.RepairId == null && names.Contains(o.Number)))
                    )
                    .OrderBy(o => o.Expected)
                    .ToListAsync(stop)
                : [];
            lines.Add(
                new LineView(
                    line,
                    candidates.FirstOrDefault(c => c.PromisedTo == repair.Code),
                    candidates,
                    numbers,
                    coming,
                    ToLook(passport, line.Slot)
                )
            );
        }

        return new RepairView(
            repair,
            passport,
            plan,
            lines,
            plan is null
                ? []
                : ConsumablesFor(plan, await Consumables.Free(db, stop), await Consumables.Numbers(db, stop)),
            bench,
            repair.End == RepairEnd.Retired
                ? await db
                    .Erasures.AsNoTracking()
                    .Include(e => e.By)
                    .Where(e => e.RepairId == repair.Id)
                    .ToListAsync(stop)
                : [],
            await db
                .Waivers.AsNoTracking()
                .Include(w => w.By)
                .Where(w => w.RepairId == repair.Id)
                .OrderBy(w => w.At)
                .ToListAsync(stop)
        );
    }

    private static IReadOnlyList<Trait> ToLook(Passport passport, string slot) =>
        passport.Model is not { } model
            ? []
            :
            [
                .. model
                    .Assemblies.Where(a => model.Part(a.Part).Slot == slot)
                    .SelectMany(a => a.ByEye)
                    .Distinct()
                    .Select(id => ByEye.Find(id)!)
                    .Where(t => t.Find(passport.Unit.Looks.Find(l => l.Trait == t.Id)?.Look) is null),
            ];

    /// <summary>Items on the shelves of some numbers: those that may be taken first.</summary>
    private async Task<IReadOnlyList<Candidate>> Candidates(IReadOnlyList<JudgedNumber> numbers, CancellationToken stop)
    {
        if (numbers.Count == 0)
        {
            return [];
        }

        var fit = numbers.ToDictionary(n => n.Number.Id, n => n.Answer);
        var ids = fit.Keys.ToList();
        var rows = await db
            .Items.AsNoTracking()
            .Where(i =>
                ids.Contains(i.NumberId)
                && (i.BinKind == BinKind.Shelf || (i.BinKind == BinKind.Bench && i.Reservation != null))
            )
            .Select(i => new
            {
                i.Code,
                i.NumberId,
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
                    r.Promised is { } n ? Repair.CodeOf(n) : null,
                    fit[r.NumberId]
                ))
                .OrderByDescending(c => c.MayBeTaken)
                .ThenBy(c => c.Fit.Verdict)
                .ThenBy(c => c.PromisedTo is not null)
                .ThenBy(c => c.Bin, StringComparer.Ordinal)
                .ThenBy(c => c.Code, StringComparer.Ordinal),
        ];
    }

    private static List<ConsumableView> ConsumablesFor(
        Plan plan,
        Dictionary<Consumable, ConsumableLot> lots,
        Dictionary<Consumable, string> numbers
    ) =>
        [
            .. plan.Consumables.Select(c => new ConsumableView(
                c.Key,
                c.Value,
                lots.GetValueOrDefault(c.Key)?.Free ?? 0,
                lots.GetValueOrDefault(c.Key)?.Bin,
                numbers.GetValueOrDefault(c.Key)
            )),
        ];
}
