using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// Places on the model's drawing what came off in a session that goes on without a map. What the session has shown so far goes
/// into the draft with it, and again as a whole when it is closed.
/// </summary>
public sealed class PlaceAtBench(WorkshopDb db, BenchOf benches, TimeProvider clock)
{
    /// <param name="place">Of something that came off in this session.</param>
    public Task<Outcome<string>> Run(
        Guid request,
        long repairNumber,
        Statement.Lies place,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, Repair.CodeOf(repairNumber), now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (
                repair.State != RepairState.OnBench
                || await benches.Find(repair, stop) is not { Session: { IsFree: true } session } bench
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} is not worked on without a map. Things are placed on the page of the draft."
                );
            }

            if (!(await db.OpenDraft(session.ModelCode, stop)).Try(out var open, out var closed))
            {
                return closed;
            }

            var draft = open.Draft;
            if (Sighting.Of(session.Id, session.StartedById, bench.Ledger) is not { } shown)
            {
                return new Refusal(RefusalReason.Conflict, "Nothing has come off yet.");
            }

            var grown = draft.With(shown);
            if (
                (grown.Refuse(place) ?? await db.Loses(session.ModelCode, draft.Map, grown.With(place).Map, stop)) is
                { } refusal
            )
            {
                return refusal;
            }

            var occasion = new Occasion(by, now, repair.Id);
            if (draft.Refuse(place) is not null)
            {
                await db.NextStep(session.ModelCode, DraftStepKind.Sighting, shown.ToText(), occasion, stop);
                // The next step counts on from it.
                await db.SaveChangesAsync(stop);
            }

            await db.NextStep(
                session.ModelCode,
                DraftStepKind.Statement,
                place.ToText(),
                occasion with
                {
                    Repair = null,
                },
                stop
            );
            return "It is placed.";
        }
    }
}
