using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Http.Features;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;
using Zenrik.Web.Api;

namespace Zenrik.Web.Hosting;

/// <summary>The API for programs: tokens instead of cookies, problem details instead of pages.</summary>
internal static class ApiHosting
{
    private const string Root = "/api/v1";

    public static void AddApi(this IServiceCollection services)
    {
        services.AddAuthentication().AddScheme<AuthenticationSchemeOptions, TokenSignIn>(TokenSignIn.Name, null);
        services
            .AddAuthorizationBuilder()
            .AddPolicy(TokenSignIn.Name, p => p.AddAuthenticationSchemes(TokenSignIn.Name).Require(Policies.Read));
        services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
            o.SerializerOptions.Converters.Add(new StorableStrings());
            o.SerializerOptions.Converters.Add(
                new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, allowIntegerValues: false)
            );
        });
        services.AddOpenApi(options =>
            options.AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info.Title = "Zenrik";
                    document.Info.Description =
                        "Everything a screen computes. Send a token made on your own page, /account, as \"Authorization: Bearer TOKEN\". "
                        + "Errors are problem details (RFC 9457).";
                    return Task.CompletedTask;
                }
            )
        );
    }

    public static bool IsApi(HttpContext context) => context.Request.Path.StartsWithSegments("/api");

    /// <summary>Most bytes of a request's body; the largest hardware list and map are far smaller.</summary>
    private const int MostBytes = 8 * 1024 * 1024;

    /// <summary>Refuses a body that is too large before any of it is read, or as soon as that much has come.</summary>
    public static void UseApiLimits(this IApplicationBuilder app) =>
        app.UseWhen(
            IsApi,
            api =>
                api.Use(
                    (context, next) =>
                    {
                        if (context.Request.ContentLength > MostBytes)
                        {
                            return Results
                                .Problem(
                                    $"The body is larger than {MostBytes / 1024 / 1024} MB.",
                                    statusCode: StatusCodes.Status413PayloadTooLarge
                                )
                                .ExecuteAsync(context);
                        }

                        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size)
                        {
                            size.MaxRequestBodySize = MostBytes;
                        }

                        return next(context);
                    }
                )
        );

    public static void MapApi(this WebApplication app)
    {
        var api = app.MapGroup(Root).RequireAuthorization(TokenSignIn.Name).DisableAntiforgery();
        api.AddEndpointFilter<RouteGroupBuilder, WholeBodies>();
        api.MapTeardown();
        api.MapCounter();
        api.MapBench();
        api.MapFleet();
        api.MapOutlook();
        app.MapOpenApi().AllowAnonymous();
        app.MapGet("/triage.schema.json", () => Results.Text(TriageReader.Schema, "application/schema+json"))
            .AllowAnonymous()
            .ExcludeFromDescription();
        app.MapGet("/service-map.schema.json", () => Results.Text(ServiceMapReader.Schema, "application/schema+json"))
            .AllowAnonymous()
            .ExcludeFromDescription();
    }
}
