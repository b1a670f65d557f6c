using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class TakeInModel(ViewOrders orders, ReceiveOrder receive) : RoomPage
{
    public PartOrder Order { get; private set; } = null!;

    public Guid RequestId { get; private set; } = Guid.CreateVersion7();

    public string? Printed { get; private set; }

    public string? Serials { get; private set; }

    public string? Bin { get; private set; }

    public string? Batch { get; private set; }

    public string? Landed { get; private set; }

    public int? Quantity { get; private set; }

    public Refusal? Refusal { get; private set; }

    public async Task<IActionResult> OnGet(Guid id, string? number, CancellationToken stop)
    {
        if (!(await orders.One(id, stop)).Try(out var order, out var missing))
        {
            return Refused(missing, "/Stores/Receive");
        }

        (Order, Printed) = (order, number);
        return Page();
    }

    public async Task<IActionResult> OnPost(
        Guid id,
        Guid request,
        string? printed,
        string? serials,
        int? quantity,
        string? bin,
        string? batch,
        string? landed,
        CancellationToken stop
    )
    {
        (RequestId, Printed, Serials, Quantity, Bin, Batch, Landed) = (
            request,
            printed,
            serials,
            quantity,
            bin,
            batch,
            landed
        );
        var outcome = !Amount(landed).Try(out var cost, out var unreadable)
            ? unreadable
            : await receive.Run(
                request,
                id,
                new Delivery(
                    printed,
                    bin,
                    quantity ?? 0,
                    (serials ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries),
                    batch,
                    cost
                ),
                User.Actor(),
                stop
            );
        if (outcome.Try(out var said, out var refusal))
        {
            return Did(said, "/Stores/Receive");
        }

        if (!(await orders.One(id, stop)).Try(out var order, out var missing))
        {
            return Refused(missing, "/Stores/Receive");
        }

        (Order, Refusal) = (order, refusal);
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    private static Outcome<decimal?> Amount(string? typed) =>
        string.IsNullOrWhiteSpace(typed) ? (decimal?)null
        : decimal.TryParse(typed.Trim(), NumberStyles.Number, CultureInfo.InvariantCulture, out var amount) ? amount
        : new Refusal(RefusalReason.Invalid, $"“{typed.Trim()}” is no amount. Write it like 121.20.");
}
