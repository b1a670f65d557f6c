using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using Zenrik.Core;

namespace Zenrik.Workshop.Book;

/// <summary>
/// The one way to change the book: a transaction in which the use case locks, loads, decides and applies; a line in the
/// audit trail; and all of it again when PostgreSQL chose it to break a deadlock, which undid all of it.
/// </summary>
/// <remarks>
/// What a use case refuses is rolled back. Written past it, each by one statement, are a line of a bench session, which says
/// by itself who did what, what a supplier last asked (a cache), when a token or a session was last used, and the
/// schedule found last (a figure, which anybody may reckon anew).
/// </remarks>
internal static class Writing
{
    /// <summary>Longest name of an act with its target that is compared.</summary>
    private const int MaxAct = 200;

    /// <summary>Carries out a change that may be sent again by its nature: the second time there is nothing to change.</summary>
    /// <param name="target">What is acted on, as its user names it: a tag, a repair, a label.</param>
    /// <param name="work">Decides and applies; whatever it has put into the context is stored when it succeeds.</param>
    public static Task<Outcome<T>> Write<T>(
        this WorkshopDb db,
        Actor by,
        string target,
        DateTimeOffset at,
        Func<Task<Outcome<T>>> work,
        CancellationToken stop,
        [CallerMemberName] string member = "",
        [CallerFilePath] string file = ""
    ) =>
        db.Again(
            Act(file, member),
            async () =>
            {
                await using var transaction = await db.Database.BeginTransactionAsync(stop);
                var outcome = await db.Noted(by, Act(file, member), target, at, work, stop);
                await End(db, transaction, outcome, stop);
                return outcome;
            }
        );

    /// <summary>
    /// The same for a change that is told from a second one only by the number its page made up. The same request sent
    /// again, at the same time or later, changes nothing and gets the same answer. A refusal changes nothing and may be
    /// tried again. A number that somebody else sent, or that was sent for another act, is refused: it would be answered
    /// with what was not done.
    /// </summary>
    /// <param name="request">The request's number.</param>
    public static async Task<Outcome<string>> WriteOnce(
        this WorkshopDb db,
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

        var act = Act(file, member);
        var asked = $"{act} {LabelCode.Of(target)}";
        asked = asked.Length > MaxAct ? asked[..MaxAct] : asked;
        return await db.Again(
            act,
            async () =>
            {
                await using var transaction = await db.Database.BeginTransactionAsync(stop);
                // Waits for the same request on its way elsewhere; then either it is done, or it is ours.
                var ours = await db.Database.ExecuteSqlAsync(
                    $"INSERT INTO done_requests (id, at, by_id, act, said) VALUES ({request}, {at}, {by.Id}, {asked}, '') ON CONFLICT DO NOTHING",
                    stop
                );
                if (ours == 0)
                {
                    var done = await db.DoneRequests.AsNoTracking().SingleAsync(r => r.Id == request, stop);
                    return done.ById == by.Id && done.Act == asked ? done.Said : UsedElsewhere;
                }

                var outcome = await db.Noted(by, act, target, at, work, stop);
                if (outcome.Try(out var said, out _))
                {
                    await db
                        .DoneRequests.Where(r => r.Id == request)
                        .ExecuteUpdateAsync(r => r.SetProperty(x => x.Said, said), stop);
                }

                await End(db, transaction, outcome, stop);
                return outcome;
            }
        );
    }

    /// <summary>Takes down a row that the running write changes by a statement of its own, which the context does not see.</summary>
    public static void NoteChange(
        this WorkshopDb db,
        string what,
        string key,
        string? before = null,
        string? after = null
    ) =>
        db.Note(
            new AuditedChange(
                what,
                key,
                before is null ? null : new Dictionary<string, string?> { ["Value"] = before },
                after is null ? null : new Dictionary<string, string?> { ["Value"] = after }
            )
        );

    /// <summary>A write without a number of its own cannot be told from another one.</summary>
    public static Refusal? Missing(Guid request) =>
        request == Guid.Empty
            ? new Refusal(
                RefusalReason.Invalid,
                "The request has no number of its own, so it could not be told from another one. Load the page again; nothing was changed."
            )
            : null;

    /// <summary>The number of one part of what a request asks, the same whenever it is asked (RFC 9562, version 8, of SHA-256).</summary>
    public static Guid PartOf(Guid request, string part)
    {
        Span<byte> hash = stackalloc byte[32];
        SHA256.HashData([.. request.ToByteArray(bigEndian: true), .. Encoding.UTF8.GetBytes(part)], hash);
        hash[6] = (byte)((hash[6] & 0x0F) | 0x80);
        hash[8] = (byte)((hash[8] & 0x3F) | 0x80);
        return new Guid(hash[..16], bigEndian: true);
    }

    /// <summary>A number that was used for something else.</summary>
    public static Refusal UsedElsewhere { get; } =
        new(
            RefusalReason.Conflict,
            "This request's number was used for something else already. Load the page again; nothing was changed."
        );

    /// <summary>True when the save was refused by the unique index or constraint of this name.</summary>
    public static bool Broke(this DbUpdateException exception, string constraint) =>
        exception.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation } e
        && e.ConstraintName == constraint;

    /// <summary>Does the work, stores what it left in the context, and writes down what changed where anything did.</summary>
    private static async Task<Outcome<T>> Noted<T>(
        this WorkshopDb db,
        Actor by,
        string act,
        string target,
        DateTimeOffset at,
        Func<Task<Outcome<T>>> work,
        CancellationToken stop
    )
    {
        var changes = db.BeginNoting();
        try
        {
            var outcome = await work();
            if (outcome.Refusal is not null)
            {
                return outcome;
            }

            db.Note();
            if (changes.Count > 0)
            {
                var about = target.Trim();
                db.AuditLines.Add(
                    new AuditLine
                    {
                        At = at,
                        ById = by.Id,
                        Act = act.Length > AuditLine.MaxAct ? act[..AuditLine.MaxAct] : act,
                        Target = about.Length > AuditLine.MaxTarget ? about[..AuditLine.MaxTarget] : about,
                        Words = Noting.Words(about, changes),
                        Changes = [.. changes],
                    }
                );
            }

            db.EndNoting();
            await db.SaveChangesAsync(stop);
            return outcome;
        }
        finally
        {
            db.EndNoting();
        }
    }

    private static async Task End<T>(
        WorkshopDb db,
        IDbContextTransaction transaction,
        Outcome<T> outcome,
        CancellationToken stop
    )
    {
        if (outcome.Refusal is null)
        {
            await transaction.CommitAsync(stop);
        }
        else
        {
            await transaction.RollbackAsync(stop);
            db.ChangeTracker.Clear();
        }
    }

    private static string Act(string file, string member) =>
        $"{Path.GetFileNameWithoutExtension(file.Replace('\\', '/'))}.{member}";

    private static Task<Outcome<T>> Again<T>(this WorkshopDb db, string act, Func<Task<Outcome<T>>> work)
    {
        var first = true;
        return Measured.Act(
            act,
            () =>
                new AfterDeadlocks(db).ExecuteAsync(() =>
                {
                    if (!first)
                    {
                        db.ChangeTracker.Clear();
                        Measured.Retry();
                    }

                    first = false;
                    db.Standing = null;
                    return work();
                }),
            outcome => outcome.Refusal is not null
        );
    }

    /// <summary>
    /// Again at once when PostgreSQL answered that the same may succeed now: a deadlock, a failed serialisation, too few
    /// resources for a moment. A server that is away is told to the user instead (<see cref="Away"/>).
    /// </summary>
    private sealed class AfterDeadlocks(WorkshopDb db) : ExecutionStrategy(db, Most, Longest)
    {
        private const int Most = 5;
        private static readonly TimeSpan Longest = TimeSpan.FromMilliseconds(200);

        protected override bool ShouldRetryOn(Exception exception) =>
            exception is PostgresException { IsTransient: true };
    }
}
