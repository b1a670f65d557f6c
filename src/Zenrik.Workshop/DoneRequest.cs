using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop;

/// <summary>A request that has been carried out, by the number its page made up, with what was said to it.</summary>
public sealed class DoneRequest
{
    public required Guid Id { get; init; }

    public required DateTimeOffset At { get; init; }

    public required string Said { get; set; }
}

/// <summary>Makes a write safe to repeat.</summary>
internal static class Once
{
    /// <summary>
    /// Carries the work out in one transaction and keeps what it said. The same request sent again, at the same time or
    /// later, changes nothing and gets the same answer. A refusal changes nothing and may be tried again.
    /// </summary>
    public static Task<Outcome<string>> Run(
        WorkshopDb db,
        Guid request,
        DateTimeOffset at,
        Func<Task<Outcome<string>>> work,
        CancellationToken stop
    ) => Conflicts.Again(db, () => Attempt(db, request, at, work, stop));

    private static async Task<Outcome<string>> Attempt(
        WorkshopDb db,
        Guid request,
        DateTimeOffset at,
        Func<Task<Outcome<string>>> work,
        CancellationToken stop
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Waits for the same request on its way elsewhere; then either it is done, or it is ours.
        var ours = await db.Database.ExecuteSqlAsync(
            $"INSERT INTO done_requests (id, at, said) VALUES ({request}, {at}, '') ON CONFLICT DO NOTHING",
            stop
        );
        if (ours == 0)
        {
            return await db.DoneRequests.Where(r => r.Id == request).Select(r => r.Said).SingleAsync(stop);
        }

        var outcome = await work();
        if (!outcome.Try(out var said, out var refusal))
        {
            await transaction.RollbackAsync(stop);
            db.ChangeTracker.Clear();
            return refusal;
        }

        await db.SaveChangesAsync(stop);
        await db
            .DoneRequests.Where(r => r.Id == request)
            .ExecuteUpdateAsync(r => r.SetProperty(x => x.Said, said), stop);
        await transaction.CommitAsync(stop);
        return said;
    }
}
