using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Security.Claims;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Hosting;

/// <summary>Tells open bench pages what others record, as server-sent events.</summary>
internal static class News
{
    public static void AddNews(this IServiceCollection services, string connection) =>
        services.AddHostedService(provider => new Listener(provider.GetRequiredService<BenchNews>(), connection));

    /// <summary>Each event is the number of lines the session's ledger has; -1 when some may have been missed.</summary>
    public static void MapNews(this IEndpointRouteBuilder app) =>
        app.MapGet(
            "/bench/{code}/news",
            async (
                string code,
                BenchOf benches,
                BenchNews news,
                SignInSessions sessions,
                ClaimsPrincipal who,
                IHostApplicationLifetime life,
                CancellationToken gone
            ) =>
                Repair.NumberOf(code) is { } number && await benches.IdOf(number, gone) is { } session
                    ? Results.ServerSentEvents(
                        Lines(news, session, () => sessions.Holds(who.Session()!.Value), life.ApplicationStopping, gone)
                    )
                    : Results.NotFound()
        );

    private static async IAsyncEnumerable<SseItem<int>> Lines(
        BenchNews news,
        Guid session,
        Func<Task<bool>> stillSignedIn,
        CancellationToken stopping,
        [EnumeratorCancellation] CancellationToken gone
    )
    {
        using var end = CancellationTokenSource.CreateLinkedTokenSource(stopping, gone);
        // At once, so that the page knows that somebody answers.
        yield return new SseItem<int>(0);
        await using var lines = news.Of(session, end.Token).GetAsyncEnumerator(end.Token);
        while (await Next(lines) && await stillSignedIn())
        {
            yield return new SseItem<int>(lines.Current.Session is null ? -1 : lines.Current.Sequence);
        }
    }

    /// <summary>False when the page has gone or the program stops.</summary>
    private static async Task<bool> Next(IAsyncEnumerator<BenchLine> lines)
    {
        try
        {
            return await lines.MoveNextAsync();
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    private sealed class Listener(BenchNews news, string connection) : BackgroundService
    {
        protected override Task ExecuteAsync(CancellationToken stoppingToken) => news.Listen(connection, stoppingToken);
    }
}
