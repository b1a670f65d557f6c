using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.IdentityModel.Protocols.OpenIdConnect;

namespace Zenrik.Web.Hosting;

/// <summary>
/// Sign-in by the organisation's own identity provider (OpenID Connect Core 1.0, authorization code with PKCE), as the
/// section OpenId of the configuration says.
/// </summary>
/// <param name="Title">What its button says after "Sign in with".</param>
/// <param name="RoleClaim">The claim that names a person's groups or roles.</param>
/// <param name="Roles">Which of its values makes somebody which role here.</param>
public sealed record OutsideSignIn(
    string Title,
    Uri Authority,
    string ClientId,
    string? ClientSecret,
    string RoleClaim,
    IReadOnlyDictionary<string, string> Roles
)
{
    public const string Scheme = "openid";

    /// <summary>Where the provider sends people back to.</summary>
    public const string CallbackPath = "/sign-in/back";

    /// <summary>What the configuration says; null: nobody signs in by a provider.</summary>
    /// <exception cref="InvalidOperationException">It says something that cannot be meant; the sentence names the remedy.</exception>
    public static OutsideSignIn? Read(IConfiguration configuration)
    {
        var section = configuration.GetSection("OpenId");
        if (!section.Exists())
        {
            return null;
        }

        var authority = section["Authority"];
        if (
            !Uri.TryCreate(authority, UriKind.Absolute, out var address)
            || (address.Scheme != Uri.UriSchemeHttps && !address.IsLoopback)
        )
        {
            throw new InvalidOperationException(
                $"OpenId:Authority is \"{authority}\". Name the identity provider's address, beginning with https://."
            );
        }

        var secret = section["ClientSecretFile"] is { Length: > 0 } file
            ? File.ReadAllText(file).Trim()
            : section["ClientSecret"];
        var roles = Zenrik
            .Workshop.Book.Roles.All.Select(r => (Role: r, Is: section[$"Roles:{r}"]))
            .Where(r => !string.IsNullOrEmpty(r.Is))
            .ToDictionary(r => r.Role, r => r.Is!);
        return roles.Count == 0
            ? throw new InvalidOperationException(
                $"OpenId:Roles names no group. Say for at least one of {string.Join(", ", Zenrik.Workshop.Book.Roles.All)} which value of the claim makes somebody that, as OpenId:Roles:technician=it-bench."
            )
            : new OutsideSignIn(
                section["Title"] is { Length: > 0 } title ? title : "the organisation's account",
                address,
                section["ClientId"] is { Length: > 0 } client
                    ? client
                    : throw new InvalidOperationException(
                        "OpenId:ClientId is missing. It is what the identity provider knows this program by."
                    ),
                secret,
                section["RoleClaim"] is { Length: > 0 } claim ? claim : "roles",
                roles
            );
    }

    public void Add(AuthenticationBuilder authentication) =>
        authentication.AddOpenIdConnect(
            Scheme,
            options =>
            {
                options.SignInScheme = IdentityConstants.ExternalScheme;
                options.Authority = Authority.ToString();
                options.RequireHttpsMetadata = !Authority.IsLoopback;
                options.ClientId = ClientId;
                options.ClientSecret = ClientSecret;
                options.CallbackPath = CallbackPath;
                options.ResponseType = OpenIdConnectResponseType.Code;
                // Nothing is posted from elsewhere, so cookies can stay within this site.
                options.ResponseMode = OpenIdConnectResponseMode.Query;
                options.CorrelationCookie.SameSite = options.NonceCookie.SameSite = SameSiteMode.Lax;
                options.CorrelationCookie.SecurePolicy = options.NonceCookie.SecurePolicy =
                    CookieSecurePolicy.SameAsRequest;
                options.MapInboundClaims = false;
                options.Scope.Clear();
                options.Scope.Add("openid");
                options.Scope.Add("profile");
                options.Events.OnRemoteFailure = context =>
                {
                    context.HandleResponse();
                    context.Response.Redirect("/sign-in?outside=failed");
                    return Task.CompletedTask;
                };
            }
        );

    /// <summary>The role somebody has by what the provider says; the one that may most where several do. Null: none.</summary>
    public string? RoleOf(ClaimsPrincipal who)
    {
        var values = who.FindAll(RoleClaim).Select(c => c.Value).ToHashSet(StringComparer.Ordinal);
        return Zenrik.Workshop.Book.Roles.Most([.. Roles.Where(r => values.Contains(r.Value)).Select(r => r.Key)]);
    }
}
