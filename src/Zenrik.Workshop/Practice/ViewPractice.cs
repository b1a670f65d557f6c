using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Practice;

/// <summary>A run in a list.</summary>
public sealed record RunLine(
    Guid Id,
    PracticeKind Kind,
    string Learner,
    string? Model,
    string[] Goals,
    PracticeLevel Level,
    string? Symptom,
    DateTimeOffset StartedAt,
    DateTimeOffset? EndedAt,
    int? Points
);

/// <summary>Who is ready for what.</summary>
/// <param name="Models">By model, the chance that its job would go right today; null: never right so far, or wrong the last time.</param>
public sealed record LearnerStanding(string Name, IReadOnlyDictionary<string, double?> Models);

/// <summary>An order many learners try first and the map forbids.</summary>
/// <param name="Act">What they tried.</param>
/// <param name="Thing">What the map says is in the way.</param>
public sealed record MapDoubt(string Model, string ModelCode, string Act, string Thing, int Learners);

/// <summary>The room: what to train next, what goes on, who is ready.</summary>
/// <param name="Next">For whoever asks, what is worth most first.</param>
/// <param name="Here">By topic, how often it went wrong at this workshop's benches in a year.</param>
public sealed record PracticeRoom(
    IReadOnlyList<PracticeModel> Models,
    IReadOnlyList<TopicStanding> Next,
    IReadOnlyDictionary<string, int> Here,
    IReadOnlyList<RunLine> Runs,
    IReadOnlyList<LearnerStanding> Learners,
    IReadOnlyList<MapDoubt> Doubts
);

/// <summary>Shows the room.</summary>
public sealed class ViewPractice(WorkshopDb db, ServiceMapShelf maps, TimeProvider clock)
{
    /// <summary>Learners that must have tried the same before a map is doubted. Common practice, no published source.</summary>
    private const int Doubted = 3;

    /// <summary>Slips at the bench by which a topic counts twice.</summary>
    private const double Doubling = 5;

    private const double Heaviest = 5;

    public async Task<PracticeRoom> Run(Actor by, CancellationToken stop = default)
    {
        var models = await db.PracticeModels(maps, stop);
        var here = await WentWrong(stop);
        var today = Days.Of(clock.GetUtcNow());
        var trained = await db.Trainings().ToListAsync(stop);
        var weights = Weights(models, here);
        return new PracticeRoom(
            models,
            Training.Of(weights, trained.Where(t => t.PersonId == by.Id).Learner(), today),
            here,
            await Runs(by, stop),
            [
                .. trained
                    .GroupBy(t => (t.PersonId, t.Person))
                    .OrderBy(g => g.Key.Person, StringComparer.Ordinal)
                    .Select(g => (g.Key.Person, Learner: g.Learner()))
                    .Select(p => new LearnerStanding(
                        p.Person,
                        models.ToDictionary(m => m.Code, m => p.Learner.Again(Topics.OfModel(m.Code), today))
                    )),
            ],
            await Doubts(models, stop)
        );
    }

    /// <summary>Everything there is to learn for the machines this workshop has; what went wrong here weighs more.</summary>
    private static Dictionary<string, double> Weights(
        IReadOnlyList<PracticeModel> models,
        IReadOnlyDictionary<string, int> here
    )
    {
        var topics = models
            .Where(m => m.Units > 0)
            .SelectMany(m =>
                m.Map.Joints.Select(j => Topics.Of(j.Kind))
                    .Concat(m.Map.Ties.Select(t => Topics.Of(t.Kind)))
                    .Append(Topics.OfModel(m.Code))
            )
            .Concat([
                Topics.Power,
                Topics.Screws,
                Topics.Tools,
                Topics.Order,
                Topics.WayBack,
                Topics.Labels,
                Topics.Diagnosis,
                Topics.Fit,
            ])
            .Distinct();
        return topics.ToDictionary(t => t, t => Math.Min(Heaviest, 1 + (here.GetValueOrDefault(t) / Doubling)));
    }

    /// <summary>
    /// What went wrong at the benches in a year: joints seated again after a check had failed, screws that differed, numbers
    /// that did not agree, checks and tests left for later.
    /// </summary>
    private async Task<IReadOnlyDictionary<string, int>> WentWrong(CancellationToken stop)
    {
        var since = clock.GetUtcNow().AddYears(-1);
        var lines = await (
            from e in db.BenchEntries
            join s in db.BenchSessions on e.SessionId equals s.Id
            where
                s.StartedAt >= since
                && (
                    e.Kind == EntryKind.CountDiffers
                    || (e.Kind == EntryKind.Left && e.Cause == nameof(Core.BenchLedger.Leaving.StopGap))
                    || (e.Kind == EntryKind.NumberRead && e.Cause != null)
                    || (e.Kind == EntryKind.Replanned && e.Goal!.StartsWith("reseat:"))
                )
            group e by new
            {
                e.Kind,
                e.Goal,
                s.ModelCode,
                s.MapRevision,
            } into g
            select new { g.Key, Count = g.Count() }
        ).ToListAsync(stop);
        var here = new Dictionary<string, int>();
        foreach (var line in lines)
        {
            var topic = line.Key.Kind switch
            {
                EntryKind.CountDiffers => Topics.Screws,
                EntryKind.NumberRead => Topics.Labels,
                EntryKind.Left => Topics.WayBack,
                _ => await Reseated(line.Key.ModelCode, line.Key.MapRevision, line.Key.Goal!, stop),
            };
            if (topic is not null)
            {
                here[topic] = here.GetValueOrDefault(topic) + line.Count;
            }
        }

        return here;
    }

    private async Task<string?> Reseated(string model, int? revision, string goal, CancellationToken stop) =>
        revision is { } edition
        && GoalText.Read([goal]).Try(out var goals, out _)
        && goals[0] is Goal.Reseat { Joint: var id }
        && (await maps.Get(model, edition, stop)).Joints.FirstOrDefault(j => j.Id == id) is { } joint
            ? Topics.Of(joint.Kind)
            : null;

    private async Task<IReadOnlyList<RunLine>> Runs(Actor by, CancellationToken stop) =>
        await db
            .PracticeRuns.AsNoTracking()
            .Where(r => r.StartedById == by.Id)
            .OrderBy(r => r.EndedAt != null)
            .ThenByDescending(r => r.StartedAt)
            .Take(12)
            .Select(r => new RunLine(
                r.Id,
                r.Kind,
                r.Guest ?? r.StartedBy.Name,
                db.Models.Where(m => m.Code == r.ModelCode).Select(m => m.Name).FirstOrDefault(),
                r.Goals,
                r.Level,
                r.Symptom,
                r.StartedAt,
                r.EndedAt,
                r.Points
            ))
            .ToListAsync(stop);

    private async Task<IReadOnlyList<MapDoubt>> Doubts(IReadOnlyList<PracticeModel> models, CancellationToken stop)
    {
        var tried = await (
            from m in db.PracticeMoves
            join r in db.PracticeRuns on m.RunId equals r.Id
            where m.InTheWay != null && r.ModelCode != null
            group r by new
            {
                r.ModelCode,
                m.Text,
                m.InTheWay,
            } into g
            select new
            {
                g.Key.ModelCode,
                g.Key.Text,
                g.Key.InTheWay,
                Learners = g.Select(r => r.Guest ?? r.StartedById.ToString()).Distinct().Count(),
            }
        )
            .Where(t => t.Learners >= Doubted)
            .OrderByDescending(t => t.Learners)
            .Take(20)
            .ToListAsync(stop);
        var doubts = new List<MapDoubt>();
        foreach (var doubt in tried)
        {
            if (
                models.FirstOrDefault(m => m.Code == doubt.ModelCode) is { } model
                && Move.Parse(doubt.Text)?.Act is { } act
                && model.Map.Parts.FirstOrDefault(p => p.Id.Value == doubt.InTheWay) is { } part
                && Title(model.Map, act) is { } title
            )
            {
                doubts.Add(new MapDoubt(model.Name, model.Code, title, Wording.The(part.Name), doubt.Learners));
            }
        }

        return doubts;

        // An edition since then may not have it any more.
        static string? Title(ServiceMap map, Act act) =>
            new Simulation(map).Attempt(act)?.Kind == Against.NoSuchThing ? null : Wording.Title(map, act);
    }
}
