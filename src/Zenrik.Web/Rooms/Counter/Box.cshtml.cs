using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Web.Rooms.Counter;

[PostingNeeds(Policies.Counter)]
public sealed class BoxModel(TakeInBox takeIn, ViewMaps maps) : RoomPage
{
    private static readonly char[] Between = [' ', '\t', '\r', '\n', ',', ';'];

    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public string? Tags { get; private set; }

    /// <summary>The assembly that is exchanged in all of them, and why; null: none is known.</summary>
    public string? Part { get; private set; }

    public string? Why { get; private set; }

    /// <summary>What can be exchanged, of the models there are units of.</summary>
    public IReadOnlyList<(string Id, string Name)> Parts { get; private set; } = [];

    public IReadOnlyList<BoxLine> Lines { get; private set; } = [];

    public TakeInForm Form { get; private set; } = TakeInForm.Empty;

    public Refusal? Refusal { get; private set; }

    /// <summary>What of the box has been taken in, while some of it could not be.</summary>
    public string? Said { get; private set; }

    public async Task OnGet(CancellationToken stop) => Parts = await maps.Assemblies(stop);

    public async Task<IActionResult> OnPostLook(string? tags, CancellationToken stop) =>
        Partial("_Box", await Look(tags, stop));

    public async Task<IActionResult> OnPost(
        Guid request,
        string? tags,
        RepairPurpose purpose,
        string? part,
        string? why,
        [FromForm] string[] symptoms,
        [FromForm] string[] circumstances,
        string? note,
        DateOnly? promised,
        CancellationToken stop
    )
    {
        (RequestId, Tags) = (request, tags);
        (Part, Why) = (part, why);
        Form = new TakeInForm(purpose, symptoms, circumstances, [], [], null, note, Priority.Normal, promised);
        Parts = await maps.Assemblies(stop);
        Lines = await Look(tags, stop);
        string[] ready = [.. Lines.Where(l => l.Ready).Select(l => l.Tag)];
        if (
            (await takeIn.Run(request, ready, Form.Intake.For(Part, Why), User.Actor(), stop)).Try(
                out var said,
                out var refusal
            )
        )
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
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    private Task<IReadOnlyList<BoxLine>> Look(string? tags, CancellationToken stop) =>
        takeIn.Look((tags ?? "").Split(Between, StringSplitOptions.RemoveEmptyEntries), stop);
}
