using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>What the form sends; kept as typed when something in it is refused.</summary>
/// <param name="Faults">"assembly|fault", as the page offers them.</param>
public sealed record TakeInForm(
    string[] Symptoms,
    string[] Circumstances,
    string[] Faults,
    DateOnly? Since,
    string? Note,
    Priority Priority,
    DateOnly? Promised
)
{
    public static TakeInForm Empty { get; } = new([], [], [], null, null, Priority.Normal, null);

    public Intake Intake =>
        new()
        {
            Symptoms = Symptoms,
            Circumstances = Circumstances,
            Known = [.. Faults.Select(f => f.Split('|', 2)).Select(f => new Complaint(f[0], f.Length > 1 ? f[1] : ""))],
            Note = Note,
            Since = Since,
            PromisedOn = Promised,
            Priority = Priority,
        };
}

[PostingNeeds(Policies.Counter)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class TakeInModel(PassportOf passports, OpenRepair openRepair, AddPhoto photos) : RoomPage
{
    public Passport Passport { get; private set; } = null!;

    public Refusal? Refusal { get; private set; }

    public TakeInForm Form { get; private set; } = TakeInForm.Empty;

    public async Task<IActionResult> OnGet(string tag, CancellationToken stop)
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        Passport = passport;
        return passport.OpenRepair is { } open ? RedirectToPage("/Counter/Repair", new { code = open.Code }) : Page();
    }

    public async Task<IActionResult> OnPost(
        string tag,
        [FromForm] string[] symptoms,
        [FromForm] string[] circumstances,
        [FromForm] string[] faults,
        DateOnly? since,
        string? note,
        Priority priority,
        DateOnly? promised,
        IFormFile? photo,
        CancellationToken stop
    )
    {
        Form = new TakeInForm(symptoms, circumstances, faults, since, note, priority, promised);
        // Looked at before anything is stored: a bad picture does not cost the form.
        var picture = photo is null ? null : await Uploads.Read(photo, stop);
        var refusal = picture is null ? null : await AddPhoto.Check(picture, stop);
        if (refusal is null)
        {
            if ((await openRepair.Run(tag, Form.Intake, User.Actor(), stop)).Try(out var code, out refusal))
            {
                if (picture is not null)
                {
                    _ = await photos.Run(Repair.NumberOf(code)!.Value, picture, User.Actor(), stop: stop);
                }

                return RedirectToPage("/Counter/Repair", new { code });
            }
        }

        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        if (passport.OpenRepair is { } open)
        {
            return Refused(refusal, "/Counter/Repair", new { code = open.Code });
        }

        (Passport, Refusal) = (passport, refusal);
        Response.StatusCode = Statuses.Of(refusal);
        return Page();
    }
}
