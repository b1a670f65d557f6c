using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Scheduling;

/// <summary>Chooses by hand who does a job of the calendar, and when among what is theirs.</summary>
public sealed class PinJob(WorkshopDb db, KeepPeople people, TimeProvider clock)
{
    /// <summary>Pins a job to somebody: before all that is theirs, or right behind another.</summary>
    /// <param name="code">Of the repair or the strip, as the calendar has it.</param>
    /// <param name="behind">Code of the job it is done after; null: first.</param>
    public Task<Outcome<string>> Pin(string? code, Guid who, string? behind, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, code ?? "", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Waiting(code, stop)).Try(out var job, out var cannot))
            {
                return cannot;
            }

            if ((await people.AtBench(stop)).FirstOrDefault(p => p.Id == who) is not { } hand)
            {
                return new Refusal(RefusalReason.Invalid, "Choose somebody who works at the bench.");
            }

            if (behind == job.Code)
            {
                return new Refusal(RefusalReason.Invalid, Sentence.Capital($"{job.Code} cannot come behind itself."));
            }

            var theirs = await Pinned(who, job.Code, stop);
            var after = theirs.FindIndex(p => p.Code == behind);
            // What it goes behind is pinned as well, or it would not stay behind it. Is that on the bench, or gone, right
            // after it is first.
            if (behind is not null && after < 0 && (await Waiting(behind, stop)).Try(out var before, out _))
            {
                before.Give(who);
                theirs.Add(before);
                after = theirs.Count - 1;
            }

            job.Give(who);
            theirs.Insert(after + 1, job);
            foreach (var (rank, pinned) in theirs.Index())
            {
                pinned.Rank(rank);
            }

            return after < 0
                ? Sentence.Capital($"{job.Code} is the first thing {hand.Name} does.")
                : $"{hand.Name} does {job.Code} right after {theirs[after].Code}.";
        }
    }

    /// <summary>Leaves it to the calendar again when it is done, and by whom.</summary>
    public Task<Outcome<string>> Unpin(string? code, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, code ?? "", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Waiting(code, stop)).Try(out var job, out var cannot))
            {
                return cannot;
            }

            job.Give(null);
            job.Rank(null);
            return $"The calendar chooses who does {job.Code}, and when.";
        }
    }

    /// <summary>A job whose place can be chosen.</summary>
    private sealed record Job(string Code, Action<Guid?> Give, Action<int?> Rank);

    private async Task<Outcome<Job>> Waiting(string? code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is { } number)
        {
            return !(await db.LockRepair(number, stop)).Try(out var repair, out var missing) ? missing
                : repair.State == RepairState.Open
                    ? Of(repair, await db.BenchPins.SingleOrDefaultAsync(p => p.RepairId == repair.Id, stop))
                : new Refusal(RefusalReason.Conflict, $"{repair.Code} is on the bench already, or has ended.");
        }

        if (StripJob.TagOf(code) is not { } tag)
        {
            return new Refusal(RefusalReason.Invalid, "Name a job as the calendar does, as R-1001.");
        }

        return !(await db.LockDonor(tag, stop)).Try(out var unit, out var no) ? no
            : await db.StripJobs.Include(s => s.Unit).SingleOrDefaultAsync(s => s.UnitId == unit.Id, stop) is { } strip
                ? Of(strip)
            : new Refusal(RefusalReason.NotFound, $"Nobody asked for {unit.Tag} to be stripped.");
    }

    /// <summary>What is pinned to somebody, but for one, in its order.</summary>
    private async Task<List<Job>> Pinned(Guid who, string but, CancellationToken stop)
    {
        var repairs = await (
            from p in db.BenchPins
            join r in db.Repairs on p.RepairId equals r.Id
            where r.AssignedToId == who && r.State == RepairState.Open
            select new { Pin = p, Repair = r }
        ).ToListAsync(stop);
        var strips = await db.StripJobs.Include(s => s.Unit).Where(s => s.AssignedToId == who).ToListAsync(stop);
        return
        [
            .. repairs
                .Select(p => (p.Pin.Rank, Job: Of(p.Repair, p.Pin)))
                .Concat(strips.Select(s => (Rank: s.Rank!.Value, Job: Of(s))))
                .OrderBy(p => p.Rank)
                .ThenBy(p => p.Job.Code, StringComparer.Ordinal)
                .Select(p => p.Job)
                .Where(j => j.Code != but),
        ];
    }

    private Job Of(Repair repair, BenchPin? pin) =>
        new(
            repair.Code,
            who => repair.AssignedToId = who,
            rank =>
            {
                if (rank is not { } place)
                {
                    db.BenchPins.RemoveRange(pin is null ? [] : [pin]);
                }
                else if (pin is not null)
                {
                    pin.Rank = place;
                }
                else
                {
                    db.BenchPins.Add(new BenchPin { RepairId = repair.Id, Rank = place });
                }
            }
        );

    private static Job Of(StripJob strip) =>
        new(strip.Code, who => strip.AssignedToId = who, rank => strip.Rank = rank);
}
