using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Repairs;

/// <summary>Something a new assembly does not bring.</summary>
/// <param name="AtHand">Where it is, or null when it is to be found.</param>
public sealed record Need(string What, string? AtHand);

/// <summary>An assembly that contains what failed, with everything that decides about it.</summary>
/// <param name="Looks">What must be looked at, and what the passport says already.</param>
/// <param name="LabelAt">When in the plan the number of the old one can be read, in words; null when no label is noted.</param>
public sealed record AssemblyChoice(
    Assembly Assembly,
    string Slot,
    Plan Plan,
    IReadOnlyList<(Trait Trait, Look? Seen)> Looks,
    string? LabelAt,
    IReadOnlyList<Need> Needs,
    IReadOnlyList<JudgedNumber> Numbers,
    IReadOnlyList<PartOrder> Coming,
    IReadOnlyList<string> Donors
)
{
    public int Free => Numbers.Where(n => n.Answer.Verdict is not FitVerdict.DoesNotFit).Sum(n => n.Free);

    public int Promised => Numbers.Where(n => n.Answer.Verdict is not FitVerdict.DoesNotFit).Sum(n => n.Promised);
}

/// <summary>What of something that is no part of a machine, a charger, can be handed out for it.</summary>
/// <param name="Asks">What the machine asks of it; null where nobody has said.</param>
/// <param name="CanBeSaid">True where there is a map to say it in.</param>
/// <param name="Numbers">What fits first, what does not fit left out.</param>
public sealed record OutsideChoice(
    FaultyComponent Component,
    Specification? Asks,
    bool CanBeSaid,
    IReadOnlyList<JudgedNumber> Numbers
);

/// <summary>What one could fit for what failed.</summary>
/// <param name="Component">What failed; null when the assembly was named at the counter.</param>
public sealed record WhatToFitView(FaultyComponent? Component, Fault? Fault, IReadOnlyList<AssemblyChoice> Choices);

/// <summary>From a failed component to the assemblies that contain it, for this very unit.</summary>
public sealed class WhatToFit(WorkshopDb db, FitOf fits, PlanFor plans)
{
    /// <summary>The choices of a repair whose triage has ended, or of its lines.</summary>
    public async Task<WhatToFitView> Run(RepairView view, CancellationToken stop = default)
    {
        var fault = view.Repair.FaultId is { } id ? ShippedTriage.Knowledge.Fault(id) : null;
        var component = fault?.Component is { } c ? ShippedTriage.Knowledge.Component(c) : null;
        if (view.Passport.Fitted is not { } map)
        {
            return new WhatToFitView(component, fault, []);
        }

        var assemblies = (component is null ? [] : AssembliesFor(map, component.Id))
            .Concat(map.Assemblies.Where(a => view.Repair.Lines.Exists(l => l.Assembly == a.Id.Value)))
            .DistinctBy(a => a.Id)
            .ToList();
        var planned = new List<(Assembly Assembly, string Slot, Plan Plan)>();
        foreach (var assembly in assemblies)
        {
            if (
                map.Part(assembly.Part).Slot is { } slot
                && (await plans.Of(map, [new Goal.Replace(assembly.Id)], stop)).Try(out var plan, out _)
            )
            {
                planned.Add((assembly, slot, plan));
            }
        }

        return new WhatToFitView(component, fault, planned.Count == 0 ? [] : await Choices(view, map, planned, stop));
    }

    /// <summary>What can be handed out in place of something that is no part of the machine; null of a part.</summary>
    public async Task<OutsideChoice?> Outside(
        Passport passport,
        FaultyComponent? component,
        CancellationToken stop = default
    )
    {
        if (component is not { Outside: true })
        {
            return null;
        }

        var asks = component.Id == Specification.Charger.Outside ? passport.Model?.Charger() : null;
        return new OutsideChoice(
            component,
            asks,
            passport.Model is not null,
            asks is null
                ? []
                :
                [
                    .. (await fits.Slot(passport, asks.Slot, stop: stop)).Value.Where(n =>
                        n.Answer.Verdict is not FitVerdict.DoesNotFit
                    ),
                ]
        );
    }

    /// <summary>
    /// The assemblies whose exchange exchanges a component, smallest first; where the map does not name it, those of what
    /// carries it.
    /// </summary>
    internal static IReadOnlyList<Assembly> AssembliesFor(ServiceMap map, string component)
    {
        var all = ShippedTriage.Knowledge;
        var own = Of(component);
        return own.Count > 0 || all.ComponentsOf(map).GetValueOrDefault(component) is not { } carrier
            ? own
            : Of(carrier);

        List<Assembly> Of(string id) =>
            [
                .. (all.Component(id)?.Parts ?? [])
                    .SelectMany(map.AssembliesWith)
                    .DistinctBy(a => a.Id)
                    .Where(a => map.Parts.Any(p => p.Id == a.Part))
                    .OrderBy(a => a.Brings.Count),
            ];
    }

    /// <summary>By assembly that would be ordered, the chance that what is wrong is a fault only its exchange cures.</summary>
    internal static IReadOnlyList<(Assembly Assembly, string Slot, double Chance)> Wanted(
        ServiceMap map,
        IEnumerable<FaultChance> faults
    ) =>
        [
            .. faults
                .Where(f => f.Fault.WantsPart)
                .Select(f =>
                    (Assembly: AssembliesFor(map, f.Fault.Component!) is [var first, ..] ? first : null, f.Chance)
                )
                .Where(f => f.Assembly is not null && map.Part(f.Assembly.Part).Slot is not null)
                .GroupBy(f => f.Assembly!.Id)
                .Select(g =>
                    (g.First().Assembly!, map.Part(g.First().Assembly!.Part).Slot!, Math.Min(1, g.Sum(f => f.Chance)))
                ),
        ];

    /// <summary>Tags of units out of use by what they hold in some slots of a model.</summary>
    internal static async Task<ILookup<string, string>> Donors(
        WorkshopDb db,
        string modelCode,
        IReadOnlyCollection<string> slots,
        CancellationToken stop
    ) =>
        (
            await db
                .Items.Where(i =>
                    slots.Contains(i.Slot!) && i.Unit!.ModelCode == modelCode && i.Unit.State == UnitState.Donor
                )
                .OrderBy(i => i.Unit!.Tag)
                .Select(i => new { i.Slot, i.Unit!.Tag })
                .ToListAsync(stop)
        ).ToLookup(i => i.Slot!, i => i.Tag);

    private async Task<IReadOnlyList<AssemblyChoice>> Choices(
        RepairView view,
        ServiceMap map,
        IReadOnlyList<(Assembly Assembly, string Slot, Plan Plan)> planned,
        CancellationToken stop
    )
    {
        var slots = planned.Select(p => p.Slot).Distinct().ToList();
        var judged = (await fits.Slots(view.Passport, slots, view.Waivers.ByNumber(), stop: stop)).Value;
        List<string> names = [.. judged.Values.SelectMany(s => s).Select(n => n.Number.Number).Distinct()];
        var coming = await db
            .PartOrders.AsNoTracking()
            .Include(o => o.Supplier)
            .Include(o => o.Repair)
            .Where(o => o.State == OrderState.Ordered && names.Contains(o.Number))
            .OrderBy(o => o.Expected)
            .ToListAsync(stop);
        var donors = await Donors(db, view.Repair.Unit.ModelCode, slots, stop);
        var consumables = await Consumables.AtHand(db, stop);
        return
        [
            .. planned.Select(p => new AssemblyChoice(
                p.Assembly,
                p.Slot,
                p.Plan,
                [
                    .. p.Assembly.ByEye.Select(t =>
                    {
                        var trait = ByEye.Find(t)!;
                        return (trait, trait.Find(view.Passport.Unit.Looks.Find(l => l.Trait == t)?.Look));
                    }),
                ],
                LabelAt(map, p.Assembly, p.Plan),
                Needs(p.Assembly, p.Plan, consumables),
                judged[p.Slot],
                [.. coming.Where(o => judged[p.Slot].Any(n => n.Number.Number == o.Number))],
                [.. donors[p.Slot]]
            )),
        ];
    }

    /// <summary>"on its back, at act 14 of 31, after 22 minutes".</summary>
    private static string? LabelAt(ServiceMap map, Assembly assembly, Plan plan)
    {
        if (map.Part(assembly.Part).Label is not { } label || map.Vacant.Contains(assembly.Part))
        {
            return null;
        }

        var out_ = plan.Steps.FirstOrDefault(s => s.Act.Kind == ActKind.LiftOut && s.Act.Part == assembly.Part);
        if (out_ is null)
        {
            return label.Where;
        }

        // A label on the face is read when nothing lies over the part: before its own screws and joints are touched.
        var read = label.Readable == Readable.Out ? out_ : plan.Steps.First(s => s.Number >= out_.Number || Touches(s));
        var minutes = plan.Steps.Where(s => s.Number < read.Number).Sum(s => s.Seconds) / 60;
        return FormattableString.Invariant(
            $"{label.Where}, {(label.Readable == Readable.Out ? "once it is out" : "as soon as it is reached")}: at act {read.Number} of {plan.Steps.Count}, after {minutes:0} minutes"
        );

        bool Touches(PlanStep s) => s.Act.Kind == ActKind.Undo && map.Fastener(s.Act.Fastener).Holds == assembly.Part;
    }

    private static IReadOnlyList<Need> Needs(
        Assembly assembly,
        Plan plan,
        Dictionary<Consumable, ConsumableLot> consumables
    )
    {
        return
        [
            .. plan.TransferList.Count > 0
                ?
                [
                    new Need(
                        $"moves over from the old one: {string.Join(", ", plan.TransferList.Select(p => p.Name))}",
                        "in the machine"
                    ),
                ]
                : Array.Empty<Need>(),
            .. assembly.Needs.Select(n => new Need(n, null)),
            .. plan.Consumables.Select(c =>
            {
                var lot = consumables.GetValueOrDefault(c.Key);
                return new Need(
                    $"{c.Key.Name()}, {c.Value}",
                    lot?.Free >= c.Value ? $"bin {lot.Bin}, {lot.Free} free" : null
                );
            }),
        ];
    }
}
