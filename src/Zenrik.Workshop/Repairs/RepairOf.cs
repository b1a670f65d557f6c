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
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
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
/// <param name="IsDraft">True when the unit's model is planned by a draft that nobody has published.</param>
/// <param name="Bench">The session's state, once there is one.</param>
/// <param name="Unplannable">Why what the repair is for cannot be planned; null when it can.</param>
public sealed record RepairView(
    Repair Repair,
    Passport Passport,
    Plan? Plan,
    IReadOnlyList<LineView> Lines,
    IReadOnlyList<ConsumableView> Consumables,
    BenchView? Bench,
    IReadOnlyList<ErasureRecord> Erasures,
    IReadOnlyList<Waiver> Waivers,
    bool IsDraft,
    Refusal? Unplannable = null
)
{
    /// <summary>The maker's warranty, where it may cover what is wrong and the machine is still closed; else null.</summary>
    public RunningWarranty? Warranty { get; init; }

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

    /// <summary>Why the unit is not taken to the bench yet, whatever is to be exchanged; null when nothing forbids it.</summary>
    public Refusal? NotYet => Repair.State == RepairState.Open ? ShippedTriage.NotYet(Repair, Repair.Triage) : null;

    /// <summary>What keeps the repair from going to the bench; empty when nothing does.</summary>
    public IReadOnlyList<string> Blocks =>
        (NotYet ?? Unplannable) is { } why
            ? Readiness.Blocks(why)
            : Readiness.Blocks(
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
public sealed class RepairOf(
    WorkshopDb db,
    PassportOf passports,
    ServiceMapShelf maps,
    PlanFor plans,
    BenchOf benches,
    FitOf fits,
    UnderWarranty warranties
)
{
    public async Task<Outcome<RepairView>> Run(long number, CancellationToken stop = default)
    {
        var repair = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.Unit.Looks)
            .Include(r => r.OpenedBy)
            .Include(r => r.ClosedBy)
            .Include(r => r.AssignedTo)
            .Include(r => r.Follows)
            .SingleOrDefaultAsync(r => r.Number == number, stop);
        if (repair is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(number)}.");
        }

        // By its key each: a split query joins all of the above anew for every list, which takes longer to plan than to run.
        repair.Notes.AddRange(
            await db.Set<RepairNote>()
                .AsNoTracking()
                .Include(n => n.By)
                .Where(n => n.RepairId == repair.Id)
                .OrderBy(n => n.Id)
                .ToListAsync(stop)
        );
        repair.Triage.AddRange(await db.StepsOf([repair.Id]).AsNoTracking().ToListAsync(stop));
        repair.Lines.AddRange(
            await db
                .RepairLines.AsNoTracking()
                .Include(l => l.ItemIn)
                .Include(l => l.ItemOut)
                .Where(l => l.RepairId == repair.Id)
                .OrderBy(l => l.Position)
                .ToListAsync(stop)
        );
        repair.Photos.AddRange(await db.PhotosOf(repair.Id).ToListAsync(stop));
        var passport = await passports.Of(repair.Unit, stop, of: repair);
        var bench = await benches.Find(repair, stop);
        var (plan, unplannable) = (bench?.Ledger.Plan, (Refusal?)null);
        if (plan is null && repair.HasGoals && passport.Fitted is { } map)
        {
            _ = (await plans.Of(map, repair.Goals, stop)).Try(out plan, out unplannable);
        }

        var underway = repair.State is RepairState.Open or RepairState.OnBench;
        var waivers = await db
            .Waivers.AsNoTracking()
            .Include(w => w.By)
            .Where(w => w.RepairId == repair.Id)
            .OrderBy(w => w.At)
            .ToListAsync(stop);
        return new RepairView(
            repair,
            passport,
            plan,
            underway ? await Lines(repair, passport, waivers.ByNumber(), stop) : [.. repair.Lines.Select(Past)],
            plan is null ? [] : ConsumablesFor(plan, await Consumables.AtHand(db, stop)),
            bench,
            repair.End == RepairEnd.Retired
                ? await db
                    .Erasures.AsNoTracking()
                    .Include(e => e.By)
                    .Where(e => e.RepairId == repair.Id)
                    .ToListAsync(stop)
                : [],
            waivers,
            await maps.IsDraft(repair.Unit.ModelCode, stop),
            unplannable
        )
        {
            Warranty = await warranties.Of(repair, stop),
        };

        LineView Past(RepairLine line) => new(line, null, [], [], [], ToLook(passport, line.Slot));
    }

    /// <summary>The lines with what may be fitted, asked of the book for all of them at once.</summary>
    private async Task<IReadOnlyList<LineView>> Lines(
        Repair repair,
        Passport passport,
        ILookup<string, string> signed,
        CancellationToken stop
    )
    {
        if (repair.Lines.Count == 0)
        {
            return [];
        }

        var slots = repair.Lines.Select(l => l.Slot).Distinct().ToList();
        var tooSmall = repair.Lines.Where(l => l.IsTooSmall).Select(l => l.Slot).ToList();
        var judged = (await fits.Slots(passport, slots, signed, tooSmall, stop)).Value;
        List<Guid> ids = [.. judged.Values.SelectMany(s => s).Select(n => n.Number.Id).Distinct()];
        List<string> names = [.. judged.Values.SelectMany(s => s).Select(n => n.Number.Number).Distinct()];
        List<Guid> lines = [.. repair.Lines.Select(l => l.Id)];
        var shelf = await OnShelf(ids, stop);
        var coming = await db
            .PartOrders.AsNoTracking()
            .Include(o => o.Supplier)
            .Where(o =>
                o.State == OrderState.Ordered
                && (lines.Contains(o.LineId!.Value) || (o.RepairId == null && names.Contains(o.Number)))
            )
            .OrderBy(o => o.Expected)
            .ToListAsync(stop);
        return
        [
            .. repair.Lines.Select(line =>
            {
                IReadOnlyList<JudgedNumber> numbers = [.. judged[line.Slot].Where(n => line.MayBe(n.Number.Number))];
                var candidates = Candidates(numbers, shelf);
                return new LineView(
                    line,
                    candidates.FirstOrDefault(c => c.PromisedTo == repair.Code),
                    candidates,
                    numbers,
                    [
                        .. coming.Where(o =>
                            o.LineId == line.Id || (o.RepairId is null && numbers.Any(n => n.Number.Number == o.Number))
                        ),
                    ],
                    ToLook(passport, line.Slot)
                );
            }),
        ];
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

    private sealed record ShelfItem(
        string Code,
        Guid NumberId,
        string Number,
        string Name,
        string? Serial,
        string Bin,
        long? PromisedTo
    );

    private Task<List<ShelfItem>> OnShelf(List<Guid> numbers, CancellationToken stop) =>
        db
            .Items.AsNoTracking()
            .Where(i =>
                numbers.Contains(i.NumberId)
                && (i.BinKind == BinKind.Shelf || (i.BinKind == BinKind.Bench && i.Reservation != null))
            )
            .Select(i => new ShelfItem(
                i.Code,
                i.NumberId,
                i.Number.Number,
                i.Number.Name,
                i.Serial,
                i.Bin!.Code,
                i.Reservation != null ? i.Reservation.Repair.Number : null
            ))
            .ToListAsync(stop);

    /// <summary>Items on the shelves of some numbers: those that may be taken first.</summary>
    private static IReadOnlyList<Candidate> Candidates(IReadOnlyList<JudgedNumber> numbers, List<ShelfItem> shelf)
    {
        var fit = numbers.ToDictionary(n => n.Number.Id, n => n.Answer);
        return
        [
            .. shelf
                .Where(r => fit.ContainsKey(r.NumberId))
                .Select(r => new Candidate(
                    r.Code,
                    r.Number,
                    r.Name,
                    r.Serial,
                    r.Bin,
                    r.PromisedTo is { } n ? Repair.CodeOf(n) : null,
                    fit[r.NumberId]
                ))
                .OrderByDescending(c => c.MayBeTaken)
                .ThenBy(c => c.Fit.Verdict)
                .ThenBy(c => c.PromisedTo is not null)
                .ThenBy(c => c.Bin, StringComparer.Ordinal)
                .ThenBy(c => c.Code, StringComparer.Ordinal),
        ];
    }

    private static List<ConsumableView> ConsumablesFor(Plan plan, Dictionary<Consumable, ConsumableLot> atHand) =>
        [
            .. plan.Consumables.Select(c =>
            {
                var lot = atHand.GetValueOrDefault(c.Key);
                return new ConsumableView(c.Key, c.Value, lot?.Free ?? 0, lot?.Bin, lot?.Number);
            }),
        ];
}
