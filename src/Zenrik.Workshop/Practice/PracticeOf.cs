using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Practice;

/// <summary>A run as it stands: one of the four, by its kind. Nothing of it is changed once it is made.</summary>
/// <param name="Moves">The oldest first.</param>
/// <param name="Harm">By part that was broken, what exchanging it costs here.</param>
/// <param name="Labels">The labels read so far.</param>
/// <param name="Score">Once a machine is whole again and the learner has said so.</param>
public sealed record PracticeView(
    PracticeRun Run,
    IReadOnlyList<PracticeMove> Moves,
    IReadOnlyDictionary<string, HarmFigure> Harm,
    string Learner,
    Referee? Referee,
    Diagnosis? Diagnosis,
    IReadOnlyList<LabelRead>? Labels,
    Quiz? Quiz,
    PracticeScore? Score,
    HouseFigures Figures
)
{
    /// <summary>How many moves there are; a page that has seen fewer is stale.</summary>
    public int Sequence => Moves.Count;

    public bool IsOver =>
        Referee?.Finished ?? Diagnosis?.Finished ?? Quiz?.Finished ?? Labels is { Count: >= LabelReading.Labels };

    /// <summary>From 0 to 100, once it is over.</summary>
    public int Points =>
        Score?.Points
        ?? Diagnosis?.Points
        ?? Quiz?.Points
        ?? (100 * Labels!.Count(l => l.IsRight) / LabelReading.Labels);
}

/// <summary>Reads runs by replaying their moves.</summary>
public sealed class PracticeOf(WorkshopDb db, ServiceMapShelf maps, LearnedTimes times, IMemoryCache cache)
{
    public async Task<Outcome<PracticeView>> Run(Guid id, CancellationToken stop = default) =>
        await db
            .PracticeRuns.AsNoTracking()
            .Include(r => r.StartedBy)
            .Include(r => r.Moves.OrderBy(m => m.Sequence))
            .SingleOrDefaultAsync(r => r.Id == id, stop)
            is { } run
            ? Keep(await View(run, stop))
            : new Refusal(RefusalReason.NotFound, "There is no such run. It may have been cleared away.");

    /// <summary>A run whose moves are loaded.</summary>
    private async Task<PracticeView> View(PracticeRun run, CancellationToken stop)
    {
        var figures = await db.Figures(stop);
        var view = new PracticeView(
            run,
            run.Moves,
            run.Harm,
            run.Guest ?? run.StartedBy.Name,
            null,
            null,
            null,
            null,
            null,
            figures
        );
        var moves = run.Moves.Select(m => m.Text);
        return run.Kind switch
        {
            PracticeKind.Apart => Scored(
                view with
                {
                    Referee = Referee.After(await TaskOf(run, stop), moves.Select(m => Move.Parse(m)!)),
                }
            ),
            PracticeKind.Diagnosis => view with
            {
                Diagnosis = Diagnosis.After(
                    await NetworkOf(run.ModelCode!, run.Symptom!, figures, stop),
                    run.Seed,
                    moves
                ),
            },
            PracticeKind.Fit or PracticeKind.Opening => view with { Quiz = Quiz.After(run.Questions, moves) },
            _ => view with
            {
                Labels = [.. moves.Select((text, i) => LabelReading.Judge(LabelReading.Of(run.Seed, i), text))],
            },
        };
    }

    /// <summary>A run with one move more; the one it was stays as it is.</summary>
    internal async Task<PracticeView> After(PracticeView view, PracticeMove row, CancellationToken stop)
    {
        var after = view with { Moves = [.. view.Moves, row] };
        switch (view.Run.Kind)
        {
            case PracticeKind.Apart:
                var referee = view.Referee!.Copy();
                referee.Judge(Move.Parse(row.Text)!);
                return Scored(after with { Referee = referee });
            case PracticeKind.Diagnosis:
                return after with
                {
                    Diagnosis = Diagnosis.After(
                        await NetworkOf(view.Run.ModelCode!, view.Run.Symptom!, view.Figures, stop),
                        view.Run.Seed,
                        after.Moves.Select(m => m.Text)
                    ),
                };
            case PracticeKind.Fit or PracticeKind.Opening:
                return after with { Quiz = Quiz.After(view.Run.Questions, after.Moves.Select(m => m.Text)) };
            default:
                return after with
                {
                    Labels =
                    [
                        .. view.Labels!,
                        LabelReading.Judge(LabelReading.Of(view.Run.Seed, view.Sequence), row.Text),
                    ],
                };
        }
    }

    /// <summary>The score, once it is finished.</summary>
    internal static PracticeView Scored(PracticeView view) =>
        view.Referee is { Finished: true } referee
            ? view with
            {
                Score = PracticeScore.Of(
                    referee,
                    view.Harm.ToDictionary(h => PartId.Of(h.Key), h => h.Value),
                    Math.Max(1, view.Figures.LabourPerHour)
                ),
            }
            : view;

    /// <summary>A run as this instance saw it last; what is stored may be further on. Null: it has not seen it.</summary>
    internal PracticeView? Kept(Guid id) => cache.Get<PracticeView>((nameof(Kept), id));

    /// <summary>Remembers a run as it stands, so that the next move need not be replayed from the first.</summary>
    internal PracticeView Keep(PracticeView view) =>
        cache.Set((nameof(Kept), view.Run.Id), view, TimeSpan.FromMinutes(15));

    /// <summary>What a run is about never changes, so it is kept in memory while it goes on.</summary>
    private async Task<PracticeTask> TaskOf(PracticeRun run, CancellationToken stop)
    {
        var key = (nameof(PracticeOf), run.Id);
        if (cache.TryGetValue(key, out PracticeTask? known))
        {
            return known!;
        }

        var model = await maps.Get(run.ModelCode!, run.MapRevision!.Value, stop);
        var plan = TeardownPlanner.Restore(
            model.For(run.FittedParts.Select(PartId.Of).ToHashSet()),
            GoalText.Read(run.Goals).Value,
            [.. run.Acts.Select(Act.Parse)],
            new Basis(HousePractice.Read(run.House), await times.Of(run.ModelCode!, stop))
        );
        return cache.Set(key, new PracticeTask(model, plan, run.Level), TimeSpan.FromMinutes(30));
    }

    /// <summary>A machine of a model with one complaint, by what the knowledge says of it.</summary>
    internal async Task<TriageNetwork> NetworkOf(
        string modelCode,
        string symptom,
        HouseFigures figures,
        CancellationToken stop
    )
    {
        var key = (nameof(PracticeOf), nameof(NetworkOf), modelCode, symptom, figures.LabourPerHour);
        if (cache.TryGetValue(key, out TriageNetwork? known))
        {
            return known!;
        }

        var device = await db.Models.Where(m => m.Code == modelCode).Select(m => m.Class).SingleAsync(stop);
        var map = (await maps.Newest(modelCode, stop))?.Plain();
        var network = TriageNetwork
            .Of(
                ShippedTriage.Knowledge,
                new TriageCase
                {
                    Class = device,
                    Symptoms = [symptom],
                    Components = map is null ? null : ShippedTriage.Knowledge.ComponentsOf(map),
                    Features = map is null ? MachineFeatures.Unknown : MachineFeatures.Of(map),
                    Costs = new TriageCosts { LabourPerHour = Math.Max(1, (double)figures.LabourPerHour) },
                }
            )
            .Value;
        return cache.Set(key, network, TimeSpan.FromMinutes(30));
    }
}
