using System.Text.Json;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Zenrik.Core.ServiceMaps;
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
            o.SerializerOptions.UnmappedMemberHandling = System
                .Text
                .Json
                .Serialization
                .JsonUnmappedMemberHandling
                .Disallow
        );
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
        app.MapGroup(Root).RequireAuthorization(TokenSignIn.Name).DisableAntiforgery().MapTeardown();
        app.MapOpenApi().AllowAnonymous();
        app.MapGet("/service-map.schema.json", () => Results.Text(ServiceMapReader.Schema, "application/schema+json"))
            .AllowAnonymous()
            .ExcludeFromDescription();
    }
}
