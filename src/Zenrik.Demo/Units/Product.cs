using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Zenrik.Demo.World;

namespace Zenrik.Demo.Units;

/// <summary>The product this demo stands beside.</summary>
public sealed record Product(Uri Address);

internal static class Hosting
{
    /// <summary>Tells the book where the suppliers and machines of the demo are, once that is known.</summary>
    public static void SayWhereItIs(this WebApplication app) =>
        app.Lifetime.ApplicationStarted.Register(() =>
        {
            var here = app
                .Services.GetRequiredService<IServer>()
                .Features.Get<IServerAddressesFeature>()!
                .Addresses.First();
            using var scope = app.Services.CreateScope();
            Place.Is(scope.ServiceProvider.GetRequiredService<WorkshopDb>(), new Uri(here)).GetAwaiter().GetResult();
        });
}
