using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Practice;

/// <summary>How a run went, in minutes by standard times and what this workshop has learned.</summary>
/// <param name="Needed">What the job takes by the ways the learner chose, handling alone: any valid order is as good.</param>
/// <param name="Unneeded">What was taken off though the job did not need it, with its way back, minutes.</param>
/// <param name="Acts">What that was.</param>
/// <param name="Slips">Minutes lost by slips, what is broken not counted.</param>
/// <param name="Broken">Each part broken, once.</param>
/// <param name="HarmMinutes">To exchange it.</param>
/// <param name="HarmPrice">What it costs, in the workshop's currency.</param>
/// <param name="Points">From 0 to 100: needed minutes in 100 of all, what was broken counted in minutes of work.</param>
public sealed record PracticeScore(
    double Needed,
    double Unneeded,
    IReadOnlyList<Act> Acts,
    double Slips,
    IReadOnlyList<HarmFigure> Broken,
    double HarmMinutes,
    decimal HarmPrice,
    int Points
)
{
    /// <param name="harm">What exchanging each part costs here; one that is missing counts by its minutes alone.</param>
    /// <param name="labourPerHour">In the workshop's currency; above 0.</param>
    public static PracticeScore Of(Referee run, IReadOnlyDictionary<PartId, HarmFigure> harm, decimal labourPerHour)
    {
        var (needed, unneeded) = Part(run);
        double Minutes(IEnumerable<Act> acts) =>
            acts.Where(a => a.Kind != ActKind.TurnOver).Sum(a => run.Task.Basis.Times.Seconds(run.Task.Map, a)) / 60;
        var broken = run
            .Slips.Select(s => s.Breaks)
            .OfType<PartId>()
            .Distinct()
            .Select(p => harm.GetValueOrDefault(p) ?? new HarmFigure(run.Task.Map.Part(p).Name, UnknownMinutes, null))
            .DistinctBy(h => h.Name)
            .ToList();
        var slips = run.Slips.Sum(s => s.Minutes);
        var (minutes, price) = (broken.Sum(b => b.Minutes), broken.Sum(b => b.Price ?? 0));
        var (own, spare) = (Minutes(needed), Minutes(unneeded));
        var lost = spare + slips + minutes + (60 * (double)(price / labourPerHour));
        return new PracticeScore(
            own,
            spare,
            unneeded,
            slips,
            broken,
            minutes,
            price,
            lost <= 0 ? 100 : Math.Min(99, (int)(100 * own / (own + lost)))
        );
    }

    /// <summary>Minutes of a job nobody here has a plan for. Common practice, no published source.</summary>
    private const double UnknownMinutes = 30;

    /// <summary>
    /// Parts what was done into what the goals need and what they do not: each thing taken off is left out together with its
    /// way back, the last first, and stays out where the machine still allows all the rest. What the computed plan takes off
    /// is never in vain: some rules of the trade no machine knows.
    /// </summary>
    private static (List<Act> Needed, List<Act> Unneeded) Part(Referee run)
    {
        List<Act> needed = [.. run.Done];
        var unneeded = new List<Act>();
        var planned = run.Task.Plan.Acts.ToHashSet();
        for (var i = run.Done.Count - 1; i >= 0; i--)
        {
            if (
                i >= needed.Count
                || needed[i] is not { Reverse: { } reverse, Kind: not ActKind.TurnOver } act
                || planned.Contains(act)
            )
            {
                continue;
            }

            var back = needed.FindIndex(i + 1, a => a == reverse);
            List<Act> without = [.. needed.Where((_, k) => k != i && k != back)];
            if (Suffices(run, without))
            {
                unneeded.Insert(0, act);
                if (back >= 0)
                {
                    unneeded.Add(needed[back]);
                }

                needed = without;
            }
        }

        return (needed, unneeded);
    }

    private static bool Suffices(Referee run, List<Act> acts) =>
        Simulation.Check(run.Task.Map, acts) is null
        && run.Task.Wanted.SelectMany(run.Task.Map.Needs).All(r => r.AnyOf.Any(acts.Contains));
}
