using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fleet;

/// <summary>
/// Makes a passport say what is really in a slot. What it said before leaves the book by a movement with the reason; the
/// history stays as it was.
/// </summary>
public sealed class CorrectPassport(WorkshopDb db, PassportOf passports, TimeProvider clock)
{
    /// <param name="number">What is in the slot; empty when nothing is.</param>
    public Task<Outcome<string>> Run(
        Guid request,
        string tag,
        string slot,
        string? number,
        string? serial,
        string? why,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(
            request,
            by,
            $"{tag} {slot}",
            now,
            async () =>
                Keeping.Reason(why).Try(out var reason, out var silent)
                    ? await Change(tag, slot, number, serial, new Occasion(by, now, Note: reason), stop)
                    : silent,
            stop
        );
    }

    /// <summary>Says of all slots at once what is in them, as when a machine is opened for the first time; all or none.</summary>
    /// <param name="slots">Slot, number and serial; without a number nothing is in it.</param>
    public Task<Outcome<string>> All(
        Guid request,
        string tag,
        IReadOnlyList<(string Slot, string? Number, string? Serial)> slots,
        string? why,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, tag, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!Keeping.Reason(why).Try(out var reason, out var silent))
            {
                return silent;
            }

            if (slots.Count > MostSlots)
            {
                return new Refusal(RefusalReason.Invalid, $"No machine has more than {MostSlots} slots.");
            }

            foreach (var (slot, number, serial) in slots)
            {
                var said = await Change(tag, slot, number, serial, new Occasion(by, now, Note: reason), stop);
                if (!said.Try(out _, out var wrong))
                {
                    return wrong with { Message = $"{slot}: {wrong.Message} Nothing was written." };
                }
            }

            return $"The passport of {LabelCode.Of(tag)} says of {(slots.Count == 1 ? "1 slot" : $"{slots.Count} slots")} what is in {(slots.Count == 1 ? "it" : "them")}.";
        }
    }

    private const int MostSlots = 60;

    /// <summary>The same within the caller's transaction.</summary>
    internal async Task<Outcome<string>> Change(
        string tag,
        string slot,
        string? number,
        string? serial,
        Occasion occasion,
        CancellationToken stop
    )
    {
        if (await db.LockUnit(tag, stop) is not { } unit)
        {
            return UnitTag.Unknown(tag);
        }

        if (unit.State == Core.Fleet.UnitState.OnBench)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{unit.Tag} is on the bench; what is found inside is read there."
            );
        }

        var passport = (await passports.Run(unit.Tag, stop)).Value;
        if (passport.Model is not null && passport.Slots.All(s => s.Slot != slot))
        {
            return new Refusal(RefusalReason.NotFound, $"The {unit.Model.Name} has no slot “{slot}”.");
        }

        PartNumber? inside = null;
        if (!string.IsNullOrWhiteSpace(number))
        {
            if (!PartNumber.Read(number).Try(out var read, out var unreadable))
            {
                return unreadable;
            }

            inside = await db.Meant(read, stop);
            serial =
                string.IsNullOrWhiteSpace(serial) && ScannedLabel.Read(number).Try(out var label, out _)
                    ? label?.Serial
                    : serial;
        }

        string? said = null;
        if (!string.IsNullOrWhiteSpace(serial))
        {
            if (!SerialNumber.Read(serial).Try(out var read, out var unreadable))
            {
                return unreadable;
            }

            said = read;
            if (await SeenElsewhere(unit.Id, slot, said, stop) is { } elsewhere)
            {
                return elsewhere;
            }
        }

        var before = await db
            .Items.Include(i => i.Number)
            .SingleOrDefaultAsync(i => i.UnitId == unit.Id && i.Slot == slot, stop);
        if (
            before is not null
            && inside is { } same
            && before.Number.Canonical == same.Canonical
            && before.Serial == said
        )
        {
            return $"The passport of {unit.Tag} says so already.";
        }

        if (before is null && inside is null)
        {
            return $"The passport of {unit.Tag} says so already.";
        }

        if (before is not null)
        {
            db.Movements.Add(before.MoveTo(await db.TheBin(BinKind.Outside, stop), MovementReason.Reported, occasion));
            // Written before its successor arrives: a slot holds one item at every moment.
            await db.SaveChangesAsync(stop);
        }

        if (inside is { } now)
        {
            await Fit(unit, slot, now, said, occasion, stop);
        }

        return inside is null
            ? $"The passport of {unit.Tag} has nothing in {slot} now."
            : $"The passport of {unit.Tag} has {inside.Value.Text} in {slot} now.";
    }

    /// <summary>Enters an item into the book as found in a slot; its number becomes known where it was not.</summary>
    internal async Task Fit(
        Unit unit,
        string slot,
        PartNumber number,
        string? serial,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var canonical = number.Canonical;
        var known = await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
        if (known is null)
        {
            known = CatalogueNumber.Of(number, $"{slot}, {unit.Model.Name}");
            db.CatalogueNumbers.Add(known);
        }

        var item = await Items.Create(db, known, serial, stop);
        db.Items.Add(item);
        db.Movements.Add(item.MoveTo(unit.Id, slot, MovementReason.Reported, occasion));
        await db.SaveChangesAsync(stop);
    }

    /// <summary>One part is in one place: its serial in another unit or on a shelf is for a person to look at.</summary>
    internal async Task<Refusal?> SeenElsewhere(UnitId unit, string slot, string serial, CancellationToken stop)
    {
        var other = await db
            .Items.AsNoTracking()
            .Include(i => i.Unit)
            .Include(i => i.Bin)
            .Include(i => i.Number)
            .Where(i => i.Serial == serial && (i.UnitId != unit || i.Slot != slot))
            .Where(i => i.BinId == null || i.BinKind != BinKind.Outside)
            .FirstOrDefaultAsync(stop);
        return other is null
            ? null
            : new Refusal(
                RefusalReason.Conflict,
                $"The serial {serial} is that of {other.Code} ({other.Number.Number}), which the book has in {other.Where()}. One part is in one place: look at both."
            );
    }
}
