using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Repairs;

/// <summary>One code scanned into a box.</summary>
/// <param name="Tag">The unit's tag; what was scanned, where it is no unit.</param>
/// <param name="Text">What it is, or why it cannot be taken in.</param>
/// <param name="Ready">True when it can.</param>
public sealed record BoxLine(string Tag, string Text, bool Ready);

/// <summary>Takes many units in at once, all for the same: a box of Chromebooks. All that are named, or none of them.</summary>
public sealed class TakeInBox(WorkshopDb db, OpenRepair openRepair, TimeProvider clock)
{
    /// <summary>More at once is no box.</summary>
    public const int Most = 60;

    /// <summary>What lies in the box so far, in the order scanned; a unit scanned twice stands there once.</summary>
    /// <param name="codes">Tags, serials or whole labels.</param>
    public async Task<IReadOnlyList<BoxLine>> Look(IReadOnlyList<string> codes, CancellationToken stop = default)
    {
        var read = codes.Distinct(StringComparer.OrdinalIgnoreCase).Take(Most + 1).Select(Names).ToList();
        var names = read.SelectMany(n => n).Distinct().ToList();
        var underway = db.Repairs.Where(Repair.Underway);
        var units = await db
            .Units.AsNoTracking()
            .Where(u => names.Contains(u.Tag) || names.Contains(u.Serial))
            .Select(u => new
            {
                u.Tag,
                u.Serial,
                Model = u.Model.Name,
                u.Site,
                u.State,
                Repair = underway.Where(r => r.UnitId == u.Id).Select(r => (long?)r.Number).FirstOrDefault(),
            })
            .ToListAsync(stop);
        return
        [
            .. read.Select(called =>
                    called.Select(n => units.Find(u => u.Tag == n || u.Serial == n)).FirstOrDefault(u => u is not null)
                        is not { } unit
                        ? new BoxLine(
                            called[0].Length > 40 ? called[0][..40] : called[0],
                            "no unit is called so",
                            false
                        )
                    : unit.Repair is { } open
                        ? new BoxLine(unit.Tag, $"is in repair {Repair.CodeOf(open)} already", false)
                    : UnitLife.Serves(unit.State) ? new BoxLine(unit.Tag, $"{unit.Model}, {unit.Site}", true)
                    : new BoxLine(unit.Tag, $"is {UnitLife.Name(unit.State)}", false)
                )
                .DistinctBy(l => l.Tag),
        ];
    }

    /// <summary>What a unit may be called by a code: the code itself, then the serials it may say.</summary>
    private static string[] Names(string code) =>
        [LabelCode.Of(code), .. SerialNumber.Readings(code).Select(LabelCode.Of)];

    /// <summary>Takes units in for a campaign, for what is done in it.</summary>
    /// <param name="promised">Null: for the day the campaign ends.</param>
    public async Task<Outcome<string>> ForCampaign(
        Guid request,
        string name,
        IReadOnlyList<string> tags,
        DateOnly? promised,
        Actor by,
        CancellationToken stop = default
    ) =>
        await db.Campaigns.AsNoTracking().SingleOrDefaultAsync(c => c.Name == name, stop) switch
        {
            null => new Refusal(RefusalReason.NotFound, $"There is no campaign “{name}”."),
            { Over: { } over } => over,
            { Purpose: null } => new Refusal(RefusalReason.Conflict, "Say first what is done in it."),
            { Purpose: { } purpose } campaign => await Run(
                request,
                tags,
                new Intake
                {
                    Purpose = purpose,
                    Campaign = name,
                    PromisedOn = promised ?? campaign.EndsOn,
                }.For(campaign.Assembly, campaign.Why ?? name),
                by,
                stop
            ),
        };

    /// <returns>The repairs opened, as a sentence.</returns>
    public Task<Outcome<string>> Run(
        Guid request,
        IReadOnlyList<string> tags,
        Intake intake,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.WriteOnce(request, by, "box", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            // In order of their tags, so that two boxes with units in common wait for each other and do not lock up.
            var box = tags.Select(LabelCode.Of)
                .Where(t => t.Length > 0)
                .Distinct()
                .Order(StringComparer.Ordinal)
                .ToList();
            if (box.Count is 0 or > Most)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    box.Count == 0
                        ? "Nothing in the box can be taken in. Scan the first unit."
                        : $"A box holds at most {Most} units; this one has {box.Count}."
                );
            }

            if (intake is { Purpose: RepairPurpose.Fault, Symptoms.Count: 0, Known.Count: 0 })
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    "Tick what their users notice, or the part that is known. Nothing is taken in yet, and what was scanned is still here."
                );
            }

            var opened = new List<string>();
            foreach (var tag in box)
            {
                if (!(await openRepair.Add(tag, intake, by, stop)).Try(out var code, out var refusal))
                {
                    return refusal with
                    {
                        Message =
                            $"{refusal.Message} Take {tag} out of the box, or put it right; none of the box is taken in yet.",
                    };
                }

                opened.Add(code);
            }

            return opened.Count == 1
                ? $"1 unit is taken in: {opened[0]}."
                : $"{opened.Count} units are taken in: {opened[0]} to {opened[^1]}.";
        }
    }
}
