using Microsoft.AspNetCore.Mvc;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>The sheet that lies with a unit: what is to be done, with which parts, and its code to scan.</summary>
public sealed class SheetModel(RepairOf repairs) : RoomPage
{
    public RepairView View { get; private set; } = null!;

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
