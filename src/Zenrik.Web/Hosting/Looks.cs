namespace Zenrik.Web.Hosting;

/// <summary>Light, dark, or as the system wishes: kept by the browser, since the same person sits at a bright counter and a dim bench.</summary>
internal static class Looks
{
    private const string Cookie = "look";

    public static IReadOnlyList<string> All { get; } = ["light", "dark"];

    /// <summary>What was chosen here; null: as the system wishes.</summary>
    public static string? Of(HttpContext context) =>
        context.Request.Cookies.TryGetValue(Cookie, out var look) && All.Contains(look) ? look : null;

    /// <param name="look">Anything else than those: as the system wishes.</param>
    public static void Choose(HttpContext context, string? look)
    {
        if (look is not null && All.Contains(look))
        {
            context.Response.Cookies.Append(
                Cookie,
                look,
                new CookieOptions
                {
                    HttpOnly = true,
                    SameSite = SameSiteMode.Lax,
                    Secure = context.Request.IsHttps,
                    MaxAge = TimeSpan.FromDays(365),
                    IsEssential = true,
                }
            );
        }
        else
        {
            context.Response.Cookies.Delete(Cookie);
        }
    }
}
