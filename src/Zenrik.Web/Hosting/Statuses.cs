using Zenrik.Core;

namespace Zenrik.Web.Hosting;

/// <summary>The HTTP status that says what a refusal says.</summary>
internal static class Statuses
{
    public static int Of(Refusal refusal) =>
        refusal.Reason switch
        {
            RefusalReason.NotFound => StatusCodes.Status404NotFound,
            RefusalReason.Conflict or RefusalReason.Stale => StatusCodes.Status409Conflict,
            _ => StatusCodes.Status422UnprocessableEntity,
        };

    /// <summary>Of a page shown again with a refusal: the page is there, whatever was given to it is not.</summary>
    public static int OnPage(Refusal refusal) =>
        refusal.Reason == RefusalReason.NotFound ? StatusCodes.Status422UnprocessableEntity : Of(refusal);
}
