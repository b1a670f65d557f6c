using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fit;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>Something that could be exchanged besides, and what is free for it.</summary>
/// <param name="Items">Labels, bins and numbers of what fits, in the order of the bins.</param>
public sealed record Exchangeable(Assembly Assembly, IReadOnlyList<(string Code, string Bin, string Number)> Items);

/// <summary>What is found broken at the bench joins the repair as a line of its own, with an item promised to it.</summary>
public sealed class ExchangeBesides(
    WorkshopDb db,
    BenchOf benches,
    RecordEntry record,
    PassportOf passports,
    FitOf fits,
    RepairLines lines,
    ChooseItem choose,
    PlanningTime time,
    TimeProvider clock
)
{
    /// <summary>What could be exchanged besides and lies on a shelf for this unit.</summary>
    public async Task<IReadOnlyList<Exchangeable>> Of(BenchView bench, CancellationToken stop = default)
    {
        var map = bench.Ledger.Plan.Map;
        var possible = bench.Ledger.Exchangeable;
        var passport = (await passports.Run(bench.Repair.Unit.Tag, stop)).Value;
        if (
            possible.Count == 0
            || !(await fits.Slots(passport, [.. possible.Select(Slot).Distinct()], stop: stop)).Try(
                out var judged,
                out _
            )
        )
        {
            return [];
        }

        var fitting = judged.ToDictionary(
            s => s.Key,
            s =>
                s.Value.Where(n => n.Free > 0 && n.Answer.Verdict is FitVerdict.Fits or FitVerdict.FitsWithConditions)
                    .Select(n => n.Number.Id)
                    .ToList()
        );
        var numbers = fitting.Values.SelectMany(n => n).Distinct().ToList();
        var free = (
            await db
                .Items.Where(i => numbers.Contains(i.NumberId) && i.BinKind == BinKind.Shelf && i.Reservation == null)
                .OrderBy(i => i.Bin!.Code)
                .ThenBy(i => i.Code)
                .Select(i => new
                {
                    i.NumberId,
                    i.Code,
                    Bin = i.Bin!.Code,
                    i.Number.Number,
                })
                .ToListAsync(stop)
        ).ToLookup(i => i.NumberId, i => (i.Code, i.Bin, i.Number));
        return
        [
            .. possible
                .Select(a => new Exchangeable(a, [.. fitting[Slot(a)].SelectMany(n => free[n])]))
                .Where(e => e.Items.Count > 0),
        ];

        string Slot(Assembly a) => map.Part(a.Part).Slot!;
    }

    /// <summary>It joins the job: its line, its promise and the plan anew in one transaction.</summary>
    /// <param name="request">As in <see cref="RecordEntry"/>.</param>
    /// <param name="seen">As in <see cref="RecordEntry"/>.</param>
    /// <param name="assembly">Its id in the map.</param>
    /// <param name="item">Label of what goes in.</param>
    /// <param name="fault">What is wrong with it, as long as a fault may be.</param>
    /// <returns>The session with its new plan.</returns>
    public async Task<Outcome<BenchView>> Run(
        long repair,
        Guid request,
        int seen,
        string? assembly,
        string? item,
        string? fault,
        Actor by,
        CancellationToken stop = default
    )
    {
        var said = fault?.Trim() ?? "";
        if ((FaultText.Check(said) ?? Hazards.CheckExchange(said)) is { } unusable)
        {
            return unusable;
        }

        if (!(await benches.Run(repair, stop)).Try(out var bench, out var missing))
        {
            return missing;
        }

        // Sent again after it was stored: answered as it stands.
        if (bench.Session.Entries.Exists(e => e.RequestId == request))
        {
            return bench;
        }

        using var enough = new CancellationTokenSource(time.Each, clock);
        var id = AssemblyId.Of(assembly ?? "");
        return bench.Ledger.Exchange(id, said, new SearchLimit(enough.Token, stop)).Try(out var entry, out var refusal)
            ? await record.Run(
                repair,
                request,
                seen,
                entry,
                held => Add(held, id, item ?? "", said, by, stop),
                by,
                stop
            )
            : refusal;
    }

    /// <summary>Adds the line and promises the item; part of the caller's transaction, under the repair's lock.</summary>
    /// <param name="item">Its label.</param>
    /// <returns>Null when it is promised.</returns>
    private async Task<Refusal?> Add(
        Repair repair,
        AssemblyId assembly,
        string item,
        string fault,
        Actor by,
        CancellationToken stop
    )
    {
        var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
        var complaint = new Complaint(assembly.Value, fault);
        if (!(await lines.OneMore(passport, repair, complaint, true, stop)).Try(out var line, out var refusal))
        {
            return refusal;
        }

        line.ExpectedOut = passport.Slots.FirstOrDefault(s => s.Slot == line.Slot)?.Item?.Number.Number;
        db.RepairLines.Add(line);
        await db.SaveChangesAsync(stop);
        return (await choose.Promise(repair, line, item, by, stop)).Refusal;
    }
}
