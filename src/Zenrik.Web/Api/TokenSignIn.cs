using System.Security.Claims;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Api;

/// <summary>Recognises "Authorization: Bearer TOKEN" as the person the token belongs to, with that person's roles.</summary>
internal sealed class TokenSignIn(
    IOptionsMonitor<AuthenticationSchemeOptions> options,
    ILoggerFactory logger,
    UrlEncoder encoder,
    ApiTokens tokens,
    SignInManager<Technician> signIn
) : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
{
    public const string Name = "ApiToken";

    /// <summary>Claim that names what a token may be used for.</summary>
    public const string Scope = "zenrik.scope";

    private const string Bearer = "Bearer ";

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        var header = Request.Headers.Authorization.ToString();
        if (!header.StartsWith(Bearer, StringComparison.OrdinalIgnoreCase))
        {
            return AuthenticateResult.NoResult();
        }

        if (await tokens.Known(header[Bearer.Length..].Trim(), Context.RequestAborted) is not { } token)
        {
            return AuthenticateResult.Fail("unknown, revoked or expired token");
        }

        var principal = await signIn.CreateUserPrincipalAsync(token.Owner);
        principal.AddIdentity(new ClaimsIdentity(token.Scopes.Select(s => new Claim(Scope, s)), Name));
        return AuthenticateResult.Success(new AuthenticationTicket(principal, Scheme.Name));
    }

    protected override async Task HandleChallengeAsync(AuthenticationProperties properties)
    {
        Response.Headers.WWWAuthenticate = "Bearer";
        await Results
            .Problem(
                "Send a token made on your own page, /account, as \"Authorization: Bearer TOKEN\".",
                statusCode: StatusCodes.Status401Unauthorized
            )
            .ExecuteAsync(Context);
    }
}
