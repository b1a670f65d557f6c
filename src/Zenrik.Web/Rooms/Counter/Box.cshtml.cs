using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

[PostingNeeds(Policies.Counter)]
public sealed class BoxModel(TakeInBox takeIn) : RoomPage
{
    private static readonly char[] Between = [' ', '\t', '\r', '\n', ',', ';'];

    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public string? Tags { get; private set; }

    public IReadOnlyList<BoxLine> Lines { get; private set; } = [];

    public TakeInForm Form { get; private set; } = TakeInForm.Empty;

    public Refusal? Refusal { get; private set; }

    /// <summary>What of the box has been taken in, while some of it could not be.</summary>
    public string? Said { get; private set; }

    public void OnGet() { }

    public async Task<IActionResult> OnPostLook(string? tags, CancellationToken stop) =>
        Partial("_Box", await Look(tags, stop));

    public async Task<IActionResult> OnPost(
        Guid request,
        string? tags,
        [FromForm] string[] symptoms,
        [FromForm] string[] circumstances,
        string? note,
        DateOnly? promised,
        CancellationToken stop
    )
    {
        (RequestId, Tags) = (request, tags);
        Form = new TakeInForm(symptoms, circumstances, [], null, note, Priority.Normal, promised);
        Lines = await Look(tags, stop);
        string[] ready = [.. Lines.Where(l => l.Ready).Select(l => l.Tag)];
        if ((await takeIn.Run(request, ready, Form.Intake, User.Actor(), stop)).Try(out var said, out var refusal))
        {
            Lines = [.. Lines.Where(l => !l.Ready)];
            if (Lines.Count == 0)
            {
                return Did(said, "/Counter/Index");
            }

            // What could not be taken in stays here to be looked at; the rest is in the book.
            (RequestId, Tags, Said) = (Guid.CreateVersion7(), string.Join('\n', Lines.Select(l => l.Tag)), said);
            return Page();
        }

        Refusal = refusal;
        Response.StatusCode = Statuses.Of(refusal);
        return Page();
    }

    private Task<IReadOnlyList<BoxLine>> Look(string? tags, CancellationToken stop) =>
        takeIn.Look((tags ?? "").Split(Between, StringSplitOptions.RemoveEmptyEntries), stop);
}
