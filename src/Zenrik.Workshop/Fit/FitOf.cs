using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Core.HouseRules;
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
    /// <summary>Units a number is judged for one by one; of a fleet it may serve thousands.</summary>
    public const int MostUnits = 60;

    /// <summary>Every number that may go into a slot of a unit, what fits best and is at hand first.</summary>
    /// <param name="waived">House rules signed for, by number; null: none.</param>
    public async Task<Outcome<IReadOnlyList<JudgedNumber>>> Slot(
        Passport passport,
        string slot,
        ILookup<string, string>? waived = null,
        bool tooSmall = false,
        CancellationToken stop = default
    ) =>
        (await Slots(passport, [slot], waived, tooSmall ? [slot] : [], stop)).Try(out var judged, out var refusal)
            ? judged[slot].ToList()
            : refusal;

    /// <summary>The same for several slots, asked of the book at once.</summary>
    /// <param name="tooSmall">Slots of which the complaint is that what is in them is too small.</param>
    public async Task<Outcome<IReadOnlyDictionary<string, IReadOnlyList<JudgedNumber>>>> Slots(
        Passport passport,
        IReadOnlyCollection<string> slots,
        ILookup<string, string>? waived = null,
        IReadOnlyCollection<string>? tooSmall = null,
        CancellationToken stop = default
    )
    {
        if (!(await Considered(passport, slots, waived, tooSmall, stop)).Try(out var considered, out var refusal))
        {
            return refusal;
        }

        var model = passport.Model!;
        return considered.ToDictionary(
            c => c.Key,
            c =>
                (IReadOnlyList<JudgedNumber>)
                    [
                        .. c
                            .Value
                            // Cards of the right kind that do not fit are no answer unless the number is listed here.
                            .Where(n =>
                                n.Answer.Verdict != FitVerdict.DoesNotFit
                                || n.Answer.Waivable.Count > 0
                                || IsListed(model, c.Key, n.Number)
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
                            // Where too small was the complaint, the larger first; otherwise as it was.
                            .ThenByDescending(n =>
                                tooSmall?.Contains(c.Key) == true ? n.Number.Specification?.Holds ?? 0 : 0
                            )
                            .ThenBy(n => n.Number.SupersededById != null)
                            .ThenBy(n => n.Number.Number, StringComparer.Ordinal),
                    ]
        );
    }

    /// <summary>Every number that is listed for a slot or of the kind it takes, whether it fits or not.</summary>
    public async Task<Outcome<IReadOnlyDictionary<string, IReadOnlyList<JudgedNumber>>>> Considered(
        Passport passport,
        IReadOnlyCollection<string> slots,
        ILookup<string, string>? waived = null,
        IReadOnlyCollection<string>? tooSmall = null,
        CancellationToken stop = default
    )
    {
        if (passport.Model is not { } model)
        {
            return NoMap(passport);
        }

        var kinds = slots.Select(s => KindOf(model, s)).OfType<ItemKind>().ToHashSet();
        var numbers = await db
            .CatalogueNumbers.AsNoTracking()
            .Include(n => n.Fits)
            .Include(n => n.SupersededBy)
            .Where(n =>
                n.Fits.Any(f => f.ModelCode == model.Model.Code && slots.Contains(f.Slot)) || kinds.Contains(n.Kind)
            )
            .ToListAsync(stop);
        List<Guid> ids = [.. numbers.Select(n => n.Id)];
        var practice = await rules.Run(stop);
        var (records, shelf) = await db.RecordsAndShelf(model.Model.Code, ids, stop);
        var judged = new Dictionary<string, IReadOnlyList<JudgedNumber>>();
        foreach (var slot in slots)
        {
            var larger = tooSmall?.Contains(slot) == true;
            var answered = new List<JudgedNumber>();
            foreach (var number in numbers.Where(n => MayGoInto(model, slot, n)))
            {
                if (
                    !Judge(passport, model, slot, number, practice, records, waived, larger)
                        .Try(out var answer, out var refusal)
                )
                {
                    return refusal;
                }

                var at = shelf.GetValueOrDefault(number.Id);
                answered.Add(new JudgedNumber(number, answer, at.Free, at.Promised));
            }

            judged[slot] = answered;
        }

        return judged;
    }

    /// <summary>One number for one slot of one unit.</summary>
    public async Task<Outcome<FitAnswer>> One(
        Passport passport,
        string slot,
        CatalogueNumber number,
        ILookup<string, string>? waived = null,
        CancellationToken stop = default
    )
    {
        if (passport.Model is not { } model)
        {
            return NoMap(passport);
        }

        var records = await db.FitRecords(model.Model.Code, [number.Id], stop);
        return Judge(passport, model, slot, number, await rules.Run(stop), records, waived, false);
    }

    /// <summary>A number in every slot of a unit that it is listed for or of whose kind it is.</summary>
    public async Task<Outcome<IReadOnlyList<(string Slot, FitAnswer Answer)>>> InUnit(
        Passport passport,
        CatalogueNumber number,
        CancellationToken stop = default
    )
    {
        var answers = new List<(string, FitAnswer)>();
        if (passport.Model is not { } model)
        {
            return answers;
        }

        var records = await db.FitRecords(model.Model.Code, [number.Id], stop);
        var practice = await rules.Run(stop);
        foreach (var slot in SlotsFor(model, number))
        {
            if (
                !Judge(passport, model, slot, number, practice, records, null, false)
                    .Try(out var answer, out var refusal)
            )
            {
                return refusal;
            }

            answers.Add((slot, answer));
        }

        return answers;
    }

    /// <summary>
    /// Of <see cref="MostUnits"/> units in use those a number fits: first of the models it is listed for, then of those that
    /// take its kind, by tag.
    /// </summary>
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
        List<string> listed = [.. number.Fits.Select(f => f.ModelCode).Distinct()];
        var units = await First(listed, MostUnits);
        units.AddRange(await First([.. codes.Except(listed)], MostUnits - units.Count));
        var inside = await ItemsIn([.. units.Select(u => u.Id)], stop);
        var practice = await rules.Run(stop);
        var records = await db
            .FitTallies.AsNoTracking()
            .Where(t => t.NumberId == number.Id && codes.Contains(t.ModelCode))
            .ToDictionaryAsync(t => t.ModelCode, t => new FitRecord(t.Fitted, t.Failed), stop);
        foreach (var unit in units)
        {
            foreach (var (model, slot) in slots.Where(s => s.Model.Model.Code == unit.ModelCode))
            {
                var question = Question(model, slot, number, inside[unit.Id], unit.Looks) with
                {
                    Practice = practice,
                    Record = records.GetValueOrDefault(model.Model.Code, FitRecord.None),
                };
                if (Fitting.Judge(question).Try(out var answer, out _) && answer.Verdict is not FitVerdict.DoesNotFit)
                {
                    served.Add(new ServedUnit(unit.Tag, unit.Model.Name, unit.Site, slot, answer));
                }
            }
        }

        return served;

        Task<List<Unit>> First(List<string> models, int most) =>
            db
                .Units.AsNoTracking()
                .Include(u => u.Model)
                .Include(u => u.Looks)
                .Where(Unit.Serving)
                .Where(u => models.Contains(u.ModelCode))
                .OrderBy(u => u.Tag)
                .Take(most)
                .ToListAsync(stop);
    }

    /// <summary>Whether numbers go into slots of many units, asked of the book at once. What a repair has waived is not looked at.</summary>
    /// <returns>In the same order; false also where it is not known.</returns>
    internal async Task<IReadOnlyList<bool>> Go(
        IReadOnlyList<(UnitId Unit, string Slot, bool TooSmall, CatalogueNumber Number)> asked,
        CancellationToken stop
    )
    {
        List<UnitId> ids = [.. asked.Select(a => a.Unit).Distinct()];
        var units = await db
            .Units.AsNoTracking()
            .Include(u => u.Model)
            .Include(u => u.Looks)
            .Where(u => ids.Contains(u.Id))
            .ToDictionaryAsync(u => u.Id, stop);
        var inside = await ItemsIn(ids, stop);
        var practice = await rules.Run(stop);
        List<Guid> numbers = [.. asked.Select(a => a.Number.Id).Distinct()];
        var records = await db
            .FitTallies.AsNoTracking()
            .Where(t => numbers.Contains(t.NumberId))
            .ToDictionaryAsync(t => (t.ModelCode, t.NumberId), t => new FitRecord(t.Fitted, t.Failed), stop);
        var models = new Dictionary<string, ServiceMap?>();
        foreach (var code in units.Values.Select(u => u.ModelCode).Distinct())
        {
            models[code] = await maps.Newest(code, stop);
        }

        return
        [
            .. asked.Select(a =>
                units[a.Unit] is var unit
                && models[unit.ModelCode] is { } model
                && Fitting
                    .Judge(
                        Question(model, a.Slot, a.Number, inside[a.Unit], unit.Looks) with
                        {
                            NotKnown = NotKnown([
                                .. model
                                    .Parts.Where(p => p.Slot is not null)
                                    .Select(p => (p.Slot!, p.Optional, inside[a.Unit].Any(i => i.Slot == p.Slot))),
                            ]),
                            TooSmall = a.TooSmall,
                            Practice = practice,
                            Record = records.GetValueOrDefault((unit.ModelCode, a.Number.Id), FitRecord.None),
                        }
                    )
                    .Try(out var answer, out _)
                && answer.Verdict is FitVerdict.Fits or FitVerdict.FitsWithConditions
            ),
        ];
    }

    private async Task<ILookup<UnitId, Item>> ItemsIn(List<UnitId> units, CancellationToken stop) =>
        (
            await db
                .Items.AsNoTracking()
                .Include(i => i.Number)
                .Where(i => units.Contains(i.UnitId!.Value))
                .ToListAsync(stop)
        ).ToLookup(i => i.UnitId!.Value);

    /// <summary>What could be larger or better in a unit, and what of it is on the shelves.</summary>
    public async Task<IReadOnlyList<Upgrade>> Upgrades(Passport passport, CancellationToken stop = default)
    {
        if (passport.Model is not { } model)
        {
            return [];
        }

        var inside = Inside(passport);
        var paths = UpgradePaths.Of(model, inside).ToList();
        List<string> slots = [.. paths.Select(p => p.Slot).Distinct()];
        if (!(await Slots(passport, slots, null, stop: stop)).Try(out var judged, out _))
        {
            return [.. paths.Select(p => new Upgrade(p, []))];
        }

        return
        [
            .. paths.Select(path => new Upgrade(
                path,
                [
                    .. judged[path.Slot]
                        .Where(n =>
                            n.Number.Specification is { } s
                            && UpgradePaths.IsMore(s, inside.GetValueOrDefault(path.Slot))
                            && n.Answer.Verdict is not FitVerdict.NotKnown
                        ),
                ]
            )),
        ];
    }

    /// <summary>What sits in a unit, as far as its numbers are known.</summary>
    internal static IReadOnlyDictionary<string, ItemSpecification> Inside(Passport passport) =>
        passport
            .Slots.Where(s => s.Item is not null)
            .ToDictionary(s => s.Slot, s => s.Item!.Number.Specification ?? new ItemSpecification.Other());

    /// <summary>
    /// Slots of which nothing is known. A slot that a model may be without is empty when nothing is recorded in it, unless
    /// nothing at all is recorded of the unit.
    /// </summary>
    public static IReadOnlySet<string> NotKnown(Passport passport) =>
        NotKnown([.. passport.Slots.Select(s => (s.Slot, s.Optional, s.Item is not null))]);

    private static HashSet<string> NotKnown(IReadOnlyList<(string Slot, bool Optional, bool Filled)> slots)
    {
        var nothing = slots.All(s => !s.Filled);
        return [.. slots.Where(s => !s.Filled && (nothing || !s.Optional)).Select(s => s.Slot)];
    }

    /// <summary>The kind a standard slot takes; null where only listed numbers go in.</summary>
    internal static ItemKind? KindOf(ServiceMap model, string slot) =>
        model.Specifications.FirstOrDefault(s => s.Slot == slot) is { Soldered: not true } takes
            ? SpecificationForm.ImpliedBy(takes).Kind
            : null;

    /// <summary>Slots of a model that a number is listed for, or that take its kind.</summary>
    private static IEnumerable<string> SlotsFor(ServiceMap model, CatalogueNumber number) =>
        model.Slots().Where(slot => MayGoInto(model, slot, number));

    private static bool MayGoInto(ServiceMap model, string slot, CatalogueNumber number) =>
        IsListed(model, slot, number) || (number.Kind != ItemKind.Other && KindOf(model, slot) == number.Kind);

    private static bool IsListed(ServiceMap model, string slot, CatalogueNumber number) =>
        number.Fits.Exists(f => f.ModelCode == model.Model.Code && f.Slot == slot);

    private static Refusal NoMap(Passport passport) =>
        new(
            RefusalReason.Conflict,
            $"There is no service map for the {passport.Unit.Model.Name}, so nothing is known of its slots."
        );

    private static Outcome<FitAnswer> Judge(
        Passport passport,
        ServiceMap model,
        string slot,
        CatalogueNumber number,
        HousePractice practice,
        Dictionary<Guid, FitRecord> records,
        ILookup<string, string>? waived,
        bool tooSmall
    ) =>
        Fitting.Judge(
            Question(model, slot, number, [], passport.Unit.Looks) with
            {
                Inside = Inside(passport),
                NotKnown = NotKnown(passport),
                TooSmall = tooSmall,
                Practice = practice,
                Record = records.GetValueOrDefault(number.Id, FitRecord.None),
                Waived = waived?[number.Number].ToHashSet() ?? [],
            }
        );

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
            Listed = IsListed(model, slot, number),
            ListedBy = number.Fits.Find(f => f.ModelCode == model.Model.Code && f.Slot == slot)?.Listing,
            Inside = inside.ToDictionary(i => i.Slot!, i => i.Number.Specification ?? new ItemSpecification.Other()),
            Looks = looks.ToDictionary(l => l.Trait, l => l.Look),
        };
}
