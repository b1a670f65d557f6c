using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Reliability;
using Zenrik.Core.Stock;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class ItemModel(
    ViewStock stock,
    ProveStock prove,
    MoveItem move,
    TakeBackMovement takeBack,
    TimeProvider clock
) : RoomPage
{
    private const string Here = "/Stores/Item";

    public Item Item { get; private set; } = null!;

    /// <summary>Whom to ask for another before it goes, if it failed by itself; null: nobody.</summary>
    public UnderGuarantee? Guarantee => UnderGuarantee.Of(Item, RemovalCause.Wear, clock);

    public IReadOnlyList<MovementLine> Movements { get; private set; } = [];

    public ProofLine Proof { get; private set; } = null!;

    /// <summary>The one movement that can be taken back; null when there is none.</summary>
    public MovementLine? LastMovement =>
        Movements is [.., { From: not null } last]
        && last.Reason is not (MovementReason.Fitted or MovementReason.Removed)
            ? last
            : null;

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await stock.Item(LabelCode.Of(code), stop)).Try(out var found, out _))
        {
            return RedirectToPage("/Scan", new { code });
        }

        (Item, Movements) = found;
        Proof = await prove.OfItem(Item, stop);
        return Page();
    }

    public Task<IActionResult> OnPostMove(string code, Guid request, string? bin, CancellationToken stop) =>
        Say(move.ToBin(request, code, bin, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostReturn(string code, Guid request, string? bin, CancellationToken stop) =>
        Say(move.Return(request, code, bin, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostSetApart(string code, Guid request, string? why, CancellationToken stop) =>
        Say(move.SetApart(request, code, why, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostRelease(
        string code,
        Guid request,
        string? bin,
        string? why,
        CancellationToken stop
    ) => Say(move.Release(request, code, bin, why, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostScrap(string code, Guid request, string? why, CancellationToken stop) =>
        Say(move.Scrap(request, code, why, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostTakeBack(
        string code,
        Guid request,
        long movement,
        string? why,
        CancellationToken stop
    ) => Say(takeBack.Run(request, movement, why, User.Actor(), stop), Here, new { code });
}
