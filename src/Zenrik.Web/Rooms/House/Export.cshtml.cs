using Zenrik.Web.Hosting;
using Zenrik.Workshop.Exporting;

namespace Zenrik.Web.Rooms.House;

public sealed class ExportModel : RoomPage
{
    /// <summary>What this person may have.</summary>
    public IReadOnlyList<(string Id, string Name, string Says)> Lists { get; private set; } = [];

    public bool MayTakeAll => User.May(Policies.House);

    public void OnGet() =>
        Lists = [.. GiveOutLists.Known.Where(l => MayTakeAll || !GivenLists.ForLeads.Contains(l.Id))];
}
