using System.Text.RegularExpressions;

namespace Zenrik.Web.Hosting;

/// <summary>What a browser says of the system it runs on, as far as it helps its owner to know it again.</summary>
internal static partial class Devices
{
    /// <summary>The first comment of the user agent (RFC 9110, 10.1.5), which is where browsers name the system.</summary>
    public static string Of(HttpContext context)
    {
        var system = Comment().Match(context.Request.Headers.UserAgent.ToString());
        return system.Success ? system.Groups[1].Value : "unnamed";
    }

    [GeneratedRegex(@"\(([^()]{1,120})\)")]
    private static partial Regex Comment();
}
