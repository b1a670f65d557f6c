using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Stores;

[MayBeOld]
[PostingNeeds(Policies.Counter)]
public sealed class IndexModel(ViewStock stock, ViewBin bins, ViewOrders orders, IssueItem issue, AddBin addBin)
    : RoomPage
{
    private const string Here = "/Stores/Index";

    [BindProperty(SupportsGet = true, Name = "")]
    public StockQuery Query { get; set; } = new();

    public IReadOnlyList<StockLine> Lines { get; private set; } = [];

    public bool More { get; private set; }

    public IReadOnlyList<BinLine> Bins { get; private set; } = [];

    /// <summary>The shelves as they stand; null where there are none, or more than a picture bears.</summary>
    public ShelfWall? Shelves { get; private set; }

    public IReadOnlyList<(string Code, int Parts)> ToHandOut { get; private set; } = [];

    public IReadOnlyList<(Item Item, string? Repair)> ToPutBack { get; private set; } = [];

    public int Coming { get; private set; }

    public async Task<IActionResult> OnGet(CancellationToken stop)
    {
        (Lines, More) = await stock.Run(Query, stop);
        Bins = await bins.All(stop);
        var isSearch = Query with { Page = 0 } != new StockQuery();
        Shelves = ShelfWall.Of(Bins, isSearch ? Lines.SelectMany(l => l.Bins).ToHashSet() : null);
        if (Request.IsFragment())
        {
            return Partial("_Stock", this);
        }

        ToHandOut = await stock.ToHandOut(stop);
        ToPutBack = await stock.ToPutBack(stop);
        Coming = (await orders.Coming(stop: stop)).Count;
        return Page();
    }

    public Task<IActionResult> OnPostBin(string? bin, CancellationToken stop) =>
        Say(addBin.Shelf(bin, User.Actor(), stop), Here);

    public Task<IActionResult> OnPostSpare(Guid request, string? number, string? to, CancellationToken stop) =>
        Say(issue.Spare(request, number, to, User.Actor(), stop), Here);
}
