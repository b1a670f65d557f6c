using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>The ways out of a repair, what each costs a month of use, and what would change the answer.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class DecideModel(DecideFor decide, RecordDecision record, RetireUnit retire) : RoomPage
{
    private const string Here = "/Counter/Decide";

    public DecisionView View { get; private set; } = null!;

    public CostChart? Chart { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number || !(await decide.Run(number, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        View = view;
        Chart = CostChart.Of(view);
        return Page();
    }

    public async Task<IActionResult> OnPostTake(string code, string? way, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await record.Run(number, way ?? "", User.Actor(), stop)).Try(out _, out var refusal)
            ? RedirectToPage("/Counter/Repair", new { code })
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostRetire(string code, bool donor, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number)
        {
            return NotFound();
        }

        var erased = ErasureForm.Read(Request.Form);
        return (await retire.Run(number, erased, donor, User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(done, "/Counter/Repair", new { code })
            : Refused(refusal, Here, new { code });
    }
}
