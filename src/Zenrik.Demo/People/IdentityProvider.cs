using System.Security.Claims;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using OpenIddict.Abstractions;
using static OpenIddict.Server.OpenIddictServerEvents;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>
/// An organisation's identity provider, made of a general-purpose server for OpenID Connect: it vouches for whoever
/// <see cref="Who"/> says is sitting there.
/// </summary>
internal sealed class IdentityProvider : IAsyncDisposable
{
    public const string Client = "zenrik";

    private readonly WebApplication app;

    private IdentityProvider(WebApplication app) => this.app = app;

    /// <summary>Claims of whoever asks next, "sub" among them.</summary>
    public IReadOnlyList<(string Type, string Value)> Who { get; set; } = [];

    public string Address =>
        app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First();

    public static async Task<IdentityProvider> Start()
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
                    b.UseInlineHandler(context =>
                    {
                        var identity = new ClaimsIdentity("stand-in");
                        foreach (var (type, value) in self!.Who)
                        {
                            identity.AddClaim(new Claim(type, value));
                        }

                        context.Principal = new ClaimsPrincipal(identity);
                        context.Principal.SetScopes(context.Request.GetScopes());
                        context.Principal.SetDestinations(_ => [OpenIddictConstants.Destinations.IdentityToken]);
                        return default;
                    })
                );
                server.UseAspNetCore().DisableTransportSecurityRequirement();
            });
        var app = builder.Build();
        app.Urls.Add("http://127.0.0.1:0");
        app.UseAuthentication();
        self = new IdentityProvider(app);
        await app.StartAsync();
        return self;
    }

    public async ValueTask DisposeAsync() => await app.DisposeAsync();
}
