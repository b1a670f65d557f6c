using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Repairs;

/// <summary>
/// Ends a check-up: in order, it goes back; what is not in order becomes what the repair is for, and triage begins with it.
/// </summary>
public sealed class EndCheckUp(WorkshopDb db, TimeProvider clock)
{
    /// <param name="works">Ids of the points that are in order.</param>
    /// <param name="fails">Ids of those that are not.</param>
    /// <param name="hasNot">Ids of those this machine does not have.</param>
    public Task<Outcome<string>> Run(
        Guid request,
        long repairNumber,
        IReadOnlyCollection<string> works,
        IReadOnlyCollection<string> fails,
        IReadOnlyCollection<string> hasNot,
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

            if (!repair.InCheckUp)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} is not being looked through any more.");
            }

            var points = RepairPurposes.CheckUp;
            if (points.FirstOrDefault(p => !works.Concat(fails).Concat(hasNot).Contains(p.Id)) is { } open)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"Not looked at yet: {open.Says.ToLowerInvariant()}. Say of each point whether it is so."
                );
            }

            var occasion = new Occasion(by, now);
            var wrong = points.Where(p => fails.Contains(p.Id)).ToList();
            var looked = points.Count(p => works.Contains(p.Id)) + wrong.Count;
            if (wrong.Count == 0)
            {
                repair.Decided = $"Looked through, {looked} points: everything in order.";
                repair.EndAs(RepairEnd.Serviced, occasion);
                await db.EndMark(repair, occasion, stop);
                await db.Follow(repair, occasion, stop);
                return $"{repair.Code} is closed: everything in order.";
            }

            repair.Symptoms.AddRange(wrong.Select(p => p.Symptom).Distinct());
            if (
                wrong
                    .Select(p => ShippedTriage.Knowledge.Symptom(p.Symptom)!)
                    .FirstOrDefault(s => s.Stop is not null) is
                { } danger
            )
            {
                return await db.SetApart(repair, danger, danger.Name, occasion, stop);
            }

            return $"{repair.Code}: {(wrong.Count == 1 ? "one point is" : $"{wrong.Count} points are")} not in order. Find out what is wrong.";
        }
    }
}
