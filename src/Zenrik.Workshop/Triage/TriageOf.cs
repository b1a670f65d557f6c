using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Triage;

/// <summary>A repair's triage as it stands.</summary>
/// <param name="Advice">What to do next.</param>
/// <param name="Acts">Everything that can still be done, the expected best first.</param>
/// <param name="Steps">What was done, oldest first, without what was taken back.</param>
public sealed record TriageView(
    Repair Repair,
    Passport Passport,
    TriageKnowledge Knowledge,
    TriageNetwork Network,
    TriageAdvice Advice,
    IReadOnlyList<TriageAct> Acts,
    IReadOnlyList<TriageStepRecord> Steps
)
{
    /// <summary>The fault triage would end with now.</summary>
    public Fault Leading => Advice.Leading(Knowledge);
}

/// <summary>Reads where the triage of a repair stands, with what closed repairs have taught.</summary>
public sealed class TriageOf(WorkshopDb db, PassportOf passports, LearnedFaults learned, PlanFor plans)
{
    public async Task<Outcome<TriageView>> Run(long repairNumber, CancellationToken stop = default)
    {
        var repair = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.OpenedBy)
            .Include(r => r.Lines)
            .SingleOrDefaultAsync(r => r.Number == repairNumber, stop);
        if (repair is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(repairNumber)}.");
        }

        repair.Triage.AddRange(await db.StepsOf([repair.Id]).AsNoTracking().Include(s => s.By).ToListAsync(stop));
        repair.Photos.AddRange(await db.PhotosOf(repair.Id).ToListAsync(stop));
        if (repair.Symptoms.Count == 0)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{repair.Code} was taken in with the part known; there is nothing to find out."
            );
        }

        var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
        if (!(await Network(repair, passport, stop)).Try(out var network, out var none))
        {
            return none;
        }

        TriageStep[] steps = [.. repair.Triage.Select(s => s.Step)];
        if (!TriageAdvisor.Next(network, steps).Try(out var advice, out var contradiction))
        {
            return contradiction;
        }

        return new TriageView(
            repair,
            passport,
            ShippedTriage.Knowledge,
            network,
            advice,
            TriageAdvisor.All(network, steps).Value,
            repair.Triage
        );
    }

    internal async Task<Outcome<TriageNetwork>> Network(Repair repair, Passport passport, CancellationToken stop)
    {
        var figures = await db.Figures(stop);
        var model = repair.Unit.Model;
        return TriageNetwork.Of(
            ShippedTriage.Knowledge,
            new TriageCase
            {
                Class = model.Class,
                Components = passport.Fitted is { } map ? ShippedTriage.Knowledge.ComponentsOf(map) : null,
                Features = passport.Fitted is { } described ? MachineFeatures.Of(described) : MachineFeatures.Unknown,
                // What stopped it has been made safe, or it would be set apart still.
                MadeSafe = repair.State != RepairState.Stopped,
                Symptoms = repair.Symptoms,
                Circumstances = repair.Circumstances,
                Weights = (await learned.Of(model.Code, model.Class, stop)).ToDictionary(
                    w => w.Fault.Id,
                    w => w.ForModel
                ),
                Costs = new TriageCosts
                {
                    LabourPerHour = Math.Max(1, (double)figures.LabourPerHour),
                    Known = await Exchanges(repair, passport, stop),
                },
            }
        );
    }

    /// <summary>
    /// What exchanging the components that may have failed takes on this very unit: minutes from its plans, the price of
    /// what would really be ordered.
    /// </summary>
    private async Task<IReadOnlyDictionary<string, (double Minutes, double Price)>> Exchanges(
        Repair repair,
        Passport passport,
        CancellationToken stop
    )
    {
        var known = new Dictionary<string, (double, double)>();
        if (passport.Fitted is not { } map)
        {
            return known;
        }

        var all = ShippedTriage.Knowledge;
        var carriers = all.ComponentsOf(map);
        var suspects = all
            .Faults.Where(f => repair.Symptoms.Exists(f.Shows.ContainsKey))
            .Select(f => f.Component is { } c ? carriers.GetValueOrDefault(c) : null)
            .OfType<string>()
            .ToHashSet();
        var remedies = all
            .Remedies.Where(r => r.Exchanges is { } c && suspects.Contains(c))
            .Select(r =>
                (Remedy: r, Assembly: WhatToFit.AssembliesFor(map, r.Exchanges!) is [var first, ..] ? first : null)
            )
            .Where(r => r.Assembly is not null)
            .ToList();
        var prices = await db.LastPrices(
            map.Model.Code,
            [.. remedies.Select(r => map.Part(r.Assembly!.Part).Slot).OfType<string>().Distinct()],
            stop
        );
        foreach (var (remedy, assembly) in remedies)
        {
            if ((await plans.Of(map, [new Goal.Replace(assembly!.Id)], stop)).Try(out var plan, out _))
            {
                // The files count opening apart; a plan has it in it.
                var opening = TriageCosts.Default.OpeningMinutes;
                var price =
                    map.Part(assembly.Part).Slot is { } slot && prices.TryGetValue(slot, out var paid)
                        ? (double)paid
                        : remedy.Price;
                known[remedy.Id] = (Math.Max(1, plan.Minutes.Expected - opening), price);
            }
        }

        return known;
    }
}
