using Zenrik.Core.Practice;

namespace Zenrik.Workshop.Practice;

/// <summary>A topic somebody with an account trained once.</summary>
internal sealed record Trained
{
    public required Guid PersonId { get; init; }

    public required string Person { get; init; }

    public required string Topic { get; init; }

    public required DateTimeOffset EndedAt { get; init; }

    public required bool Right { get; init; }
}

internal static class TrainedRows
{
    /// <summary>All of it, the oldest first; guests left out.</summary>
    public static IQueryable<Trained> Trainings(this WorkshopDb db) =>
        from t in db.PracticeTopics
        join r in db.PracticeRuns on t.RunId equals r.Id
        where r.EndedAt != null && r.Guest == null
        orderby r.EndedAt
        select new Trained
        {
            PersonId = r.StartedById,
            Person = r.StartedBy.Name,
            Topic = t.Topic,
            EndedAt = r.EndedAt!.Value,
            Right = t.Right,
        };

    /// <summary>One person's, the oldest first.</summary>
    public static Learner Learner(this IEnumerable<Trained> one) =>
        new(one.Select(t => (t.Topic, Days.Of(t.EndedAt), t.Right)));
}

internal static class Days
{
    /// <summary>A moment in days, as memory is reckoned.</summary>
    public static double Of(DateTimeOffset at) => at.ToUnixTimeSeconds() / 86400.0;
}
