using System.Diagnostics;
using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Operating;

/// <summary>
/// Once a day, clears what nobody needs any more. Any instance may come to it; a lock of the database lets one at a time, and
/// who comes later finds it done.
/// </summary>
public sealed class DoChores(WorkshopDb db, ThisInstance me, TimeProvider clock)
{
    /// <summary>How long a request's number is remembered: a page left open may send again what it sent so long ago.</summary>
    public const int RequestDays = 30;

    /// <summary>How long a session that is not used any more is kept for whoever asks where somebody was signed in.</summary>
    public const int SessionDays = 90;

    /// <summary>How long what a guest practised is kept.</summary>
    public const int GuestDays = 30;

    /// <summary>How long a run of practice that nobody ended can be gone on with.</summary>
    public const int BegunDays = 180;

    public const int MishapDays = 90;

    /// <summary>Rows of a kind cleared at a time, so that nobody waits for it.</summary>
    private const int Most = 20_000;

    private const string Clearing = "clear";
    private static readonly TimeSpan Every = TimeSpan.FromHours(24);

    /// <returns>What was done; null when it is not due, or another instance is at it.</returns>
    public Task<string?> Run(CancellationToken stop = default) =>
        db.Database.CreateExecutionStrategy().ExecuteAsync(async () => await Once(stop));

    private async Task<string?> Once(CancellationToken stop)
    {
        var now = clock.GetUtcNow();
        var start = Stopwatch.GetTimestamp();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        if (
            !await db.TryLockChores(stop)
            || await db.Chores.AnyAsync(c => c.Name == Clearing && c.At > now - Every, stop)
        )
        {
            return null;
        }

        var requests = await Clear(
            $"DELETE FROM done_requests WHERE id IN (SELECT id FROM done_requests WHERE at < {now.AddDays(-RequestDays)} LIMIT {Most})"
        );
        var sessions = await Clear(
            $"DELETE FROM sign_in_sessions WHERE id IN (SELECT id FROM sign_in_sessions WHERE seen_at < {now.AddDays(-SessionDays)} LIMIT {Most})"
        );
        var runs = await db
            .PracticeRuns.Where(r =>
                (r.Guest != null && r.StartedAt < now.AddDays(-GuestDays))
                || (r.EndedAt == null && r.StartedAt < now.AddDays(-BegunDays))
            )
            .OrderBy(r => r.StartedAt)
            .Take(Most)
            .Select(r => r.Id)
            .ToListAsync(stop);
        await db.PracticeMoves.Where(m => runs.Contains(m.RunId)).ExecuteDeleteAsync(stop);
        await db.PracticeTopics.Where(t => runs.Contains(t.RunId)).ExecuteDeleteAsync(stop);
        await db.PracticeRuns.Where(r => runs.Contains(r.Id)).ExecuteDeleteAsync(stop);
        var oldest = DateOnly.FromDateTime(now.UtcDateTime).AddDays(-MishapDays);
        await db.Mishaps.Where(m => m.Day < oldest).ExecuteDeleteAsync(stop);
        var over = now - WrongTries.Window;
        await db.WrongTries.Where(t => t.At <= over).ExecuteDeleteAsync(stop);
        var gone = now - ThisInstance.Gone;
        await db.Instances.Where(i => i.SeenAt < gone).ExecuteDeleteAsync(stop);

        var said =
            $"Cleared, as nobody needs them any more: request numbers {requests}, sign-ins {sessions}, runs of practice {runs.Count}.";
        var seconds = Stopwatch.GetElapsedTime(start).TotalSeconds;
        await db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO chores (name, at, by, seconds, said) VALUES ({Clearing}, {now}, {me.Name}, {seconds}, {said})
            ON CONFLICT (name) DO UPDATE
            SET at = EXCLUDED.at, by = EXCLUDED.by, seconds = EXCLUDED.seconds, said = EXCLUDED.said
            """,
            stop
        );
        await transaction.CommitAsync(stop);
        return said;

        Task<int> Clear(FormattableString sql) => db.Database.ExecuteSqlAsync(sql, stop);
    }
}
