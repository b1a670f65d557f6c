using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.MapMaking;

/// <summary>Reads and continues the drafts of models without a published map.</summary>
internal static class Drafts
{
    /// <summary>What the steps of a model up to a version come to.</summary>
    public static async Task<Draft> DraftOf(this WorkshopDb db, string modelCode, int version, CancellationToken stop)
    {
        var model = await db.Models.AsNoTracking().SingleAsync(m => m.Code == modelCode, stop);
        var steps = await db
            .DraftSteps.AsNoTracking()
            .Where(s => s.ModelCode == modelCode && s.Version <= version)
            .OrderBy(s => s.Version)
            .ToListAsync(stop);
        return Of(model, steps);
    }

    /// <summary>What steps come to.</summary>
    public static Draft Of(Model model, IReadOnlyList<DraftStep> steps)
    {
        var back = TakenBack(steps);
        return new Draft(
            model.ToCore(),
            steps.Where(s => s.Kind == DraftStepKind.Sighting).Select(s => Sighting.Parse(s.Json)),
            steps
                .Where(s => s.Kind == DraftStepKind.Statement && !back.Contains(s.Version))
                .Select(s => Statement.Parse(s.Json))
        );
    }

    /// <summary>Versions of statements that no longer count.</summary>
    public static IReadOnlySet<int> TakenBack(IEnumerable<DraftStep> steps) =>
        steps
            .Where(s => s.Kind == DraftStepKind.TakenBack)
            .Select(s => int.Parse(s.Json, CultureInfo.InvariantCulture))
            .ToHashSet();

    /// <summary>The draft as the map one plans by.</summary>
    public static ServiceMap MapAt(this Draft draft, int version) => draft.Map with { Revision = version };

    /// <summary>True when a model has a published map.</summary>
    public static Task<bool> IsPublished(this WorkshopDb db, string modelCode, CancellationToken stop) =>
        db.ServiceMapRevisions.AnyAsync(r => r.ModelCode == modelCode && !r.IsDraft, stop);

    /// <summary>The number of the next step or edition of a model, which the caller has locked: both count on together.</summary>
    public static async Task<int> NextNumber(this WorkshopDb db, string modelCode, CancellationToken stop)
    {
        var step = await db.DraftSteps.Where(s => s.ModelCode == modelCode).MaxAsync(s => (int?)s.Version, stop) ?? 0;
        var edition =
            await db.ServiceMapRevisions.Where(r => r.ModelCode == modelCode).MaxAsync(r => (int?)r.Revision, stop)
            ?? 0;
        return Math.Max(step, edition) + 1;
    }

    /// <summary>The next step of a model, which the caller has locked.</summary>
    public static async Task<DraftStep> NextStep(
        this WorkshopDb db,
        string modelCode,
        DraftStepKind kind,
        string json,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var step = new DraftStep
        {
            ModelCode = modelCode,
            Version = await db.NextNumber(modelCode, stop),
            Kind = kind,
            At = occasion.At,
            ById = occasion.By.Id,
            RepairId = occasion.Repair,
            Json = json,
        };
        db.DraftSteps.Add(step);
        return step;
    }

    /// <summary>Keeps what a closed session showed, where the model has no published map.</summary>
    public static async Task Keep(
        this WorkshopDb db,
        string modelCode,
        Sighting? sighting,
        Occasion occasion,
        CancellationToken stop
    )
    {
        if (sighting is null)
        {
            return;
        }

        _ = await db.LockModel(modelCode, stop);
        if (!await db.IsPublished(modelCode, stop))
        {
            await db.NextStep(modelCode, DraftStepKind.Sighting, sighting.ToText(), occasion, stop);
        }
    }

    /// <summary>Why nothing can be begun by a draft; null when it can: it must be a map like any other.</summary>
    public static Refusal? Unusable(ServiceMap draft) =>
        ServiceMapReader.Read("the draft", ServiceMapReader.Write(draft)).Findings is [var first, ..]
            ? new Refusal(
                RefusalReason.Conflict,
                $"The draft of the {draft.Model.Name} is no usable map: {first.Reason}. Put it right among its maps, or work without it."
            )
            : null;

    /// <summary>Keeps the draft a session begins with, so that the session can be read as long as there is a book.</summary>
    public static async Task KeepEdition(
        this WorkshopDb db,
        ServiceMap draft,
        DateTimeOffset at,
        CancellationToken stop
    )
    {
        var code = draft.Model.Code;
        _ = await db.LockModel(code, stop);
        if (!await db.ServiceMapRevisions.AnyAsync(r => r.ModelCode == code && r.Revision == draft.Revision, stop))
        {
            db.ServiceMapRevisions.Add(
                new ServiceMapRevision
                {
                    ModelCode = code,
                    Revision = draft.Revision,
                    Json = ServiceMapReader.Write(draft),
                    IsDraft = true,
                    AcceptedAt = at,
                }
            );
            await db.SaveChangesAsync(stop);
        }
    }
}
