using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Zenrik.Core;
using Zenrik.Core.Practice;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.Practice;

namespace Zenrik.Benchmarks;

/// <summary>Whether the choice of what to train next teaches faster than chance, and what a move costs.</summary>
internal static class PracticeMeasures
{
    /// <summary>Topics of a model with its joints, ties and habits.</summary>
    private const int TopicCount = 14;

    private const int AtATime = 2;

    /// <summary>Ready: all of a model's topics together would go right nine times in ten, on the average.</summary>
    private const double ReadyAt = 0.9;

    /// <summary>A learner who is not ready by then is counted with that many.</summary>
    private const int MostDays = 120;

    /// <summary>
    /// What a learner remembers of a topic. The first follows the curve the choice reckons with; the second one it does not
    /// know: exponential forgetting (Ebbinghaus 1885), and stability that doubles, at an average pace, with each that goes right
    /// and begins anew with each that does not (the boxes of Leitner 1972; both from memory).
    /// </summary>
    private enum Memory
    {
        AsReckoned,
        Exponential,
    }

    /// <summary>Days after which nine in ten still remember, in exponential memory, after the first time: right, or not.</summary>
    private static readonly (double Right, double Wrong) FirstDays = (2, 1);

    /// <summary>Learners of either memory, at a pace of their own, each slip with its own chance at first; two topics are trained a day.</summary>
    public static void Learners(bool quick)
    {
        Console.WriteLine("Practice");
        foreach (var memory in Enum.GetValues<Memory>())
        {
            Learners(memory, quick ? 60 : 400);
        }
    }

    private static void Learners(Memory memory, int count)
    {
        var (chosen, random) = (0.0, 0.0);
        var bins = new (double Predicted, double Right, int Count)[10];
        for (var seed = 0; seed < count; seed++)
        {
            chosen += Days(memory, new Random(seed), pick: true, bins);
            random += Days(memory, new Random(seed), pick: false, null);
        }

        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  {count} learners, memory {(memory == Memory.AsReckoned ? "as reckoned" : "exponential")}, {TopicCount} topics: ready after {chosen / count:0.0} days of what is worth most, {chosen / random:0.00} × a choice by chance ({random / count:0.0} days)"
            )
        );
        var met = bins.Where(b => b.Count >= 50).ToList();
        Console.WriteLine(
            $"  predicted against what went right, of 100: {string.Join(", ", met.Select(b => string.Create(CultureInfo.InvariantCulture, $"{100 * b.Predicted / b.Count:0} → {100 * b.Right / b.Count:0}")))}"
        );
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  off by {100 * met.Sum(b => Math.Abs(b.Predicted - b.Right)) / met.Sum(b => b.Count):0.0} points on the average"
            )
        );
    }

    private static int Days(
        Memory memory,
        Random random,
        bool pick,
        (double Predicted, double Right, int Count)[]? bins
    )
    {
        var topics = Enumerable.Range(0, TopicCount).Select(i => $"topic {i}").ToList();
        var skill = topics.ToDictionary(t => t, _ => 0.15 + (0.5 * random.NextDouble()));
        var truth = topics.ToDictionary(t => t, _ => (Recall?)null);
        // How fast this learner learns against the model's average: lognormal, a third up or down.
        var pace = Math.Exp(0.3 * Normal(random));
        var trained = new List<(string Topic, double Day, bool Right)>();
        var weights = topics.ToDictionary(t => t, _ => 1.0);
        double Knows(string topic, double day) =>
            truth[topic] is not { } known ? skill[topic]
            : memory == Memory.AsReckoned ? known.Chance(day)
            : Math.Pow(0.9, (day - known.LastDay) / known.Stability);
        for (var day = 0; day < MostDays; day++)
        {
            if (topics.Average(t => Knows(t, day)) >= ReadyAt)
            {
                return day;
            }

            var next = pick
                ? Training.Of(weights, new Learner(trained), day).Take(AtATime).ToList()
                : [.. topics.OrderBy(_ => random.Next()).Take(AtATime).Select(t => new TopicStanding(t, 1, 0, 0))];
            foreach (var standing in next)
            {
                var topic = standing.Topic;
                var right = random.NextDouble() < Knows(topic, day);
                if (bins is not null && standing.Times > 0)
                {
                    ref var bin = ref bins[Math.Min(9, (int)(standing.Chance * 10))];
                    bin = (bin.Predicted + standing.Chance, bin.Right + (right ? 1 : 0), bin.Count + 1);
                }

                trained.Add((topic, day, right));
                // Whatever came of it, they are told how it is done.
                var after = Recall.After(trained.Where(t => t.Topic == topic).Select(t => (t.Day, t.Right)))!;
                truth[topic] = after with
                {
                    Stability =
                        memory == Memory.AsReckoned ? after.Stability * pace
                        : right && truth[topic] is { } before ? before.Stability * (1 + pace)
                        : (right ? FirstDays.Right : FirstDays.Wrong) * pace,
                };
            }
        }

        return MostDays;
    }

    private static double Normal(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    /// <summary>What a move takes in the middle of a battery swap, against a page with nothing on it.</summary>
    /// <param name="connection">The book, for a program of its own that is asked over HTTP.</param>
    public static async Task Moves(IServiceProvider services, EmptyPage page, string connection)
    {
        var by = await Use<WorkshopDb, Actor>(db =>
            db.Users.Where(u => u.UserName == "aled").Select(u => new Actor(u.Id, u.Name)).SingleAsync()
        );
        // As a program meets it that has run for a while; each run is of a machine of its own.
        IReadOnlyList<double> times = [];
        for (var i = 0; i < 8; i++)
        {
            times = await Run();
        }

        Measure.Print("a move of a board swap", Measure.Quantile(times, 0.5), "empty page", await page.Median(200));

        // The whole answer, drawing and list with it, against a page of the same program that has nothing to show.
        await using var program = await RunningProgram.Start(connection, "aled");
        for (var i = 0; i < 24; i++)
        {
            _ = await Asked();
        }

        // By turns, so that neither finds caches or clock speeds that the other does not.
        var (moves, nothing) = (new List<double>(), new List<double>());
        for (var i = 0; i < 4; i++)
        {
            var (move, empty) = await Asked();
            moves.AddRange(move);
            nothing.AddRange(empty);
        }

        Measure.Print(
            "the same over HTTP, drawn",
            Measure.Quantile([.. moves.Order()], 0.5),
            "page of the program with nothing on it",
            Measure.Quantile([.. nothing.Order()], 0.5)
        );

        async Task<(IReadOnlyList<double> Moves, IReadOnlyList<double> Nothing)> Asked()
        {
            var (id, acts) = await Begin();
            var sequence = 0;
            return await Measure.ByTurns(
                async () =>
                {
                    var act = sequence < acts.Count ? acts[sequence] : Act.TurnOver;
                    _ = await program.Post(
                        $"/practice/{id}",
                        ("Request", $"{Guid.NewGuid()}"),
                        ("Seen", sequence.ToString(CultureInfo.InvariantCulture)),
                        ("What", act.ToString())
                    );
                    sequence++;
                },
                program.Nothing,
                acts.Count
            );
        }

        async Task<(Guid Id, IReadOnlyList<Act> Acts)> Begin()
        {
            var id = (
                await Use<StartPractice, Outcome<Guid>>(s =>
                    s.Apart(Guid.NewGuid(), "sandpiper-14", "replace:board", PracticeLevel.Guided, null, by)
                )
            ).Value;
            var view = (await Use<PracticeOf, Outcome<PracticeView>>(p => p.Run(id))).Value;
            return (id, [.. view.Referee!.Task.Plan.Acts]);
        }

        async Task<IReadOnlyList<double>> Run()
        {
            var (id, acts) = await Begin();
            var view = (await Use<PracticeOf, Outcome<PracticeView>>(p => p.Run(id))).Value;
            return await Measure.Times(
                async () =>
                {
                    var act = view.Sequence < acts.Count ? acts[view.Sequence] : Act.TurnOver;
                    view = (
                        await Use<MakeMove, Outcome<PracticeView>>(m =>
                            m.Run(id, Guid.NewGuid(), view.Sequence, act.ToString(), by)
                        )
                    ).Value;
                },
                acts.Count
            );
        }

        async Task<T> Use<TUseCase, T>(Func<TUseCase, Task<T>> use)
            where TUseCase : notnull
        {
            await using var scope = services.CreateAsyncScope();
            return await use(scope.ServiceProvider.GetRequiredService<TUseCase>());
        }
    }
}
