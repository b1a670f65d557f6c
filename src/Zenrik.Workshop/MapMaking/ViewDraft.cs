using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.MapMaking;

/// <summary>One step in the making of a map, as a person reads it.</summary>
/// <param name="Version">Names the step.</param>
/// <param name="Statement">What was said; null for a session or a copy.</param>
/// <param name="Copied">The model it goes on from; null for what was said or seen.</param>
/// <param name="Repair">The repair whose session it was; null for what was said or came from a list.</param>
/// <param name="Counts">False once it was taken back.</param>
/// <param name="CanBeTakenBack">False for what a bench showed.</param>
public sealed record StepLine(
    int Version,
    DateTimeOffset At,
    string By,
    Statement? Statement,
    string? Copied,
    string? Repair,
    int Things,
    bool Counts,
    bool CanBeTakenBack
);

/// <summary>A model and what is known of how it comes apart.</summary>
/// <param name="Version">Of the draft; 0 while there is none. A page that has seen an older one is stale.</param>
/// <param name="Published">The newest published revision; null when none is.</param>
/// <param name="Units">How many units of it the fleet has.</param>
/// <param name="Steps">How the draft came about, newest first.</param>
/// <param name="Others">Other models, by name: what it may be like, or be.</param>
public sealed record DraftView(
    Model Model,
    Draft Draft,
    int Version,
    int? Published,
    int Units,
    IReadOnlyList<StepLine> Steps,
    IReadOnlyList<Model> Others
)
{
    /// <summary>True while something can be said of it: a map that came from elsewhere is changed by its findings, or a file.</summary>
    public bool IsOpen => Published is null || Steps.Count > 0;

    /// <summary>What publishing the draft would change in the newest edition; empty where none is published.</summary>
    public IReadOnlyList<MapChange> Unpublished { get; init; } = [];

    /// <summary>The map as it stands; its revision is the draft's version.</summary>
    public ServiceMap Map => Draft.MapAt(Math.Max(1, Version));
}

/// <summary>A photograph of a unit of a model.</summary>
/// <param name="Act">The act it was taken at, as "kind:target"; null: none in particular.</param>
/// <param name="Repair">The repair it was taken at; null: kept with the model itself.</param>
public sealed record PhotoOfModel(Guid Id, string? Act, DateTimeOffset At, string? Repair);

/// <summary>Reads the draft of a model's map.</summary>
public sealed class ViewDraft(WorkshopDb db)
{
    public async Task<Outcome<DraftView>> Run(string code, CancellationToken stop = default)
    {
        var found = await db
            .Models.AsNoTracking()
            .Where(m => m.Code == code)
            .Select(m => new
            {
                Model = m,
                Units = db.Units.Count(u => u.ModelCode == m.Code),
                Published = db
                    .ServiceMapRevisions.Where(r => r.ModelCode == m.Code && !r.IsDraft)
                    .Max(r => (int?)r.Revision),
            })
            .SingleOrDefaultAsync(stop);
        if (found is null)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no model “{code}”.");
        }

        var steps = await db
            .DraftSteps.AsNoTracking()
            .Include(s => s.By)
            .Include(s => s.Repair)
            .Where(s => s.ModelCode == code)
            .OrderBy(s => s.Version)
            .ToListAsync(stop);
        var back = Drafts.TakenBack(steps);
        var shownAgain = steps
            .Where(s => s is { Kind: DraftStepKind.Sighting, RepairId: not null })
            .GroupBy(s => s.RepairId)
            .SelectMany(g => g.SkipLast(1))
            .ToHashSet();
        var draft = Drafts.Of(found.Model, steps);
        return new DraftView(
            found.Model,
            draft,
            steps.Count == 0 ? 0 : steps[^1].Version,
            found.Published,
            found.Units,
            [
                .. steps
                    .Where(s => s.Kind != DraftStepKind.TakenBack && !shownAgain.Contains(s))
                    .Select(s => new StepLine(
                        s.Version,
                        s.At,
                        s.By.Name,
                        s.Kind == DraftStepKind.Statement ? Statement.Parse(s.Json) : null,
                        s.Kind == DraftStepKind.Copied ? CopiedMap.Parse(s.Json).Name : null,
                        s.Repair?.Code,
                        s.Kind == DraftStepKind.Sighting ? Sighting.Parse(s.Json).Things.Count : 0,
                        !back.Contains(s.Version),
                        s.CanBeTakenBack
                    ))
                    .Reverse(),
            ],
            await db
                .Models.AsNoTracking()
                .Where(m => m.Code != code && m.MergedInto == null)
                .OrderBy(m => m.Name)
                .ToListAsync(stop)
        )
        {
            Unpublished =
                !draft.IsEmpty && found.Published is not null && await db.Edition(code, stop) is { } edition
                    ? MapComparison.Between(edition, draft.Map)
                    : [],
        };
    }

    /// <summary>Photographs one may be laid under the drawing of, newest first.</summary>
    public async Task<IReadOnlyList<PhotoOfModel>> Photos(string code, CancellationToken stop = default) =>
        [
            .. (
                await db
                    .RepairPhotos.Join(db.Repairs, p => p.RepairId, r => r.Id, (p, r) => new { Photo = p, Repair = r })
                    .Where(x => x.Repair.Unit.ModelCode == code)
                    .Select(x => new
                    {
                        x.Photo.Id,
                        x.Photo.Act,
                        x.Photo.At,
                        Number = (long?)x.Repair.Number,
                    })
                    .Concat(
                        db.ModelPhotos.Where(p => p.ModelCode == code)
                            .Select(p => new
                            {
                                p.Id,
                                p.Act,
                                p.At,
                                Number = (long?)null,
                            })
                    )
                    .OrderByDescending(p => p.At)
                    .Take(MostPhotos)
                    .ToListAsync(stop)
            ).Select(p => new PhotoOfModel(p.Id, p.Act, p.At, p.Number is { } number ? Repair.CodeOf(number) : null)),
        ];

    private const int MostPhotos = 60;
}
