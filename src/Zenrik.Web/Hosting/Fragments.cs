namespace Zenrik.Web.Hosting;

internal static class Fragments
{
    /// <summary>True when htmx asks for a part of a page that is open, not for a page.</summary>
    public static bool IsFragment(this HttpRequest request) => request.Headers.ContainsKey("HX-Request");
}
