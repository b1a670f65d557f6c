using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop;

/// <summary>A request that has been carried out, by the number its page made up, with what was said to it.</summary>
public sealed class DoneRequest
{
    public required Guid Id { get; init; }

    public required DateTimeOffset At { get; init; }

    /// <summary>Who sent it.</summary>
    public required Guid ById { get; init; }

    /// <summary>What it did and to what: "LendUnit.Out SK-00417".</summary>
    public required string Act { get; init; }

    public required string Said { get; set; }
}

/// <summary>Makes a write safe to repeat.</summary>
internal static class Once
{
    /// <summary>Longest name of an act with its target that is compared.</summary>
    private const int MaxAct = 200;

    /// <summary>
    /// Carries the work out in one transaction and keeps what it said. The same request sent again, at the same time or
    /// later, changes nothing and gets the same answer. A refusal changes nothing and may be tried again. A number that
    /// somebody else sent, or that was sent for another act, is refused: it would be answered with what was not done.
    /// </summary>
    /// <param name="target">What is acted on: a tag, an item, an order.</param>
    public static async Task<Outcome<string>> Run(
        WorkshopDb db,
        Guid request,
        Actor by,
        string target,
        DateTimeOffset at,
        Func<Task<Outcome<string>>> work,
        CancellationToken stop,
        [CallerMemberName] string member = "",
        [CallerFilePath] string file = ""
    )
    {
        if (Missing(request) is { } missing)
        {
            return missing;
        }

        var act =
            $"{Path.GetFileNameWithoutExtension(file.Replace('\\', '/'))}.{member} {target.Trim().ToUpperInvariant()}";
        act = act.Length > MaxAct ? act[..MaxAct] : act;
        return await Conflicts.Again(db, () => Attempt(db, request, by, act, at, work, stop));
    }

    /// <summary>A write without a number of its own cannot be told from another one.</summary>
    public static Refusal? Missing(Guid request) =>
        request == Guid.Empty
            ? new Refusal(
                RefusalReason.Invalid,
                "The request has no number of its own, so it could not be told from another one. Load the page again; nothing was changed."
            )
            : null;

    /// <summary>A number that was used for something else.</summary>
    public static Refusal UsedElsewhere { get; } =
        new(
            RefusalReason.Conflict,
            "This request's number was used for something else already. Load the page again; nothing was changed."
        );

    private static async Task<Outcome<string>> Attempt(
        WorkshopDb db,
        Guid request,
        Actor by,
        string act,
        DateTimeOffset at,
        Func<Task<Outcome<string>>> work,
        CancellationToken stop
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Waits for the same request on its way elsewhere; then either it is done, or it is ours.
        var ours = await db.Database.ExecuteSqlAsync(
            $"INSERT INTO done_requests (id, at, by_id, act, said) VALUES ({request}, {at}, {by.Id}, {act}, '') ON CONFLICT DO NOTHING",
            stop
        );
        if (ours == 0)
        {
            var done = await db.DoneRequests.AsNoTracking().SingleAsync(r => r.Id == request, stop);
            return done.ById == by.Id && done.Act == act ? done.Said : UsedElsewhere;
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
