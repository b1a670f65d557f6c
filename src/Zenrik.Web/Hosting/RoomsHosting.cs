using System.Net;
using Microsoft.AspNetCore.Diagnostics.HealthChecks;
using Microsoft.AspNetCore.HttpOverrides;
using NetEscapades.AspNetCore.SecurityHeaders.Infrastructure;

namespace Zenrik.Web.Hosting;

/// <summary>Pages, headers and health.</summary>
internal static class RoomsHosting
{
    public static void AddRooms(this IServiceCollection services)
    {
        services
            .AddRazorPages(options =>
            {
                options.RootDirectory = "/Rooms";
                options.Conventions.Add(new AddressedByRoute());
            })
            .AddMvcOptions(options =>
            {
                options.Filters.Add<StorableForms>();
                options.Filters.Add<AnsweredRequests>();
                options.Filters.Add<ReadableForms>();
                options.ModelBinderProviders.Insert(0, new ReadableDays());
                ReadableForms.SayUnread(options.ModelBindingMessageProvider);
                options.ModelMetadataDetailsProviders.Add(new WholeLists());
            });
        services.AddAntiforgery(options =>
        {
            options.Cookie.Name = "zenrik.form";
            options.Cookie.SameSite = SameSiteMode.Strict;
            options.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
        });
        services.AddExceptionHandler<DatabaseAway>();
        services.AddProblemDetails();
    }

    /// <summary>
    /// Behind proxies that the configuration names by address (Proxies:0=10.0.0.2), what they say of the visitor is
    /// believed: address, scheme and host. From anybody else nothing of that is.
    /// </summary>
    /// <exception cref="InvalidOperationException">What is named is no address.</exception>
    public static void UseNamedProxies(this WebApplication app)
    {
        var named = app.Configuration.GetSection("Proxies").Get<string[]>() ?? [];
        if (named.Length == 0)
        {
            return;
        }

        var options = new ForwardedHeadersOptions
        {
            ForwardedHeaders =
                ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto | ForwardedHeaders.XForwardedHost,
        };
        options.KnownIPNetworks.Clear();
        options.KnownProxies.Clear();
        foreach (var name in named)
        {
            options.KnownProxies.Add(
                IPAddress.TryParse(name, out var address)
                    ? address
                    : throw new InvalidOperationException($"Proxies names \"{name}\", which is no address.")
            );
        }

        app.UseForwardedHeaders(options);
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
                // Sent over TLS only.
                .AddStrictTransportSecurityMaxAge()
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
                api.Use(ApiHosting.SayWhatCannotBeRead);
            }
        );
    }
}
