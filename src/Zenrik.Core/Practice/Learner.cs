namespace Zenrik.Core.Practice;

/// <summary>
/// What one learner would get right today, from all they trained. People forget at paces of their own: how many times as long as
/// <see cref="Recall"/> says somebody remembers is learned from what went right and wrong, by Bayes' rule over a grid of
/// paces; before anything is known the model's own pace is the middle of a lognormal.
/// </summary>
public sealed class Learner
{
    private const int Paces = 25;

    /// <summary>The logarithms of the paces that are weighed, from an eighth to eight times.</summary>
    private static readonly double[] LogPaces =
    [
        .. Enumerable.Range(0, Paces).Select(i => Math.Log(8) * ((2.0 * i / (Paces - 1)) - 1)),
    ];

    /// <summary>How far paces lie apart before anything is known: two in three between half and twice. An estimate.</summary>
    private const double LogSpread = 0.7;

    /// <summary>Nothing is remembered for certain, not even a moment later.</summary>
    private const double Certain = 1e-6;

    private readonly Dictionary<string, Topic> topics = new(StringComparer.Ordinal);
    private readonly double[] weights;

    private sealed record Topic(Recall Recall, int Times, bool LastRight);

    /// <param name="trainings">Topic, day and whether it went right; the oldest first.</param>
    public Learner(IEnumerable<(string Topic, double Day, bool Right)> trainings)
    {
        var logs = Array.ConvertAll(LogPaces, p => -p * p / (2 * LogSpread * LogSpread));
        foreach (var (topic, day, right) in trainings)
        {
            topics.TryGetValue(topic, out var before);
            if (before is not null)
            {
                for (var i = 0; i < Paces; i++)
                {
                    var chance = At(before.Recall, i, day);
                    logs[i] += Math.Log(right ? chance : 1 - chance + Certain);
                }
            }

            topics[topic] = new(Recall.After(before?.Recall, day, right), (before?.Times ?? 0) + 1, right);
        }

        var most = logs.Max();
        weights = Array.ConvertAll(logs, l => Math.Exp(l - most));
        var sum = weights.Sum();
        for (var i = 0; i < Paces; i++)
        {
            weights[i] /= sum;
        }
    }

    /// <summary>How many times as long as the model says this learner remembers, on the average; 1 before anything is known.</summary>
    public double Pace => Math.Exp(weights.Zip(LogPaces, (w, p) => w * p).Sum());

    /// <summary>How often a topic was trained.</summary>
    public int Times(string topic) => topics.TryGetValue(topic, out var known) ? known.Times : 0;

    /// <summary>The chance that a topic would go right on a day, in the days of the trainings; null when it was never trained.</summary>
    public double? Chance(string topic, double day)
    {
        if (!topics.TryGetValue(topic, out var known))
        {
            return null;
        }

        var chance = 0.0;
        for (var i = 0; i < Paces; i++)
        {
            chance += weights[i] * At(known.Recall, i, day);
        }

        return chance;
    }

    /// <summary>The chance that what went right last would again; null when it never went right, or went wrong last.</summary>
    public double? Again(string topic, double day) =>
        topics.TryGetValue(topic, out var known) && known.LastRight ? Chance(topic, day) : null;

    /// <summary>True when a topic went right last and would again on that day, nine times in ten.</summary>
    public bool IsReady(string topic, double day) => Again(topic, day) >= Training.ReadyAt;

    private static double At(Recall recall, int pace, double day) =>
        recall.Chance(recall.LastDay + ((day - recall.LastDay) / Math.Exp(LogPaces[pace])));
}
