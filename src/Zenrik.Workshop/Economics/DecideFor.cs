using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Batteries;
using Zenrik.Core.Economics;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Teardown;

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
    UnderWarranty warranties,
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
        var figures = await db.Figures(stop);
        var model = repair.Unit.Model;
        var today = clock.Today();
        var left = MonthsLeft.Of(
            repair.Unit.BoughtOn,
            today,
            model.LifeMonths,
            model.SupportEnds,
            await BatteryMonths(repair, passport, today, stop)
        );
        var ways = new List<WayOut> { Retiring(model) };
        foreach (var job in await Jobs(repair, passport, figures, stop))
        {
            ways.AddRange(WaysOut.Of(job, left.Months));
        }

        if (warranties.MayCover(repair))
        {
            ways.Add(MakersWarranty.Way(left.Months));
        }

        var fault = repair.FaultId is { } id ? ShippedTriage.Knowledge.Fault(id) : null;
        if (
            fault is not null
            && ShippedTriage.Knowledge.Remedies.FirstOrDefault(r => r.Ends == RemedyEnd.BeyondBench) is { } specialist
            && SendingAway.Chance(specialist, fault, onlyWay: ways.TrueForAll(w => w.Way == Way.Retire)) is { } chance
        )
        {
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

    /// <summary>Another unit in the place of one of this model.</summary>
    internal static WayOut Retiring(Model model) =>
        new(
            Way.Retire,
            "retire it and buy another",
            model.NewPrice,
            RetiringMinutes,
            RetiringDays,
            1,
            model.LifeMonths
        );

    /// <summary>What must be erased before a unit goes; a slot for storage of which nothing is recorded is asked about too.</summary>
    public static IReadOnlyList<StorageToErase> StorageOf(Passport passport) =>
        [
            .. passport
                .Slots.Where(s =>
                    s.Item is { } item
                        ? item.Number.Kind == Core.Fit.ItemKind.Drive || IsForStorage(passport, s.Slot)
                        : IsForStorage(passport, s.Slot) && !s.Optional
                )
                .Select(s => new StorageToErase(
                    s.Slot,
                    s.Name,
                    s.Item?.Code,
                    passport.Unit.Model.Class == Core.ServiceMaps.DeviceClass.Chromebook ? StorageKind.EncryptedAlways
                        : s.Item?.Number.Specification is Core.Fit.ItemSpecification.Drive { Spinning: true }
                            ? StorageKind.Magnetic
                        : StorageKind.SolidState
                )),
        ];

    private static bool IsForStorage(Passport passport, string slot) =>
        passport.Model?.Specifications.Any(s =>
            s.Slot == slot
            && s is Core.ServiceMaps.Specification.Drive { Form: not Core.ServiceMaps.SlotForm.OpticalBay }
        ) == true;

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
        return Task.FromResult(component is null ? none : WhatToFit.AssembliesFor(map, component));
    }

    /// <summary>
    /// What the repair could be about: all its lines in one opening, or, where none is chosen yet, each assembly that
    /// contains what failed by itself.
    /// </summary>
    private async Task<IReadOnlyList<Job>> Jobs(
        Repair repair,
        Passport passport,
        HouseFigures figures,
        CancellationToken stop
    )
    {
        var assemblies = await Assemblies(repair, passport);
        var groups =
            repair.Lines.Count > 0
                ? [assemblies]
                : assemblies.Select(a => (IReadOnlyList<Core.ServiceMaps.Assembly>)[a]);
        var jobs = new List<Job>();
        foreach (var group in groups.Where(g => g.Count > 0))
        {
            Goal[] goals = [.. group.Select(a => new Goal.Replace(a.Id))];
            if (!(await plans.Of(passport.Fitted!, goals, stop)).Try(out var plan, out _))
            {
                continue;
            }

            var parts = new List<NeededPart>();
            foreach (var assembly in group)
            {
                parts.Add(await Part(assembly, repair, passport, figures, plan.Minutes.Expected, stop));
            }

            jobs.Add(new Job(parts, plan.Minutes.Expected));
        }

        return jobs;
    }

    private async Task<NeededPart> Part(
        Core.ServiceMaps.Assembly assembly,
        Repair repair,
        Passport passport,
        HouseFigures figures,
        double minutes,
        CancellationToken stop
    )
    {
        var slot = passport.Fitted!.Part(assembly.Part).Slot!;
        var tooSmall = repair.Lines.Find(l => l.Slot == slot)?.IsTooSmall == true;
        // What is not known to fit is no way, whatever lies on the shelf.
        var numbers = (await fits.Slot(passport, slot, await db.Waivers.Of(repair.Id, stop), tooSmall, stop))
            .Value.Where(n => n.Answer.Verdict is Core.Fit.FitVerdict.Fits or Core.Fit.FitVerdict.FitsWithConditions)
            .ToList();
        var stored = await offers.StoredFor([.. numbers.Select(n => n.Number.Canonical)], stop);
        var compared = (await offers.Compare(stored, numbers, figures, minutes, stop)).Try(out var c, out _) ? c : null;
        var today = clock.Today();
        var cheapest = compared?.Bids.Where(b => b.Bid.Offer.InStock is not 0).FirstOrDefault();
        var supplies = new List<Supply>();
        if (
            numbers.Find(n =>
                n.Free > 0 || n.Promised > 0 && repair.Lines.Exists(l => l.ExpectedIn == n.Number.Number)
            ) is
            { } here
        )
        {
            // What lies on the shelf must be bought again: it costs what the next one costs.
            supplies.Add(
                new Supply(
                    SupplyKind.Shelf,
                    "",
                    cheapest?.Landed.Total.Amount
                        ?? (await db.LastPrices(passport.Unit.ModelCode, [slot], stop)).GetValueOrDefault(slot),
                    1,
                    (await offers.ChanceOf(here.Number, stored, stop)).Mean
                )
            );
        }

        if (cheapest is not null)
        {
            supplies.Add(
                new Supply(
                    SupplyKind.Order,
                    cheapest.Bid.Offer.Supplier,
                    cheapest.Expected.Amount,
                    Math.Max(1, cheapest.Landed.Arrives.DayNumber - today.DayNumber) + 1,
                    cheapest.Bid.Chance.Mean
                )
            );
        }

        if ((await WhatToFit.Donors(db, repair.Unit.ModelCode, [slot], stop))[slot].FirstOrDefault() is { } donor)
        {
            // Taken out of one machine and put into another; no paper says that it works.
            supplies.Add(new Supply(SupplyKind.Donor, donor, 0, 1, WorkingChance.Before(PartGrade.Used).Mean));
        }

        return new NeededPart(
            assembly.Name,
            assembly.Brings.Count > 0 || passport.Fitted.Part(assembly.Part).Contains.Count > 0,
            supplies
        );
    }

    /// <summary>
    /// Months until the battery is at the house's limit; null where its readings tell no trend, or where the repair
    /// exchanges it.
    /// </summary>
    private async Task<double?> BatteryMonths(Repair repair, Passport passport, DateOnly today, CancellationToken stop)
    {
        if (
            repair.Lines.Exists(l => BatterySlot.Is(l.Slot))
            || passport.Slots.FirstOrDefault(s => BatterySlot.Is(s.Slot) && s.Item is not null)?.Item is not { } battery
        )
        {
            return null;
        }

        var readings = await db.HealthOf(battery.Id, passport.Unit.Id, stop);
        return BatteryWear.MonthsTo(
            [.. readings.Select(r => (DateOnly.FromDateTime(r.At.LocalDateTime), r.Health))],
            today,
            BatteryReading.Worn
        );
    }
}
