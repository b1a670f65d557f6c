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
}
