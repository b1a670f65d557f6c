using Microsoft.AspNetCore.Mvc;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

public sealed class ReceiveModel(ViewOrders orders, TimeProvider clock) : RoomPage
{
    public string? Number { get; private set; }

    public IReadOnlyList<PartOrder> Orders { get; private set; } = [];

    public DateOnly Today => clock.Today();

    public async Task<IActionResult> OnGet(string? number, CancellationToken stop)
    {
        Number = string.IsNullOrWhiteSpace(number) ? null : number.Trim();
        Orders = await orders.Coming(Number, stop);
        // One order can be meant: straight to it, the number filled in.
        return Number is not null && Orders is [{ State: OrderState.Ordered } only]
            ? RedirectToPage("/Stores/TakeIn", new { id = only.Id, number = Number })
            : Page();
    }
}
