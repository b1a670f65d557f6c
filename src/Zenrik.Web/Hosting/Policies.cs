using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Zenrik.Workshop.People;

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

    public static void Add(AuthorizationOptions options)
    {
        options.AddPolicy(Read, p => p.RequireRole(Roles.All));
        options.AddPolicy(Counter, p => p.RequireRole(Roles.Technician, Roles.Storekeeper, Roles.Lead));
        options.AddPolicy(Bench, p => p.RequireRole(Roles.Technician, Roles.Lead));
        options.AddPolicy(House, p => p.RequireRole(Roles.Lead));
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
