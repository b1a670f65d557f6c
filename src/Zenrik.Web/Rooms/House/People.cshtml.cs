using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.House;

/// <summary>Who may sign in, and as what.</summary>
[Authorize(Policies.House)]
public sealed class PeopleModel(KeepPeople people) : RoomPage
{
    private const string Here = "/House/People";

    public IReadOnlyList<KnownPerson> People { get; private set; } = [];

    public async Task OnGet(CancellationToken stop) => People = await people.List(stop);

    public async Task<IActionResult> OnPostAdd(string? signIn, string? name, string? role, CancellationToken stop) =>
        (await people.Add(signIn, name, role, User.Actor(), stop)).Try(out var id, out var refusal)
            ? RedirectToPage("/Prints/Invitations", new { person = id })
            : Refused(refusal, Here);

    public async Task<IActionResult> OnPostReset(Guid id, CancellationToken stop) =>
        (await people.ResetPassword(id, User.Actor(), stop)).Try(out _, out var refusal)
            ? RedirectToPage("/Prints/Invitations", new { person = id })
            : Refused(refusal, Here);

    public Task<IActionResult> OnPostRole(Guid id, string? role, CancellationToken stop) =>
        Say(people.SetRole(id, role, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostDisable(Guid id, bool disabled, CancellationToken stop) =>
        Say(people.SetDisabled(id, disabled, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostEnd(Guid id, CancellationToken stop) =>
        Say(people.EndEverything(id, User.Actor(), stop), Here);
}
