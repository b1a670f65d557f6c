using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Preparing;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Scheduling;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Counter;

[PostingNeeds(Policies.Bench)]
public sealed class IndexModel(
    ViewCounter counter,
    ViewStock stock,
    PutRight putRight,
    ViewBeginning beginning,
    ViewCalendar calendar,
    TimeProvider clock
) : RoomPage
{
    private const int LowMost = 6;

    public CounterView View { get; private set; } = null!;

    /// <summary>Numbers of which fewer are free or coming than the shelf should have, the emptiest first.</summary>
    public IReadOnlyList<StockLine> Low { get; private set; } = [];

    /// <summary>Repairs that will not be done by the day they are promised for, as the calendar stands; empty where nobody has hours.</summary>
    public IReadOnlyList<CalendarJob> AtRisk { get; private set; } = [];

    public DateOnly Today => clock.Today();

    /// <summary>True while no unit was ever entered.</summary>
    public bool IsEmpty { get; private set; }

    public async Task OnGet(CancellationToken stop)
    {
        View = await counter.Run(stop);
        // Where a repair is open there is a unit.
        IsEmpty =
            View.Ready.Count + View.Waiting.Count + View.OnBench.Count + View.Finding.Count + View.Stopped.Count == 0
            && await beginning.IsEmpty(stop);
        AtRisk = await calendar.AtRisk(View, stop);
        var (low, _) = await stock.Run(new StockQuery(BelowLevel: true), stop);
        Low = [.. low.OrderBy(s => s.Free).Take(LowMost)];
    }

    public async Task<IActionResult> OnPostPutRight(Guid id, string? how, CancellationToken stop) =>
        (await putRight.Run(id, how, User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(done, "/Counter/Index")
            : Refused(refusal, "/Counter/Index");

    public int Days(Repair repair) => (int)(clock.GetUtcNow() - repair.OpenedAt).TotalDays;
}
