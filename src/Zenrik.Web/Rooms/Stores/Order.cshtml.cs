using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Mailing;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class OrderModel(ViewOrders orders, PlaceOrder place, SetFigures figures, Post post) : RoomPage
{
    private const string Here = "/Stores/Order";

    public PartOrder Order { get; private set; } = null!;

    /// <summary>The order in words.</summary>
    public string Text { get; private set; } = "";

    /// <summary>Opens the order in whoever's mail program it is; null where orders do not go by mail.</summary>
    public string? Mail =>
        Post.IsAddress(Order.Supplier.OrderTo)
            ? $"mailto:{Uri.EscapeDataString(Order.Supplier.OrderTo!)}?subject={Uri.EscapeDataString($"Order of {Order.Number}")}&body={Uri.EscapeDataString(Text)}"
            : null;

    /// <summary>True where the workshop's own mail server can send it, and nobody has yet.</summary>
    public bool CanSend => post.IsOn && Mail is not null && Order is { State: OrderState.Ordered, Acknowledged: null };

    public async Task<IActionResult> OnGet(Guid id, CancellationToken stop)
    {
        if (!(await orders.One(id, stop)).Try(out var order, out var missing))
        {
            return Refused(missing, "/Stores/Receive");
        }

        Order = order;
        Text = OrderText.Of(order, (await figures.Read(stop)).Organisation);
        return Page();
    }

    public Task<IActionResult> OnPostSent(Guid id, string? reference, DateOnly? expected, CancellationToken stop) =>
        Say(place.Sent(id, reference, expected, User.Actor(), stop), Here, new { id });

    public async Task<IActionResult> OnPostMail(Guid id, CancellationToken stop)
    {
        if (!(await orders.One(id, stop)).Try(out var order, out var missing))
        {
            return Refused(missing, "/Stores/Receive");
        }

        var text = OrderText.Of(order, (await figures.Read(stop)).Organisation);
        return await Say(place.Mail(id, text, User.Actor(), stop), Here, new { id });
    }

    public Task<IActionResult> OnPostCancel(Guid id, string? why, CancellationToken stop) =>
        Say(place.Cancel(id, why, User.Actor(), stop), Here, new { id });

    public Task<IActionResult> OnPostSettle(Guid id, bool refunded, string? why, CancellationToken stop) =>
        Say(place.SettleWrong(id, refunded, why, User.Actor(), stop), Here, new { id });
}
