namespace Zenrik.Core.Practice;

/// <summary>
/// How well something is remembered. The model, its curve and its default weights are those of FSRS, version 4.5 (Ye, Su and
/// Cao, "A Stochastic Shortest Path Algorithm for Optimizing Spaced Repetition Scheduling", KDD 2022, and the weights its
/// authors publish; from memory).
/// </summary>
/// <param name="Stability">Days after which nine in ten still remember.</param>
/// <param name="Difficulty">From 1 to 10.</param>
/// <param name="LastDay">When it was trained last, in days of any calendar.</param>
public sealed record Recall(double Stability, double Difficulty, double LastDay)
{
    private static readonly double[] W =
    [
        0.4872,
        1.4003,
        3.7145,
        13.8206,
        5.1618,
        1.2298,
        0.8975,
        0.031,
        1.6474,
        0.1367,
        1.0461,
        2.1072,
        0.0793,
        0.3246,
        1.587,
        0.2272,
        2.8755,
    ];

    private const double Factor = 19.0 / 81;
    private const double Decay = -0.5;

    // Only two answers are told apart here: wrong, and right.
    private const int Again = 1;
    private const int Good = 3;

    /// <summary>The chance that it is remembered on a day; nine in ten when <see cref="Stability"/> days have gone.</summary>
    public double Chance(double day) => Math.Pow(1 + (Factor * Math.Max(0, day - LastDay) / Stability), Decay);

    /// <summary>What is remembered after some trainings, the oldest first; null when there was none.</summary>
    public static Recall? After(IEnumerable<(double Day, bool Right)> trainings) =>
        trainings.Aggregate((Recall?)null, (recall, t) => After(recall, t.Day, t.Right));

    /// <summary>What is remembered after one training more; of what was never trained before, null.</summary>
    public static Recall After(Recall? before, double day, bool right) =>
        before?.Then(day, right) ?? new Recall(W[(right ? Good : Again) - 1], First(right ? Good : Again), day);

    private Recall Then(double day, bool right)
    {
        var chance = Chance(day);
        var difficulty = Math.Clamp(
            (W[7] * First(Good)) + ((1 - W[7]) * (Difficulty - (W[6] * ((right ? Good : Again) - 3)))),
            1,
            10
        );
        var stability = right
            ? Stability
                * (
                    1
                    + (
                        Math.Exp(W[8])
                        * (11 - Difficulty)
                        * Math.Pow(Stability, -W[9])
                        * (Math.Exp(W[10] * (1 - chance)) - 1)
                    )
                )
            : Math.Min(
                Stability,
                W[11]
                    * Math.Pow(Difficulty, -W[12])
                    * (Math.Pow(Stability + 1, W[13]) - 1)
                    * Math.Exp(W[14] * (1 - chance))
            );
        return new Recall(Math.Max(0.1, stability), difficulty, day);
    }

    private static double First(int grade) => Math.Clamp(W[4] - ((grade - 3) * W[5]), 1, 10);
}
