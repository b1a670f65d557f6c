using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Hosting;

internal static class Photos
{
    /// <summary>Photographs by id; they never change, so a browser may keep them.</summary>
    public static void MapPhotos(this IEndpointRouteBuilder app) =>
        app.MapGet(
            "/photos/{id:guid}",
            async (Guid id, AddPhoto photos, HttpContext context, CancellationToken stop) =>
            {
                if (await photos.Read(id, stop) is not { } jpeg)
                {
                    return Results.NotFound();
                }

                context.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
                return Results.Bytes(jpeg, "image/jpeg");
            }
        );

    /// <summary>Lets suppliers with a path for an address, the stand-ins, be reached at this program.</summary>
    public static void KnowOwnAddress(this WebApplication app) =>
        app.Lifetime.ApplicationStarted.Register(() =>
        {
            var address = app
                .Services.GetRequiredService<IServer>()
                .Features.Get<IServerAddressesFeature>()
                ?.Addresses.FirstOrDefault();
            if (address is not null)
            {
                app.Services.GetRequiredService<OwnAddress>().Base = new Uri(
                    address
                        .Replace("//[::]", "//127.0.0.1", StringComparison.Ordinal)
                        .Replace("//0.0.0.0", "//127.0.0.1", StringComparison.Ordinal)
                        .Replace("//+", "//127.0.0.1", StringComparison.Ordinal)
                );
            }
        });
}
