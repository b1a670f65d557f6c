using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

public sealed class ToFetchModel(NoteRepair notes) : RoomPage
{
    public IReadOnlyList<ToFetch> Waiting { get; private set; } = [];

    /// <summary>Units with a specialist.</summary>
    public IReadOnlyList<AwayUnit> Away { get; private set; } = [];

    public async Task OnGet(CancellationToken stop) =>
        (Waiting, Away) = (await notes.Waiting(stop), await notes.Away(stop));
}
