using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Zenrik.Workshop.Book;

/// <summary>
/// A database that follows the book's own (streaming replication) and takes over reads that may be a moment old. Which it
/// is, the host's configuration says; null: there is none, and everything is read from the book itself.
/// </summary>
public sealed class Follower(string? connection, TimeProvider clock)
{
    /// <summary>How long one that did not answer is left alone, and everything read from the book.</summary>
    public static readonly TimeSpan LeftAlone = TimeSpan.FromSeconds(10);

    private readonly string? connection = connection is null ? null : Named(connection);
    private long awayUntilTicks;

    public bool IsThere => connection is not null && clock.GetUtcNow().UtcTicks >= Volatile.Read(ref awayUntilTicks);

    /// <summary>Lets a read ask the follower; where it does not answer, the book.</summary>
    /// <remarks>What is read must not be what a write depends on, and nothing may be written: a follower refuses that.</remarks>
    /// <param name="read">Gives what it failed with; null: it did not.</param>
    public async Task Read(WorkshopDb db, Func<Task<Exception?>> read, CancellationToken stop = default)
    {
        if (!IsThere)
        {
            _ = await read();
            return;
        }

        var book = db.Database.GetConnectionString();
        db.Database.SetConnectionString(connection);
        try
        {
            try
            {
                await db.Database.OpenConnectionAsync(stop);
            }
            catch (Exception away) when (Away.OrRefused(away))
            {
                LeaveAlone();
                db.Database.SetConnectionString(book);
            }

            // A connection that was open already may break off under the read: this one is lost, and no other.
            if (await read() is { } failed && Away.OrRefused(failed))
            {
                LeaveAlone();
            }
        }
        finally
        {
            // The context goes on to whatever comes next in this request, and then back to its pool.
            await db.Database.CloseConnectionAsync();
            db.Database.SetConnectionString(book);
        }
    }

    private void LeaveAlone() => Volatile.Write(ref awayUntilTicks, (clock.GetUtcNow() + LeftAlone).UtcTicks);

    private static string Named(string connection)
    {
        var settings = new NpgsqlConnectionStringBuilder(WorkshopDb.Settled(connection));
        // One that does not answer costs no page more than this, once in a while.
        settings.Timeout = Math.Min(settings.Timeout, 2);
        return settings.ConnectionString;
    }
}
