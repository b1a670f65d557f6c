using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Sourcing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class ProposalModel(
    ProposeOrders propose,
    PlaceOrder orders,
    OrderShipment together,
    SetDaysOff daysOff,
    TimeProvider clock
) : RoomPage
{
    private const string Here = "/Stores/Proposal";

    public OrderProposals Proposed { get; private set; } = null!;

    /// <summary>The number asked for by itself; null when none was.</summary>
    public string? Number { get; private set; }

    public int Wanted { get; private set; } = 1;

    public IReadOnlyList<(Guid Supplier, ComparedBid Bid)> Asked { get; private set; } = [];

    public IReadOnlyList<KnownDaysOff> Calendars { get; private set; } = [];

    public DateOnly Today => clock.Today();

    /// <param name="quantity">How many are wanted of it, where the page before knows.</param>
    public async Task OnGet(string? number, int? quantity, CancellationToken stop)
    {
        Proposed = await propose.Run(stop);
        Calendars = await daysOff.Known(stop);
        if (!string.IsNullOrWhiteSpace(number))
        {
            (Number, Wanted) = (number.Trim(), Math.Clamp(quantity ?? 1, 1, 999));
            Asked = await propose.For(Number, stop);
        }
    }

    public Task<IActionResult> OnPost(
        Guid request,
        Guid supplier,
        string? number,
        string? freight,
        int quantity,
        CancellationToken stop
    ) => Say(orders.ForShelf(request, supplier, number ?? "", freight ?? "", quantity, User.Actor(), stop), Here);

    /// <param name="lines">Those that are ticked, each "key number".</param>
    public Task<IActionResult> OnPostTogether(
        Guid request,
        Guid supplier,
        string? freight,
        string[] lines,
        CancellationToken stop
    ) =>
        Say(
            together.Run(
                request,
                supplier,
                freight ?? "",
                [
                    .. lines
                        .Select(l => l.Split(' ', 2))
                        .Where(l => l.Length == 2)
                        .Select(l => (l[0], l[1]))
                        .Take(MostLines),
                ],
                User.Actor(),
                stop
            ),
            Here
        );

    /// <summary>By when it is ordered to leave as it says.</summary>
    public string InTime(Shipment shipment)
    {
        var hour = shipment.Before is { } before ? $" until {before:HH\\:mm}" : "";
        return shipment.LastDay > Today
            ? $"Order by {Show.Day(shipment.LastDay)}{hour} for this sailing: waiting until then for what else is needed costs nothing, as long as the supplier has it."
            : $"Order today{hour} for this sailing.";
    }

    /// <summary>Whether the sailing is let go for the next, and why.</summary>
    public static string Past(NextSailing next, Shipment shipment)
    {
        var waits = next.WaitsMore.Amount > 0 ? $"waiting longer costs {next.WaitsMore}" : "no machine waits longer";
        var pays =
            !next.Pays ? "does not pay"
            : shipment.Lines.Any(l => l.Line.Waits is null) ? "pays, if the shelf holds out"
            : "pays";
        return $"Letting it go for {Show.Day(next.Leaves)} {pays}: in {Show.Whole(100 * next.Chance)} of 100 cases something else is ordered there by then and goes along, {next.Saves} spared on the average; {waits}.";
    }

    /// <summary>"GBP 3.00 more, and machines wait GBP 2.00 less."</summary>
    public static string Difference(OtherShipment other) =>
        (other.Dearer.Amount, other.WaitsMore.Amount) switch
        {
            (0, var waits) => $"costs the same{Waits(waits)}",
            (> 0, var waits) => $"{other.Dearer} more{Waits(waits)}",
            (_, var waits) => $"{other.Dearer * -1} less{Waits(waits)}",
        };

    private static string Waits(decimal money) =>
        money switch
        {
            0 => "; no machine waits longer or less",
            > 0 =>
                $"; waiting longer costs {money.ToString("0.00", System.Globalization.CultureInfo.InvariantCulture)}",
            _ => $"; waiting less saves {(-money).ToString("0.00", System.Globalization.CultureInfo.InvariantCulture)}",
        };

    private const int MostLines = 200;

    public async Task<IActionResult> OnPostDaysOff(string? who, IFormFile? calendar, bool none, CancellationToken stop)
    {
        if (calendar is null && !none)
        {
            return Refused(
                new Refusal(RefusalReason.Invalid, "Choose a calendar file (.ics) first. Nothing was changed."),
                Here
            );
        }

        var text =
            none || calendar is null ? null : System.Text.Encoding.UTF8.GetString(await Uploads.Read(calendar, stop));
        return await Say(
            Guid.TryParse(who, out var supplier)
                ? daysOff.Run(supplier, text, User.Actor(), stop)
                : daysOff.ForCarrier(who ?? "", text, User.Actor(), stop),
            Here
        );
    }
}
