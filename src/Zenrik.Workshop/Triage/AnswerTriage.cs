using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Triage;

/// <summary>Records what a test showed or whether a remedy helped, and takes steps back.</summary>
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
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        if (!(await Lock(repairNumber, stop)).Try(out var repair, out var refusal))
        {
            return refusal;
        }

        var before = await Steps(repair, stop);
        if (before.Exists(s => s.RequestId == requestId))
        {
            return before.Count;
        }

        var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
        if (!(await triage.Network(repair, passport, stop)).Try(out var network, out refusal))
        {
            return refusal;
        }

        if (!TriageBeliefs.After(network, [.. before.Select(s => s.Step), step]).Try(out _, out refusal))
        {
            return refusal;
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
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return before.Count + 1;
    }

    /// <summary>Takes one step back, whichever it is; the belief is that of the others. Taking back twice is no fault.</summary>
    public async Task<Outcome<int>> TakeBack(long repairNumber, long stepId, CancellationToken stop = default)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        if (!(await Lock(repairNumber, stop)).Try(out var repair, out var refusal))
        {
            return refusal;
        }

        var steps = await Steps(repair, stop);
        if (steps.Find(s => s.Id == stepId) is { } step)
        {
            step.TakenBackAt = clock.GetUtcNow();
            await db.SaveChangesAsync(stop);
            await transaction.CommitAsync(stop);
            return steps.Count - 1;
        }

        return await db.TriageSteps.AnyAsync(s => s.Id == stepId && s.RepairId == repair.Id, stop)
            ? steps.Count
            : new Refusal(RefusalReason.NotFound, $"{repair.Code} has no such step.");
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
