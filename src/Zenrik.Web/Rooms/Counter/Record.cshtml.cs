using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>What was done in a repair, to print.</summary>
public sealed class RecordModel(RepairOf repairs, RecordOf record) : PageModel
{
    public RepairView View { get; private set; } = null!;

    public IReadOnlyList<RecordLine> Lines { get; private set; } = [];

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (
            Repair.NumberOf(code) is not { } number
            || !(await repairs.Run(number, stop)).Try(out var view, out _)
            || view.Bench is not { } bench
        )
        {
            return NotFound();
        }

        (View, Lines) = (view, await record.Run(bench, stop));
        return Page();
    }
}
