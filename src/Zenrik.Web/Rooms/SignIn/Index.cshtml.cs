using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.Demo;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.SignIn;

[AllowAnonymous]
public sealed class IndexModel(SignInManager<Technician> signIn, DemoSignIns demo) : PageModel
{
    public string? ReturnUrl { get; private set; }

    public string? Name { get; private set; }

    public string? Failure { get; private set; }

    public IReadOnlyList<(string SignIn, string Name, string Role)> DemoPeople { get; private set; } = [];

    public async Task OnGet(string? returnUrl)
    {
        ReturnUrl = returnUrl;
        await LoadDemoPeople();
    }

    public async Task<IActionResult> OnPost(string? name, string? password, string? returnUrl)
    {
        var result = await signIn.PasswordSignInAsync(name?.Trim() ?? "", password ?? "", true, lockoutOnFailure: true);
        if (result.Succeeded)
        {
            return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
        }

        (Name, ReturnUrl) = (name, returnUrl);
        Failure = result.IsLockedOut
            ? "Too many wrong passwords. This name can sign in again in five minutes."
            : "Name and password do not belong together. Look at both and try again.";
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        await LoadDemoPeople();
        return Page();
    }

    private async Task LoadDemoPeople() => DemoPeople = await demo.Run();
}
