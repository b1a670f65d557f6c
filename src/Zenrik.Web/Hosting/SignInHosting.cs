using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.Extensions.Options;
using Zenrik.Web.Api;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Hosting;

/// <summary>Cookie sign-in with ASP.NET Core Identity.</summary>
internal static class SignInHosting
{
    private const string NameClaim = "zenrik.name";
    private const string MustChangeClaim = "zenrik.must-change";
    private const string Either = "Zenrik";

    public static void AddSignIn(this IServiceCollection services, IConfiguration configuration)
    {
        // Programs are known by their token and told so in their own language, whatever address they come to.
        var authentication = services.AddAuthentication(Either);
        authentication
            .AddPolicyScheme(
                Either,
                null,
                options =>
                    options.ForwardDefaultSelector = context =>
                        ApiHosting.IsApi(context) ? TokenSignIn.Name : IdentityConstants.ApplicationScheme
            )
            .AddIdentityCookies();
        if (OutsideSignIn.Read(configuration) is { } outside)
        {
            services.AddSingleton(outside);
            outside.Add(authentication);
        }

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
            options.ExpireTimeSpan = SignInSessions.Idle;
            options.SlidingExpiration = true;
            options.Events.OnValidatePrincipal = StillSignedIn;
            // A fragment asks for a status; a page that took its place would say nothing about what was asked.
            options.Events.OnRedirectToAccessDenied = context => Answer(context, StatusCodes.Status403Forbidden);
            options.Events.OnRedirectToLogin = context => Answer(context, StatusCodes.Status401Unauthorized);
        });
        services.AddAuthorization(Policies.Add);
    }

    private static Task Answer(RedirectContext<CookieAuthenticationOptions> context, int status)
    {
        var badgeOver = context.HttpContext.Items.ContainsKey(BadgeOver);
        if (context.Request.IsFragment())
        {
            context.Response.StatusCode = status;
            return badgeOver ? context.Response.WriteAsync(TimeByBadgeIsOver) : Task.CompletedTask;
        }

        if (badgeOver)
        {
            SayBadgeOver(context.HttpContext);
        }
        else
        {
            context.Response.Redirect(context.RedirectUri);
        }

        return Task.CompletedTask;
    }

    /// <summary>
    /// Asks of every request that needs somebody whether their session holds. One by badge that is over falls back to the
    /// device's own, but not with something sent: that was meant to be done by another person.
    /// </summary>
    private static async Task StillSignedIn(CookieValidatePrincipalContext context)
    {
        var http = context.HttpContext;
        if (http.GetEndpoint()?.Metadata.GetMetadata<IAllowAnonymous>() is not null)
        {
            return;
        }

        var sessions = http.RequestServices.GetRequiredService<SignInSessions>();
        if (context.Principal?.Session() is { } session && await sessions.Holds(session))
        {
            return;
        }

        if (
            context.Principal?.Under() is { } under
            && HttpMethods.IsGet(http.Request.Method)
            && await sessions.OwnerOf(under) is { } person
        )
        {
            var signIn = http.RequestServices.GetRequiredService<SignInManager<Technician>>();
            var principal = await signIn.CreateUserPrincipalAsync(person);
            ((ClaimsIdentity)principal.Identity!).AddClaim(new Claim(SessionClaim, $"{under}"));
            context.ReplacePrincipal(principal);
            context.ShouldRenew = true;
            return;
        }

        var byBadge = context.Principal?.Under() is { } device && await sessions.OwnerOf(device) is not null;
        context.RejectPrincipal();
        if (byBadge)
        {
            http.Items[BadgeOver] = true;
        }
        else
        {
            await http.SignOutAsync(IdentityConstants.ApplicationScheme);
        }
    }

    private const string TimeByBadgeIsOver =
        "The time by badge was over before this was sent, so nothing was done. Scan your badge again, or do it as whoever the device belongs to.";

    private const string BadgeOver = "zenrik.badge-over";

    /// <summary>Back to the page something was sent from, as the device's own person, with what became of it.</summary>
    private static void SayBadgeOver(HttpContext http)
    {
        var notices = http.RequestServices.GetRequiredService<ITempDataDictionaryFactory>().GetTempData(http);
        notices["Notice"] = TimeByBadgeIsOver;
        notices.Save();
        var from =
            Uri.TryCreate(http.Request.Headers.Referer, UriKind.Absolute, out var page)
            && page.Authority == http.Request.Host.Value
                ? page.PathAndQuery
                : "/";
        http.Response.Redirect(from.StartsWith("//", StringComparison.Ordinal) ? "/" : from);
    }

    /// <summary>The session somebody speaks from.</summary>
    public static Guid? Session(this ClaimsPrincipal user) => Id(user, SessionClaim);

    /// <summary>The device's own session while somebody works on it by badge; null: it is one itself.</summary>
    public static Guid? Under(this ClaimsPrincipal user) => Id(user, UnderClaim);

    private static Guid? Id(ClaimsPrincipal user, string claim) =>
        Guid.TryParse(user.FindFirstValue(claim), out var id) ? id : null;

    private const string SessionClaim = "zenrik.session";
    private const string UnderClaim = "zenrik.under";

    /// <summary>Signs somebody in for a while on a device where another has signed in.</summary>
    /// <param name="under">The device's session.</param>
    public static Task SignInByBadge(this SignInManager<Technician> signIn, Technician person, Guid under) =>
        signIn.SignInWithClaimsAsync(person, isPersistent: true, [new Claim(UnderClaim, $"{under}")]);

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

    /// <summary>Lets nobody in who has been disabled, and begins a session for everybody who is let in.</summary>
    private sealed class KnownPeople(
        SignInSessions sessions,
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

        public override async Task SignInWithClaimsAsync(
            Technician user,
            AuthenticationProperties? authenticationProperties,
            IEnumerable<Claim> additionalClaims
        )
        {
            var claims = additionalClaims.ToList();
            var under = Guid.TryParse(claims.Find(c => c.Type == UnderClaim)?.Value, out var id) ? id : (Guid?)null;
            var session = await sessions.Begin(
                user,
                Devices.Of(Context),
                Context.Connection.RemoteIpAddress?.ToString() ?? "",
                under
            );
            await base.SignInWithClaimsAsync(
                user,
                authenticationProperties,
                claims.Append(new Claim(SessionClaim, $"{session}"))
            );
        }
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
