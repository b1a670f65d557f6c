using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.MapMaking;

namespace Zenrik.Workshop.MapMaking;

/// <summary>Takes down what a person says of a model's map, and takes it back.</summary>
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

            if (draft.Refuse(statement) is { } contradiction)
            {
                return contradiction;
            }

            await db.NextStep(modelCode, DraftStepKind.Statement, statement.ToText(), new Occasion(by, now), stop);
            return "Kept.";
        }
    }

    /// <summary>A statement no longer counts; what was said before it does again.</summary>
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
            if (!(await Open(modelCode, null, stop)).Try(out _, out var refusal))
            {
                return refusal;
            }

            var steps = await db.DraftSteps.AsNoTracking().Where(s => s.ModelCode == modelCode).ToListAsync(stop);
            if (steps.Find(s => s.Version == version) is not { Kind: DraftStepKind.Statement })
            {
                return new Refusal(RefusalReason.NotFound, "Only what was said can be taken back.");
            }

            if (Drafts.TakenBack(steps).Contains(version))
            {
                return "It is taken back already.";
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

    private async Task<Outcome<Draft>> Open(string modelCode, int? seen, CancellationToken stop)
    {
        if (await db.LockModel(modelCode, stop) is not { } model)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no model “{modelCode}”.");
        }

        if (await db.IsPublished(modelCode, stop))
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"The map of the {model.Name} is published. What a bench finds otherwise is decided among its findings."
            );
        }

        var steps = await db
            .DraftSteps.AsNoTracking()
            .Where(s => s.ModelCode == modelCode)
            .OrderBy(s => s.Version)
            .ToListAsync(stop);
        return seen is { } version && version != (steps.Count == 0 ? 0 : steps[^1].Version)
            ? new Refusal(
                RefusalReason.Stale,
                "The draft has grown since this page was shown. Here it is as it stands now; say it again if it still holds."
            )
            : Drafts.Of(model, steps);
    }
}
