using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.Prints;

/// <summary>Slips to be cut and handed over: who may come in, and the link by which they choose a password.</summary>
[Authorize(Policies.House)]
public sealed class InvitationsModel(KeepPeople people, TimeProvider clock) : PageModel
{
    public IReadOnlyList<(Invitation Invitation, string Link)> Invitations { get; private set; } = [];

    public DateTimeOffset Until => clock.GetUtcNow() + KeepPeople.InvitationLasts;

    /// <param name="person">Whose; null: everybody's who has no password yet.</param>
    public async Task OnGet(Guid? person, CancellationToken stop) =>
        Invitations = [
            .. (await people.Invitations(person, stop)).Select(i =>
                (i, Url.PageLink("/SignIn/Invitation", values: new { who = i.Id, token = i.Token })!)
            ),
        ];
}
