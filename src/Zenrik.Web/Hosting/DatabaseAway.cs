using Microsoft.AspNetCore.Diagnostics;
using Zenrik.Workshop.Operating;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Answers while PostgreSQL does not: says what is safe and what to do, without asking the database anything. What fails
/// otherwise is logged and counted.
/// </summary>
internal sealed class DatabaseAway(IWebHostEnvironment host, IServiceScopeFactory scopes, ILogger<DatabaseAway> log)
    : IExceptionHandler
{
    private const string Sentence =
        "The database does not answer, so this act is not saved. Every act before it is. "
        + "Leave the machine as it is; when the database is back, do this act again.";

    /// <summary>For whoever runs the program; what cannot be counted now stands in the log all the same.</summary>
    private async Task Count(HttpContext context, Exception exception)
    {
        try
        {
            var route = (context.Features.Get<IExceptionHandlerFeature>()?.Endpoint as RouteEndpoint)?.RoutePattern;
            await using var scope = scopes.CreateAsyncScope();
            await scope
                .ServiceProvider.GetRequiredService<SayServing>()
                .Mishap(
                    exception.GetBaseException().GetType().Name,
                    $"{context.Request.Method} /{route?.RawText?.TrimStart('/') ?? "?"}"
                );
        }
        catch (Exception e) when (Away.OrRefused(e))
        {
            log.LogDebug("Not counted: {Reason}", e.GetBaseException().Message);
        }
    }

    public async ValueTask<bool> TryHandleAsync(HttpContext context, Exception exception, CancellationToken stop)
    {
        if (!Away.Tells(exception))
        {
            // The handler of errors has its own address by now.
            var path = context.Features.Get<IExceptionHandlerPathFeature>()?.Path ?? context.Request.Path.Value;
            log.LogError(exception, "{Method} {Path} failed", context.Request.Method, path);
            await Count(context, exception);
            return false;
        }

        log.LogWarning("The database does not answer: {Reason}", exception.GetBaseException().Message);
        context.Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
        context.Response.Headers.RetryAfter = "5";
        if (ApiHosting.IsApi(context))
        {
            await Results.Problem(Sentence, statusCode: StatusCodes.Status503ServiceUnavailable).ExecuteAsync(context);
            return true;
        }

        if (context.Request.IsFragment())
        {
            await context.Response.Notice(Sentence, stop);
        }
        else
        {
            context.Response.ContentType = "text/html; charset=utf-8";
            await context.Response.SendFileAsync(host.WebRootFileProvider.GetFileInfo("database-away.html"), stop);
        }

        return true;
    }
}
