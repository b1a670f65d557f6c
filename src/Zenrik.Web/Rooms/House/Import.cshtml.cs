using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Importing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Importing;

namespace Zenrik.Web.Rooms.House;

[Authorize(Policies.Counter)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class ImportModel(TakeInFile files) : RoomPage
{
    /// <summary>Kinds of lists this person may take in.</summary>
    public IReadOnlyList<Sheet> Sheets { get; private set; } = [];

    /// <summary>The kind chosen before, or come for.</summary>
    public string? Chosen { get; private set; }

    public Refusal? Refusal { get; private set; }

    public IReadOnlyList<KeptFile> Lately { get; private set; } = [];

    public Task OnGet(string? sheet, CancellationToken stop) => Fill(sheet, stop);

    public async Task<IActionResult> OnPost(string? sheet, IFormFile? file, CancellationToken stop)
    {
        var kept =
            file is null ? new Refusal(RefusalReason.Invalid, "No file was sent. Choose one.")
            : !MayTakeIn(User, sheet) ? new Refusal(RefusalReason.Invalid, "A lead takes such lists in.")
            : await files.Keep(
                sheet,
                file.FileName,
                // One byte more than is taken, so that a file too large is told from one that just fits.
                await Uploads.Read(file, TakeInFile.MaxBytes + 1, stop),
                User.Actor(),
                stop
            );
        if (kept.Try(out var id, out var refusal))
        {
            return RedirectToPage("/House/ImportFile", new { id });
        }

        Refusal = refusal;
        Response.StatusCode = Statuses.OnPage(refusal);
        await Fill(sheet, stop);
        return Page();
    }

    /// <summary>Who may sign in is for a lead to say, whichever way.</summary>
    internal static bool MayTakeIn(System.Security.Claims.ClaimsPrincipal user, string? sheet) =>
        sheet != Core.Importing.Sheets.People.Id || user.May(Policies.House);

    private async Task Fill(string? sheet, CancellationToken stop)
    {
        Sheets = [.. Core.Importing.Sheets.All.Where(s => MayTakeIn(User, s.Id))];
        Chosen = sheet;
        Lately = await files.Lately(stop);
    }
}
