using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Importing;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Importing;

/// <summary>
/// Says what is inside units: a line a slot, or a line a unit with a column for each slot. What a passport has otherwise
/// leaves the book as corrected, with the list as the reason; blank cells say nothing.
/// </summary>
internal sealed class ImportInside(WorkshopDb db, ServiceMapShelf maps, string file) : SheetRun<ImportInside.Wanted>
{
    private readonly Dictionary<string, int> seen = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> serials = new(StringComparer.Ordinal);

    internal sealed record InSlot(string Slot, PartNumber Number, string? Serial);

    /// <param name="Slots">Those that are otherwise than the book says.</param>
    internal sealed record Wanted(UnitId Unit, string Model, IReadOnlyList<InSlot> Slots);

    protected override async Task<IReadOnlyList<(RowFate Fate, Wanted? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        var lines = batch.Select(Read).ToList();
        var good = lines.Where(l => l.Refusal is null).Select(l => l.Value).ToList();
        var tags = good.Select(l => l.Tag).Distinct().ToArray();
        var units = await db
            .Units.AsNoTracking()
            .Where(u => tags.Contains(u.Tag))
            .Select(u => new
            {
                u.Id,
                u.Tag,
                u.State,
                u.ModelCode,
                Model = u.Model.Name,
            })
            .ToDictionaryAsync(u => u.Tag, stop);
        var ids = units.Values.Select(u => (UnitId?)u.Id).ToArray();
        var inside = (
            await db.Items.AsNoTracking().Include(i => i.Number).Where(i => ids.Contains(i.UnitId)).ToListAsync(stop)
        ).ToDictionary(i => (i.UnitId!.Value, i.Slot!));
        var said = good.SelectMany(l => l.Slots).Select(s => s.Serial).OfType<string>().Distinct().ToArray();
        var elsewhere = (
            await db
                .Items.AsNoTracking()
                .Include(i => i.Bin)
                .Include(i => i.Unit)
                .Where(i => said.Contains(i.Serial!) && (i.BinId == null || i.BinKind != BinKind.Outside))
                .ToListAsync(stop)
        ).ToLookup(i => i.Serial!);
        var lacking = new Dictionary<(string, string), Refusal?>();
        foreach (
            var (model, slot) in good.SelectMany(l => l.Slots.Select(s => (l.Tag, s.Slot)))
                .Where(x => units.ContainsKey(x.Tag))
                .Select(x => (units[x.Tag].ModelCode, x.Slot))
                .Distinct()
        )
        {
            lacking[(model, slot)] = await maps.Lacks(model, slot, inside: true, stop);
        }

        return
        [
            .. batch.Select(
                (row, i) => lines[i].Try(out var line, out var wrong) ? Judge(row.Line, line) : Refused(wrong.Message)
            ),
        ];

        (RowFate, Wanted?) Judge(int at, (string Tag, List<InSlot> Slots) line)
        {
            if (units.GetValueOrDefault(line.Tag) is not { } unit)
            {
                return Refused($"No unit carries the tag {line.Tag}. Take the units in first.");
            }

            if (unit.State == UnitState.OnBench)
            {
                return Refused($"{unit.Tag} is on the bench; what is found inside is read there.");
            }

            var changes = new List<FactChange>();
            var wanted = new List<InSlot>();
            foreach (var slot in line.Slots)
            {
                if (lacking[(unit.ModelCode, slot.Slot)] is { } no)
                {
                    return Refused(no.Message);
                }

                if (!seen.TryAdd($"{unit.Tag} {slot.Slot}", at))
                {
                    return Refused(
                        $"{slot.Slot} of {unit.Tag} stands in line {seen[$"{unit.Tag} {slot.Slot}"]} already."
                    );
                }

                if (slot.Serial is { } serial)
                {
                    if (!serials.TryAdd(serial, at))
                    {
                        return Refused($"The serial {serial} stands in line {serials[serial]} already.");
                    }

                    if (elsewhere[serial].FirstOrDefault(i => i.UnitId != unit.Id || i.Slot != slot.Slot) is { } other)
                    {
                        return Refused(
                            $"The serial {serial} is that of {other.Code}, which the book has in {other.Where()}. One part is in one place: look at both."
                        );
                    }
                }

                var has = inside.GetValueOrDefault((unit.Id, slot.Slot));
                if (
                    has?.Number.Canonical == slot.Number.Canonical
                    && (slot.Serial is null || has.Serial == slot.Serial)
                )
                {
                    continue;
                }

                wanted.Add(slot);
                changes.Add(
                    new FactChange(
                        slot.Slot,
                        Text(has?.Number.Number, has?.Serial),
                        Text(slot.Number.Text, slot.Serial)
                    )
                );
            }

            return (
                changes.Count > 0 && changes.TrueForAll(c => c.Before is null)
                    ? new RowFate.New(string.Join(", ", changes.Select(c => $"{c.What} {c.After}")))
                    : RowFate.Of(changes),
                new Wanted(unit.Id, unit.Model, wanted)
            );
        }
    }

    private static string? Text(string? number, string? serial) =>
        serial is null ? number : $"{number}, serial {serial}";

    private static Outcome<(string Tag, List<InSlot> Slots)> Read(RowValues row)
    {
        if (!UnitTag.Read(row["tag"]).Try(out var tag, out var wrong))
        {
            return wrong;
        }

        var slots = new List<InSlot>();
        if (row["slot"] is { } named)
        {
            if (named.Length > 40)
            {
                return new Refusal(RefusalReason.Invalid, "A slot's name has at most 40 characters.");
            }

            if (row["number"] is null)
            {
                return new Refusal(RefusalReason.Invalid, $"It names the slot {named}, but no part number in it.");
            }

            string? serial = null;
            if (row["serial"] is { } typed)
            {
                if (!SerialNumber.Read(typed).Try(out serial, out wrong))
                {
                    return wrong;
                }
            }

            if (!PartNumber.Read(row["number"]).Try(out var number, out wrong))
            {
                return wrong;
            }

            slots.Add(new InSlot(named, number, serial));
        }

        foreach (
            var (column, cell) in row.All.Where(c => c.Key.StartsWith(Sheets.SlotColumn, StringComparison.Ordinal))
        )
        {
            if (!PartNumber.Read(cell).Try(out var number, out wrong))
            {
                return wrong;
            }

            slots.Add(new InSlot(column[Sheets.SlotColumn.Length..], number, null));
        }

        return slots.Count == 0
            ? new Refusal(RefusalReason.Invalid, "It says of no slot what is in it.")
            : (tag.Text, slots);
    }

    protected override async Task Write(
        IReadOnlyList<(RowFate Fate, Wanted Plan)> rows,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var wanted = rows.SelectMany(r => r.Plan.Slots.Select(s => (r.Plan.Unit, r.Plan.Model, Slot: s))).ToList();
        var canonical = wanted.Select(w => w.Slot.Number.Canonical).Distinct().ToArray();
        var numbers = await db
            .CatalogueNumbers.Where(n => canonical.Contains(n.Canonical))
            .ToDictionaryAsync(n => n.Canonical, stop);
        foreach (var w in wanted.Where(w => !numbers.ContainsKey(w.Slot.Number.Canonical)))
        {
            if (!numbers.ContainsKey(w.Slot.Number.Canonical))
            {
                numbers[w.Slot.Number.Canonical] = db
                    .CatalogueNumbers.Add(CatalogueNumber.Of(w.Slot.Number, $"{w.Slot.Slot}, {w.Model}"))
                    .Entity;
            }
        }

        var why = occasion with { Note = $"As the list {file} says" };
        var outside = await db.TheBin(BinKind.Outside, stop);
        var ids = wanted.Select(w => (UnitId?)w.Unit).Distinct().ToArray();
        var slots = wanted.Select(w => (w.Unit, w.Slot.Slot)).ToHashSet();
        var before = await db.Items.Where(i => ids.Contains(i.UnitId)).ToListAsync(stop);
        foreach (var item in before.Where(i => slots.Contains((i.UnitId!.Value, i.Slot!))))
        {
            db.Movements.Add(item.MoveTo(outside, MovementReason.Reported, why));
        }

        // Written before their successors arrive: a slot holds one item at every moment.
        await db.SaveChangesAsync(stop);
        var labels = await Items.Codes(db, wanted.Count, stop);
        foreach (var (unit, _, slot) in wanted)
        {
            var item = Items.Of(labels.Dequeue(), numbers[slot.Number.Canonical], slot.Serial);
            db.Items.Add(item);
            db.Movements.Add(item.MoveTo(unit, slot.Slot, MovementReason.Reported, why));
        }

        await db.SaveChangesAsync(stop);
        db.ChangeTracker.Clear();
    }
}
