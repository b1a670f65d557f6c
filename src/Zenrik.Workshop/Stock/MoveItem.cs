using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>Puts one item somewhere else in the stores. Every way of it is one movement.</summary>
public sealed class MoveItem(WorkshopDb db, TimeProvider clock)
{
    /// <summary>From one shelf bin to another; what is promised stays promised.</summary>
    public Task<Outcome<string>> ToBin(
        Guid request,
        string? label,
        string? bin,
        Actor by,
        CancellationToken stop = default
    ) =>
        Do(
            request,
            label,
            MovementReason.Moved,
            null,
            by,
            async (item, occasion) =>
                !(await db.FindBin(bin, stop, BinKind.Shelf)).Try(out var to, out var none) ? none
                : item.Bin?.Kind != BinKind.Shelf ? Refuse($"{item.Code} is in {item.Where()}, not on a shelf.")
                : to.Id == item.BinId ? Refuse($"{item.Code} is in bin {to.Code} already.")
                : Put(item, to, MovementReason.Moved, occasion),
            stop
        );

    /// <summary>Sets an item of a shelf or of a bench apart; whoever it was promised to has to choose another.</summary>
    public Task<Outcome<string>> SetApart(
        Guid request,
        string? label,
        string? why,
        Actor by,
        CancellationToken stop = default
    ) =>
        Do(
            request,
            label,
            MovementReason.SetApart,
            why,
            by,
            async (item, occasion) =>
                item.Bin?.Kind is BinKind.Shelf or BinKind.Bench
                    ? Put(item, await db.TheBin(BinKind.Quarantine, stop), MovementReason.SetApart, occasion)
                : item.Bin?.Kind == BinKind.Quarantine ? Refuse($"{item.Code} is set apart already.")
                : Refuse($"{item.Code} is in {item.Where()}; it is set apart when it comes out of there."),
            stop
        );

    /// <summary>Back from quarantine to a shelf: somebody found it good.</summary>
    public Task<Outcome<string>> Release(
        Guid request,
        string? label,
        string? bin,
        string? why,
        Actor by,
        CancellationToken stop = default
    ) =>
        Do(
            request,
            label,
            MovementReason.Released,
            why,
            by,
            async (item, occasion) =>
                item.Bin?.Kind != BinKind.Quarantine ? Refuse($"{item.Code} is not in quarantine.")
                : await IsSwollen(item, stop)
                    ? Refuse(
                        $"{item.Code} is set apart as swollen, and a swollen cell never goes back to a shelf. It leaves the house as local rules say; if that was said by mistake, take the movement back."
                    )
                : !(await db.FindBin(bin, stop, BinKind.Shelf)).Try(out var to, out var none) ? none
                : Put(item, to, MovementReason.Released, occasion),
            stop
        );

    /// <summary>True when what it was exchanged for, or why it was set apart, says so.</summary>
    private async Task<bool> IsSwollen(Item item, CancellationToken stop) =>
        (await db.RepairLines.Where(l => l.ItemOutId == item.Id).Select(l => l.Fault).ToListAsync(stop))
            .Concat(
                await db
                    .Movements.Where(m =>
                        m.ItemId == item.Id
                        && m.Reason == MovementReason.SetApart
                        && !db.Movements.Any(r => r.RightsId == m.Id)
                    )
                    .Select(m => m.Note ?? "")
                    .ToListAsync(stop)
            )
            .Any(Hazards.IsSwelling);

    /// <summary>Out of the house for good.</summary>
    public Task<Outcome<string>> Scrap(
        Guid request,
        string? label,
        string? why,
        Actor by,
        CancellationToken stop = default
    ) =>
        Do(
            request,
            label,
            MovementReason.Scrapped,
            why,
            by,
            async (item, occasion) =>
                item.Bin?.Kind == BinKind.Quarantine
                    ? Put(item, await db.TheBin(BinKind.Outside, stop), MovementReason.Scrapped, occasion)
                    : Refuse(
                        $"{item.Code} is in {item.Where()}. Only what is set apart is scrapped: set it apart first, with the reason."
                    ),
            stop
        );

    /// <summary>Back from the bench to the shelf it was taken from; nobody is promised it any more.</summary>
    public Task<Outcome<string>> Return(
        Guid request,
        string? label,
        string? bin,
        Actor by,
        CancellationToken stop = default
    ) =>
        Do(
            request,
            label,
            MovementReason.Returned,
            null,
            by,
            async (item, occasion) =>
            {
                if (item.Bin?.Kind != BinKind.Bench)
                {
                    return Refuse($"{item.Code} is in {item.Where()}; only what was handed out comes back.");
                }

                var from = string.IsNullOrWhiteSpace(bin) ? await CameFrom(item.Id, stop) : bin;
                return (await db.FindBin(from, stop, BinKind.Shelf)).Try(out var to, out var none)
                    ? Put(item, to, MovementReason.Returned, occasion)
                    : none;
            },
            stop
        );

    /// <summary>The repair at whose bench an item proved faulty that is still in the machine; null: none.</summary>
    private async Task<string?> FaultyIn(Item item, CancellationToken stop)
    {
        var number = await db.FaultyAtBench()
            .Where(l => l.FaultyItemId == item.Id)
            .Join(db.Repairs, l => l.RepairId, r => r.Id, (_, r) => r.Number)
            .ToListAsync(stop);
        return number is [var repair] ? Repair.CodeOf(repair) : null;
    }

    private Task<string?> CameFrom(ItemId item, CancellationToken stop) =>
        db
            .Movements.Where(m => m.ItemId == item && m.Reason == MovementReason.Issued)
            .OrderByDescending(m => m.Id)
            .Select(m => db.Bins.Where(b => b.Id == m.FromBinId).Select(b => b.Code).FirstOrDefault())
            .FirstOrDefaultAsync(stop);

    private Outcome<string> Put(Item item, Bin to, MovementReason reason, Occasion occasion)
    {
        var lost = db.Put(item, to, reason, occasion);
        var where = reason == MovementReason.Scrapped ? "has left the house" : $"is in {to.Where()} now";
        return $"{item.Code} ({item.Number.Number}) {where}.{(lost is null ? "" : $" It was promised to {lost}, which has to choose another one.")}";
    }

    /// <param name="why">Asked for where the rules want it said.</param>
    private Task<Outcome<string>> Do(
        Guid request,
        string? label,
        MovementReason reason,
        string? why,
        Actor by,
        Func<Item, Occasion, Task<Outcome<string>>> move,
        CancellationToken stop,
        [CallerMemberName] string act = ""
    )
    {
        string? note = null;
        if (ItemLife.IsSaid(reason) && !Keeping.Reason(why).Try(out note, out var silent))
        {
            return Task.FromResult<Outcome<string>>(silent);
        }

        var now = clock.GetUtcNow();
        return db.WriteOnce(
            request,
            by,
            label ?? "",
            now,
            async () =>
                !(await db.LockItem(label, stop)).Try(out var item, out var missing) ? missing
                : await FaultyIn(item, stop) is { } repair
                    ? Refuse(
                        $"{item.Code} proved faulty in {repair} and is in its machine until another goes in. It is set apart then."
                    )
                : await move(item, new Occasion(by, now, Note: note)),
            stop,
            act
        );
    }

    private static Refusal Refuse(string message) => new(RefusalReason.Conflict, message);
}
