using System.Net;
using System.Security.Claims;
using Microsoft.AspNetCore;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using OpenIddict.Abstractions;
using static OpenIddict.Server.OpenIddictServerEvents;

namespace Zenrik.Demo.People;

/// <summary>
/// The organisation's identity provider, made of a general-purpose server for OpenID Connect. It vouches for whoever
/// <see cref="Who"/> says is sitting there; where nobody is named it asks.
/// </summary>
internal sealed class IdentityProvider : IAsyncDisposable
{
    public const string Client = "zenrik";

    /// <summary>What the page that asks offers: a name to sign in with, a name, a group.</summary>
    private static readonly IReadOnlyList<(string SignIn, string Name, string Group)> Accounts =
    [
        ("sol.reed", "Sol Reed", "it-bench"),
        ("ines", "I. Rook", "it-bench"),
        ("mara", "M. Tarn", "it-leads"),
        ("nim.ash", "Nim Ash", "teachers"),
    ];

    private readonly WebApplication app;

    private IdentityProvider(WebApplication app) => this.app = app;

    /// <summary>Claims of whoever asks next, "sub" among them; empty: a page asks who it is.</summary>
    public IReadOnlyList<(string Type, string Value)> Who { get; set; } = [];

    public string Address =>
        app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First();

    public static async Task<IdentityProvider> Start(string address = "http://127.0.0.1:0")
    {
        IdentityProvider? self = null;
        var builder = WebApplication.CreateBuilder();
        builder.Logging.ClearProviders();
        builder.Services.AddAuthentication();
        builder
            .Services.AddOpenIddict()
            .AddServer(server =>
            {
                server.EnableDegradedMode();
                server.SetAuthorizationEndpointUris("authorize").SetTokenEndpointUris("token");
                server.AllowAuthorizationCodeFlow().RequireProofKeyForCodeExchange();
                server.AddEphemeralEncryptionKey().AddEphemeralSigningKey();
                server.RegisterScopes(OpenIddictConstants.Scopes.Profile);
                server.AddEventHandler<ValidateAuthorizationRequestContext>(b =>
                    b.UseInlineHandler(context =>
                    {
                        if (context.ClientId != Client)
                        {
                            context.Reject(OpenIddictConstants.Errors.InvalidClient);
                        }

                        return default;
                    })
                );
                server.AddEventHandler<ValidateTokenRequestContext>(b => b.UseInlineHandler(_ => default));
                server.AddEventHandler<HandleAuthorizationRequestContext>(b =>
                    b.UseInlineHandler(context => self!.Vouch(context))
                );
                server.UseAspNetCore().DisableTransportSecurityRequirement();
            });
        var app = builder.Build();
        app.Urls.Add(address);
        app.UseAuthentication();
        app.MapGet("/", () => Results.Text("The identity provider of an invented organisation. Only for trying."));
        self = new IdentityProvider(app);
        await app.StartAsync();
        return self;
    }

    /// <summary>Ends when the process is told to.</summary>
    public Task UntilStopped() => app.WaitForShutdownAsync();

    private async ValueTask Vouch(HandleAuthorizationRequestContext context)
    {
        var who = Who;
        if (who.Count == 0)
        {
            var asked = (string?)context.Request.GetParameter("account");
            if (Accounts.FirstOrDefault(a => a.SignIn == asked) is not { SignIn: { } signIn } account)
            {
                await Ask(context.Transaction.GetHttpRequest()!);
                context.HandleRequest();
                return;
            }

            who =
            [
                ("sub", $"of {signIn}"),
                ("preferred_username", signIn),
                ("name", account.Name),
                ("roles", account.Group),
            ];
        }

        var identity = new ClaimsIdentity("stand-in");
        foreach (var (type, value) in who)
        {
            identity.AddClaim(new Claim(type, value));
        }

        context.Principal = new ClaimsPrincipal(identity);
        context.Principal.SetScopes(context.Request.GetScopes());
        context.Principal.SetDestinations(_ => [OpenIddictConstants.Destinations.IdentityToken]);
    }

    private static Task Ask(HttpRequest request)
    {
        var here = WebUtility.HtmlEncode($"{request.Path}{request.QueryString}");
        var links = Accounts.Select(a => $"<li><a href=\"{here}&amp;account={a.SignIn}\">{a.Name}</a>, {a.Group}</li>");
        request.HttpContext.Response.ContentType = "text/html; charset=utf-8";
        return request.HttpContext.Response.WriteAsync(
            $"<!doctype html><html lang=\"en\"><title>Who are you?</title><h1>Who are you?</h1><p>The accounts of an invented organisation.</p><ul>{string.Concat(links)}</ul></html>"
        );
    }

    public async ValueTask DisposeAsync() => await app.DisposeAsync();
}
