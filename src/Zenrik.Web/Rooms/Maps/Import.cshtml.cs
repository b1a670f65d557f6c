using System.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
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

    public async Task<IActionResult> OnPost(Guid request, IFormFile? file, CancellationToken stop)
    {
        RequestId = request;
        var outcome = file is null
            ? new Refusal(RefusalReason.Invalid, "No file was sent. Choose one.")
            : await publish.File(
                request,
                Encoding.UTF8.GetString(await Uploads.Read(file, ServiceMapReader.MaxBytes + 1, stop)),
                User.Actor(),
                stop
            );
        if (outcome.Try(out var said, out var refusal))
        {
            return Did(said, "/Maps/Index");
        }

        Refusal = refusal;
        Response.StatusCode = Statuses.Of(refusal);
        return Page();
    }
}
