using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Photographs;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>What the form sends; kept as typed when something in it is refused.</summary>
/// <param name="Faults">"assembly|fault", as the page offers them.</param>
/// <param name="Upgrades">Assemblies that are exchanged for more.</param>
/// <param name="Follows">The earlier repair whose trouble has come back.</param>
public sealed record TakeInForm(
    RepairPurpose Purpose,
    string[] Symptoms,
    string[] Circumstances,
    string[] Faults,
    string[] Upgrades,
    DateOnly? Since,
    string? Note,
    Priority Priority,
    DateOnly? Promised,
    string? Follows = null
)
{
    public static TakeInForm Empty { get; } =
        new(RepairPurpose.Fault, [], [], [], [], null, null, Priority.Normal, null);

    public Intake Intake =>
        new()
        {
            Purpose = Purpose,
            Follows = Repair.NumberOf(Follows),
            // What other purposes ask for is on the page, ticked or not.
            Symptoms = Purpose == RepairPurpose.Fault ? Symptoms : [],
            Circumstances = Circumstances,
            Known = Purpose switch
            {
                RepairPurpose.Fault =>
                [
                    .. Faults.Select(f => f.Split('|', 2)).Select(f => new Complaint(f[0], f.Length > 1 ? f[1] : "")),
                ],
                RepairPurpose.Upgrade => [.. Upgrades.Select(u => new Complaint(u, RepairPurposes.ToBeUpgraded))],
                _ => [],
            },
            Note = Note,
            Since = Since,
            PromisedOn = Promised,
            Priority = Priority,
        };
}

[PostingNeeds(Policies.Counter)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class TakeInModel(
    PassportOf passports,
    OpenRepair openRepair,
    AddPhoto photos,
    FitOf fits,
    UnderWarranty warranties
) : RoomPage
{
    public Passport Passport { get; private set; } = null!;

    public Refusal? Refusal { get; private set; }

    /// <summary>The maker's warranty, where one runs.</summary>
    public RunningWarranty? Warranty { get; private set; }

    public TakeInForm Form { get; private set; } = TakeInForm.Empty;

    /// <summary>What could be upgraded, with the assembly that is fitted for it; null: it cannot be.</summary>
    public IReadOnlyList<(Upgrade Upgrade, string? Assembly)> Upgrades { get; private set; } = [];

    private async Task Offer(Passport passport, CancellationToken stop)
    {
        Passport = passport;
        Warranty = await warranties.Of(passport.Unit, stop);
        Upgrades =
        [
            .. (await fits.Upgrades(passport, stop)).Select(u => (u, passport.ToUpgrade(u.Path.Slot)?.Id.Value)),
        ];
    }

    /// <param name="purpose">What it is taken in for, where the page before knows.</param>
    /// <param name="follows">The earlier repair whose trouble has come back.</param>
    public async Task<IActionResult> OnGet(string tag, RepairPurpose? purpose, string? follows, CancellationToken stop)
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        if (passport.OpenRepair is { } open)
        {
            return RedirectToPage("/Counter/Repair", new { code = open.Code });
        }

        Form = TakeInForm.Empty with { Purpose = purpose ?? RepairPurpose.Fault, Follows = follows };
        await Offer(passport, stop);
        return Page();
    }

    public async Task<IActionResult> OnPost(
        string tag,
        RepairPurpose purpose,
        [FromForm] string[] symptoms,
        [FromForm] string[] circumstances,
        [FromForm] string[] faults,
        [FromForm] string[] upgrades,
        string? follows,
        DateOnly? since,
        string? note,
        Priority priority,
        DateOnly? promised,
        IFormFile? photo,
        CancellationToken stop
    )
    {
        Form = new TakeInForm(
            purpose,
            symptoms,
            circumstances,
            faults,
            upgrades,
            since,
            note,
            priority,
            promised,
            follows
        );
        // Looked at before anything is stored: a bad picture does not cost the form.
        var picture = photo is null ? null : await Uploads.Read(photo, stop);
        var refusal = picture is null ? null : await PhotoFile.Check(picture, stop);
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

        await Offer(passport, stop);
        Refusal = refusal;
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }
}
