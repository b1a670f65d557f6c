using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Economics;

/// <summary>Makes stripping a donor a job of the bench calendar, with the minutes of its plan.</summary>
public sealed class AskForStrip(WorkshopDb db, PassportOf passports, PlanFor plans, TimeProvider clock)
{
    /// <summary>Asks for it; what was asked of this donor before is asked no more.</summary>
    /// <param name="slots">What is to come out.</param>
    /// <param name="repairs">Codes of the repairs that wait for it; may be empty.</param>
    /// <returns>What was asked, as a sentence.</returns>
    public Task<Outcome<string>> Run(
        Guid request,
        string tag,
        IReadOnlyList<string> slots,
        IReadOnlyList<string> repairs,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, tag, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockDonor(tag, stop)).Try(out var unit, out var no))
            {
                return no;
            }

            var passport = (await passports.Run(unit.Tag, stop)).Value;
            if (!(await Plan(passport, slots, stop)).Try(out var minutes, out var cannot))
            {
                return cannot;
            }

            if (!(await Waiting(repairs, stop)).Try(out var waiting, out var gone))
            {
                return gone;
            }

            var job = await db.StripJobs.SingleOrDefaultAsync(s => s.UnitId == unit.Id, stop);
            if (job is null)
            {
                job = new StripJob
                {
                    UnitId = unit.Id,
                    Slots = [.. slots.Distinct()],
                    For = waiting,
                    Minutes = minutes,
                    AskedAt = now,
                };
                db.StripJobs.Add(job);
            }
            else
            {
                (job.Slots, job.For, job.Minutes, job.AskedAt) = ([.. slots.Distinct()], waiting, minutes, now);
            }

            return FormattableString.Invariant(
                $"Stripping {unit.Tag} of {job.Parts} is on the bench calendar: {minutes.Expected:0} minutes{(waiting.Length == 0 ? "" : $", for {string.Join(", ", waiting.Select(Repair.CodeOf))}")}."
            );
        }
    }

    /// <summary>Takes it off the calendar again.</summary>
    /// <returns>What was done, as a sentence.</returns>
    public Task<Outcome<string>> CallOff(Guid request, string tag, Actor by, CancellationToken stop = default)
    {
        return db.WriteOnce(request, by, tag, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            if (await db.StripJobs.SingleOrDefaultAsync(s => s.UnitId == unit.Id, stop) is not { } job)
            {
                return new Refusal(RefusalReason.NotFound, $"Nobody asked for {unit.Tag} to be stripped.");
            }

            db.StripJobs.Remove(job);
            return $"{unit.Tag} is off the bench calendar; it stays a donor.";
        }
    }

    private async Task<Outcome<Minutes>> Plan(Passport passport, IReadOnlyList<string> slots, CancellationToken stop)
    {
        if (slots.Count == 0)
        {
            return new Refusal(RefusalReason.Invalid, "Tick at least one part that is to come out.");
        }

        if (passport.Fitted is not { } map)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"There is no map of the {passport.Unit.Model.Name}, so nobody knows how long that takes. Strip it without the calendar."
            );
        }

        var goals = new List<Goal>();
        foreach (var slot in slots.Distinct())
        {
            if (passport.Slots.FirstOrDefault(s => s.Slot == slot) is not { } known)
            {
                return new Refusal(RefusalReason.NotFound, $"The {passport.Unit.Model.Name} has no slot “{slot}”.");
            }

            if (known.Item is null || map.PartInSlot(slot) is not { Fixed: false } part)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"As far as the passport knows there is no {known.Name} in {passport.Unit.Tag} that could come out."
                );
            }

            goals.Add(new Goal.LiftOut(part.Id));
        }

        return (await plans.Of(map, goals, stop)).Try(out var plan, out var cannot)
            ? Minutes.Total(plan.Steps.Take(plan.OutCount).Select(s => s.Seconds))
            : cannot;
    }

    private async Task<Outcome<long[]>> Waiting(IReadOnlyList<string> codes, CancellationToken stop)
    {
        var numbers = codes.Select(Repair.NumberOf).Distinct().ToList();
        var open = await db
            .Repairs.Where(r => numbers.Contains(r.Number) && r.State == RepairState.Open)
            .Select(r => r.Number)
            .ToListAsync(stop);
        return open.Count == numbers.Count
            ? open.Order().ToArray()
            : new Refusal(
                RefusalReason.Conflict,
                "A repair that this was for does not wait any more. Look at the harvest again."
            );
    }
}
