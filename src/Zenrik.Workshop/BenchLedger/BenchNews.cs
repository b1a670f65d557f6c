using System.Collections.Concurrent;
using System.Globalization;
using System.Threading.Channels;
using Microsoft.Extensions.Logging;
using Npgsql;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>How far a session's ledger has got.</summary>
/// <param name="Session">Null when news may have been missed: whoever watches looks again.</param>
public readonly record struct BenchLine(Guid? Session, int Sequence);

/// <summary>
/// Tells the pages of this instance when a line was added to a ledger, by whichever instance. PostgreSQL says so (a trigger
/// notifies, one connection an instance listens); nothing is remembered here but who is watching now.
/// </summary>
public sealed partial class BenchNews(ILogger<BenchNews> log)
{
    private const string Channel = "bench_entries";
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan Quiet = TimeSpan.FromSeconds(15);

    private readonly ConcurrentDictionary<Guid, ChannelWriter<BenchLine>> watchers = [];

    /// <summary>Lines added to a session from now on, until the watcher goes.</summary>
    public async IAsyncEnumerable<BenchLine> Of(
        Guid session,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken stop
    )
    {
        var me = Guid.CreateVersion7();
        // Only the newest line matters to somebody who has fallen behind.
        var lines = System.Threading.Channels.Channel.CreateBounded<BenchLine>(
            new BoundedChannelOptions(16) { FullMode = BoundedChannelFullMode.DropOldest }
        );
        watchers[me] = lines.Writer;
        try
        {
            while (true)
            {
                if (!await Within(Quiet, lines.Reader, stop))
                {
                    // Something now and then, so that whoever has gone is noticed.
                    yield return new BenchLine(session, 0);
                }

                while (lines.Reader.TryRead(out var line))
                {
                    if (line.Session is null || line.Session == session)
                    {
                        yield return line;
                    }
                }
            }
        }
        finally
        {
            watchers.TryRemove(me, out _);
        }
    }

    private static async Task<bool> Within(TimeSpan time, ChannelReader<BenchLine> lines, CancellationToken stop)
    {
        using var timed = CancellationTokenSource.CreateLinkedTokenSource(stop);
        timed.CancelAfter(time);
        try
        {
            return await lines.WaitToReadAsync(timed.Token);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            return false;
        }
    }

    /// <summary>Listens until stopped; a lost connection is made again.</summary>
    public async Task Listen(string connection, CancellationToken stop)
    {
        var settings = new NpgsqlConnectionStringBuilder(connection) { KeepAlive = 30, Pooling = false };
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await using var listening = new NpgsqlConnection(settings.ConnectionString);
                await listening.OpenAsync(stop);
                listening.Notification += (_, news) => Tell(Read(news.Payload));
                await using (var listen = new NpgsqlCommand($"LISTEN {Channel}", listening))
                {
                    await listen.ExecuteNonQueryAsync(stop);
                }

                // Whatever was said before now was not heard.
                Tell(new BenchLine(null, 0));
                while (true)
                {
                    await listening.WaitAsync(stop);
                }
            }
            catch (Exception e) when (e is NpgsqlException or System.Net.Sockets.SocketException or IOException)
            {
                LogLost(log, e.Message);
                await Task.Delay(Pause, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
        }
    }

    /// <summary>"session sequence", as the trigger writes it.</summary>
    private static BenchLine Read(string payload) =>
        payload.Split(' ') is [var session, var sequence]
        && Guid.TryParse(session, out var id)
        && int.TryParse(sequence, CultureInfo.InvariantCulture, out var line)
            ? new BenchLine(id, line)
            : new BenchLine(null, 0);

    private void Tell(BenchLine line)
    {
        Measured.Told();
        foreach (var watcher in watchers.Values)
        {
            watcher.TryWrite(line);
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Bench news are lost for now: {Reason}")]
    private static partial void LogLost(ILogger logger, string reason);
}
