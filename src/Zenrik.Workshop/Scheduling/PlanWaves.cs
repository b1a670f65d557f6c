using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Scheduling;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Scheduling;

/// <summary>A campaign in waves.</summary>
/// <param name="From">The first day anything leaves a site, today at the earliest.</param>
/// <param name="Plan">Laid on the hours that are known for the coming <see cref="PlanWaves.Ahead"/> days.</param>
/// <param name="Ways">What would have it done by its day; empty when it is, or has none, or nothing would.</param>
/// <param name="WeekMinutes">Of the bench in the first seven days, all of it.</param>
/// <param name="Unplanned">Units whose work cannot be planned; <see cref="BenchCustom.UnplannedMinutes"/> are counted for each.</param>
public sealed record WavesView(
    CampaignLine Line,
    WaveTerms Terms,
    DateOnly From,
    IReadOnlyList<CampaignSite> Sites,
    CampaignWaves Plan,
    IReadOnlyList<WaveWay> Ways,
    double WeekMinutes,
    int Unplanned
)
{
    /// <summary>Of work left at the bench.</summary>
    public double Hours => (Sites.Sum(s => s.Minutes) + (Unplanned * BenchCustom.UnplannedMinutes)) / 60;

    /// <summary>True when the day it is to be done by will be missed.</summary>
    public bool IsLate => Line.Campaign.EndsOn is { } day && (Plan.Unplaced > 0 || Plan.Done > day);
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
        List<SiteUnits> sites =
        [
            .. view
                .Sites.Where(s => s.Left > 0)
                .Select(s => new SiteUnits(
                    s.Site,
                    s.Left,
                    s.InRepair,
                    (s.Minutes + (s.Unplanned * BenchCustom.UnplannedMinutes)) / s.Left,
                    terms.Spare.GetValueOrDefault(s.Site, s.Left)
                )),
        ];
        var plan = CampaignWaves.Of(sites, CampaignWaves.Share(bench, terms.Share), from, terms.Carry);
        var seen = new WavesView(
            view.Line,
            terms,
            from,
            view.Sites,
            plan,
            [],
            bench.Where(d => d.Day < today.AddDays(7)).Sum(d => d.Minutes),
            view.Sites.Sum(s => s.Unplanned)
        );
        return seen.IsLate
            ? seen with
            {
                Ways = CampaignWaves.DoneBy(campaign.EndsOn!.Value, sites, bench, terms.Share, from, terms.Carry),
            }
            : seen;
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
    /// <param name="units">How many at most: those in no repair, by their tags.</param>
    public async Task<Outcome<string>> TakeIn(
        Guid request,
        string name,
        string site,
        int units,
        DateOnly? promised,
        Actor by,
        CancellationToken stop = default
    ) =>
        await takeIn.ForCampaign(
            request,
            name,
            await campaigns.NextAt(name, site, Math.Clamp(units, 0, TakeInBox.Most), stop),
            promised,
            by,
            stop
        );

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
