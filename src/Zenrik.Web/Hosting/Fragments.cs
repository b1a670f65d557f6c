using System.Text.Encodings.Web;

namespace Zenrik.Web.Hosting;

internal static class Fragments
{
    /// <summary>True when htmx asks for a part of a page that is open, not for a page.</summary>
    public static bool IsFragment(this HttpRequest request) => request.Headers.ContainsKey("HX-Request");

    /// <summary>Says a sentence where the open page says what went wrong; the part that was asked for stays as it is.</summary>
    public static Task Notice(this HttpResponse response, string sentence, CancellationToken stop)
    {
        response.ContentType = "text/html; charset=utf-8";
        response.Headers["HX-Retarget"] = "#notice";
        response.Headers["HX-Reswap"] = "innerHTML";
        return response.WriteAsync(
            $"<p class=\"notice trouble\" role=\"alert\">{HtmlEncoder.Default.Encode(sentence)}</p>",
            stop
        );
    }
}
