using System.Diagnostics;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>
/// Rows held until the caller's transaction ends, so that what changes one thing happens one after the other, whichever
/// instance it comes from.
/// </summary>
/// <remarks>
/// One rule of order: what has no row but a name, then repair, then unit, then model, supplier, order or question, then items by label, then lots. Whoever keeps to it waits
/// for others and never for somebody who waits for him; what cannot keep to it is done again (<see cref="Writing"/>).
/// </remarks>
internal static class Locks
{
    /// <summary>A repair with its lines.</summary>
    public static async Task<Outcome<Repair>> LockRepair(this WorkshopDb db, long number, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM repairs WHERE number = {number} FOR UPDATE", stop);
        var repair = await db
            .Repairs.Include(r => r.Unit.Model)
            .Include(r => r.Lines.OrderBy(l => l.Position))
            .Include(r => r.ClosedBy)
            .SingleOrDefaultAsync(r => r.Number == number, stop);
        return repair is null
            ? new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(number)}.")
            : repair;
    }

    /// <summary>The unit behind a tag; null when there is none.</summary>
    public static async Task<Unit?> LockUnit(this WorkshopDb db, string tag, CancellationToken stop)
    {
        var wanted = LabelCode.Of(tag);
        await db.Hold($"SELECT 1 FROM units WHERE tag = {wanted} FOR UPDATE", stop);
        return await db.Units.Include(u => u.Model).SingleOrDefaultAsync(u => u.Tag == wanted, stop);
    }

    /// <summary>A unit as it stands now, whatever the context knew of it before.</summary>
    public static async Task<Unit> LockUnit(this WorkshopDb db, UnitId id, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM units WHERE id = {id.Value} FOR UPDATE", stop);
        var unit = await db.Units.SingleAsync(u => u.Id == id, stop);
        await db.Entry(unit).ReloadAsync(stop);
        return unit;
    }

    /// <summary>Units by their tags, with their marks; tags nobody carries are missing.</summary>
    public static async Task<List<Unit>> LockUnits(this WorkshopDb db, string[] tags, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM units WHERE tag = ANY({tags}) ORDER BY tag FOR UPDATE", stop);
        return await db.Units.Include(u => u.Campaigns).Where(u => tags.Contains(u.Tag)).ToListAsync(stop);
    }

    /// <summary>A supplier: what is ordered of it together comes one after the other.</summary>
    public static Task LockSupplier(this WorkshopDb db, Guid id, CancellationToken stop) =>
        db.Hold($"SELECT 1 FROM suppliers WHERE id = {id} FOR UPDATE", stop);

    /// <summary>A model; null when there is none. What is made of its map comes one after the other.</summary>
    public static async Task<Model?> LockModel(this WorkshopDb db, string code, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM models WHERE code = {code} FOR UPDATE", stop);
        return await db.Models.SingleOrDefaultAsync(m => m.Code == code, stop);
    }

    /// <summary>A campaign by its name.</summary>
    public static async Task<Outcome<Campaign>> LockCampaign(this WorkshopDb db, string name, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM campaigns WHERE name = {name} FOR UPDATE", stop);
        var campaign = await db.Campaigns.SingleOrDefaultAsync(c => c.Name == name, stop);
        return campaign is null ? new Refusal(RefusalReason.NotFound, $"There is no campaign “{name}”.") : campaign;
    }

    /// <summary>The list of models: two that enter the same machine at once enter it one after the other.</summary>
    public static Task LockModels(this WorkshopDb db, CancellationToken stop) => db.InTurn("models", stop);

    /// <summary>The list of campaigns: two that mark the first units at once begin one campaign.</summary>
    public static Task LockCampaigns(this WorkshopDb db, CancellationToken stop) => db.InTurn("campaigns", stop);

    /// <summary>Who may sign in: changes to who leads wait for each other, so that one lead is always left.</summary>
    public static Task LockPeople(this WorkshopDb db, CancellationToken stop) => db.InTurn("people", stop);

    /// <summary>One person: what they have of their own changes one after the other.</summary>
    public static Task LockPerson(this WorkshopDb db, Guid id, CancellationToken stop) =>
        db.Hold($"SELECT 1 FROM technicians WHERE id = {id} FOR UPDATE", stop);

    /// <summary>Somebody the provider of sign-ins knows: two tabs at once make one person known.</summary>
    /// <param name="key">Issuer and subject.</param>
    public static Task LockOutsider(this WorkshopDb db, string key, CancellationToken stop) =>
        db.InTurn($"outside {key}", stop);

    /// <summary>Lists that are taken in: two at once would each find the other's rows new.</summary>
    public static Task LockLists(this WorkshopDb db, CancellationToken stop) => db.InTurn("lists", stop);

    /// <summary>What is done once a day by whichever instance comes first; false when another is at it.</summary>
    public static Task<bool> TryLockChores(this WorkshopDb db, CancellationToken stop) =>
        db
            .Database.SqlQuery<bool>($"SELECT pg_try_advisory_xact_lock(hashtext('chores')) AS \"Value\"")
            .SingleAsync(stop);

    /// <summary>What a machine's own words had raised.</summary>
    public static async Task<Outcome<UnitQuestion>> LockQuestion(this WorkshopDb db, Guid id, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM unit_questions WHERE id = {id} FOR UPDATE", stop);
        var question = await db.UnitQuestions.Include(q => q.Unit).SingleOrDefaultAsync(q => q.Id == id, stop);
        return question is null ? new Refusal(RefusalReason.NotFound, "There is no such question.") : question;
    }

    /// <summary>An order with its repair and supplier.</summary>
    public static async Task<Outcome<PartOrder>> LockOrder(this WorkshopDb db, Guid id, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM part_orders WHERE id = {id} FOR UPDATE", stop);
        var order = await db
            .PartOrders.Include(o => o.Repair)
            .Include(o => o.Supplier)
            .SingleOrDefaultAsync(o => o.Id == id, stop);
        return order is null ? new Refusal(RefusalReason.NotFound, "There is no such order.") : order;
    }

    /// <summary>
    /// The item behind a label, with where it is and whom it is promised to; its own label, or its maker's with the serial.
    /// </summary>
    public static async Task<Outcome<Item>> LockItem(this WorkshopDb db, string? label, CancellationToken stop)
    {
        var code = LabelCode.Of(label);
        if (code.Length == 0)
        {
            return new Refusal(RefusalReason.Invalid, "Scan or type the item's label, like IT-00031.");
        }

        var held = await Held(code);
        if (held.Refusal is null)
        {
            return held;
        }

        var serials = SerialNumber.Readings(label!);
        var codes = await db
            .Items.Where(i => serials.Contains(i.Serial!))
            .OrderBy(i => i.Code)
            .Select(i => i.Code)
            .Take(2)
            .ToListAsync(stop);
        return codes switch
        {
            [] => held,
            [var only] => await Held(only),
            _ => new Refusal(
                RefusalReason.Conflict,
                $"{codes[0]} and {codes[1]} have that serial. Scan the label the workshop put on it."
            ),
        };

        async Task<Outcome<Item>> Held(string its)
        {
            await db.Hold($"SELECT 1 FROM items WHERE code = {its} FOR UPDATE", stop);
            return await db.FindItem(its, stop);
        }
    }

    /// <summary>
    /// The item behind a label, the one that is promised to a line now and the one that proved faulty in it: whoever moves one of
    /// them comes before or after.
    /// </summary>
    public static async Task<Outcome<Item>> LockItemFor(
        this WorkshopDb db,
        Guid line,
        string label,
        CancellationToken stop
    )
    {
        var code = LabelCode.Of(label);
        await db.Hold(
            $"""
            SELECT 1 FROM items i
            WHERE i.code = {code}
               OR i.id IN (SELECT r.item_id FROM reservations r WHERE r.line_id = {line}
                           UNION ALL SELECT l.faulty_item_id FROM repair_lines l WHERE l.id = {line})
            ORDER BY i.code FOR UPDATE
            """,
            stop
        );
        return await db.FindItem(code, stop);
    }

    /// <summary>What is promised to a line of a repair, and what proved faulty in it.</summary>
    public static Task LockPromised(this WorkshopDb db, Guid line, CancellationToken stop) =>
        db.Hold(
            $"""
            SELECT 1 FROM items i
            WHERE i.id IN (SELECT r.item_id FROM reservations r WHERE r.line_id = {line}
                           UNION ALL SELECT l.faulty_item_id FROM repair_lines l WHERE l.id = {line})
            ORDER BY i.code FOR UPDATE
            """,
            stop
        );

    /// <summary>What of a number is promised to a repair.</summary>
    public static Task LockPromised(this WorkshopDb db, RepairId repair, Guid number, CancellationToken stop) =>
        db.Hold(
            $"""
            SELECT 1 FROM items i JOIN reservations r ON r.item_id = i.id
            WHERE r.repair_id = {repair.Value} AND i.number_id = {number} ORDER BY i.code FOR UPDATE OF i
            """,
            stop
        );

    /// <summary>A bin, for one who counts it; things move in and out meanwhile.</summary>
    public static Task LockBin(this WorkshopDb db, string code, CancellationToken stop) =>
        db.Hold($"SELECT 1 FROM bins WHERE code = {code} FOR NO KEY UPDATE", stop);

    /// <summary>Everything in a bin: nothing moves in or out while it is compared with a count.</summary>
    public static async Task LockContents(this WorkshopDb db, BinId bin, CancellationToken stop)
    {
        await db.Hold($"SELECT 1 FROM items WHERE bin_id = {bin.Value} ORDER BY code FOR UPDATE", stop);
        await db.Hold($"SELECT 1 FROM lots WHERE bin_id = {bin.Value} ORDER BY id FOR UPDATE", stop);
    }

    /// <summary>The first free item of a number nobody else is taking at this moment: who comes at the same time gets the next.</summary>
    public static async Task<Item?> LockFirstFree(this WorkshopDb db, Guid number, CancellationToken stop)
    {
        while (true)
        {
            var found = await db
                .Items.FromSql(
                    $"""
                    SELECT i.*, i.xmin FROM items i
                    WHERE i.number_id = {number} AND i.bin_kind = 'Shelf' AND NOT EXISTS (SELECT FROM reservations r WHERE r.item_id = i.id)
                    ORDER BY i.code LIMIT 1 FOR UPDATE OF i SKIP LOCKED
                    """
                )
                .AsTracking()
                .ToListAsync(stop);
            // Promised between the look and the lock: the promise holds, and the next one is looked for.
            if (found is not [var item] || !await db.Reservations.AnyAsync(r => r.ItemId == item.Id, stop))
            {
                return found.FirstOrDefault();
            }
        }
    }

    private static async Task<Outcome<Item>> FindItem(this WorkshopDb db, string code, CancellationToken stop) =>
        await db
            .Items.Include(i => i.Bin)
            .Include(i => i.Unit)
            .Include(i => i.Number.Fits)
            .Include(i => i.Reservation!.Repair)
            .SingleOrDefaultAsync(i => i.Code == code, stop)
            is { } item
            ? item
            : new Refusal(RefusalReason.NotFound, $"No item carries the label {code}.");

    /// <summary>Waits for what has no row of its own, by its name; no two things share one.</summary>
    private static Task InTurn(this WorkshopDb db, string what, CancellationToken stop) =>
        db.Hold($"SELECT pg_advisory_xact_lock(hashtext({what}))", stop);

    private static async Task Hold(this WorkshopDb db, FormattableString rows, CancellationToken stop)
    {
        var since = Stopwatch.GetTimestamp();
        await db.Database.ExecuteSqlAsync(rows, stop);
        Measured.Waited(since);
    }
}
