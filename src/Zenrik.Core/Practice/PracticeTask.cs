using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Practice;

/// <summary>What a learner is to do, on which machine, and how much is shown.</summary>
public sealed class PracticeTask
{
    /// <param name="model">The model's map, for the drawing.</param>
    /// <param name="plan">What would be done by the book; it says which machine, for what, under which house rules.</param>
    public PracticeTask(ServiceMap model, Plan plan, PracticeLevel level) =>
        (Model, Plan, Level) = (model, plan, level);

    public ServiceMap Model { get; }

    /// <summary>The computed plan; the learner may go another way.</summary>
    public Plan Plan { get; }

    /// <summary>The machine as this house works by it.</summary>
    public ServiceMap Map => Plan.Map;

    public IReadOnlyList<Goal> Goals => Plan.Goals;

    /// <summary>The same, with what this house does at every job: the battery out.</summary>
    internal IEnumerable<Goal> Wanted => Goals.Concat(TeardownProblem.Also(Map, Basis.Practice));

    public PracticeLevel Level { get; }

    public Basis Basis => Plan.Basis;
}
