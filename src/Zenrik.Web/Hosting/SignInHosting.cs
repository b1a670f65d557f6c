using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;
using Zenrik.Web.Api;

namespace Zenrik.Web.Hosting;

/// <summary>Cookie sign-in with ASP.NET Core Identity.</summary>
internal static class SignInHosting
{
    private const string NameClaim = "zenrik.name";
    private const string MustChangeClaim = "zenrik.must-change";
    private const string Either = "Zenrik";

    public static void AddSignIn(this IServiceCollection services)
    {
        // Programs are known by their token and told so in their own language, whatever address they come to.
        services
            .AddAuthentication(Either)
            .AddPolicyScheme(
                Either,
                null,
                options =>
                    options.ForwardDefaultSelector = context =>
                        ApiHosting.IsApi(context) ? TokenSignIn.Name : IdentityConstants.ApplicationScheme
            )
            .AddIdentityCookies();
        services.AddSingleton<SignInLimits>();
        services.Configure<SecurityStampValidatorOptions>(options =>
            options.ValidationInterval = TimeSpan.FromMinutes(1)
        );
        new IdentityBuilder(typeof(Technician), typeof(IdentityRole<Guid>), services)
            .AddSignInManager<KnownPeople>()
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
        if (context.Request.IsFragment())
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

    /// <summary>True while somebody has a password that another person has made up.</summary>
    public static bool MustChangePassword(this ClaimsPrincipal user) => user.HasClaim(c => c.Type == MustChangeClaim);

    /// <summary>Nothing but one's own page opens before such a password is changed.</summary>
    public static void UseOwnPasswords(this IApplicationBuilder app) =>
        app.Use(
            (context, next) =>
            {
                if (
                    !context.User.MustChangePassword()
                    || context.Request.Path.StartsWithSegments(OwnPage)
                    || context.GetEndpoint()?.Metadata.GetMetadata<IAllowAnonymous>() is not null
                )
                {
                    return next(context);
                }

                if (ApiHosting.IsApi(context))
                {
                    context.Response.StatusCode = StatusCodes.Status403Forbidden;
                }
                else
                {
                    context.Response.Redirect(OwnPage);
                }

                return Task.CompletedTask;
            }
        );

    private const string OwnPage = "/account";

    /// <summary>Lets nobody in, and nobody stay, who has been disabled.</summary>
    private sealed class KnownPeople(
        UserManager<Technician> people,
        IHttpContextAccessor context,
        IUserClaimsPrincipalFactory<Technician> claims,
        IOptions<IdentityOptions> options,
        ILogger<SignInManager<Technician>> log,
        IAuthenticationSchemeProvider schemes,
        IUserConfirmation<Technician> confirmation
    ) : SignInManager<Technician>(people, context, claims, options, log, schemes, confirmation)
    {
        public override async Task<bool> CanSignInAsync(Technician user) =>
            user.DisabledAt is null && await base.CanSignInAsync(user);

        public override async Task<Technician?> ValidateSecurityStampAsync(ClaimsPrincipal? principal) =>
            await base.ValidateSecurityStampAsync(principal) is { DisabledAt: null } known ? known : null;
    }

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
            if (user.MustChangePassword)
            {
                identity.AddClaim(new Claim(MustChangeClaim, ""));
            }

            return identity;
        }
    }
}
