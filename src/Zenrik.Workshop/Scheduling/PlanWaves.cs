using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Reliability;
using Zenrik.Core.Scheduling;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Scheduling;

/// <summary>A campaign in waves.</summary>
/// <param name="From">The first day anything leaves a site, today at the earliest.</param>
/// <param name="Plan">Laid on the hours that are known for the coming <see cref="PlanWaves.Ahead"/> days.</param>
/// <param name="Ways">What would have it done by its day; empty when it is, or has none, or nothing would.</param>
/// <param name="WeekMinutes">Of the bench in the first seven days, all of it.</param>
/// <param name="Unplanned">Units whose work cannot be planned; <see cref="BenchCustom.UnplannedMinutes"/> are counted for each.</param>
/// <param name="DoneWithParts">The day all would be back if all parts were on the shelf; null where not all can be placed.</param>
/// <param name="Parts">What its units take; empty where nothing is exchanged, or nothing is known to fit.</param>
public sealed record WavesView(
    CampaignLine Line,
    WaveTerms Terms,
    DateOnly From,
    IReadOnlyList<CampaignSite> Sites,
    CampaignWaves Plan,
    IReadOnlyList<WaveWay> Ways,
    double WeekMinutes,
    int Unplanned,
    IReadOnlyList<WaveParts> Parts,
    DateOnly? DoneWithParts
)
{
    /// <summary>Of work left at the bench.</summary>
    public double Hours => (Sites.Sum(s => s.Minutes) + (Unplanned * BenchCustom.UnplannedMinutes)) / 60;

    /// <summary>True when the day it is to be done by will be missed.</summary>
    public bool IsLate => Line.Campaign.EndsOn is { } day && (Plan.Unplaced > 0 || Plan.Without > 0 || Plan.Done > day);
}

/// <summary>Parts of one kind that a campaign takes: models that share a number share them.</summary>
/// <param name="For">Names of the models.</param>
/// <param name="Numbers">Any of them will do.</param>
/// <param name="Wanted">Units that take one, those left out that have their own already.</param>
/// <param name="Free">On a shelf and promised to nobody.</param>
/// <param name="Coming">Ordered for the shelf, by the day it is expected.</param>
public sealed record WaveParts(
    IReadOnlyList<string> For,
    IReadOnlyList<string> Numbers,
    int Wanted,
    int Free,
    IReadOnlyList<(DateOnly On, int Pieces)> Coming
)
{
    public int Missing => Math.Max(0, Wanted - Free - Coming.Sum(c => c.Pieces));
}

/// <summary>When which units of a campaign travel, so that no site lacks more than it can spare, and taking a wave in.</summary>
public sealed class PlanWaves(
    WorkshopDb db,
    KeepCampaigns campaigns,
    KeepHours hours,
    TakeInBox takeIn,
    TimeProvider clock
)
{
    /// <summary>How far ahead hours are taken from the week somebody keeps, days.</summary>
    public const int Ahead = 400;

    /// <summary>How it stands now; null when there is no campaign of that name.</summary>
    public async Task<WavesView?> Of(string name, CancellationToken stop = default)
    {
        if (await campaigns.Of(name, stop) is not { } view)
        {
            return null;
        }

        var campaign = view.Line.Campaign;
        var terms = campaign.Waves ?? WaveTerms.Usual;
        var today = clock.Today();
        var from = terms.From is { } day && day > today ? day : today;
        var bench = await Bench(today, stop);
        var (parts, takes) = await Parts(view, stop);
        List<SiteUnits> sites =
        [
            .. view
                .Sites.Where(s => s.Left > 0)
                .Select(s => new SiteUnits(
                    s.Site,
                    s.Left,
                    s.Waiting.Count(u => u.Here),
                    (s.Minutes + (s.Unplanned * BenchCustom.UnplannedMinutes)) / s.Left,
                    terms.Spare.GetValueOrDefault(s.Site, s.Left),
                    [.. s.Waiting.Select(takes)]
                )),
        ];
        List<PartSupply> supplies = [.. parts.Select(p => PartSupply.Of(p.Free, p.Coming, today))];
        var shared = CampaignWaves.Share(bench, terms.Share);
        var plan = CampaignWaves.Of(sites, shared, from, terms.Carry, supplies);
        var seen = new WavesView(
            view.Line,
            terms,
            from,
            view.Sites,
            plan,
            [],
            bench.Where(d => d.Day < today.AddDays(7)).Sum(d => d.Minutes),
            view.Sites.Sum(s => s.Unplanned),
            parts,
            plan.Without == 0
                ? plan.Done
                : CampaignWaves.Of(sites.ConvertAll(s => s with { Parts = null }), shared, from, terms.Carry).Done
        );
        return seen.IsLate
            ? seen with
            {
                Ways = CampaignWaves.DoneBy(
                    campaign.EndsOn!.Value,
                    sites,
                    bench,
                    terms.Share,
                    from,
                    terms.Carry,
                    supplies
                ),
            }
            : seen;
    }

    /// <summary>What the units still to do take from the shelf, and of each which it is; −1: nothing that is known.</summary>
    private async Task<(IReadOnlyList<WaveParts> Parts, Func<WaitingUnit, int> Takes)> Parts(
        CampaignView view,
        CancellationToken stop
    )
    {
        var exchanged = view.Models.Where(m => m.Slot is not null).ToList();
        var fits = await db.NumbersBySlot([.. exchanged.Select(m => m.Code)], stop);
        var kinds = SharedShelf.Of(
            [
                .. exchanged
                    .Select(m =>
                        (m.Code, m.Name, Numbers: fits[(m.Code, m.Slot!)].Order(StringComparer.Ordinal).ToList())
                    )
                    .Where(m => m.Numbers.Count > 0),
            ],
            m => m.Numbers
        );
        if (kinds.Count == 0)
        {
            return ([], _ => -1);
        }

        var name = view.Line.Campaign.Name;
        var own = (
            await db
                .Repairs.Where(Repair.Underway)
                .Where(r =>
                    r.Campaign == name
                    && (
                        db.Reservations.Any(p => p.RepairId == r.Id && p.ItemId != null)
                        || db.PartOrders.Any(o => o.RepairId == r.Id && o.State == OrderState.Ordered)
                        || r.Lines.Any(l => l.ItemInId != null)
                    )
                )
                .Select(r => r.Unit.Tag)
                .ToListAsync(stop)
        ).ToHashSet();
        var kindOf = kinds.Index().SelectMany(k => k.Item.Select(m => (m.Code, k.Index))).ToDictionary();
        int Takes(WaitingUnit unit) => own.Contains(unit.Tag) ? -1 : kindOf.GetValueOrDefault(unit.ModelCode, -1);
        var wanted = view.Sites.SelectMany(s => s.Waiting).CountBy(Takes).ToDictionary();
        List<string> numbers = [.. kinds.SelectMany(k => k.SelectMany(m => m.Numbers)).Distinct()];
        var (free, coming) = (await db.Free(numbers, stop), await db.Coming(numbers, stop));
        return (
            [
                .. kinds.Select(
                    (kind, i) =>
                    {
                        List<string> any = [.. kind.SelectMany(m => m.Numbers).Distinct()];
                        return new WaveParts(
                            [.. kind.Select(m => m.Name)],
                            any,
                            wanted.GetValueOrDefault(i),
                            any.Sum(n => free.GetValueOrDefault(n)),
                            [.. any.SelectMany(n => coming[n]).OrderBy(o => o.Expected)]
                        );
                    }
                ),
            ],
            Takes
        );
    }

    /// <summary>Keeps what was agreed on how its units travel.</summary>
    public Task<Outcome<string>> Agree(string name, WaveTerms terms, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, name, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (terms.Share is < 1 or > 100 || terms.Carry is < 0 or > WaveTerms.MostCarry)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"A campaign has 1 to 100 of 100 of the bench's hours, and its units are 0 to {WaveTerms.MostCarry} days on the way."
                );
            }

            if (terms.Spare.FirstOrDefault(s => s.Value < 1) is { Key: { } none })
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"{none} must spare at least one unit at a time, or nothing can be done there."
                );
            }

            if (terms.From is { } from && from > clock.Today().AddDays(Ahead))
            {
                return new Refusal(RefusalReason.Invalid, "It begins within a year, or is not planned yet.");
            }

            if (!(await db.LockCampaign(name, stop)).Try(out var campaign, out var missing))
            {
                return missing;
            }

            if (campaign.Over is { } over)
            {
                return over;
            }

            campaign.Waves = terms;
            return $"“{name}” is planned so now.";
        }
    }

    /// <summary>Takes a site's next units in.</summary>
    /// <param name="units">How many at most: those in no repair for which there is what they take, by their tags.</param>
    public async Task<Outcome<string>> TakeIn(
        Guid request,
        string name,
        string site,
        int units,
        DateOnly? promised,
        Actor by,
        CancellationToken stop = default
    )
    {
        var view = await Of(name, stop);
        var waiting = view?.Sites.FirstOrDefault(s => s.Site == site)?.Waiting ?? [];
        var leftOut = (view?.Plan.LeftOut.GetValueOrDefault(site) ?? []).Select(i => waiting[i].Tag).ToHashSet();
        var next = await campaigns.NextAt(name, site, stop);
        return await takeIn.ForCampaign(
            request,
            name,
            [.. next.Where(t => !leftOut.Contains(t)).Take(Math.Clamp(units, 0, TakeInBox.Most))],
            promised,
            by,
            stop
        );
    }

    /// <summary>What everybody at the bench works together on each day from one on.</summary>
    private async Task<IReadOnlyList<BenchDay>> Bench(DateOnly from, CancellationToken stop) =>
        [
            .. (await hours.List(stop))
                .SelectMany(h => hours.ShiftsOf(h, clock.GetLocalNow(), Ahead).All)
                .GroupBy(s => clock.DayOf(s.From))
                .Where(d => d.Key >= from)
                .OrderBy(d => d.Key)
                .Select(d => new BenchDay(d.Key, d.Sum(s => s.Minutes))),
        ];
}
