using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class ProposalModel(ProposeOrders propose, PlaceOrder orders) : RoomPage
{
    public IReadOnlyList<OrderProposal> Proposals { get; private set; } = [];

    public IReadOnlyList<string> Notes { get; private set; } = [];

    public async Task OnGet(CancellationToken stop) => (Proposals, Notes) = await propose.Run(stop);

    public Task<IActionResult> OnPost(
        Guid request,
        Guid supplier,
        string number,
        string freight,
        int quantity,
        CancellationToken stop
    ) => Say(orders.ForShelf(request, supplier, number, freight, quantity, User.Actor(), stop), "/Stores/Proposal");
}
