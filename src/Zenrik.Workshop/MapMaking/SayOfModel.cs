using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Workshop.MapMaking;

/// <summary>Takes down what a person says of a model's map, and takes it back; begins a draft with the map of a like model.</summary>
public sealed class SayOfModel(WorkshopDb db, TimeProvider clock)
{
    /// <param name="seen">The version of the draft the page showed; another one by now is looked at first.</param>
    public Task<Outcome<string>> Run(
        Guid request,
        string modelCode,
        int seen,
        Statement statement,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, modelCode, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(modelCode, seen, stop)).Try(out var draft, out var refusal))
            {
                return refusal;
            }

            if (statement is Statement.Pictured { Picture: var picture } && !await IsOfModel(picture.Photo))
            {
                return new Refusal(
                    RefusalReason.NotFound,
                    "That photograph is none of this model. Take one at the bench, or keep one with the model, and choose it here."
                );
            }

            if (
                (draft.Refuse(statement) ?? await db.Loses(modelCode, draft.Map, draft.With(statement).Map, stop)) is
                { } contradiction
            )
            {
                return contradiction;
            }

            await db.NextStep(modelCode, DraftStepKind.Statement, statement.ToText(), new Occasion(by, now), stop);
            return "Kept.";
        }

        async Task<bool> IsOfModel(Guid photo) =>
            await db.ModelPhotos.AnyAsync(p => p.Id == photo && p.ModelCode == modelCode, stop)
            || await db.RepairPhotos.AnyAsync(
                p => p.Id == photo && db.Repairs.Any(r => r.Id == p.RepairId && r.Unit.ModelCode == modelCode),
                stop
            );
    }

    /// <summary>The draft goes on from the map of another model, each thing marked until it was seen on this one.</summary>
    public Task<Outcome<string>> Copy(
        Guid request,
        string modelCode,
        int seen,
        string? from,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, modelCode, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(modelCode, seen, stop)).Try(out var draft, out var refusal))
            {
                return refusal;
            }

            if (from is null || from == modelCode || await db.MapNow(from, stop) is not { } map)
            {
                return new Refusal(RefusalReason.Invalid, "Choose the model it is like, one with a map.");
            }

            if (draft.Like is { } already)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"It was copied from the {already} already. Take that back first to copy from another."
                );
            }

            var like = new CopiedMap(map);
            if (like.Refuse() is { } cannot)
            {
                return cannot;
            }

            if (await db.Loses(modelCode, draft.Map, draft.With(like).Map, stop) is { } lost)
            {
                return lost;
            }

            await db.NextStep(modelCode, DraftStepKind.Copied, like.ToText(), new Occasion(by, now), stop);
            return $"Copied from the {like.Name}. Each thing is marked until it was seen on this machine.";
        }
    }

    /// <summary>A statement, a copy or a list no longer counts; what was said before it does again.</summary>
    public Task<Outcome<string>> TakeBack(
        Guid request,
        string modelCode,
        int version,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{modelCode} {version}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(modelCode, null, stop)).Try(out var draft, out var refusal))
            {
                return refusal;
            }

            var steps = await db
                .DraftSteps.AsNoTracking()
                .Where(s => s.ModelCode == modelCode)
                .OrderBy(s => s.Version)
                .ToListAsync(stop);
            if (steps.Find(s => s.Version == version) is not { } step || !step.CanBeTakenBack)
            {
                return new Refusal(
                    RefusalReason.NotFound,
                    "Only what was said, copied or taken in from a list can be taken back; what a bench showed stays."
                );
            }

            if (Drafts.TakenBack(steps).Contains(version))
            {
                return "It is taken back already.";
            }

            var without = Drafts.Of(
                await db.Models.SingleAsync(m => m.Code == modelCode, stop),
                [.. steps.Where(s => s != step)]
            );
            if (await db.Loses(modelCode, draft.Map, without.Map, stop) is { } lost)
            {
                return lost;
            }

            await db.NextStep(
                modelCode,
                DraftStepKind.TakenBack,
                version.ToString(CultureInfo.InvariantCulture),
                new Occasion(by, now),
                stop
            );
            return "Taken back.";
        }
    }

    private async Task<Outcome<Draft>> Open(string modelCode, int? seen, CancellationToken stop) =>
        !(await db.OpenDraft(modelCode, stop)).Try(out var open, out var refusal) ? refusal
        : seen is { } version && version != open.Version
            ? new Refusal(
                RefusalReason.Stale,
                "The draft has grown since this page was shown. Here it is as it stands now; say it again if it still holds."
            )
        : open.Draft;
}
