using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>What benches found to be other than a map says; a lead decides.</summary>
[PostingNeeds(Policies.House)]
public sealed class FindingsModel(ViewMaps maps, DecideFinding findings) : RoomPage
{
    private const string Here = "/Maps/Findings";

    public ServiceMap Map { get; private set; } = null!;

    public IReadOnlyList<FindingView> Open { get; private set; } = [];

    /// <summary>The closed machine, the screws of the first count in question numbered and marked.</summary>
    public MachineView Drawing
    {
        get
        {
            var group = Open.Select(f => f.Group).FirstOrDefault(g => g is not null)?.Id;
            var numbered = Map with
            {
                Fasteners = [.. Map.Fasteners.Select(f => f.Id == group ? f with { Numbered = true } : f)],
            };
            return MachineView.Of(
                numbered,
                numbered.Plain(),
                new MachineMoment { Next = group is null ? [] : new HashSet<string> { group.Value.Value } }
            );
        }
    }

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await maps.Newest(code, stop)).Try(out var map, out _))
        {
            return NotFound();
        }

        (Map, Open) = (map, await findings.Open(code, stop));
        return Page();
    }

    public async Task<IActionResult> OnPostAccept(
        string code,
        Guid id,
        List<double> x,
        List<double> y,
        CancellationToken stop
    )
    {
        if (x.Count != y.Count)
        {
            return Refused(
                new Refusal(RefusalReason.Invalid, "A place could not be read. Give two numbers for each screw."),
                Here,
                new { code }
            );
        }

        List<Point> places = [.. x.Zip(y, (a, b) => new Point(a, b))];
        return (await findings.Accept(id, places, User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(done, Here, new { code })
            : Refused(refusal, Here, new { code });
    }

    public async Task<IActionResult> OnPostReject(string code, Guid id, string? why, CancellationToken stop) =>
        (await findings.Reject(id, why, User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(done, Here, new { code })
            : Refused(refusal, Here, new { code });
}
