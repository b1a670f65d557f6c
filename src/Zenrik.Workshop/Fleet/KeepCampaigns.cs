using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Fleet;

/// <summary>A campaign and how far it is.</summary>
/// <param name="InRepair">Of those marked, how many are in the workshop for it.</param>
public sealed record CampaignLine(Campaign Campaign, int Marked, int InRepair, int Done)
{
    public int Left => Marked - Done;
}

/// <summary>How far a campaign is at one site.</summary>
/// <param name="Minutes">Of work on what is still to do there, where it can be planned.</param>
/// <param name="Unplanned">Of what is still to do there, units whose work cannot be planned.</param>
/// <param name="Gone">Marked and not done, but out of use: nothing is done on them any more.</param>
/// <param name="Waiting">Still to do there, in the order they are done: those in the workshop for it first.</param>
public sealed record CampaignSite(
    string Site,
    int Marked,
    int InRepair,
    int Done,
    double Minutes,
    int Unplanned,
    int Gone,
    IReadOnlyList<WaitingUnit> Waiting
)
{
    public int Left => Marked - Done - Gone;
}

/// <summary>A unit that is in use and still to do.</summary>
/// <param name="Here">In the workshop for it.</param>
public readonly record struct WaitingUnit(string Tag, string ModelCode, bool Here);

/// <summary>What a campaign takes on the units of one model.</summary>
/// <param name="Plan">Null when nothing is opened, or <paramref name="Not"/> says why nothing can be planned.</param>
/// <param name="Slot">Where a part is exchanged; null where none is.</param>
public sealed record CampaignModel(string Code, string Name, int Left, Plan? Plan, string? Not, string? Slot);

/// <summary>A unit that is still to do.</summary>
public sealed record CampaignUnit(string Tag, string Model, string Site, UnitState State, long? Repair);

/// <param name="Next">Units still to do, those in no repair first; <see cref="KeepCampaigns.Shown"/> at most.</param>
public sealed record CampaignView(
    CampaignLine Line,
    IReadOnlyList<CampaignSite> Sites,
    IReadOnlyList<CampaignModel> Models,
    IReadOnlyList<CampaignUnit> Next,
    IReadOnlyList<(string Id, string Name)> Assemblies
)
{
    /// <summary>Minutes of work still to do, where it can be planned.</summary>
    public double Minutes => Models.Sum(m => m.Left * (m.Plan?.Minutes.Expected ?? 0));
}

/// <summary>Campaigns: what is to be done on many units, by when, how far it is, and that it has ended.</summary>
public sealed class KeepCampaigns(WorkshopDb db, ServiceMapShelf maps, PlanFor plans, TimeProvider clock)
{
    public const int Shown = 60;

    /// <summary>All of them: those that run first, the one that is due first before the others.</summary>
    public async Task<IReadOnlyList<CampaignLine>> List(CancellationToken stop = default)
    {
        var campaigns = await db.Campaigns.AsNoTracking().Include(c => c.StartedBy).ToListAsync(stop);
        var marks = await db
            .CampaignMarks.GroupBy(m => m.Campaign)
            .Select(g => new
            {
                g.Key,
                Marked = g.Count(),
                Done = g.Count(m => m.DoneAt != null),
            })
            .ToDictionaryAsync(m => m.Key, stop);
        var open = await db
            .Repairs.Where(Repair.Underway)
            .Where(r => r.Campaign != null)
            .GroupBy(r => r.Campaign!)
            .Select(g => new { g.Key, Open = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Open, stop);
        return
        [
            .. campaigns
                .Select(c => new CampaignLine(
                    c,
                    marks.GetValueOrDefault(c.Name)?.Marked ?? 0,
                    open.GetValueOrDefault(c.Name),
                    marks.GetValueOrDefault(c.Name)?.Done ?? 0
                ))
                .OrderBy(l => l.Campaign.EndedAt is not null)
                .ThenBy(l => l.Campaign.EndsOn ?? DateOnly.MaxValue)
                .ThenBy(l => l.Campaign.Name, StringComparer.Ordinal),
        ];
    }

    /// <summary>One of them; null when there is none of that name.</summary>
    public async Task<CampaignView?> Of(string name, CancellationToken stop = default)
    {
        if ((await List(stop)).FirstOrDefault(l => l.Campaign.Name == name) is not { } line)
        {
            return null;
        }

        var underway = db.Repairs.Where(Repair.Underway);
        var units = await db
            .CampaignMarks.AsNoTracking()
            .Where(m => m.Campaign == name)
            .Join(db.Units, m => m.UnitId, u => u.Id, (m, u) => new { Mark = m, Unit = u })
            .OrderBy(x => x.Unit.Site)
            .ThenBy(x => x.Unit.Tag)
            .Select(x => new
            {
                x.Unit.Tag,
                x.Unit.ModelCode,
                Model = x.Unit.Model.Name,
                x.Unit.Site,
                x.Unit.State,
                Done = x.Mark.DoneAt != null,
                Repair = underway.Where(r => r.UnitId == x.Unit.Id).Select(r => (long?)r.Number).FirstOrDefault(),
                ForIt = underway.Any(r => r.UnitId == x.Unit.Id && r.Campaign == name),
            })
            .ToListAsync(stop);
        var models = new List<CampaignModel>();
        var assemblies = new SortedDictionary<string, string>(StringComparer.Ordinal);
        foreach (
            var model in units.GroupBy(u => (u.ModelCode, u.Model)).OrderBy(g => g.Key.Model, StringComparer.Ordinal)
        )
        {
            var map = await maps.Newest(model.Key.ModelCode, stop);
            foreach (var assembly in map?.Assemblies ?? [])
            {
                assemblies.TryAdd(assembly.Id.Value, assembly.Name);
            }

            var (plan, not) = await PlanOf(line.Campaign, map, model.Key.Model, stop);
            models.Add(
                new CampaignModel(
                    model.Key.ModelCode,
                    model.Key.Model,
                    model.Count(u => !u.Done),
                    plan,
                    not,
                    map?.Assemblies.FirstOrDefault(a => a.Id.Value == line.Campaign.Assembly) is { } exchanged
                        ? map.Part(exchanged.Part).Slot
                        : null
                )
            );
        }

        var each = models.ToDictionary(m => m.Code, m => m.Plan?.Minutes.Expected);
        return new CampaignView(
            line,
            [
                .. units
                    .GroupBy(u => u.Site)
                    .Select(g => new CampaignSite(
                        g.Key,
                        g.Count(),
                        g.Count(u => u.ForIt && !u.Done),
                        g.Count(u => u.Done),
                        g.Where(u => Waits(u.Done, u.State)).Sum(u => each[u.ModelCode] ?? 0),
                        g.Count(u => Waits(u.Done, u.State) && each[u.ModelCode] is null),
                        g.Count(u => !u.Done && !UnitLife.Serves(u.State)),
                        [
                            .. g.Where(u => Waits(u.Done, u.State))
                                .OrderByDescending(u => u.ForIt)
                                .Select(u => new WaitingUnit(u.Tag, u.ModelCode, u.ForIt)),
                        ]
                    )),
            ],
            models,
            [
                .. units
                    .Where(u => !u.Done)
                    .OrderBy(u => u.Repair is not null)
                    .Take(Shown)
                    .Select(u => new CampaignUnit(u.Tag, u.Model, u.Site, u.State, u.Repair)),
            ],
            [.. assemblies.OrderBy(a => a.Value, StringComparer.Ordinal).Select(a => (a.Key, a.Value))]
        );

        static bool Waits(bool done, UnitState state) => !done && UnitLife.Serves(state);
    }

    /// <summary>What is done in it, by when, and why.</summary>
    public Task<Outcome<string>> Say(
        string name,
        RepairPurpose? purpose,
        string? assembly,
        string? why,
        DateOnly? endsOn,
        Actor by,
        CancellationToken stop = default
    ) =>
        Change(
            name,
            async campaign =>
            {
                var wanted = string.IsNullOrWhiteSpace(assembly) ? null : assembly;
                var reason = why?.Trim() ?? "";
                if (campaign.Over is { } over)
                {
                    return over;
                }

                if (purpose is null || !Enum.IsDefined(purpose.Value))
                {
                    return new Refusal(RefusalReason.Invalid, "Choose what its units are taken in for.");
                }

                if (reason.Length > Campaign.MaxWhy || reason.Any(char.IsControl))
                {
                    return new Refusal(
                        RefusalReason.Invalid,
                        $"Say why in at most {Campaign.MaxWhy} characters of plain text."
                    );
                }

                if (purpose is RepairPurpose.Fault or RepairPurpose.Upgrade)
                {
                    if (wanted is null || !await Knows(name, wanted, stop))
                    {
                        return new Refusal(
                            RefusalReason.Invalid,
                            "Choose the part that is exchanged, of those the maps of its models name."
                        );
                    }

                    if (purpose == RepairPurpose.Fault && reason.Length < 3)
                    {
                        return new Refusal(RefusalReason.Invalid, "Say why it is exchanged, as “recalled”.");
                    }
                }

                (campaign.Purpose, campaign.EndsOn) = (purpose, endsOn);
                campaign.Assembly = purpose is RepairPurpose.Fault or RepairPurpose.Upgrade ? wanted : null;
                campaign.Why = reason.Length == 0 ? null : reason;
                return $"“{name}” is for that now.";
            },
            by,
            stop
        );

    /// <summary>Ends it; with units still to do only for a reason. Ending it twice is no fault.</summary>
    public Task<Outcome<string>> End(string name, string? why, Actor by, CancellationToken stop = default) =>
        Change(
            name,
            async campaign =>
            {
                if (campaign.EndedAt is not null)
                {
                    return $"“{name}” has ended.";
                }

                var left = await db.CampaignMarks.CountAsync(m => m.Campaign == name && m.DoneAt == null, stop);
                var reason = why?.Trim() ?? "";
                if (left > 0 && reason.Length is < 3 or > Campaign.MaxEndedWhy)
                {
                    return new Refusal(
                        RefusalReason.Invalid,
                        $"{(left == 1 ? "One unit is" : $"{left} units are")} still to do. Say in 3 to {Campaign.MaxEndedWhy} characters why it ends all the same."
                    );
                }

                (campaign.EndedAt, campaign.EndedById) = (clock.GetUtcNow(), by.Id);
                campaign.EndedWhy = reason.Length == 0 ? null : reason;
                return $"“{name}” has ended.";
            },
            by,
            stop
        );

    /// <summary>Takes an ended one up again; twice is no fault.</summary>
    public Task<Outcome<string>> TakeUp(string name, Actor by, CancellationToken stop = default) =>
        Change(
            name,
            campaign =>
            {
                (campaign.EndedAt, campaign.EndedById, campaign.EndedWhy) = (null, null, null);
                return Task.FromResult<Outcome<string>>($"“{name}” goes on.");
            },
            by,
            stop
        );

    private Task<Outcome<string>> Change(
        string name,
        Func<Campaign, Task<Outcome<string>>> change,
        Actor by,
        CancellationToken stop,
        [System.Runtime.CompilerServices.CallerMemberName] string act = ""
    )
    {
        return db.Write(by, name, clock.GetUtcNow(), Work, stop, act);

        async Task<Outcome<string>> Work()
        {
            return (await db.LockCampaign(name, stop)).Try(out var campaign, out var none)
                ? await change(campaign)
                : none;
        }
    }

    /// <summary>The tags of a site's next units: to do, in no repair, and in use.</summary>
    internal async Task<IReadOnlyList<string>> NextAt(string name, string site, CancellationToken stop)
    {
        var underway = db.Repairs.Where(Repair.Underway);
        var outOfUse = UnitLife.OutOfUse;
        return await db
            .CampaignMarks.Where(m => m.Campaign == name && m.DoneAt == null)
            .Join(db.Units, m => m.UnitId, u => u.Id, (_, u) => u)
            .Where(u => u.Site == site && !outOfUse.Contains(u.State) && !underway.Any(r => r.UnitId == u.Id))
            .OrderBy(u => u.Tag)
            .Select(u => u.Tag)
            .ToListAsync(stop);
    }

    /// <summary>Whether the map of any of its models names an assembly.</summary>
    private async Task<bool> Knows(string name, string assembly, CancellationToken stop)
    {
        var models = await db
            .CampaignMarks.Where(m => m.Campaign == name)
            .Join(db.Units, m => m.UnitId, u => u.Id, (_, u) => u.ModelCode)
            .Distinct()
            .ToListAsync(stop);
        foreach (var model in models)
        {
            if ((await maps.Newest(model, stop))?.Assemblies.Any(a => a.Id.Value == assembly) == true)
            {
                return true;
            }
        }

        return false;
    }

    private async Task<(Plan? Plan, string? Not)> PlanOf(
        Campaign campaign,
        ServiceMap? map,
        string model,
        CancellationToken stop
    )
    {
        if (campaign.Purpose is null or RepairPurpose.CheckUp)
        {
            return (null, null);
        }

        if (map is null)
        {
            return (null, $"The {model} has no map yet.");
        }

        Goal[] goals = campaign.Assembly is { } id
            ? [new Goal.Replace(AssemblyId.Of(id))]
            : [.. map.Parts.Where(p => p.Dusty).Select(p => new Goal.Clean(p.Id))];
        return goals.Length == 0 ? (null, $"Nothing in the {model} is known to gather dust.")
            : (await plans.Of(map, goals, stop)).Try(out var plan, out var not) ? (plan, null)
            : (null, not.Message);
    }
}

/// <summary>What a repair's end means for the campaign it was opened for.</summary>
internal static class CampaignProgress
{
    /// <summary>The unit is done in it; part of the caller's write.</summary>
    public static async Task EndMark(this WorkshopDb db, Repair repair, Occasion occasion, CancellationToken stop)
    {
        if (
            repair.Campaign is { } name
            && await db.CampaignMarks.SingleOrDefaultAsync(
                m => m.UnitId == repair.UnitId && m.Campaign == name && m.DoneAt == null,
                stop
            )
                is { } mark
        )
        {
            mark.DoneAt = occasion.At;
            db.UnitEvents.Add(
                UnitEvent.Of(
                    repair.UnitId,
                    UnitEventKind.Campaign,
                    $"“{name}” is done",
                    occasion with
                    {
                        Repair = repair.Id,
                    }
                )
            );
        }
    }
}
