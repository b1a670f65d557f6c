using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Triage;

/// <summary>
/// Records what a test showed or whether a remedy helped, and takes steps back. What is forbidden on this machine is not
/// accepted; a dangerous finding sets it apart at once.
/// </summary>
public sealed class AnswerTriage(WorkshopDb db, PassportOf passports, TriageOf triage, TimeProvider clock)
{
    /// <param name="requestId">Made up by the sender; sent twice, the step is stored once.</param>
    /// <returns>How many steps there are now. A step that contradicts the others is refused and not stored.</returns>
    public async Task<Outcome<int>> Run(
        long repairNumber,
        Guid requestId,
        TriageStep step,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (Writing.Missing(requestId) is { } nameless)
        {
            return nameless;
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<int>> Work()
        {
            if (!(await Lock(repairNumber, stop)).Try(out var repair, out var refusal))
            {
                return refusal;
            }

            var before = await Steps(repair, stop);
            if (
                await db.TriageSteps.AsNoTracking().SingleOrDefaultAsync(s => s.RequestId == requestId, stop) is
                { } sent
            )
            {
                return sent.RepairId == repair.Id && sent.ById == by.Id && sent.Step == step
                    ? before.Count
                    : Writing.UsedElsewhere;
            }

            var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
            if (!(await triage.Network(repair, passport, stop)).Try(out var network, out refusal))
            {
                return refusal;
            }

            TriageStep[] steps = [.. before.Select(s => s.Step), step];
            if (!TriageBeliefs.After(network, steps).Try(out _, out refusal))
            {
                return refusal;
            }

            if (TriageSafety.Check(network, steps) is { } forbidden)
            {
                return forbidden;
            }

            db.TriageSteps.Add(
                new TriageStepRecord
                {
                    RepairId = repair.Id,
                    RequestId = requestId,
                    Test = (step as TriageStep.Tested)?.Test,
                    Remedy = (step as TriageStep.Tried)?.Remedy,
                    Answer = step switch
                    {
                        TriageStep.Tested tested => tested.Outcome,
                        TriageStep.Tried { Cured: true } => "cured",
                        _ => null,
                    },
                    At = clock.GetUtcNow(),
                    ById = by.Id,
                }
            );
            if (
                step is TriageStep.Tested { Outcome: { } seen } done
                && network.Tests.First(t => t.Id == done.Test) is var test
                && test.Outcomes.First(o => o.Id == seen) is { Stop: not null } danger
            )
            {
                await db.SetApart(repair, null, $"{test.Title} {danger.Name}", new(by, clock.GetUtcNow()), stop);
            }

            return before.Count + 1;
        }
    }

    /// <summary>Something dangerous was noticed that no test asked for: the machine is set apart.</summary>
    /// <param name="symptomId">A symptom that stops.</param>
    /// <returns>What was done, as a sentence.</returns>
    public async Task<Outcome<string>> Stop(
        long repairNumber,
        string symptomId,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (ShippedTriage.Knowledge.Symptom(symptomId) is not { Stop: not null } symptom)
        {
            return new Refusal(RefusalReason.NotFound, $"\"{symptomId}\" is nothing that stops a repair.");
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State == RepairState.Stopped)
            {
                return $"{repair.Code} is set apart already.";
            }

            if (repair.State != RepairState.Open)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} is not at the counter; stop it at the bench."
                );
            }

            return await db.SetApart(repair, symptom, symptom.Name, new(by, clock.GetUtcNow()), stop);
        }
    }

    /// <summary>Takes one step back, whichever it is; the belief is that of the others. Taking back twice is no fault.</summary>
    public Task<Outcome<int>> TakeBack(long repairNumber, long stepId, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<int>> Work()
        {
            if (!(await Lock(repairNumber, stop)).Try(out var repair, out var refusal))
            {
                return refusal;
            }

            var steps = await Steps(repair, stop);
            if (steps.Find(s => s.Id == stepId) is { } step)
            {
                var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
                if (!(await triage.Network(repair, passport, stop)).Try(out var network, out refusal))
                {
                    return refusal;
                }

                if (TriageSafety.Check(network, [.. steps.Where(s => s != step).Select(s => s.Step)]) is not null)
                {
                    return new Refusal(
                        RefusalReason.Conflict,
                        "What was done after it needed what it allowed. Take those steps back first."
                    );
                }

                step.TakenBackAt = clock.GetUtcNow();
                return steps.Count - 1;
            }

            return await db.TriageSteps.AnyAsync(s => s.Id == stepId && s.RepairId == repair.Id, stop)
                ? steps.Count
                : new Refusal(RefusalReason.NotFound, $"{repair.Code} has no such step.");
        }
    }

    private async Task<Outcome<Repair>> Lock(long repairNumber, CancellationToken stop) =>
        !(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing) ? missing
        : repair.State != RepairState.Open
            ? new Refusal(RefusalReason.Conflict, $"{repair.Code} is not in triage any more.")
        : repair.TriageEnd is not null
            ? new Refusal(RefusalReason.Conflict, $"The triage of {repair.Code} has ended. Take its end back to go on.")
        : repair;

    private Task<List<TriageStepRecord>> Steps(Repair repair, CancellationToken stop) =>
        db
            .TriageSteps.Where(s => s.RepairId == repair.Id && s.TakenBackAt == null)
            .OrderBy(s => s.Id)
            .ToListAsync(stop);
}
