using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Web.Rooms.House;

/// <summary>Who changed what, and when, with what stood there before and after.</summary>
[MayBeOld]
[Authorize(Policies.House)]
public sealed class AuditModel(ListAudit audit) : RoomPage
{
    [FromQuery(Name = "about")]
    public string? About { get; set; }

    [FromQuery(Name = "by")]
    public string? By { get; set; }

    public bool Narrowed => !string.IsNullOrWhiteSpace(About) || !string.IsNullOrWhiteSpace(By);

    public AuditView View { get; private set; } = new([], null);

    /// <param name="before">Only what is older than this line.</param>
    public async Task OnGet([FromQuery] long? before, CancellationToken stop) =>
        View = await audit.Run(About, By, before, stop);

    /// <summary>"LendUnit.Out" as words: "lend unit, out"; a plain "Run" says nothing.</summary>
    public static string Words(string act)
    {
        var (useCase, member) = act.Split('.', 2) is [var first, var second] ? (first, second) : (act, "");
        return member is "" or "Run" ? Split(useCase) : $"{Split(useCase)}, {Split(member)}";
    }

    /// <summary>"RepairLine" as words.</summary>
    public static string Split(string name) =>
        string.Concat(name.Select((c, i) => i > 0 && char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : $"{c}"))
            .ToLowerInvariant();
}
