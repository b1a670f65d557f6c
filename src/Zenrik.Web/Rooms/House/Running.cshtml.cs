using Microsoft.AspNetCore.Authorization;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Operating;

namespace Zenrik.Web.Rooms.House;

/// <summary>How the program runs: who serves, on what database, what was backed up and cleared, what went wrong.</summary>
[Authorize(Policies.House)]
public sealed class RunningModel(ViewRunning running, ThisInstance me, TimeProvider clock) : RoomPage
{
    public Running View { get; private set; } = null!;

    public Guid Me => me.Id;

    public bool BackupIsOld => View.Backup?.IsOld(clock.GetUtcNow()) == true;

    /// <summary>True when the program that answers and another one are of different versions.</summary>
    public bool Mixed => View.Instances.Select(i => i.Version).Distinct().Skip(1).Any();

    /// <summary>From where on connections are about to run out.</summary>
    public bool Crowded => View.Database.Connections > 0.8 * View.Database.Most;

    public async Task OnGet(CancellationToken stop) => View = await running.Run(stop);
}
