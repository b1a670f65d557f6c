using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// Notes that an act was possible before the map says so. The session itself keeps to its map; the finding goes to a lead.
/// </summary>
public sealed class NoteOrder(WorkshopDb db, BenchOf benches, ServiceMapShelf maps, TimeProvider clock)
{
    /// <returns>What was noted. Noting the same again changes nothing.</returns>
    public async Task<Outcome<string>> Run(
        long repairNumber,
        string? act,
        string? note,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await benches.Run(repairNumber, stop)).Try(out var bench, out var missing))
        {
            return missing;
        }

        var ledger = bench.Ledger;
        if (
            bench.Session.MapRevision is not { } revision
            || !Act.TryParse(act, out var wanted)
            || ledger.Plan.Steps.Skip(ledger.DoneSteps).FirstOrDefault(s => s.Act == wanted) is not { } step
        )
        {
            return new Refusal(RefusalReason.NotFound, "That act is not among those that remain.");
        }

        if (note?.Length > Ledger.MaxNote)
        {
            return new Refusal(RefusalReason.Invalid, $"A note has at most {Ledger.MaxNote} characters.");
        }

        if (ledger.Plan.Map.OnlyWait([.. ledger.DoneActs], wanted) is not { } cover)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{step.Title}: more than one thing of the map stands before it now, or nothing. Try again further on."
            );
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await maps.IsDraft(bench.Session.ModelCode, stop))
            {
                // What nobody has published follows at once.
                _ = await db.LockModel(bench.Session.ModelCode, stop);
                await db.NextStep(
                    bench.Session.ModelCode,
                    DraftStepKind.Statement,
                    new Statement.NeedNot($"{wanted with { Way = null }}", $"{Act.LiftOut(cover.Id)}").ToText(),
                    new Occasion(by, clock.GetUtcNow(), bench.Repair.Id),
                    stop
                );
                return $"The draft knows it now: {step.Title} does not wait for {Wording.The(cover.Name)}.";
            }

            if (
                await db.MapFindings.AnyAsync(
                    f => f.RepairId == bench.Repair.Id && f.Kind == FindingKind.Order && f.Target == wanted.ToString(),
                    stop
                )
            )
            {
                return "That is noted already.";
            }

            db.MapFindings.Add(
                new MapFinding
                {
                    Id = Guid.CreateVersion7(),
                    ModelCode = bench.Session.ModelCode,
                    MapRevision = revision,
                    Kind = FindingKind.Order,
                    Target = wanted.ToString(),
                    Cover = cover.Id.Value,
                    Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim(),
                    RepairId = bench.Repair.Id,
                    At = clock.GetUtcNow(),
                    ById = by.Id,
                }
            );
            return $"Noted for the lead: {step.Title} does not wait for {Wording.The(cover.Name)}.";
        }
    }
}
