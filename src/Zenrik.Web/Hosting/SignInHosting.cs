using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Hosting;

/// <summary>Cookie sign-in with ASP.NET Core Identity.</summary>
internal static class SignInHosting
{
    private const string NameClaim = "zenrik.name";

    public static void AddSignIn(this IServiceCollection services)
    {
        services.AddAuthentication(IdentityConstants.ApplicationScheme).AddIdentityCookies();
        new IdentityBuilder(typeof(Technician), typeof(IdentityRole<Guid>), services)
            .AddSignInManager()
            .AddClaimsPrincipalFactory<NamedClaims>();
        services.ConfigureApplicationCookie(options =>
        {
            options.Cookie.Name = "zenrik";
            options.Cookie.SameSite = SameSiteMode.Lax;
            options.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            options.LoginPath = "/sign-in";
            options.AccessDeniedPath = "/not-allowed";
            options.ExpireTimeSpan = TimeSpan.FromHours(12);
            options.SlidingExpiration = true;
            // A fragment asks for a status; a page that took its place would say nothing about what was asked.
            options.Events.OnRedirectToAccessDenied = context => Answer(context, StatusCodes.Status403Forbidden);
            options.Events.OnRedirectToLogin = context => Answer(context, StatusCodes.Status401Unauthorized);
        });
        services.AddAuthorization(Policies.Add);
    }

    private static Task Answer(RedirectContext<CookieAuthenticationOptions> context, int status)
    {
        if (context.Request.Headers.ContainsKey("HX-Request"))
        {
            context.Response.StatusCode = status;
        }
        else
        {
            context.Response.Redirect(context.RedirectUri);
        }

        return Task.CompletedTask;
    }

    /// <summary>Who is signed in.</summary>
    public static Actor Actor(this ClaimsPrincipal user) =>
        new(
            Guid.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!),
            user.FindFirstValue(NameClaim) ?? user.Identity!.Name!
        );

    private sealed class NamedClaims(
        UserManager<Technician> people,
        RoleManager<IdentityRole<Guid>> roles,
        IOptions<IdentityOptions> options
    ) : UserClaimsPrincipalFactory<Technician, IdentityRole<Guid>>(people, roles, options)
    {
        protected override async Task<ClaimsIdentity> GenerateClaimsAsync(Technician user)
        {
            var identity = await base.GenerateClaimsAsync(user);
            identity.AddClaim(new Claim(NameClaim, user.Name));
            return identity;
        }
    }
}
