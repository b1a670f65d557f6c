using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
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
            steps
                .Where(s => s.Kind == DraftStepKind.Sighting && !back.Contains(s.Version))
                .Select(s => Sighting.Parse(s.Json)),
            steps
                .Where(s => s.Kind == DraftStepKind.Statement && !back.Contains(s.Version))
                .Select(s => Statement.Parse(s.Json)),
            CopyIn(steps, back) is { } copied ? CopiedMap.Parse(copied.Json) : null
        );
    }

    /// <summary>The copy a draft goes on from; null when there is none, or it was taken back.</summary>
    public static DraftStep? CopyIn(IReadOnlyList<DraftStep> steps, IReadOnlySet<int> back) =>
        steps.LastOrDefault(s => s.Kind == DraftStepKind.Copied && !back.Contains(s.Version));

    /// <summary>Versions of statements, copies and lists that no longer count.</summary>
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

    /// <summary>True when a model's map is made here, by working: it goes on after it was published.</summary>
    public static Task<bool> HasDraft(this WorkshopDb db, string modelCode, CancellationToken stop) =>
        db.DraftSteps.AnyAsync(s => s.ModelCode == modelCode, stop);

    /// <summary>The newest published map of a model; null when none is.</summary>
    public static async Task<ServiceMap?> Edition(this WorkshopDb db, string modelCode, CancellationToken stop) =>
        await db
            .ServiceMapRevisions.AsNoTracking()
            .Where(r => r.ModelCode == modelCode && !r.IsDraft)
            .OrderByDescending(r => r.Revision)
            .Select(r => r.Json)
            .FirstOrDefaultAsync(stop)
            is { } json
            ? ServiceMapReader.Read(modelCode, json).Map
            : null;

    /// <summary>What a model is planned by: its newest edition, or else its draft; null while nothing is known.</summary>
    public static async Task<ServiceMap?> MapNow(this WorkshopDb db, string modelCode, CancellationToken stop) =>
        await db.Edition(modelCode, stop)
        ?? (
            await db.DraftSteps.Where(s => s.ModelCode == modelCode).MaxAsync(s => (int?)s.Version, stop) is { } version
            && await db.DraftOf(modelCode, version, stop) is { IsEmpty: false } draft
                ? draft.MapAt(version)
                : null
        );

    /// <summary>
    /// Why a model cannot be planned by a map from now on: repairs wait for a part it does not have, or units have a number
    /// recorded in a slot it does not have any more. Null when nothing is lost; what is on a bench keeps the map it began with.
    /// </summary>
    /// <param name="before">What it was planned by; null while nothing was known.</param>
    public static async Task<Refusal?> Loses(
        this WorkshopDb db,
        string modelCode,
        ServiceMap? before,
        ServiceMap map,
        CancellationToken stop
    )
    {
        var slots = map.Parts.Select(p => p.Slot).OfType<string>().ToList();
        // A slot the map never had is no loss: before there is a map any name stands in a passport.
        var had = before?.Parts.Select(p => p.Slot).OfType<string>() ?? [];
        var lost = had.Except(slots).ToList();
        var assemblies = map.Assemblies.Select(a => a.Id.Value).ToList();
        var waiting = await db
            .RepairLines.Where(l =>
                db.Repairs.Where(Repair.Underway)
                    .Any(r =>
                        r.Id == l.RepairId && r.Unit.ModelCode == modelCode && r.State == Core.Repairs.RepairState.Open
                    ) && (!assemblies.Contains(l.Assembly) || !slots.Contains(l.Slot))
            )
            .Select(l => new { l.AssemblyName, Number = db.Repairs.First(r => r.Id == l.RepairId).Number })
            .OrderBy(l => l.Number)
            .FirstOrDefaultAsync(stop);
        if (waiting is not null)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{Repair.CodeOf(waiting.Number)} waits for a {waiting.AssemblyName}, which this map does not have. Finish or withdraw it first, or add the part to the map."
            );
        }

        var recorded = await db
            .Items.Where(i => i.Unit!.ModelCode == modelCode && i.Slot != null && lost.Contains(i.Slot))
            .GroupBy(i => i.Slot!)
            .Select(g => new { Slot = g.Key, Units = g.Select(i => i.UnitId).Distinct().Count() })
            .OrderBy(g => g.Slot)
            .FirstOrDefaultAsync(stop);
        return recorded is null
            ? null
            : new Refusal(
                RefusalReason.Conflict,
                $"{(recorded.Units == 1 ? "1 unit has" : $"{recorded.Units} units have")} a number recorded in the slot “{recorded.Slot}”, which the map would not have any more. Nothing was changed; keep the slot, or correct these passports first."
            );
    }

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

    /// <summary>A model's draft to be continued, the model locked.</summary>
    /// <returns>The draft and its version, 0 while nothing is known; refused where the map came from elsewhere.</returns>
    public static async Task<Outcome<(Draft Draft, int Version)>> OpenDraft(
        this WorkshopDb db,
        string modelCode,
        CancellationToken stop
    )
    {
        if (await db.LockModel(modelCode, stop) is not { } model)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no model “{modelCode}”.");
        }

        var steps = await db
            .DraftSteps.AsNoTracking()
            .Where(s => s.ModelCode == modelCode)
            .OrderBy(s => s.Version)
            .ToListAsync(stop);
        return steps.Count == 0 && await db.IsPublished(modelCode, stop)
            ? new Refusal(
                RefusalReason.Conflict,
                $"The map of the {model.Name} was not made here. What a bench finds otherwise is decided among its findings; a whole map comes in as a file."
            )
            : (Of(model, steps), steps.Count == 0 ? 0 : steps[^1].Version);
    }

    /// <summary>Keeps what a closed session showed and found, where the model's map is made here.</summary>
    public static async Task Keep(
        this WorkshopDb db,
        string modelCode,
        Guid session,
        Guid by,
        Ledger ledger,
        Occasion occasion,
        CancellationToken stop
    )
    {
        if (
            Sighting.Of(session, by, ledger) is not { } sighting
            || !(await db.OpenDraft(modelCode, stop)).Try(out var open, out _)
        )
        {
            return;
        }

        await db.NextStep(modelCode, DraftStepKind.Sighting, sighting.ToText(), occasion, stop);
        var draft = open.Draft.With(sighting);
        foreach (var found in ledger.Corrections.Select(Statement.Of).OfType<Statement>())
        {
            // What others have said otherwise meanwhile stays; the acts of the session speak for themselves.
            if (draft.Refuse(found) is null)
            {
                // The next step counts on from the one before.
                await db.SaveChangesAsync(stop);
                await db.NextStep(modelCode, DraftStepKind.Statement, found.ToText(), occasion, stop);
                draft = draft.With(found);
            }
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
