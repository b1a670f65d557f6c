using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

public sealed class ToFetchModel(NoteRepair notes) : RoomPage
{
    public IReadOnlyList<ToFetch> Waiting { get; private set; } = [];

    public async Task OnGet(CancellationToken stop) => Waiting = await notes.Waiting(stop);
}
