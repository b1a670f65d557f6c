using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fleet;

/// <summary>Changes many units at once, all or none; each gets its own line in its timeline.</summary>
public sealed class ChangeUnits(WorkshopDb db, TimeProvider clock)
{
    /// <summary>Moves units to another site.</summary>
    public Task<Outcome<string>> Move(
        Guid request,
        IReadOnlyList<string> tags,
        string? site,
        Actor by,
        CancellationToken stop = default
    )
    {
        return !SiteName.Read(site).Try(out var there, out var nowhere)
            ? Task.FromResult<Outcome<string>>(nowhere)
            : Each(
                request,
                tags,
                by,
                (unit, occasion) =>
                {
                    var to = there.Text;
                    if (unit.Site == to)
                    {
                        return false;
                    }

                    db.UnitEvents.Add(
                        UnitEvent.Of(unit.Id, UnitEventKind.Moved, $"From {unit.Site} to {to}", occasion)
                    );
                    unit.Site = to;
                    return true;
                },
                n => $"{n} moved to {there}",
                stop
            );
    }

    /// <summary>Marks units for a campaign; those marked already stay as they are.</summary>
    public Task<Outcome<string>> Mark(
        Guid request,
        IReadOnlyList<string> tags,
        string? campaign,
        Actor by,
        CancellationToken stop = default
    ) =>
        Campaign(
            request,
            tags,
            campaign,
            by,
            (unit, name, occasion) =>
            {
                if (unit.Campaigns.Exists(m => m.Campaign == name && m.DoneAt is null))
                {
                    return false;
                }

                unit.Campaigns.RemoveAll(m => m.Campaign == name);
                unit.Campaigns.Add(
                    new CampaignMark
                    {
                        UnitId = unit.Id,
                        Campaign = name,
                        At = occasion.At,
                    }
                );
                db.UnitEvents.Add(UnitEvent.Of(unit.Id, UnitEventKind.Campaign, $"Marked for “{name}”", occasion));
                return true;
            },
            (n, name) => $"{n} marked for “{name}”",
            stop
        );

    /// <summary>Says that the campaign's work is done on units marked for it.</summary>
    public Task<Outcome<string>> Done(
        Guid request,
        IReadOnlyList<string> tags,
        string? campaign,
        Actor by,
        CancellationToken stop = default
    ) =>
        Campaign(
            request,
            tags,
            campaign,
            by,
            (unit, name, occasion) =>
            {
                if (unit.Campaigns.Find(m => m.Campaign == name && m.DoneAt is null) is not { } mark)
                {
                    return false;
                }

                mark.DoneAt = occasion.At;
                db.UnitEvents.Add(UnitEvent.Of(unit.Id, UnitEventKind.Campaign, $"“{name}” is done", occasion));
                return true;
            },
            (n, name) => $"“{name}” is done on {n}",
            stop
        );

    private async Task<Outcome<string>> Campaign(
        Guid request,
        IReadOnlyList<string> tags,
        string? campaign,
        Actor by,
        Func<Unit, string, Occasion, bool> change,
        Func<string, string, string> say,
        CancellationToken stop,
        [CallerMemberName] string act = ""
    )
    {
        var name = campaign?.Trim() ?? "";
        return name.Length is < 2 or > CampaignMark.MaxName || name.Any(c => char.IsControl(c) || "/\\%".Contains(c))
            ? new Refusal(
                RefusalReason.Invalid,
                $"Give the campaign a name of 2 to {CampaignMark.MaxName} characters, without / \\ and %."
            )
            : await Each(
                request,
                tags,
                by,
                (unit, occasion) => change(unit, name, occasion),
                n => say(n, name),
                stop,
                act,
                () => Running(name, by, stop)
            );
    }

    /// <summary>The campaign begins with the first unit marked for it.</summary>
    private async Task<Refusal?> Running(string name, Actor by, CancellationToken stop)
    {
        await db.LockCampaigns(stop);
        var campaign = await db.Campaigns.SingleOrDefaultAsync(c => c.Name == name, stop);
        if (campaign?.Over is { } over)
        {
            return over;
        }

        if (campaign is null)
        {
            db.Campaigns.Add(
                new Campaign
                {
                    Name = name,
                    StartedAt = clock.GetUtcNow(),
                    StartedById = by.Id,
                }
            );
        }

        return null;
    }

    private Task<Outcome<string>> Each(
        Guid request,
        IReadOnlyList<string> tags,
        Actor by,
        Func<Unit, Occasion, bool> change,
        Func<string, string> say,
        CancellationToken stop,
        [CallerMemberName] string act = "",
        Func<Task<Refusal?>>? before = null
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, string.Join(' ', tags), now, Work, stop, act);

        async Task<Outcome<string>> Work()
        {
            var wanted = tags.Select(LabelCode.Of).Where(t => t.Length > 0).Distinct().ToArray();
            if (wanted.Length is 0 or > ListUnits.CountedUpTo)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    wanted.Length == 0
                        ? "No unit is ticked."
                        : $"At most {ListUnits.CountedUpTo} units are changed at once. Narrow the list."
                );
            }

            if (before is not null && await before() is { } not)
            {
                return not;
            }

            var units = await db.LockUnits(wanted, stop);
            if (wanted.Except(units.Select(u => u.Tag)).FirstOrDefault() is { } unknown)
            {
                return new Refusal(
                    RefusalReason.NotFound,
                    $"No unit carries the tag {unknown}. Nothing was changed on any of them."
                );
            }

            var occasion = new Occasion(by, now);
            var changed = units.Count(u => change(u, occasion));
            var same = units.Count - changed;
            return $"{say(changed == 1 ? "1 unit" : $"{changed} units")}{(same == 0 ? "" : $"; {same} needed no change")}.";
        }
    }
}
