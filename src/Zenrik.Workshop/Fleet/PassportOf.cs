using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fleet;

/// <summary>What sits in one slot, since when and by whom.</summary>
/// <param name="Name">The part's name, or the slot's where the model has no map.</param>
/// <param name="Item">Null when nothing is recorded.</param>
/// <param name="Optional">True when a unit of this model may be without it.</param>
public sealed record PassportSlot(
    string Slot,
    string Name,
    Item? Item,
    bool Optional,
    DateTimeOffset? Since,
    string? By,
    string? RepairCode,
    MovementReason? Reason
);

/// <summary>A unit's as-built record.</summary>
/// <param name="Model">The model's whole map; null when there is none yet.</param>
/// <param name="Fitted">The map of this unit, optional parts resolved.</param>
public sealed record Passport(
    Unit Unit,
    ServiceMap? Model,
    ServiceMap? Fitted,
    IReadOnlyList<PassportSlot> Slots,
    IReadOnlyList<Repair> Repairs
)
{
    public Repair? OpenRepair => Repairs.FirstOrDefault(r => r.IsUnderway);

    /// <summary>
    /// What can be exchanged for more, or put where nothing is, as it is ordered; null: soldered, of a build this unit has
    /// not, or, where nothing at all is recorded of the unit, perhaps in it already.
    /// </summary>
    public Assembly? ToUpgrade(string slot) =>
        Model?.PartInSlot(slot) is { } part
        && (
            Fitted!.Parts.Any(p => p.Id == part.Id)
            || (Filled.Count > 0 && Model.Fillable(Filled).Any(p => p.Id == part.Id))
        )
        && !Model.Specifications.Any(s => s.Slot == slot && s.Soldered is true)
            ? Model.AssemblyIn(slot)
            : null;

    /// <summary>True for a slot this unit could be without and is, as far as anything is recorded of it.</summary>
    public bool IsEmpty(string slot) =>
        Filled.Count > 0 && Slots.Any(s => s.Slot == slot && s is { Optional: true, Item: null });

    /// <summary>The passport of the unit as a job finds it that fills these slots.</summary>
    public Passport Filling(IReadOnlyCollection<string> slots) =>
        Model is null || slots.Count == 0 ? this : this with { Fitted = Model.Filling(Filled, slots) };

    private HashSet<string> Filled => [.. Slots.Where(s => s.Item is not null).Select(s => s.Slot)];
}

/// <summary>Reads passports.</summary>
public sealed class PassportOf(WorkshopDb db, ServiceMapShelf maps)
{
    /// <summary>The passport behind an asset tag, in any spelling.</summary>
    public async Task<Outcome<Passport>> Run(string tag, CancellationToken stop = default)
    {
        var wanted = LabelCode.Of(tag);
        var unit = await db
            .Units.AsNoTracking()
            .Include(u => u.Model)
            .Include(u => u.Looks)
            .SingleOrDefaultAsync(u => u.Tag == wanted, stop);
        if (unit is null)
        {
            return UnitTag.Unknown(wanted);
        }

        return await Of(unit, stop);
    }

    /// <summary>The passport of a unit whose model and looks are loaded.</summary>
    /// <param name="of">The one repair that is looked at; its others are not asked for. Null: all are.</param>
    internal async Task<Passport> Of(Unit unit, CancellationToken stop, Repair? of = null)
    {
        var inside = await db
            .Items.AsNoTracking()
            .Include(i => i.Number)
            .Where(i => i.UnitId == unit.Id)
            .Select(i => new
            {
                Item = i,
                Arrival = db
                    .Movements.Where(m => m.ItemId == i.Id && m.ToUnitId == unit.Id && m.ToSlot == i.Slot)
                    .OrderByDescending(m => m.Id)
                    .Select(m => new
                    {
                        m.At,
                        By = m.By.Name,
                        Repair = m.Repair == null ? null : (long?)m.Repair.Number,
                        m.Reason,
                    })
                    .FirstOrDefault(),
            })
            .ToListAsync(stop);
        var items = inside.ConvertAll(i => i.Item);
        var repairs = of is null
            ? await db
                .Repairs.AsNoTracking()
                .Include(r => r.Lines)
                .Where(r => r.UnitId == unit.Id)
                .OrderByDescending(r => r.Number)
                .ToListAsync(stop)
            : [];
        var underway = of ?? repairs.Find(r => r.IsUnderway);

        var map = await maps.Newest(unit.ModelCode, stop);
        var slots = map is null
            ? items.Select(i => i.Slot!).Order(StringComparer.Ordinal).Select(s => (Slot: s, Name: s, Optional: false))
            : map.Parts.Where(p => p.Slot is not null).Select(p => (Slot: p.Slot!, p.Name, p.Optional));
        return new Passport(
            unit,
            map,
            map is null ? null : MapOf(map, items, underway),
            [
                .. slots.Select(s =>
                {
                    var (item, arrival) = inside.Find(i => i.Item.Slot == s.Slot) is { } here
                        ? (here.Item, here.Arrival)
                        : (null, null);
                    return new PassportSlot(
                        s.Slot,
                        s.Name,
                        item,
                        s.Optional,
                        arrival?.At,
                        arrival?.By,
                        arrival?.Repair is { } number ? Repair.CodeOf(number) : null,
                        arrival?.Reason
                    );
                }),
            ],
            repairs
        );
    }

    /// <summary>The map of the unit these items are in, with what a repair under way is to fit.</summary>
    internal static ServiceMap MapOf(ServiceMap map, IEnumerable<Item> inUnit, Repair? underway) =>
        map.Filling(
            inUnit.Select(i => i.Slot!).ToHashSet(),
            underway is { IsUnderway: true } ? [.. underway.Lines.Select(l => l.Slot)] : []
        );
}
