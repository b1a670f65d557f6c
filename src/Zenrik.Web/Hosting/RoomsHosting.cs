using Microsoft.AspNetCore.Diagnostics.HealthChecks;
using NetEscapades.AspNetCore.SecurityHeaders.Infrastructure;

namespace Zenrik.Web.Hosting;

/// <summary>Pages, headers and health.</summary>
internal static class RoomsHosting
{
    public static void AddRooms(this IServiceCollection services)
    {
        services
            .AddRazorPages(options => options.RootDirectory = "/Rooms")
            .AddMvcOptions(options => options.Filters.Add<StorableForms>());
        services.AddAntiforgery(options =>
        {
            options.Cookie.Name = "zenrik.form";
            options.Cookie.SameSite = SameSiteMode.Strict;
            options.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
        });
        services.AddExceptionHandler<DatabaseAway>();
        services.AddProblemDetails();
    }

    /// <summary>Nothing loads from elsewhere, nothing runs inline, nobody frames us.</summary>
    public static void UseWorkshopHeaders(this IApplicationBuilder app) =>
        app.UseSecurityHeaders(
            new HeaderPolicyCollection()
                .AddFrameOptionsDeny()
                .AddContentTypeOptionsNoSniff()
                .AddReferrerPolicySameOrigin()
                .AddCrossOriginOpenerPolicy(p => p.SameOrigin())
                .AddContentSecurityPolicy(csp =>
                {
                    csp.AddDefaultSrc().None();
                    csp.AddScriptSrc().Self();
                    csp.AddStyleSrc().Self();
                    csp.AddFontSrc().Self();
                    csp.AddImgSrc().Self();
                    csp.AddConnectSrc().Self();
                    csp.AddFormAction().Self();
                    csp.AddBaseUri().Self();
                    csp.AddFrameAncestors().None();
                })
                .RemoveServerHeader()
        );

    public static void MapHealth(this IEndpointRouteBuilder app)
    {
        // Alive: the process answers. Ready: it also reaches its database.
        app.MapHealthChecks("/healthz", new HealthCheckOptions { Predicate = _ => false }).AllowAnonymous();
        app.MapHealthChecks("/readyz", new HealthCheckOptions { Predicate = c => c.Tags.Contains("ready") })
            .AllowAnonymous();
    }

    public static void UseProblemPages(this WebApplication app)
    {
        app.UseWhen(
            context => !ApiHosting.IsApi(context),
            pages =>
            {
                pages.UseExceptionHandler("/problem");
                pages.UseStatusCodePagesWithReExecute("/problem", "?status={0}");
            }
        );
        app.UseWhen(
            ApiHosting.IsApi,
            api =>
            {
                api.UseExceptionHandler();
                api.UseStatusCodePages();
            }
        );
    }
}
