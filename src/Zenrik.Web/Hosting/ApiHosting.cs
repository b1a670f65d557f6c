using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;
using Zenrik.Web.Api;
using Zenrik.Workshop.People;

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
            .AddPolicy(TokenSignIn.Name, p => p.AddAuthenticationSchemes(TokenSignIn.Name).RequireRole(Roles.All));
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
                        "Everything a screen computes. Send a token made in House as \"Authorization: Bearer TOKEN\". "
                        + "Errors are problem details (RFC 9457).";
                    return Task.CompletedTask;
                }
            )
        );
    }

    public static bool IsApi(HttpContext context) => context.Request.Path.StartsWithSegments("/api");

    public static void MapApi(this WebApplication app)
    {
        var api = app.MapGroup(Root).RequireAuthorization(TokenSignIn.Name).DisableAntiforgery();
        api.MapTeardown();
        api.MapCounter();
        api.MapBench();
        api.MapFleet();
        app.MapOpenApi().AllowAnonymous();
        app.MapGet("/triage.schema.json", () => Results.Text(TriageReader.Schema, "application/schema+json"))
            .AllowAnonymous()
            .ExcludeFromDescription();
        app.MapGet("/service-map.schema.json", () => Results.Text(ServiceMapReader.Schema, "application/schema+json"))
            .AllowAnonymous()
            .ExcludeFromDescription();
    }
}
