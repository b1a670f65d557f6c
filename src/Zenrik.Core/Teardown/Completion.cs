using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// Makes a whole job of what is taken out: what comes before opening, the numbers read, what is blown clean, the way back,
/// which is the way out reversed, and the close-out. Of a job from its beginning, with nothing done, and of one under way
/// alike: what was done and still holds is not done again.
/// </summary>
internal sealed class Completion
{
    private readonly ServiceMap map;
    private readonly IReadOnlyList<StandingGoal> goals;
    private readonly IReadOnlyList<Act> done;
    private readonly HousePractice practice;
    private readonly HashSet<PartId> replaced;

    // Of what is exchanged, how many acts were done when it was last said that it is: one that proved faulty is exchanged again.
    private readonly Dictionary<PartId, int> exchangedSince;

    /// <param name="map">The map of the unit, already as the house works by it.</param>
    /// <param name="goals">All goals of the job, met or not.</param>
    /// <param name="done">The acts done so far.</param>
    /// <param name="practice">House rules.</param>
    public Completion(
        ServiceMap map,
        IReadOnlyList<StandingGoal> goals,
        IReadOnlyList<Act> done,
        HousePractice practice
    )
    {
        (this.map, this.goals, this.done, this.practice) = (map, goals, done, practice);
        exchangedSince = goals
            .Where(g => g.Goal is Goal.Replace)
            .GroupBy(g => map.Assembly(((Goal.Replace)g.Goal).Assembly).Part)
            .ToDictionary(g => g.Key, g => g.Max(x => x.Since));
        replaced = [.. exchangedSince.Keys];
    }

    /// <summary>Whether an act of what goes in has been done for the one that goes in now.</summary>
    private bool IsDoneForNew(PartId part, Act act) => done.Skip(exchangedSince.GetValueOrDefault(part)).Contains(act);

    /// <summary>The acts of the job that remain.</summary>
    /// <param name="off">What is out now.</param>
    /// <param name="taken">What is taken out still, in its order.</param>
    public List<Act> Of(IReadOnlyList<Act> off, IReadOnlyList<Act> taken)
    {
        List<Act> all = [.. off, .. taken];
        List<Act> clean = [.. ToClean(all)];
        var checks = ChecksOwed([.. taken, .. clean]);
        return
        [
            .. Preparations(opens: taken.Count > 0, checks),
            .. off.SelectMany(NumberOf),
            .. taken.SelectMany(act => NumberOf(act).Prepend(act)),
            .. clean,
            .. WayBack(all, off.Count),
            .. CloseOut(checks),
        ];
    }

    /// <summary>An external battery goes in when everything else is closed: there is no before.</summary>
    public static bool TestsBeforeCover(ServiceMap map, HousePractice practice) =>
        practice.Of(RuleBook.PowerTest) == PowerTest.BeforeCover
        && !TeardownGraph.IsOutside(map, Act.Isolate(map.Isolation));

    /// <summary>What comes before opening; once more where the machine has been switched on since.</summary>
    private IEnumerable<Act> Preparations(bool opens, IReadOnlySet<CheckId> checks)
    {
        var ran = Last(a => a.Kind is ActKind.PowerTest or ActKind.Check);
        var since = done.Skip(ran + 1).ToList();
        // What is noted while it runs can be noted no more once it is shut down; what ran again has been put back.
        var stillRuns =
            ran < 0
            && done.All(a => a.Kind == ActKind.Prepare && map.Preparations.First(p => p.Id == a.Target).For.Count > 0);
        return ran < 0 || opens || since.Exists(a => a.Kind == ActKind.Prepare)
            ? map
                .Preparations.Where(p =>
                    // What is put back afterwards is saved or noted before; everything else is always done.
                    p.For.Count == 0
                    || (stillRuns && p.For.Any(checks.Contains))
                )
                .Select(Act.Prepare)
                .Where(p => !since.Contains(p))
            : [];
    }

    /// <summary>The number on what is exchanged is read once, while it is out.</summary>
    private IEnumerable<Act> NumberOf(Act act) =>
        act.Kind == ActKind.LiftOut
        && replaced.Contains(act.Part)
        && !map.Vacant.Contains(act.Part)
        && !done.Contains(Act.ReadRemoved(act.Part))
            ? [Act.ReadRemoved(act.Part)]
            : [];

    private IEnumerable<Act> ToClean(List<Act> taken)
    {
        var asked = goals
            .Where(g => g.Goal is Goal.Clean clean && !done.Skip(g.Since).Contains(Act.BlowClean(clean.Part)))
            .Select(g => ((Goal.Clean)g.Goal).Part);
        return Reached(taken)
            .Select(Act.BlowClean)
            .Where(a => !done.Contains(a))
            .Concat(asked.Select(Act.BlowClean))
            .Distinct();
    }

    /// <summary>Parts that gather dust and are reached, where the house cleans while inside.</summary>
    private IEnumerable<PartId> Reached(List<Act> taken)
    {
        if (practice.Of(RuleBook.Cleaning) == Cleaning.WhenAsked || !taken.Exists(a => a.Kind == ActKind.Isolate))
        {
            return [];
        }

        var gone = taken
            .Where(a => a.Kind is ActKind.LiftOut or ActKind.SetAside)
            .SelectMany(a => map.MovingWith(a.Part))
            .ToHashSet();
        return map
            .Parts.Where(p =>
                p.Dusty && (gone.Contains(p.Id) || (p.BlockedBy.Count > 0 && p.BlockedBy.All(gone.Contains)))
            )
            .Select(p => p.Id);
    }

    /// <summary>The reverse of the way out, with the acts that only putting together needs.</summary>
    /// <param name="taken">All that is out when the turning point is reached.</param>
    /// <param name="already">How many of these are out now.</param>
    private IEnumerable<Act> WayBack(List<Act> taken, int already)
    {
        var testsEarly = TestsBeforeCover(map, practice);
        var isolates = taken.Exists(a => a.Kind == ActKind.Isolate);
        // Reconnected, and not tried since.
        var owesTest = isolates || Last(a => a.Kind == ActKind.Isolate) > Last(a => a.Kind == ActKind.PowerTest);
        if (owesTest && testsEarly && !isolates)
        {
            yield return Act.PowerTest;
        }

        foreach (var (i, act) in taken.Index().Reverse())
        {
            if (act.Kind == ActKind.LiftOut)
            {
                if (replaced.Contains(act.Part) && !IsDoneForNew(act.Part, Act.ReadFitted(act.Part)))
                {
                    yield return Act.ReadFitted(act.Part);
                }

                if (CopiedFirst(act.Part) && !IsDoneForNew(act.Part, Act.FillDrive(act.Part)))
                {
                    yield return Act.FillDrive(act.Part);
                }

                var pasted = i < already && Last(a => a == Act.CleanAndPaste(act.Part)) > Last(a => a == act);
                if (map.Part(act.Part).Thermal is not null && !pasted)
                {
                    yield return Act.CleanAndPaste(act.Part);
                }
            }

            yield return act.Reverse!.Value;
            if (act.Kind == ActKind.Isolate && testsEarly)
            {
                yield return Act.PowerTest;
            }
        }

        if (owesTest && !testsEarly)
        {
            yield return Act.PowerTest;
        }
    }

    /// <summary>Checks not made since what called for them: opened, cleaned, pasted or exchanged.</summary>
    private HashSet<CheckId> ChecksOwed(List<Act> taken)
    {
        var after = map.Replaced(goals.Select(g => g.Goal))
            .SelectMany(a => a.After.Where(c => !IsDoneForNew(a.Part, Act.Check(c))))
            .ToHashSet();
        return
        [
            .. map
                .Checks.Where(c =>
                    after.Contains(c.Id)
                    || taken.Exists(a => CallsFor(a, c))
                    || Last(a => CallsFor(a, c)) > Last(a => a == Act.Check(c.Id))
                )
                .Select(c => c.Id),
        ];
    }

    private bool CallsFor(Act act, Check check) =>
        act.Kind switch
        {
            ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Check,
            ActKind.BlowClean => map.Part(act.Part).Check,
            // It comes back with new paste.
            ActKind.LiftOut when map.Part(act.Part).Thermal is not null => map.Part(act.Part).Check,
            _ => null,
        } == check.Id;

    /// <summary>
    /// First what firmware has to know again, then what comes onto new drives, and only then the installed system is
    /// started and everything tried.
    /// </summary>
    private IEnumerable<Act> CloseOut(HashSet<CheckId> checks)
    {
        var called = map.Checks.Where(c => checks.Contains(c.Id)).ToLookup(c => c.BeforeStart, c => Act.Check(c.Id));
        return called[true]
            .Concat(
                map.Parts.Select(p => p.Id)
                    .Where(p => replaced.Contains(p) && TakesOver(p) && !CopiedFirst(p))
                    .Where(p => !IsDoneForNew(p, Act.FillDrive(p)))
                    .Select(Act.FillDrive)
            )
            .Concat(called[false]);
    }

    /// <summary>True for a new drive that gets the old one's content before it goes in.</summary>
    private bool CopiedFirst(PartId part) =>
        replaced.Contains(part) && TakesOver(part) && practice.Of(RuleBook.DriveContent) == DriveContent.Copy;

    /// <summary>A drive that comes instead of another; one more beside it is set up by its user.</summary>
    private bool TakesOver(PartId part) => map.Takes(part, SpecificationKind.Drive) && !map.Vacant.Contains(part);

    private int Last(Func<Act, bool> which)
    {
        for (var i = done.Count - 1; i >= 0; i--)
        {
            if (which(done[i]))
            {
                return i;
            }
        }

        return -1;
    }
}
