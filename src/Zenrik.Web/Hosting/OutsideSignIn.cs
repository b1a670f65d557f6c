using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.IdentityModel.Protocols.OpenIdConnect;
using Zenrik.Workshop.People;

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

    /// <summary>Sends the browser there; to a sentence where the provider does not answer.</summary>
    /// <param name="back">The page of this program that reads the answer.</param>
    /// <param name="items">What comes back with the answer, sealed; nobody else can make it.</param>
    public static async Task<IActionResult> Go(
        HttpContext http,
        string back,
        IReadOnlyDictionary<string, string?>? items = null
    )
    {
        try
        {
            await http.ChallengeAsync(
                Scheme,
                new AuthenticationProperties(
                    new Dictionary<string, string?>(items ?? new Dictionary<string, string?>())
                )
                {
                    RedirectUri = back,
                }
            );
            return HttpMethods.IsPost(http.Request.Method) ? GoOn(http) : new EmptyResult();
        }
        catch (Exception e) when (e is InvalidOperationException or HttpRequestException or IOException)
        {
            return new LocalRedirectResult("/sign-in?outside=away");
        }
    }

    /// <summary>
    /// A form may not lead to another site, not even by a redirection (CSP form-action): the browser gets a page that leads
    /// there.
    /// </summary>
    private static ContentResult GoOn(HttpContext http)
    {
        var to = http.Response.Headers.Location.ToString();
        http.Response.Headers.Remove("Location");
        http.Response.Headers.Append("Refresh", $"0; url={to}");
        return new ContentResult
        {
            StatusCode = StatusCodes.Status200OK,
            ContentType = "text/html; charset=utf-8",
            Content =
                $"<!doctype html><html lang=\"en\"><title>Zenrik</title><p><a href=\"{System.Net.WebUtility.HtmlEncode(to)}\">On to your organisation's account</a></p></html>",
        };
    }

    /// <summary>Whom the provider vouches for; null: nobody.</summary>
    public OutsidePerson? PersonOf(ClaimsPrincipal? who) =>
        who?.FindFirstValue("sub") is { } subject
            ? new OutsidePerson(
                who.FindFirstValue("iss") ?? Authority.ToString(),
                subject,
                who.FindFirstValue("preferred_username") ?? who.FindFirstValue("email"),
                who.FindFirstValue("name"),
                RoleOf(who)
            )
            : null;

    /// <summary>The role somebody has by what the provider says; the one that may most where several do. Null: none.</summary>
    public string? RoleOf(ClaimsPrincipal who)
    {
        var values = who.FindAll(RoleClaim).Select(c => c.Value).ToHashSet(StringComparer.Ordinal);
        return Zenrik.Workshop.Book.Roles.Most([.. Roles.Where(r => values.Contains(r.Value)).Select(r => r.Key)]);
    }
}
