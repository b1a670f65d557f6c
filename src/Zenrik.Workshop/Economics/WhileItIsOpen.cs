using Zenrik.Core;
using Zenrik.Core.Batteries;
using Zenrik.Core.Economics;
using Zenrik.Core.Reliability;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Economics;

/// <summary>A part of a unit that is to be opened, and whether it pays to exchange it on the way.</summary>
/// <param name="Number">The number it is reckoned with: that of the part in it.</param>
/// <param name="Free">Of that number on a shelf and promised to nobody.</param>
public sealed record OpenPart(Assembly Assembly, string Number, int Free, WhileOpen Worth);

/// <summary>What of a unit is worth exchanging while it is open for something else.</summary>
/// <param name="Parts">
/// Those whose failures the workshop has seen and whose price it knows, most gained first. What cannot pay even if it added
/// nothing to this job has no minutes of its own in the sum.
/// </param>
/// <param name="Until">The last day the unit is of use.</param>
public sealed record OpenView(IReadOnlyList<OpenPart> Parts, DateOnly Until, HouseFigures Figures)
{
    /// <summary>True where it is not of use any longer than it takes to repair it.</summary>
    public bool IsAtItsEnd { get; init; }
}

/// <summary>
/// Weighs for every other part of a repair's unit the chance of a later opening, and all that costs, against what it adds
/// to this one. Chances are by age from the parts of its kind in the fleet, a battery's from its own readings where it has
/// spoken; minutes are of exact plans.
/// </summary>
public sealed class WhileItIsOpen(
    WorkshopDb db,
    RepairOf repairs,
    FleetLives lives,
    FleetBatteries batteries,
    PlanFor plans,
    TimeProvider clock
)
{
    /// <returns>Null where nothing is planned yet, or the bench has begun.</returns>
    public async Task<OpenView?> Run(long repairNumber, CancellationToken stop = default)
    {
        if (
            !(await repairs.Run(repairNumber, stop)).Try(out var view, out _)
            || view is not { Plan: { Map: var map } plan, Repair.State: Core.Repairs.RepairState.Open }
        )
        {
            return null;
        }

        var unit = view.Repair.Unit;
        var today = clock.Today();
        var left = MonthsLeft.Of(unit.BoughtOn, today, unit.Model.LifeMonths, unit.Model.SupportEnds, null);
        var days = left.Days;
        var until = today.AddDays((int)days);
        var figures = await db.Figures(stop);
        if (days < 1)
        {
            return new OpenView([], until, figures) { IsAtItsEnd = true };
        }

        var fleet = await lives.Run(stop);
        var exchanged = view.Lines.Select(l => l.Line.Slot).ToHashSet(StringComparer.Ordinal);
        var spoken = await ForecastOf(view.Passport, stop);
        var asked = view
            .Passport.Slots.Where(s => s.Item is not null && s.Since is not null && !exchanged.Contains(s.Slot))
            .Select(s => (Slot: s, Assembly: map.AssemblyIn(s.Slot)))
            .Where(s =>
                s.Assembly is not null
                && (
                    fleet.Of(unit.ModelCode, s.Slot.Slot).Any(p => p.Life.Life.Failed)
                    || (BatterySlot.Is(s.Slot.Slot) && spoken is not null)
                )
            )
            .ToList();
        var numbers = asked.ConvertAll(a => a.Slot.Item!.Number.Number);
        var prices = await db.PricesOf(numbers, figures, stop);
        var stock = await db.FreeAndComing([.. numbers.Distinct()], stop);
        var rates = new Rates(figures.LabourPerHour, figures.LoanPerDay);
        var parts = new List<OpenPart>();
        foreach (var (slot, assembly) in asked)
        {
            var number = slot.Item!.Number.Number;
            if (!prices.TryGetValue(number, out var price))
            {
                continue;
            }

            var (fails, newFails) =
                BatterySlot.Is(slot.Slot) && spoken is { Its: var its, New: var fresh }
                    ? (Worn(its), Worn(fresh))
                    : ByAge([.. fleet.Of(unit.ModelCode, slot.Slot).Select(p => p.Life.Life)], slot.Since!.Value);
            var times = Renewals.Expected(fails, newFails, days);
            var worth = new WhileOpen(fails(days), times.Left, times.Exchanged, 0, 0, price, rates);
            var goal = new Goal.Replace(assembly!.Id);
            if (!(await plans.Of(map, [goal], stop)).Try(out var alone, out _))
            {
                continue;
            }

            // As if it added nothing: what does not even pay then needs no second plan.
            worth = worth with
            {
                AloneMinutes = alone.Minutes.Expected,
            };
            if (worth.Pays)
            {
                if (!(await plans.Of(map, [.. plan.Goals, goal], stop)).Try(out var both, out _))
                {
                    continue;
                }

                worth = worth with { MoreMinutes = Math.Max(0, both.Minutes.Expected - plan.Minutes.Expected) };
            }

            parts.Add(new OpenPart(assembly, number, stock(number).Free, worth));
        }

        return new OpenView([.. parts.OrderByDescending(p => p.Worth.Gain)], until, figures);

        (Func<double, double>, Func<double, double>) ByAge(IReadOnlyList<Lifetime> seen, DateTimeOffset since)
        {
            var age = new Lifetime(DateOnly.FromDateTime(since.Date), today, false).Days;
            var chance = Demand.Chance(seen);
            return (within => chance(age, within), within => chance(0, within));
        }

        // One that is under the limit already is counted as failing on its first day; later it only grows.
        Func<double, double> Worn(BatteryForecast forecast) =>
            within => within <= 0 ? 0 : forecast.UnderBy(today.AddDays((int)Math.Ceiling(within)));
    }

    /// <summary>When the unit's battery comes under the limit, and when a new one would; null where it has said nothing.</summary>
    private async Task<(BatteryForecast Its, BatteryForecast New)?> ForecastOf(
        Passport passport,
        CancellationToken stop
    )
    {
        if (passport.Slots.FirstOrDefault(s => BatterySlot.Is(s.Slot)) is not { Item: { } battery } slot)
        {
            return null;
        }

        var readings = await db.HealthOf(battery.Id, passport.Unit.Id, stop);
        var model = passport.Unit.ModelCode;
        var now = clock.GetUtcNow();
        return
            await batteries.Of(model, battery, slot.Since, readings, stop) is { } its
            && await batteries.Of(model, battery, now, [(now, 1.0)], stop) is { } fresh
            ? (its, fresh)
            : null;
    }
}
