using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Zenrik.Workshop.Book;

namespace Zenrik.Web.Hosting;

/// <summary>A page that shows what may be a moment old: where a follower is named, it is read from there.</summary>
[AttributeUsage(AttributeTargets.Class)]
public sealed class MayBeOldAttribute() : TypeFilterAttribute(typeof(FromFollower));

/// <summary>Reads a page from the follower, but for whoever has just changed something: they see it.</summary>
internal sealed class FromFollower(WorkshopDb db, Follower follower, TimeProvider clock) : IAsyncPageFilter
{
    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(
        PageHandlerExecutingContext context,
        PageHandlerExecutionDelegate next
    )
    {
        var request = context.HttpContext.Request;
        if (HttpMethods.IsGet(request.Method) && !JustWritten.Is(request, clock))
        {
            await follower.Read(db, async () => (await next()).Exception, context.HttpContext.RequestAborted);
        }
        else
        {
            _ = await next();
        }
    }
}

/// <summary>Marks for a moment who has changed something, so that they do not read it as it was before.</summary>
internal static class JustWritten
{
    private const string Cookie = "zenrik-just-written";

    /// <summary>A follower that is further behind than this is not one to read from.</summary>
    private static readonly TimeSpan Moment = TimeSpan.FromSeconds(10);

    public static bool Is(HttpRequest request, TimeProvider clock) =>
        long.TryParse(request.Cookies[Cookie], CultureInfo.InvariantCulture, out var until)
        && until > clock.GetUtcNow().ToUnixTimeSeconds();

    public static void UseJustWritten(this WebApplication app)
    {
        if (!app.Services.GetRequiredService<Follower>().IsThere)
        {
            return;
        }

        var clock = app.Services.GetRequiredService<TimeProvider>();
        app.Use(
            (context, next) =>
            {
                // The API is never answered by a follower.
                if (
                    !HttpMethods.IsGet(context.Request.Method)
                    && !HttpMethods.IsHead(context.Request.Method)
                    && !context.Request.Path.StartsWithSegments("/api")
                )
                {
                    context.Response.Cookies.Append(
                        Cookie,
                        (clock.GetUtcNow() + Moment).ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture),
                        new CookieOptions
                        {
                            MaxAge = Moment,
                            HttpOnly = true,
                            SameSite = SameSiteMode.Strict,
                            Secure = context.Request.IsHttps,
                            IsEssential = true,
                        }
                    );
                }

                return next(context);
            }
        );
    }
}
