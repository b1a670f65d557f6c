using System.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

[Authorize(Policies.House)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class ImportModel(PublishMap publish) : RoomPage
{
    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public Refusal? Refusal { get; private set; }

    /// <summary>An empty form.</summary>
    public void OnGet() { }

    /// <summary>What the file holds, and what in it is otherwise than ours; null until one was checked.</summary>
    public (ServiceMap Map, IReadOnlyList<MapChange>? Changes)? Looked { get; private set; }

    /// <summary>The file's text, to be taken in as it was looked at.</summary>
    public string? Json { get; private set; }

    /// <summary>Checks a file and shows what it would change.</summary>
    public async Task<IActionResult> OnPost(IFormFile? file, CancellationToken stop)
    {
        if (file is null)
        {
            return Wrong(new Refusal(RefusalReason.Invalid, "No file was sent. Choose one."));
        }

        Json = Encoding.UTF8.GetString(await Uploads.Read(file, ServiceMapReader.MaxBytes + 1, stop));
        if (!(await publish.Look(Json, stop)).Try(out var looked, out var refusal))
        {
            return Wrong(refusal);
        }

        Looked = looked;
        return Page();
    }

    public async Task<IActionResult> OnPostTake(Guid request, string? json, CancellationToken stop)
    {
        RequestId = request;
        return (await publish.File(request, json, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, "/Maps/Index")
            : Wrong(refusal);
    }

    private PageResult Wrong(Refusal refusal)
    {
        Refusal = refusal;
        Response.StatusCode = Statuses.Of(refusal);
        return Page();
    }
}
