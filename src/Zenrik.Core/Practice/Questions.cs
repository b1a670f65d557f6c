using Zenrik.Core.Fit;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Practice;

/// <summary>A part number as it would be judged for a slot of a unit.</summary>
/// <param name="Detail">What is known of it, in words.</param>
public sealed record NumberToJudge(string Number, string Detail, FitAnswer Answer);

/// <summary>Questions made of maps and of parts.</summary>
public static class Questions
{
    /// <summary>Numbers shown for a slot; one of them fits.</summary>
    private const int Numbers = 3;

    /// <summary>Places named where a hidden screw may be; at one of them it is.</summary>
    private const int Places = 4;

    /// <summary>Three numbers for a slot of which one fits.</summary>
    /// <param name="where">The unit and its slot.</param>
    /// <param name="facts">What is known of the slot.</param>
    /// <returns>Null where there are not one that fits and two that do not.</returns>
    public static PracticeQuestion? Fit(
        Random random,
        string where,
        IReadOnlyList<string> facts,
        IEnumerable<NumberToJudge> numbers
    )
    {
        // Only what can be told from the facts shown: neither records nor lists.
        var known = numbers
            .Where(n => n.Answer.Reasons.Any(r => r.Evidence is Evidence.Specification or Evidence.Standard))
            .ToList();
        var fitting = Shuffled(random, known.Where(n => n.Answer.Verdict == FitVerdict.Fits)).Take(1).ToList();
        var others = Shuffled(random, known.Where(n => n.Answer.Verdict == FitVerdict.DoesNotFit))
            .Take(Numbers - 1)
            .ToList();
        return fitting.Count == 0 || others.Count < Numbers - 1
            ? null
            : new PracticeQuestion.Choose(
                $"Which of these goes into {where}?",
                Topics.Fit,
                facts,
                Shuffled(random, fitting.Concat(others).Select(n => Choice(n, n.Answer.Verdict == FitVerdict.Fits)))
            );

        static PracticeChoice Choice(NumberToJudge n, bool fits) =>
            new(
                n.Number,
                n.Number,
                n.Detail,
                fits,
                string.Join(
                    ' ',
                    n.Answer.Reasons.Where(r => fits || r.Weight == FitWeight.Against).Select(r => Sentence(r.Text))
                )
            );
    }

    /// <summary>
    /// Where a screw is that lies under something one would not take out to get at what it holds; none where a map has no
    /// such screw.
    /// </summary>
    public static IEnumerable<PracticeQuestion> HiddenScrews(Random random, ServiceMap map)
    {
        foreach (var group in map.Fasteners.Where(f => !map.Part(f.Holds).Fixed))
        {
            var inTheWay = Above(map, group.Holds);
            var hiding = group.Under.Where(p => p != group.Holds && !inTheWay.Contains(p)).ToList();
            if (hiding.Count == 0)
            {
                continue;
            }

            var others = Shuffled(
                    random,
                    map.Parts.Where(p =>
                        !p.Fixed
                        && !p.Outside
                        && p.Id != group.Holds
                        && !group.Under.Contains(p.Id)
                        && !inTheWay.Contains(p.Id)
                    )
                )
                .Take(Places - 1)
                .ToList();
            if (others.Count == 0)
            {
                continue;
            }

            var screws = Wording.ScrewsOf(group);
            yield return new PracticeQuestion.Choose(
                $"{map.Model.Name}: every screw in sight is out, and {Wording.The(map.Part(group.Holds).Name)} does not come. Under what would you look?",
                Topics.Screws,
                ["Levered up, it cracks at the screw that still holds."],
                Shuffled(
                    random,
                    others
                        .Select(p => new PracticeChoice(
                            p.Id.Value,
                            Sentence(p.Name, end: false),
                            "",
                            false,
                            $"Nothing of {Wording.The(map.Part(group.Holds).Name)} is under {Wording.The(p.Name)}; {screws} {(group.Count == 1 ? "is" : "are")} under {Wording.The(map.Part(hiding[0]).Name)}."
                        ))
                        .Append(
                            new PracticeChoice(
                                hiding[0].Value,
                                Sentence(map.Part(hiding[0]).Name, end: false),
                                "",
                                true,
                                $"{Sentence(screws, end: false)} {(group.Count == 1 ? "is" : "are")} under it."
                            )
                        )
                )
            );
        }
    }

    /// <summary>Joints to open, one of each kind there is in some maps.</summary>
    public static IEnumerable<PracticeQuestion> Joints(Random random, IEnumerable<ServiceMap> maps) =>
        maps.SelectMany(m => m.Joints.Select(j => (Map: m, Joint: j)))
            .GroupBy(j => j.Joint.Kind)
            .OrderBy(g => g.Key)
            .Select(g =>
            {
                var (map, joint) = g.ElementAt(random.Next(g.Count()));
                return new PracticeQuestion.Open(
                    $"Open {Wording.The(joint.Name)} of the {map.Model.Name}: {Wording.A(joint.Kind.Handling().Name)}.",
                    Topics.Of(joint.Kind),
                    joint.Kind,
                    random.Next(2) == 1
                );
            });

    /// <summary>In an order given by chance.</summary>
    public static IReadOnlyList<T> Shuffled<T>(Random random, IEnumerable<T> items)
    {
        var all = items.ToArray();
        random.Shuffle(all);
        return all;
    }

    /// <summary>What has to be off, at last, before a part can come.</summary>
    private static HashSet<PartId> Above(ServiceMap map, PartId part)
    {
        var above = new HashSet<PartId>();
        var next = new Queue<PartId>([part]);
        while (next.TryDequeue(out var at))
        {
            foreach (var blocker in map.Part(at).BlockedBy.Where(above.Add))
            {
                next.Enqueue(blocker);
            }
        }

        return above;
    }

    private static string Sentence(string text, bool end = true) =>
        $"{Core.Sentence.Capital(text)}{(end && !text.EndsWith('.') ? "." : "")}";
}
