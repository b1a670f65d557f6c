using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>All offers for a line of a repair, side by side.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class OffersModel(OffersFor offers, ShipmentFor shipments, PlaceOrder orders) : RoomPage
{
    public OffersView View { get; private set; } = null!;

    public ShipmentView? Shared { get; private set; }

    public FitAnswer? FitOf(string number) =>
        View.Numbers.FirstOrDefault(n => n.Number.Canonical == PartNumber.Canonicalise(number))?.Answer;

    /// <summary>When the supplier was asked: what it had then, it need not have now.</summary>
    public DateTimeOffset? AskedAt(Offer offer) => View.Stored.FirstOrDefault(s => s.Offer == offer)?.FetchedAt;

    public Guid? SupplierOf(Offer offer) => View.Stored.FirstOrDefault(s => s.Offer == offer)?.SupplierId;

    public async Task<IActionResult> OnGet(string code, string slot, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number || !(await offers.Run(number, slot, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        View = view;
        Shared = await shipments.Run(view, stop);
        return Page();
    }

    public async Task<IActionResult> OnPostOrder(
        string code,
        string slot,
        Guid request,
        Guid supplier,
        string? number,
        string? freight,
        CancellationToken stop
    ) =>
        Repair.NumberOf(code) is not { } repair ? NotFound()
        : (await orders.Run(repair, slot, request, supplier, number ?? "", freight ?? "", User.Actor(), stop)).Try(
            out var done,
            out var refusal
        )
            ? Did(done, "/Counter/Repair", new { code })
        : Refused(refusal, "/Counter/Offers", new { code, slot });
}
