using System.Security.Claims;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Zenrik.Web.Api;

namespace Zenrik.Web.Hosting;

/// <summary>What a signed-in person may do. Checked on the server; pages only hide what would be refused.</summary>
public static class Policies
{
    /// <summary>Look at everything.</summary>
    public const string Read = "read";

    /// <summary>Take units in, choose parts, withdraw repairs.</summary>
    public const string Counter = "counter";

    /// <summary>Work at the bench and close repairs.</summary>
    public const string Bench = "bench";

    /// <summary>Decide house rules.</summary>
    public const string House = "house";

    /// <summary>Which roles each lets through. The one place that says so.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> Allowed { get; } =
        new Dictionary<string, IReadOnlyList<string>>
        {
            [Read] = Roles.All,
            [Counter] = [Roles.Technician, Roles.Storekeeper, Roles.Lead],
            [Bench] = Roles.AtBench,
            [House] = [Roles.Lead],
        };

    /// <summary>What each is for, in words.</summary>
    public static IReadOnlyList<(string Policy, string Says)> Says { get; } =
    [
        (Read, "look at everything, and give lists out"),
        (Counter, "take units in, promise and order parts, keep stores and fleet, take lists in"),
        (Bench, "work at the bench, close repairs, say things of maps"),
        (House, "decide house rules, people, maps and what the workshop reckons with"),
    ];

    /// <summary>What a policy asks for: one of its roles, and of a token that it was made for that.</summary>
    public static AuthorizationPolicyBuilder Require(this AuthorizationPolicyBuilder builder, string policy) =>
        builder.RequireRole(Allowed[policy]).RequireAssertion(c => InScope(c.User, policy));

    /// <summary>A token is held to what it was made for; a person who signed in is not.</summary>
    private static bool InScope(ClaimsPrincipal user, string policy) =>
        user.Identities.All(i => i.AuthenticationType != TokenSignIn.Name) || user.HasClaim(TokenSignIn.Scope, policy);

    /// <summary>Whether to show what a policy guards; the server asks again when it is used.</summary>
    public static bool May(this ClaimsPrincipal user, string policy) =>
        Allowed[policy].Any(user.IsInRole) && InScope(user, policy);

    public static void Add(AuthorizationOptions options)
    {
        foreach (var policy in Allowed.Keys)
        {
            options.AddPolicy(policy, p => p.Require(policy));
        }

        options.FallbackPolicy = options.GetPolicy(Read);
    }
}

/// <summary>A page anybody signed in may look at, but only some may post to.</summary>
[AttributeUsage(AttributeTargets.Class)]
public sealed class PostingNeedsAttribute(string policy) : Attribute, IAsyncAuthorizationFilter
{
    public async Task OnAuthorizationAsync(AuthorizationFilterContext context)
    {
        if (!HttpMethods.IsPost(context.HttpContext.Request.Method))
        {
            return;
        }

        var authorization = context.HttpContext.RequestServices.GetRequiredService<IAuthorizationService>();
        if (!(await authorization.AuthorizeAsync(context.HttpContext.User, policy)).Succeeded)
        {
            context.Result = new ForbidResult();
        }
    }
}
