namespace Zenrik.Core.Practice;

/// <summary>Something to be trained and how it stands with one learner.</summary>
/// <param name="Weight">How much it matters here: 1, and more for what went wrong at this workshop's benches.</param>
/// <param name="Chance">That it would be right today; of what was never trained, <see cref="Training.Untrained"/>.</param>
/// <param name="Times">How often it was trained.</param>
public sealed record TopicStanding(string Topic, double Weight, double Chance, int Times)
{
    /// <summary>What training it now is worth.</summary>
    public double Worth => Weight * (1 - Chance);
}

/// <summary>What to train next, and who is ready for what.</summary>
public static class Training
{
    /// <summary>How often somebody is right who has never trained it. Common practice, no published source.</summary>
    public const double Untrained = 0.4;

    /// <summary>Ready for a model: it would go right nine times in ten.</summary>
    public const double ReadyAt = 0.9;

    /// <summary>Points from which a run counts as right for its model.</summary>
    public const int RightFrom = 85;

    /// <summary>Everything there is to train, what is worth most first.</summary>
    /// <param name="weights">By topic.</param>
    /// <param name="today">In the days of the learner's trainings.</param>
    public static IReadOnlyList<TopicStanding> Of(
        IReadOnlyDictionary<string, double> weights,
        Learner learner,
        double today
    ) =>
        [
            .. weights
                .Select(w => new TopicStanding(
                    w.Key,
                    w.Value,
                    learner.Chance(w.Key, today) ?? Untrained,
                    learner.Times(w.Key)
                ))
                .OrderByDescending(t => t.Worth)
                .ThenBy(t => t.Topic, StringComparer.Ordinal),
        ];

    /// <summary>What a run trained, and whether each of it went right.</summary>
    public static IReadOnlyDictionary<string, bool> Of(Referee run, PracticeScore score)
    {
        var topics = new SortedDictionary<string, bool>(StringComparer.Ordinal)
        {
            [Topics.Power] = true,
            [Topics.Screws] = true,
            [Topics.Order] = true,
            [Topics.WayBack] = true,
        };
        // With the plan before one's eyes nothing is shown to be known of the model, or of tools.
        if (run.Task.Level > PracticeLevel.Guided)
        {
            topics[Topics.Tools] = true;
            topics[Topics.OfModel(run.Task.Model.Model.Code)] = score.Points >= RightFrom && score.Broken.Count == 0;
        }

        var map = run.Task.Map;
        foreach (var act in run.Done)
        {
            switch (act.Kind)
            {
                case Teardown.ActKind.Open or Teardown.ActKind.Isolate:
                    topics[Topics.Of(map.Joint(act.Joint).Kind)] = true;
                    break;
                case Teardown.ActKind.Free:
                    topics[Topics.Of(map.Tie(act.Tie).Kind)] = true;
                    break;
            }
        }

        foreach (var slip in run.Slips.Where(s => s.Minutes >= 1 || s.Breaks is not null))
        {
            topics[slip.Topic] = false;
        }

        return topics;
    }
}
