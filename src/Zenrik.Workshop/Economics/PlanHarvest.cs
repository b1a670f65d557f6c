using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core.Batteries;
using Zenrik.Core.Economics;
using Zenrik.Core.Fleet;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Reliability;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Economics;

/// <summary>A donor with what is to come out of it.</summary>
/// <param name="Model">Its name.</param>
/// <param name="Minutes">To open it, take that out and close it.</param>
/// <param name="Worth">What that gives in minutes of work, these not taken off.</param>
public sealed record DonorToStrip(
    HarvestDonor Donor,
    string Model,
    IReadOnlyList<(HarvestPart Part, HarvestWant For)> Take,
    double Minutes,
    double Worth
)
{
    public IEnumerable<string> Slots => Take.Select(t => t.Part.Slot);

    /// <summary>True when just that was asked for.</summary>
    public bool IsWhat(StripJob asked) => asked.Slots.ToHashSet().SetEquals(Slots);
}

/// <summary>Which donors to strip of what, for whom, and what another donor would be worth.</summary>
/// <param name="Strip">Those worth opening, the one that gives most first.</param>
/// <param name="Leave">Those that are not.</param>
/// <param name="Value">What it gives, in minutes of work.</param>
/// <param name="AsNeeded">What stripping for one repair at a time would give.</param>
/// <param name="Proved">True when nothing gives more.</param>
/// <param name="OneMore">By model: what one more donor of it, with everything that is wanted of it, would give; the most first.</param>
/// <param name="Open">Wants that no donor serves: what waits.</param>
/// <param name="Asked">By the donor's tag: what the bench calendar has of it.</param>
public sealed record HarvestView(
    IReadOnlyList<DonorToStrip> Strip,
    IReadOnlyList<HarvestDonor> Leave,
    double Value,
    double AsNeeded,
    bool Proved,
    IReadOnlyList<(string Model, double Worth)> OneMore,
    IReadOnlyList<HarvestWant> Open,
    IReadOnlyDictionary<string, StripJob> Asked,
    HouseFigures Figures
);

/// <summary>Weighs donors against repairs that wait for parts and failures that are to be expected.</summary>
public sealed class PlanHarvest(
    WorkshopDb db,
    ViewCounter counter,
    ExpectedDemand demand,
    ServiceMapShelf maps,
    PlanFor plans,
    IMemoryCache cache,
    TimeProvider clock
)
{
    /// <summary>Until when failures are looked for, days.</summary>
    private const int Ahead = 60;

    /// <summary>Needs of one slot that are looked at.</summary>
    private const int MostExpected = 4;

    public async Task<HarvestView> Run(CancellationToken stop = default)
    {
        var figures = await db.Figures(stop);
        var (donors, parts) = await Donors(stop);
        var wants = await Wants(figures, stop);
        var problem = new HarvestProblem(donors, parts, [.. wants.Select(w => w.Want)]);
        var solved = await Solved(problem, [.. wants.Select(w => (w.Model, w.Slot))], stop);
        var taken = solved.Taken;
        var names = await db.Models.AsNoTracking().ToDictionaryAsync(m => m.Code, m => m.Name, stop);
        var served = taken.Select(t => t.Want).ToHashSet();
        var opened = taken.GroupBy(t => parts[t.Part].Donor).ToDictionary(g => g.Key, g => g.ToList());
        return new HarvestView(
            [
                .. opened
                    .Select(o => new DonorToStrip(
                        donors[o.Key],
                        names.GetValueOrDefault(donors[o.Key].Model, donors[o.Key].Model),
                        [.. o.Value.Select(t => (parts[t.Part], problem.Wants[t.Want]))],
                        donors[o.Key].Opens + o.Value.Sum(t => parts[t.Part].Minutes),
                        o.Value.Sum(t => parts[t.Part].Works * problem.Wants[t.Want].Worth)
                    ))
                    .OrderByDescending(d => d.Worth - d.Minutes),
            ],
            [.. donors.Where((_, d) => !opened.ContainsKey(d))],
            problem.Value(taken),
            problem.AsNeeded().Value,
            solved.Proved,
            [.. solved.OneMore.Select(m => (names.GetValueOrDefault(m.Model, m.Model), m.Worth))],
            [.. problem.Wants.Where((w, i) => w.Waits && !served.Contains(i))],
            await db.StripJobs.AsNoTracking().Include(s => s.Unit).ToDictionaryAsync(s => s.Unit.Tag, stop),
            figures
        );
    }

    /// <summary>A harvest that was solved, and what it was solved for.</summary>
    private sealed record Solution(
        HarvestProblem Problem,
        IReadOnlyList<(string Model, string Slot)> Wanted,
        IReadOnlyList<Taken> Taken,
        bool Proved,
        IReadOnlyList<(string Model, double Worth)> OneMore
    );

    /// <summary>What was solved last is kept: most who look find donors and wants as they were.</summary>
    private async Task<Solution> Solved(
        HarvestProblem problem,
        IReadOnlyList<(string Model, string Slot)> wanted,
        CancellationToken stop
    )
    {
        if (
            cache.Get<Solution>(typeof(Solution)) is { } kept
            && kept.Problem.IsSame(problem)
            && kept.Wanted.SequenceEqual(wanted)
        )
        {
            return kept;
        }

        return await Task.Run(
            () =>
            {
                var (taken, proved) = SolveHarvest.Run(problem);
                return cache.Set(
                    typeof(Solution),
                    new Solution(problem, wanted, taken, proved, OneMore(problem, wanted, problem.Value(taken)))
                );
            },
            stop
        );
    }

    /// <summary>What waits for a part, and then what is expected to fail, each with what one is worth.</summary>
    private async Task<List<(string Model, string Slot, HarvestWant Want)>> Wants(
        HouseFigures figures,
        CancellationToken stop
    )
    {
        var minutePerMoney = 60 / (double)figures.LabourPerHour;
        var fits = await db.NumbersBySlot(null, stop);
        var waiting = (await counter.Run(stop)).Waiting;
        var expected = (await demand.Run(Ahead, 0.9, stop)).Where(d => d.High > 0).ToList();
        var known = await db.PricesOf(
            [.. fits.SelectMany(f => f).Concat(expected.SelectMany(d => d.Numbers)).Distinct()],
            figures,
            stop
        );
        double Price(IEnumerable<string> numbers) =>
            numbers.Select(n => (double)known.GetValueOrDefault(n)).Where(p => p > 0).DefaultIfEmpty(0).Min();
        var today = clock.Today();
        var wants = new List<(string Model, string Slot, HarvestWant Want)>();
        foreach (var row in waiting)
        {
            foreach (var line in row.Lacking)
            {
                var numbers = fits[(row.Repair.Unit.ModelCode, line.Slot)].ToHashSet();
                var worth = HarvestWorth.Waiting(
                    Price(numbers),
                    row.Coming is { } day ? day.DayNumber - today.DayNumber : null,
                    (double)figures.LoanPerDay
                );
                wants.Add(
                    (
                        row.Repair.Unit.ModelCode,
                        line.Slot,
                        new HarvestWant(
                            row.Repair.Code,
                            $"{line.AssemblyName} for {row.Repair.Unit.Tag}",
                            numbers,
                            worth * minutePerMoney,
                            true
                        )
                    )
                );
            }
        }

        foreach (var slot in expected)
        {
            var numbers = slot.Slots.SelectMany(s => fits[(s.ModelCode, s.Slot)]).Concat(slot.Numbers).ToHashSet();
            for (var i = 1; i <= MostExpected; i++)
            {
                var chance = HarvestWorth.Needed(slot.Expected, slot.Law.Variance, slot.Free + slot.Coming, i);
                if (chance > HarvestWorth.LeastChance)
                {
                    wants.Add(
                        (
                            slot.Slot.ModelCode,
                            slot.Slot.Slot,
                            new HarvestWant(
                                $"{slot.Slot.ModelCode}/{slot.Slot.Slot}",
                                $"{slot.Slot.Slot.Replace('-', ' ')} of a {slot.Slot.Model}, expected",
                                numbers,
                                chance * Price(numbers) * minutePerMoney,
                                false
                            )
                        )
                    );
                }
            }
        }

        return wants;
    }

    /// <summary>What the harvest gives more with one more donor of a model, as if it had everything that is wanted of it.</summary>
    private static IReadOnlyList<(string Model, double Worth)> OneMore(
        HarvestProblem problem,
        IReadOnlyList<(string Model, string Slot)> wanted,
        double value
    ) =>
        [
            .. wanted
                .Zip(problem.Wants, (w, want) => (w.Model, w.Slot, Want: want))
                .GroupBy(w => w.Model)
                .Select(model =>
                {
                    var donor = problem.Donors.Count;
                    var like = problem
                        .Donors.Where(d => d.Model == model.Key)
                        .Select(d => d.Opens)
                        .DefaultIfEmpty(HarvestWorth.UsualOpening)
                        .Average();
                    var with = problem with
                    {
                        Donors = [.. problem.Donors, new HarvestDonor("one more", model.Key, like)],
                        Parts =
                        [
                            .. problem.Parts,
                            .. model
                                .GroupBy(w => w.Slot)
                                .Where(s => s.First().Want.Numbers.Count > 0)
                                .Select(s => new HarvestPart(
                                    donor,
                                    s.Key,
                                    s.Key,
                                    s.First().Want.Numbers.First(),
                                    HarvestWorth.UsualTaking,
                                    HarvestWorth.Works(BatterySlot.Is(s.Key))
                                )),
                        ],
                    };
                    return (model.Key, Worth: with.Value(SolveHarvest.Run(with).Taken) - value);
                })
                .Where(m => m.Worth > 0.5)
                .OrderByDescending(m => m.Worth),
        ];

    private async Task<(IReadOnlyList<HarvestDonor>, IReadOnlyList<HarvestPart>)> Donors(CancellationToken stop)
    {
        var units = await db
            .Units.AsNoTracking()
            .Include(u => u.Model)
            .Where(u => u.State == UnitState.Donor)
            .OrderBy(u => u.Tag)
            .ToListAsync(stop);
        var ids = units.ConvertAll(u => u.Id);
        var inside = (
            await db
                .Items.AsNoTracking()
                .Include(i => i.Number)
                .Where(i => ids.Contains(i.UnitId!.Value) && i.Slot != null)
                .ToListAsync(stop)
        ).ToLookup(i => i.UnitId!.Value);
        var givenUp = await db.GivenUp(maps, ids, stop);
        var (donors, parts) = (new List<HarvestDonor>(), new List<HarvestPart>());
        // Donors of a model that hold the same are planned once.
        var known = new Dictionary<(string, PartId, string), double?>();
        foreach (var unit in units)
        {
            var found = new List<(string Slot, string Name, string Number, double Minutes)>();
            var why = givenUp.GetValueOrDefault(unit.Id);
            // What comes out of a wet machine is set apart: nobody can count on it.
            if (why is not { WithoutPower: true } && await maps.Newest(unit.ModelCode, stop) is { } map)
            {
                var fitted = PassportOf.MapOf(map, inside[unit.Id], null);
                var filled = string.Join(' ', inside[unit.Id].Select(i => i.Slot).Order());
                foreach (var item in inside[unit.Id].Where(i => why?.Slots.Contains(i.Slot!) != true))
                {
                    if (
                        fitted.PartInSlot(item.Slot!) is { Fixed: false } part
                        && await Out(unit.ModelCode, fitted, part, filled) is { } minutes
                    )
                    {
                        found.Add((item.Slot!, part.Name, item.Number.Number, minutes));
                    }
                }
            }

            // What the cheapest takes is opening, or little more; the rest comes on top of it.
            var opens = found.Count == 0 ? 0 : found.Min(f => f.Minutes);
            parts.AddRange(
                found.Select(f => new HarvestPart(
                    donors.Count,
                    f.Slot,
                    f.Name,
                    f.Number,
                    f.Minutes - opens,
                    HarvestWorth.Works(BatterySlot.Is(f.Slot))
                ))
            );
            donors.Add(new HarvestDonor(unit.Tag, unit.ModelCode, opens));
        }

        return (donors, parts);

        async Task<double?> Out(string model, ServiceMap fitted, Part part, string filled)
        {
            if (!known.TryGetValue((model, part.Id, filled), out var minutes))
            {
                minutes = (await plans.Of(fitted, [new Goal.LiftOut(part.Id)], stop)).Try(out var plan, out _)
                    ? plan.Steps.Take(plan.OutCount).Sum(s => s.Seconds) / 60
                    : null;
                known[(model, part.Id, filled)] = minutes;
            }

            return minutes;
        }
    }
}
