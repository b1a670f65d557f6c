using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Scheduling;

/// <summary>Chooses by hand who does a repair, and when among what is theirs.</summary>
public sealed class PinJob(WorkshopDb db, KeepPeople people, TimeProvider clock)
{
    /// <summary>Pins a repair to somebody: before all that is theirs, or right behind another repair.</summary>
    /// <param name="behind">Its code; null: first.</param>
    public Task<Outcome<string>> Pin(
        long repairNumber,
        Guid who,
        string? behind,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(repairNumber, stop)).Try(out var repair, out var cannot))
            {
                return cannot;
            }

            if ((await people.AtBench(stop)).FirstOrDefault(p => p.Id == who) is not { } hand)
            {
                return new Refusal(RefusalReason.Invalid, "Choose somebody who works at the bench.");
            }

            var theirs = await Pins(who, repair.Id, stop);
            var after = theirs.FindIndex(p => Repair.CodeOf(p.Number) == behind);
            if (behind is not null && after < 0)
            {
                // What it goes behind is pinned as well, or it would not stay behind it.
                if (
                    Repair.NumberOf(behind) is not { } number
                    || (await Open(number, stop)).Refusal is not null
                    || await db.Repairs.SingleOrDefaultAsync(r => r.Number == number, stop) is not { } other
                )
                {
                    // It is on the bench, or gone: right after that is first.
                    after = -1;
                }
                else
                {
                    other.AssignedToId = who;
                    var pin = await PinOf(other.Id, stop);
                    theirs.RemoveAll(p => p.Pin.RepairId == other.Id);
                    theirs.Add((pin, other.Number));
                    after = theirs.Count - 1;
                }
            }

            repair.AssignedToId = who;
            theirs.Insert(after + 1, (await PinOf(repair.Id, stop), repair.Number));
            foreach (var (rank, (pin, _)) in theirs.Index())
            {
                pin.Rank = rank;
            }

            return after < 0
                ? $"{repair.Code} is the first thing {hand.Name} does."
                : $"{hand.Name} does {repair.Code} right after {Repair.CodeOf(theirs[after].Number)}.";
        }
    }

    /// <summary>Leaves it to the calendar again when it is done, and by whom.</summary>
    public Task<Outcome<string>> Unpin(long repairNumber, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(repairNumber, stop)).Try(out var repair, out var cannot))
            {
                return cannot;
            }

            db.BenchPins.RemoveRange(await db.BenchPins.Where(p => p.RepairId == repair.Id).ToListAsync(stop));
            repair.AssignedToId = null;
            return $"The calendar chooses who does {repair.Code}, and when.";
        }
    }

    private async Task<Outcome<Repair>> Open(long number, CancellationToken stop) =>
        !(await db.LockRepair(number, stop)).Try(out var repair, out var missing) ? missing
        : repair.State == Core.Repairs.RepairState.Open ? repair
        : new Refusal(RefusalReason.Conflict, $"{repair.Code} is on the bench already, or has ended.");

    private async Task<BenchPin> PinOf(RepairId repair, CancellationToken stop)
    {
        var pin = await db.BenchPins.SingleOrDefaultAsync(p => p.RepairId == repair, stop);
        if (pin is null)
        {
            pin = new BenchPin { RepairId = repair, Rank = 0 };
            db.Add(pin);
        }

        return pin;
    }

    private async Task<List<(BenchPin Pin, long Number)>> Pins(Guid who, RepairId but, CancellationToken stop) =>
        [
            .. (
                await (
                    from p in db.BenchPins
                    join r in db.Repairs on p.RepairId equals r.Id
                    where r.AssignedToId == who && r.State == Core.Repairs.RepairState.Open && r.Id != but
                    orderby p.Rank, r.Number
                    select new { Pin = p, r.Number }
                ).ToListAsync(stop)
            ).Select(p => (p.Pin, p.Number)),
        ];
}
