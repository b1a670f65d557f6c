using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Triage;

/// <summary>A part of the kit.</summary>
/// <param name="Number">What to take; null where no number is known to fit.</param>
/// <param name="For">Models it is for.</param>
/// <param name="Here">Of that number here: free on a shelf, or promised to one of these repairs.</param>
public sealed record KitPart(KitLine Line, string Name, string? Number, string For, int Here);

/// <summary>A machine the kit is for.</summary>
/// <param name="Likeliest">What it most likely wants; null: no part.</param>
public sealed record KitUnit(Repair Repair, string? Likeliest, double Chance);

/// <summary>What to take along to a site.</summary>
/// <param name="LeftOut">Repairs there of which nothing can be said: their model has no map.</param>
public sealed record SiteKit(
    string Site,
    BoxKit Kit,
    IReadOnlyList<KitPart> Parts,
    IReadOnlyList<KitUnit> Units,
    IReadOnlyList<Repair> LeftOut
);

/// <summary>The smallest set of parts with which most of the repairs of a site are done there and then.</summary>
public sealed class KitForSite(WorkshopDb db, TriageOf triage, PassportOf passports)
{
    /// <summary>Machines that are looked at: more are not done in a day.</summary>
    public const int Most = 40;

    /// <summary>Sites with repairs that wait for the bench, and how many.</summary>
    public async Task<IReadOnlyList<(string Site, int Repairs)>> Sites(CancellationToken stop = default) =>
        [
            .. (
                await db
                    .Repairs.Where(r => r.State == RepairState.Open)
                    .GroupBy(r => r.Unit.Site)
                    .Select(g => new { g.Key, Count = g.Count() })
                    .OrderByDescending(g => g.Count)
                    .ThenBy(g => g.Key)
                    .ToListAsync(stop)
            ).Select(g => (g.Key, g.Count)),
        ];

    /// <param name="share">Of the machines to be cured on the spot, 0 to 1.</param>
    public async Task<SiteKit> Run(string site, double share, CancellationToken stop = default)
    {
        var open = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.Lines)
            .Where(r => r.State == RepairState.Open && r.Unit.Site == site)
            .OrderBy(r => r.Number)
            .Take(Most)
            .ToListAsync(stop);
        var (machines, units, left) = (new List<KitMachine>(), new List<KitUnit>(), new List<Repair>());
        var names = new Dictionary<string, (string Name, string Model, string ModelName, string Slot)>();
        foreach (var repair in open)
        {
            if (await Machine(repair, stop) is not var (machine, map))
            {
                left.Add(repair);
                continue;
            }

            foreach (var part in machine.Parts.Keys.Concat(machine.Surely))
            {
                var assembly = map.Assemblies.First(a => Key(map, a) == part);
                names[part] = (assembly.Name, map.Model.Code, map.Model.Name, map.Part(assembly.Part).Slot!);
            }

            machines.Add(machine);
            var (likeliest, chance) = machine.Parts.Count == 0 ? default : machine.Parts.MaxBy(p => p.Value);
            units.Add(
                machine.Surely.Count > 0
                    ? new KitUnit(repair, string.Join(" and ", machine.Surely.Select(p => names[p].Name)), 1)
                : chance > machine.WithoutPart ? new KitUnit(repair, names[likeliest].Name, chance)
                : new KitUnit(repair, null, machine.WithoutPart)
            );
        }

        var kit = BoxKit.For(machines, share);
        return new SiteKit(site, kit, await Parts(kit, names, [.. open.Select(r => r.Id)], stop), units, left);
    }

    private static string Key(ServiceMap map, Assembly assembly) => $"{map.Model.Code}/{assembly.Id}";

    /// <summary>What is known to be exchanged, or what triage believes so far; null where nothing can be said.</summary>
    private async Task<(KitMachine Machine, ServiceMap Map)?> Machine(Repair repair, CancellationToken stop)
    {
        if (repair.Lines.Count > 0)
        {
            if ((await passports.Run(repair.Unit.Tag, stop)).Value.Fitted is not { } fitted)
            {
                return null;
            }

            var known = fitted
                .Assemblies.Where(a => repair.Lines.Exists(l => l.Assembly == a.Id.Value))
                .Where(a => fitted.Part(a.Part).Slot is not null)
                .Select(a => Key(fitted, a))
                .ToList();
            // Lines of an edition that called its parts otherwise.
            return known.Count == repair.Lines.Count ? (KitMachine.Known(known), fitted) : null;
        }

        if (!(await triage.Run(repair.Number, stop)).Try(out var seen, out _) || seen.Passport.Fitted is not { } map)
        {
            return null;
        }

        return (
            new KitMachine(
                seen.Advice.Faults.Where(f => f.Fault.WantsNoPart).Sum(f => f.Chance),
                WhatToFit.Wanted(map, seen.Advice.Faults).ToDictionary(w => Key(map, w.Assembly), w => w.Chance)
            ),
            map
        );
    }

    private async Task<IReadOnlyList<KitPart>> Parts(
        BoxKit kit,
        Dictionary<string, (string Name, string Model, string ModelName, string Slot)> names,
        RepairId[] repairs,
        CancellationToken stop
    )
    {
        var models = kit.Lines.Select(l => names[l.Part].Model).Distinct().ToList();
        var fits = await db.NumbersBySlot(models, stop);
        var stock = await db.FreeAndComing(
            [.. kit.Lines.SelectMany(l => fits[(names[l.Part].Model, names[l.Part].Slot)]).Distinct()],
            stop
        );
        var promised = await db
            .Reservations.Where(r => repairs.Contains(r.RepairId) && r.ItemId != null)
            .GroupBy(r => r.Item!.Number.Number)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, stop);
        int Here(string number) => stock(number).Free + promised.GetValueOrDefault(number);
        return
        [
            .. kit.Lines.Select(l =>
            {
                var (name, model, modelName, slot) = names[l.Part];
                var number = fits[(model, slot)].Order(StringComparer.Ordinal).MaxBy(Here);
                return new KitPart(l, name, number, modelName, number is null ? 0 : Here(number));
            }),
        ];
    }
}
