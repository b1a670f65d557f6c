using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

[PostingNeeds(Policies.Counter)]
public sealed class TakeInModel(PassportOf passports, OpenRepair openRepair) : RoomPage
{
    public Passport Passport { get; private set; } = null!;

    public Refusal? Refusal { get; private set; }

    public IReadOnlyList<string> Faults { get; private set; } = [];

    public string? Note { get; private set; }

    public DateOnly? Promised { get; private set; }

    public async Task<IActionResult> OnGet(string tag, CancellationToken stop)
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        Passport = passport;
        return passport.OpenRepair is { } open ? RedirectToPage("/Counter/Repair", new { code = open.Code }) : Page();
    }

    /// <param name="faults">"assembly|fault", as the page offers them.</param>
    public async Task<IActionResult> OnPost(
        string tag,
        string[] faults,
        string? note,
        DateOnly? promised,
        CancellationToken stop
    )
    {
        var complaints = faults
            .Select(f => f.Split('|', 2))
            .Select(f => new Complaint(f[0], f.Length > 1 ? f[1] : ""))
            .ToList();
        if (
            (await openRepair.Run(tag, complaints, note, promised, User.Actor(), stop)).Try(
                out var code,
                out var refusal
            )
        )
        {
            return RedirectToPage("/Counter/Repair", new { code });
        }

        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        if (passport.OpenRepair is { } open)
        {
            return Refused(refusal, "/Counter/Repair", new { code = open.Code });
        }

        (Passport, Refusal, Faults, Note, Promised) = (passport, refusal, faults, note, promised);
        Response.StatusCode = Statuses.Of(refusal);
        return Page();
    }
}
