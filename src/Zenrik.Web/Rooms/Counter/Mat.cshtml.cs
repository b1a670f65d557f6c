using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Rooms.Prints;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>The mat of a repair's plan.</summary>
public sealed class MatModel(RepairOf repairs) : RoomPage
{
    public RepairView View { get; private set; } = null!;

    public MatSheet Sheet =>
        new($"{View.Repair.Unit.Tag} · {View.Repair.Code}", GoalsInWords.Of(View.Plan!), View.Plan!);

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (
            Repair.NumberOf(code) is not { } number
            || !(await repairs.Run(number, stop)).Try(out var view, out _)
            || view.Plan is null
        )
        {
            return NotFound();
        }

        View = view;
        return Page();
    }
}
