using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fit;

/// <summary>A part number judged for a slot, and what of it is on the shelves.</summary>
/// <param name="Free">On a shelf and promised to nobody.</param>
public sealed record JudgedNumber(CatalogueNumber Number, FitAnswer Answer, int Free, int Promised);

/// <summary>A unit an item can serve.</summary>
public sealed record ServedUnit(string Tag, string ModelName, string Site, string Slot, FitAnswer Answer);

/// <summary>An upgrade path with what the stores hold for it.</summary>
public sealed record Upgrade(UpgradePath Path, IReadOnlyList<JudgedNumber> OnShelf);

/// <summary>Answers the three questions of fit from the book: does this fit, what fits here, what does this serve.</summary>
public sealed class FitOf(WorkshopDb db, ServiceMapShelf maps, HouseRulesOf rules)
{
    private const int MostUnits = 200;

    /// <summary>Every number that may go into a slot of a unit, what fits best and is at hand first.</summary>
    /// <param name="waived">House rules signed for, by number; null: none.</param>
    public async Task<Outcome<IReadOnlyList<JudgedNumber>>> Slot(
        Passport passport,
        string slot,
        ILookup<string, string>? waived = null,
        CancellationToken stop = default
    )
    {
        if (passport.Model is not { } model)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"There is no service map for the {passport.Unit.Model.Name}, so nothing is known of its slots."
            );
        }

        var kind = KindOf(model, slot);
        var numbers = await db
            .CatalogueNumbers.AsNoTracking()
            .Include(n => n.Fits)
            .Include(n => n.SupersededBy)
            .Where(n =>
                n.Fits.Any(f => f.ModelCode == model.Model.Code && f.Slot == slot) || (kind != null && n.Kind == kind)
            )
            .ToListAsync(stop);
        if (!(await Judge(passport, slot, numbers, waived, stop)).Try(out var answers, out var refusal))
        {
            return refusal;
        }

        var ids = numbers.Select(n => n.Id).ToList();
        var shelf = (
            await db
                .Items.Where(i => ids.Contains(i.NumberId) && i.Bin!.Kind == BinKind.Shelf)
                .GroupBy(i => i.NumberId)
                .Select(g => new
                {
                    g.Key,
                    Free = g.Count(i => i.Reservation == null),
                    All = g.Count(),
                })
                .ToListAsync(stop)
        ).ToDictionary(s => s.Key);
        return numbers
            .Zip(answers)
            .Select(n =>
            {
                var at = shelf.GetValueOrDefault(n.First.Id);
                return new JudgedNumber(n.First, n.Second, at?.Free ?? 0, (at?.All ?? 0) - (at?.Free ?? 0));
            })
            // Cards of the right kind that do not fit are no answer unless the number is listed here.
            .Where(n =>
                n.Answer.Verdict != FitVerdict.DoesNotFit
                || n.Answer.Waivable.Count > 0
                || n.Number.Fits.Exists(f => f.ModelCode == model.Model.Code && f.Slot == slot)
            )
            .OrderBy(n =>
                n.Answer.Verdict switch
                {
                    FitVerdict.Fits => 0,
                    FitVerdict.FitsWithConditions => 1,
                    FitVerdict.NotKnown => 2,
                    _ => 3,
                }
            )
            .ThenByDescending(n => n.Free > 0)
            .ThenBy(n => n.Number.SupersededById != null)
            .ThenBy(n => n.Number.Number, StringComparer.Ordinal)
            .ToList();
    }

    /// <summary>One number for one slot of one unit.</summary>
    public async Task<Outcome<FitAnswer>> One(
        Passport passport,
        string slot,
        CatalogueNumber number,
        ILookup<string, string>? waived = null,
        CancellationToken stop = default
    ) =>
        (await Judge(passport, slot, [number], waived, stop)).Try(out var answers, out var refusal)
            ? answers[0]
            : refusal;

    /// <summary>A number in every slot of a unit that it is listed for or of whose kind it is.</summary>
    public async Task<Outcome<IReadOnlyList<(string Slot, FitAnswer Answer)>>> InUnit(
        Passport passport,
        CatalogueNumber number,
        CancellationToken stop = default
    )
    {
        var answers = new List<(string, FitAnswer)>();
        foreach (var slot in passport.Model is { } model ? SlotsFor(model, number) : [])
        {
            if (!(await One(passport, slot, number, null, stop)).Try(out var answer, out var refusal))
            {
                return refusal;
            }

            answers.Add((slot, answer));
        }

        return answers;
    }

    /// <summary>Units in use that a number fits, at most two hundred, by tag.</summary>
    public async Task<IReadOnlyList<ServedUnit>> Serves(CatalogueNumber number, CancellationToken stop = default)
    {
        var slots = new List<(ServiceMap Model, string Slot)>();
        foreach (var code in await db.Models.Select(m => m.Code).ToListAsync(stop))
        {
            if (await maps.Newest(code, stop) is { } map)
            {
                slots.AddRange(SlotsFor(map, number).Select(slot => (map, slot)));
            }
        }

        var served = new List<ServedUnit>();
        var codes = slots.Select(s => s.Model.Model.Code).Distinct().ToList();
        var units = await db
            .Units.AsNoTracking()
            .Include(u => u.Model)
            .Include(u => u.Looks)
            .Where(u => codes.Contains(u.ModelCode) && u.State != UnitState.Donor && u.State != UnitState.Retired)
            .OrderBy(u => u.Tag)
            .Take(MostUnits)
            .ToListAsync(stop);
        var ids = units.Select(u => u.Id).ToList();
        var inside = (
            await db
                .Items.AsNoTracking()
                .Include(i => i.Number)
                .Where(i => ids.Contains(i.UnitId!.Value))
                .ToListAsync(stop)
        ).ToLookup(i => i.UnitId!.Value);
        var practice = await rules.Run(stop);
        var records = new Dictionary<string, FitRecord>();
        foreach (var unit in units)
        {
            foreach (var (model, slot) in slots.Where(s => s.Model.Model.Code == unit.ModelCode))
            {
                if (!records.TryGetValue(model.Model.Code, out var record))
                {
                    records[model.Model.Code] = record = (
                        await Records(model.Model.Code, [number.Id], stop)
                    ).GetValueOrDefault(number.Id, FitRecord.None);
                }

                var question = Question(model, slot, number, inside[unit.Id], unit.Looks) with
                {
                    Practice = practice,
                    Record = record,
                };
                if (Fitting.Judge(question).Try(out var answer, out _) && answer.Verdict is not FitVerdict.DoesNotFit)
                {
                    served.Add(new ServedUnit(unit.Tag, unit.Model.Name, unit.Site, slot, answer));
                }
            }
        }

        return served;
    }

    /// <summary>What could be larger or better in a unit, and what of it is on the shelves.</summary>
    public async Task<IReadOnlyList<Upgrade>> Upgrades(Passport passport, CancellationToken stop = default)
    {
        if (passport.Model is not { } model)
        {
            return [];
        }

        var inside = Inside(passport);
        var upgrades = new List<Upgrade>();
        foreach (var path in UpgradePaths.Of(model, inside))
        {
            var fitting = (await Slot(passport, path.Slot, null, stop)).Try(out var judged, out _) ? judged : [];
            upgrades.Add(
                new Upgrade(
                    path,
                    [
                        .. fitting.Where(n =>
                            n.Number.Specification is { } s
                            && UpgradePaths.IsMore(s, inside.GetValueOrDefault(path.Slot))
                            && n.Answer.Verdict is not FitVerdict.NotKnown
                        ),
                    ]
                )
            );
        }

        return upgrades;
    }

    /// <summary>What sits in a unit, as far as its numbers are known.</summary>
    internal static IReadOnlyDictionary<string, ItemSpecification> Inside(Passport passport) =>
        passport
            .Slots.Where(s => s.Item is not null)
            .ToDictionary(
                s => s.Slot,
                s => s.Item!.Number.Specification ?? new ItemSpecification { Kind = ItemKind.Other }
            );

    /// <summary>The kind a standard slot takes; null where only listed numbers go in.</summary>
    internal static ItemKind? KindOf(ServiceMap model, string slot) =>
        model.Specifications.FirstOrDefault(s => s.Slot == slot) switch
        {
            null or { Soldered: true } => null,
            { Kind: SpecificationKind.Memory } => ItemKind.Memory,
            { Kind: SpecificationKind.Drive } => ItemKind.Drive,
            { Kind: SpecificationKind.Radio } => ItemKind.Radio,
            { Kind: SpecificationKind.Battery } => ItemKind.Battery,
            _ => null,
        };

    /// <summary>Slots of a model that a number is listed for, or that take its kind.</summary>
    private static IEnumerable<string> SlotsFor(ServiceMap model, CatalogueNumber number) =>
        model
            .Parts.Select(p => p.Slot)
            .OfType<string>()
            .Where(slot =>
                number.Fits.Exists(f => f.ModelCode == model.Model.Code && f.Slot == slot)
                || (number.Kind != ItemKind.Other && KindOf(model, slot) == number.Kind)
            );

    private async Task<Outcome<IReadOnlyList<FitAnswer>>> Judge(
        Passport passport,
        string slot,
        IReadOnlyList<CatalogueNumber> numbers,
        ILookup<string, string>? waived,
        CancellationToken stop
    )
    {
        if (passport.Model is not { } model)
        {
            return new Refusal(RefusalReason.Conflict, $"There is no service map for the {passport.Unit.Model.Name}.");
        }

        var practice = await rules.Run(stop);
        var records = await Records(model.Model.Code, [.. numbers.Select(n => n.Id)], stop);
        var answers = new List<FitAnswer>();
        foreach (var number in numbers)
        {
            var question = Question(model, slot, number, [], passport.Unit.Looks) with
            {
                Inside = Inside(passport),
                Practice = practice,
                Record = records.GetValueOrDefault(number.Id, FitRecord.None),
                Waived = waived?[number.Number].ToHashSet() ?? [],
            };
            if (!Fitting.Judge(question).Try(out var answer, out var refusal))
            {
                return refusal;
            }

            answers.Add(answer);
        }

        return answers;
    }

    private static FitQuestion Question(
        ServiceMap model,
        string slot,
        CatalogueNumber number,
        IEnumerable<Item> inside,
        IEnumerable<UnitLook> looks
    ) =>
        new()
        {
            Model = model,
            Slot = slot,
            Item = number.Specification,
            Number = number.Number,
            Listed = number.Fits.Exists(f => f.ModelCode == model.Model.Code && f.Slot == slot),
            Inside = inside.ToDictionary(
                i => i.Slot!,
                i => i.Number.Specification ?? new ItemSpecification { Kind = ItemKind.Other }
            ),
            Looks = looks.ToDictionary(l => l.Trait, l => l.Look),
        };

    /// <summary>How often numbers were fitted into a model, and came out again within two months.</summary>
    private async Task<Dictionary<Guid, FitRecord>> Records(
        string modelCode,
        IReadOnlyList<Guid> numbers,
        CancellationToken stop
    )
    {
        var soon = TimeSpan.FromDays(60);
        var rows = await db
            .Movements.Where(m =>
                m.Reason == MovementReason.Fitted
                && numbers.Contains(m.Item!.NumberId)
                && db.Units.Any(u => u.Id == m.ToUnitId && u.ModelCode == modelCode)
            )
            .Select(m => new
            {
                m.Item!.NumberId,
                Failed = db.Movements.Any(o =>
                    o.ItemId == m.ItemId && o.Reason == MovementReason.Removed && o.Id > m.Id && o.At < m.At + soon
                ),
            })
            .ToListAsync(stop);
        return rows.GroupBy(r => r.NumberId)
            .ToDictionary(g => g.Key, g => new FitRecord(g.Count(), g.Count(r => r.Failed)));
    }
}
