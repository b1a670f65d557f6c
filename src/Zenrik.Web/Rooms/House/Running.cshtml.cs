using Microsoft.AspNetCore.Authorization;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Operating;
using Zenrik.Workshop.Preparing;

namespace Zenrik.Web.Rooms.House;

/// <summary>How the program runs: who serves, on what database, what was backed up and cleared, what went wrong.</summary>
[Authorize(Policies.House)]
public sealed class RunningModel(ViewRunning running, ThisInstance me, TimeProvider clock) : RoomPage
{
    public Running View { get; private set; } = null!;

    public Guid Me => me.Id;

    public bool BackupIsOld =>
        View.Backup is not { } last || clock.GetUtcNow() - last.At > TimeSpan.FromDays(Beginning.BackupDays);

    /// <summary>True when the program that answers and another one are of different versions.</summary>
    public bool Mixed => View.Instances.Select(i => i.Version).Distinct().Skip(1).Any();

    /// <summary>From where on connections are about to run out.</summary>
    public bool Crowded => View.Database.Connections > 0.8 * View.Database.Most;

    public async Task OnGet(CancellationToken stop) => View = await running.Run(stop);

    /// <summary>"2.4 GB".</summary>
    public static string Bytes(long bytes) =>
        bytes switch
        {
            >= 1L << 30 => FormattableString.Invariant($"{bytes / (double)(1L << 30):0.0}\u00a0GB"),
            >= 1L << 20 => FormattableString.Invariant($"{bytes / (double)(1L << 20):0.0}\u00a0MB"),
            _ => FormattableString.Invariant($"{bytes / 1024.0:0}\u00a0kB"),
        };
}
