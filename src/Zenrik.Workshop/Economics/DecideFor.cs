using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Teardown;
using Zenrik.Workshop.Triage;

namespace Zenrik.Workshop.Economics;

/// <summary>The ways out of a repair, weighed.</summary>
public sealed record DecisionView(
    Repair Repair,
    Passport Passport,
    Decision Decision,
    MonthsLeft Left,
    HouseFigures Figures,
    IReadOnlyList<StorageToErase> Storage
);

/// <summary>Storage that must be erased before the unit goes.</summary>
public sealed record StorageToErase(string Slot, string Name, string? ItemCode, StorageKind Kind);

/// <summary>Weighs what can be done with the unit of a repair: parts, work, days out, months of use it gives.</summary>
public sealed class DecideFor(
    WorkshopDb db,
    PassportOf passports,
    PlanFor plans,
    FitOf fits,
    OffersFor offers,
    TimeProvider clock
)
{
    /// <summary>Setting a new unit up and erasing the old one, minutes; days until it is there. Common practice.</summary>
    private const double RetiringMinutes = 45;
    private const double RetiringDays = 3;

    /// <summary>A specialist's days and the packing. Common practice.</summary>
    private const double SpecialistDays = 14;
    private const double SpecialistMinutes = 20;

    public async Task<Outcome<DecisionView>> Run(long repairNumber, CancellationToken stop = default)
    {
        var repair = await db
            .Repairs.AsNoTracking()
            .Include(r => r.Unit.Model)
            .Include(r => r.Lines)
            .Include(r => r.OpenedBy)
            .SingleOrDefaultAsync(r => r.Number == repairNumber, stop);
        if (repair is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no repair {Repair.CodeOf(repairNumber)}.");
        }

        var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
        var figures = await OffersFor.FiguresOf(db, stop);
        var model = repair.Unit.Model;
        var today = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        var left = MonthsLeft.Of(repair.Unit.BoughtOn, today, model.LifeMonths, model.SupportEnds, null);
        var ways = new List<WayOut>
        {
            new(
                Way.Retire,
                "retire it and buy another",
                model.NewPrice,
                RetiringMinutes,
                RetiringDays,
                1,
                model.LifeMonths
            ),
        };
        foreach (var assembly in await Assemblies(repair, passport))
        {
            await AddWays(ways, assembly, repair, passport, figures, left, stop);
        }

        var fault = repair.FaultId is { } id ? ShippedTriage.Knowledge.Fault(id) : null;
        if (
            fault is { Component: "board" or "fast-port" }
            && ShippedTriage.Knowledge.Remedy("specialist") is { } specialist
        )
        {
            var chance = TriageKnowledge.CureChance(specialist, fault);
            ways.Add(
                new WayOut(
                    Way.SendAway,
                    "send it to the specialist",
                    (decimal)specialist.Price,
                    SpecialistMinutes,
                    SpecialistDays,
                    chance,
                    left.Months
                )
            );
        }

        return Deciding
            .Weigh(ways, new Rates(figures.LabourPerHour, figures.LoanPerDay))
            .Try(out var decision, out var refusal)
            ? new DecisionView(repair, passport, decision, left, figures, StorageOf(passport))
            : refusal;
    }

    /// <summary>What must be erased before a unit goes.</summary>
    public static IReadOnlyList<StorageToErase> StorageOf(Passport passport) =>
        [
            .. passport
                .Slots.Where(s => s.Item?.Number.Kind == Core.Fit.ItemKind.Drive)
                .Select(s => new StorageToErase(
                    s.Slot,
                    s.Name,
                    s.Item!.Code,
                    passport.Unit.Model.Class == Core.ServiceMaps.DeviceClass.Chromebook ? StorageKind.EncryptedAlways
                        : s.Item.Number.Specification?.Spinning is true ? StorageKind.Magnetic
                        : StorageKind.SolidState
                )),
        ];

    /// <summary>The assemblies a repair is about: those chosen, or those that contain what failed.</summary>
    private static Task<IReadOnlyList<Core.ServiceMaps.Assembly>> Assemblies(Repair repair, Passport passport)
    {
        IReadOnlyList<Core.ServiceMaps.Assembly> none = [];
        if (passport.Fitted is not { } map)
        {
            return Task.FromResult(none);
        }

        if (repair.Lines.Count > 0)
        {
            return Task.FromResult<IReadOnlyList<Core.ServiceMaps.Assembly>>([
                .. map.Assemblies.Where(a => repair.Lines.Exists(l => l.Assembly == a.Id.Value)),
            ]);
        }

        var component = repair.FaultId is { } id ? ShippedTriage.Knowledge.Fault(id)?.Component : null;
        return Task.FromResult(
            component is null ? none : WhatToFit.AssembliesFor(map, component)
        );
    }

    private async Task AddWays(
        List<WayOut> ways,
        Core.ServiceMaps.Assembly assembly,
        Repair repair,
        Passport passport,
        HouseFigures figures,
        MonthsLeft left,
        CancellationToken stop
    )
    {
        var slot = passport.Fitted!.Part(assembly.Part).Slot!;
        var goal = new Goal.Replace(assembly.Id);
        if (!(await plans.Of(passport.Fitted, [goal], stop)).Try(out var plan, out _))
        {
            return;
        }

        var minutes = plan.Minutes.Expected;
        var numbers = (await fits.Slot(passport, slot, null, stop)).Value;
        var way =
            assembly.Brings.Count > 0 || passport.Fitted.Part(assembly.Part).Contains.Count > 0
                ? Way.Assembly
                : Way.Part;
        var stored = await offers.StoredFor([.. numbers.Select(n => n.Number.Canonical)], stop);
        var compared = (await offers.Compare(stored, numbers, figures, minutes, stop)).Try(out var c, out _) ? c : null;
        var today = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        var cheapest = compared?.Bids.Where(b => b.Bid.Offer.InStock is not 0).FirstOrDefault();
        if (
            numbers.Any(n =>
                n.Free > 0
                && n.Answer.Verdict
                    is Core.Fit.FitVerdict.Fits
                        or Core.Fit.FitVerdict.FitsWithConditions
                        or Core.Fit.FitVerdict.NotKnown
            )
        )
        {
            // What lies on the shelf must be bought again: it costs what the next one costs.
            ways.Add(
                new WayOut(
                    way,
                    $"exchange the {assembly.Name} from the shelf",
                    cheapest?.Landed.Total.Amount ?? Typical(repair),
                    minutes,
                    1,
                    0.96,
                    left.Months
                )
            );
        }
        else if (cheapest is not null)
        {
            ways.Add(
                new WayOut(
                    way,
                    $"order a {assembly.Name} from {cheapest.Bid.Offer.Supplier}",
                    cheapest.Expected.Amount,
                    minutes,
                    Math.Max(1, cheapest.Landed.Arrives.DayNumber - today.DayNumber) + 1,
                    0.96,
                    left.Months
                )
            );
        }

        if (await WhatToFit.Donors(db, repair.Unit.ModelCode, slot, stop) is [var donor, ..])
        {
            // Taken out of one machine and put into another; no paper says that it works.
            ways.Add(
                new WayOut(
                    Way.Donor,
                    $"take the {assembly.Name} from {donor}",
                    0,
                    minutes * 1.6,
                    1,
                    WorkingChance.Before(PartGrade.Used).Mean,
                    left.Months
                )
            );
        }
    }

    private static decimal Typical(Repair repair) =>
        repair.FaultId is { } id
        && ShippedTriage.Knowledge.Fault(id)?.Component is { } component
        && ShippedTriage.Knowledge.Remedy($"exchange-{component}") is { } remedy
            ? (decimal)remedy.Price
            : 0;
}
