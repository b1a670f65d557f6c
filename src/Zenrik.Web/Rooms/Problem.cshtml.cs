using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Hosting;

namespace Zenrik.Web.Rooms;

/// <summary>What is shown when a request cannot be answered as asked.</summary>
[AllowAnonymous]
[IgnoreAntiforgeryToken]
public sealed class ProblemModel : PageModel
{
    public string Heading { get; private set; } = "";

    public string Sentence { get; private set; } = "";

    public void OnGet(int? status) => Show(status);

    public void OnPost(int? status) => Show(status);

    private void Show(int? status) =>
        (Heading, Sentence) = status switch
        {
            400 => (
                "This page was too old to be sent",
                "Nothing was changed. Open it again, then do once more what you wanted to do."
            ),
            403 => ("This is not yours to do", "Your sign-in may look here, but not change this. Nothing was changed."),
            404 => ("There is no such page", "The address is wrong, or what it named is gone. Use the scan line."),
            405 => (
                "There is no such form",
                "Nothing was changed. Open the page again, then do once more what you wanted to do."
            ),
            422 => ("That cannot be kept", StorableText.Sentence),
            _ => (
                "Something went wrong here",
                "What you just did was not saved; everything before it is. Try it once more. "
                    + "If it fails again, tell whoever looks after the server the time and what you did."
            ),
        };
}
