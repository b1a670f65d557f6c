using Npgsql;
using OpenTelemetry;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;

namespace Zenrik.Web.Hosting;

/// <summary>Traces and metrics by OTLP, where the configuration names a collector; none otherwise.</summary>
/// <remarks>
/// Of requests the route is told, never what was in it; of statements their text without values; of acts their names. No
/// name of a person, tag or repair leaves by this way.
/// </remarks>
internal static class Telemetry
{
    /// <summary>OpenTelemetry's own name for it, so that what it says of the others holds here as well.</summary>
    private const string Endpoint = "OTEL_EXPORTER_OTLP_ENDPOINT";

    /// <exception cref="InvalidOperationException">What it says is no address.</exception>
    public static void AddTelemetry(this IServiceCollection services, IConfiguration configuration)
    {
        if (configuration[Endpoint] is not { Length: > 0 } named)
        {
            return;
        }

        if (!Uri.TryCreate(named, UriKind.Absolute, out var to) || to.Scheme is not ("http" or "https"))
        {
            throw new InvalidOperationException(
                $"{Endpoint} is \"{named}\"; it is the address of a collector, like http://127.0.0.1:4318."
            );
        }

        services
            .AddOpenTelemetry()
            .ConfigureResource(r => r.AddService("zenrik", serviceVersion: Show.Version))
            .WithTracing(t =>
                t.AddSource(Measured.Name)
                    .AddAspNetCoreInstrumentation(o =>
                    {
                        o.Filter = context => !IsNoise(context.Request.Path);
                        o.EnrichWithHttpRequest = (activity, _) => Bare(activity);
                        o.EnrichWithHttpResponse = (activity, _) => Bare(activity);
                    })
                    .AddNpgsql()
            )
            .WithMetrics(m =>
                m.AddMeter(
                    Measured.Name,
                    "Npgsql",
                    "System.Runtime",
                    "Microsoft.AspNetCore.Hosting",
                    "Microsoft.AspNetCore.Server.Kestrel"
                )
            )
            .UseOtlpExporter();
    }

    /// <summary>Asked every few seconds by machines, or files that never change.</summary>
    private static bool IsNoise(PathString path) =>
        path == "/healthz" || path == "/readyz" || path.StartsWithSegments("/css") || path.StartsWithSegments("/js");

    /// <summary>Tags, names and searched words stand in addresses.</summary>
    private static void Bare(System.Diagnostics.Activity activity)
    {
        activity.SetTag("url.path", null);
        activity.SetTag("url.query", null);
        activity.SetTag("client.address", null);
        activity.SetTag("user_agent.original", null);
    }
}
