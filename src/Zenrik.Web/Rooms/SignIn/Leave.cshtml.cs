using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Zenrik.Web.Rooms.SignIn;

[AllowAnonymous]
public sealed class LeaveModel(SignInManager<Technician> signIn) : PageModel
{
    public IActionResult OnGet() => RedirectToPage("/SignIn/Index");

    public async Task<IActionResult> OnPost()
    {
        // Signed out here is signed out everywhere: a copy of the cookie is worth nothing within a minute.
        if (await signIn.UserManager.GetUserAsync(User) is { } person)
        {
            await signIn.UserManager.UpdateSecurityStampAsync(person);
        }

        await signIn.SignOutAsync();
        return RedirectToPage("/SignIn/Index");
    }
}
