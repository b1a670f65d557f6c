using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>How likely it is that a wait that was only seen is a must.</summary>
/// <remarks>
/// Bayes' rule over sessions. Before any is seen the drawing says something: of two parts that overlap in different
/// layers one usually covers the other, of two that lie apart none does. A new person who takes them off in the same order
/// is evidence, as free hands would do so about every second time; the same person again is little, as people have habits.
/// The figures are common practice, no published source; what counts is their order.
/// </remarks>
public static class Belief
{
    /// <summary>Before any session, where nothing is known of the places, or where they overlap, or lie apart.</summary>
    private const double Unknown = 0.5;
    private const double Overlapping = 0.85;
    private const double Apart = 0.15;

    /// <summary>How often free hands would keep the order: somebody new, and somebody who did so before.</summary>
    private const double NewPerson = 0.5;
    private const double Habit = 0.9;

    /// <returns>From 0, surely none, to 1.</returns>
    public static double IsMust(SeenWait wait, ServiceMap map)
    {
        var prior = Prior(wait, map);
        var free = Math.Pow(NewPerson, wait.People) * Math.Pow(Habit, wait.Sessions - wait.People);
        return prior / (prior + ((1 - prior) * free));
    }

    private static double Prior(SeenWait wait, ServiceMap map) =>
        MachineView.PlaceOf(wait.Waiting, map) is { } what && MachineView.PlaceOf(wait.First, map) is { } after
            ? what.Overlaps(after)
                ? Overlapping
                : Apart
            : Unknown;
}
