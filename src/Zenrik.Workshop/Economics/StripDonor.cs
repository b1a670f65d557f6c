using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Economics;

/// <summary>One part taken out of a donor.</summary>
/// <param name="Number">What is printed on it; empty where the passport's number was found to be right.</param>
/// <param name="Good">True to the shelf, false to quarantine.</param>
public sealed record Stripped(string Slot, string? Number, bool Good);

/// <summary>
/// Takes parts out of a donor into the stores; each keeps where it came from as its movement. What comes out of a machine that
/// must not get power is set apart, however it looks.
/// </summary>
public sealed class StripDonor(WorkshopDb db, PassportOf passports, ServiceMapShelf maps, TimeProvider clock)
{
    /// <summary>In which repair a donor was given up; null when in none.</summary>
    public async Task<GivenUp?> GivenUp(UnitId donor, CancellationToken stop = default) =>
        (await db.GivenUp(maps, [donor], stop)).GetValueOrDefault(donor);

    /// <param name="binCode">The shelf bin for what is good; not asked for where nothing goes to a shelf.</param>
    /// <returns>What was taken, as a sentence.</returns>
    public Task<Outcome<string>> Run(
        Guid request,
        string tag,
        IReadOnlyList<Stripped> parts,
        string? binCode,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, tag, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (parts.Count == 0)
            {
                return new Refusal(RefusalReason.Invalid, "Tick at least one part that was taken out.");
            }

            if (!(await db.LockDonor(tag, stop)).Try(out var unit, out var no))
            {
                return no;
            }

            var passport = (await passports.Run(unit.Tag, stop)).Value;
            var occasion = new Occasion(by, now, Note: $"from the donor {unit.Tag}");
            var wet = await GivenUp(unit.Id, stop) is { WithoutPower: true };
            var quarantine = await db.TheBin(BinKind.Quarantine, stop);
            var shelf = quarantine;
            if (
                !wet
                && parts.Any(p => p.Good)
                && !(await db.FindBin(binCode, stop, BinKind.Shelf)).Try(out shelf, out var none)
            )
            {
                return none;
            }

            var labels = new List<string>();
            foreach (var part in parts)
            {
                if (passport.Slots.FirstOrDefault(s => s.Slot == part.Slot) is not { } slot)
                {
                    return new Refusal(RefusalReason.NotFound, $"The {unit.Model.Name} has no slot “{part.Slot}”.");
                }

                if (!(await Out(unit, slot, part, occasion, stop)).Try(out var item, out var refusal))
                {
                    return refusal;
                }

                var good = part.Good && !wet;
                db.Movements.Add(item.MoveTo(good ? shelf : quarantine, MovementReason.Stripped, occasion));
                labels.Add($"{item.Code} ({slot.Name}, {(good ? $"bin {shelf.Code}" : "quarantine")})");
            }

            await NoLongerAsked(unit, parts, stop);
            return $"Out of {unit.Tag}: {string.Join(", ", labels)}.";
        }
    }

    /// <summary>What is out is asked for no more.</summary>
    private async Task NoLongerAsked(Unit unit, IReadOnlyList<Stripped> parts, CancellationToken stop)
    {
        if (await db.StripJobs.SingleOrDefaultAsync(s => s.UnitId == unit.Id, stop) is not { } job)
        {
            return;
        }

        string[] left = [.. job.Slots.Except(parts.Select(p => p.Slot))];
        if (left.Length == 0)
        {
            db.StripJobs.Remove(job);
        }
        else
        {
            job.Slots = left;
        }
    }

    /// <summary>The item in the slot; where the passport is wrong or silent, the one somebody reads off the part.</summary>
    private async Task<Outcome<Item>> Out(
        Unit unit,
        PassportSlot slot,
        Stripped part,
        Occasion occasion,
        CancellationToken stop
    )
    {
        PartNumber? printed = null;
        if (!string.IsNullOrWhiteSpace(part.Number))
        {
            if (!PartNumber.Read(part.Number).Try(out var read, out var unreadable))
            {
                return unreadable;
            }

            printed = await db.Meant(read, stop);
        }

        if (slot.Item is { } recorded)
        {
            if (printed is { } other && other.Canonical != recorded.Number.Canonical)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"The passport has {recorded.Number.Number} in {slot.Slot}, and {other.Text} was read off the part. Put the passport right first: nothing was taken out."
                );
            }

            return await db.Items.Include(i => i.Number).SingleAsync(i => i.Id == recorded.Id, stop);
        }

        if (printed is not { } number)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"The passport does not know what is in {slot.Slot}. Read the number off the part and type it."
            );
        }

        var canonical = number.Canonical;
        var known = await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
        if (known is null)
        {
            return new Refusal(
                RefusalReason.NeedsConfirmation,
                $"{number.Text} is not known here. Read it once more; a number is made known in Stores, under part numbers."
            );
        }

        var item = await Items.Create(db, known, null, stop);
        db.Items.Add(item);
        db.Movements.Add(item.MoveTo(unit.Id, slot.Slot, MovementReason.AsBuilt, occasion));
        await db.SaveChangesAsync(stop);
        return item;
    }
}
