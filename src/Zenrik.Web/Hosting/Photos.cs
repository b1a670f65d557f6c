using Zenrik.Workshop.Photographs;

namespace Zenrik.Web.Hosting;

internal static class Photos
{
    /// <summary>Photographs by id; they never change, so a browser may keep them.</summary>
    public static void MapPhotos(this IEndpointRouteBuilder app) =>
        app.MapGet(
            "/photos/{id:guid}",
            async (Guid id, ReadPhoto photos, HttpContext context, CancellationToken stop) =>
            {
                if (await photos.Run(id, stop) is not { } jpeg)
                {
                    return Results.NotFound();
                }

                context.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
                return Results.Bytes(jpeg, "image/jpeg");
            }
        );
}
