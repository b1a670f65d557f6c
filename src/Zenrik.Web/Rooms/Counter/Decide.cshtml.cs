using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Repairs;

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

    /// <param name="slots">Slots with storage; the lists beside it run alongside.</param>
    /// <param name="silent">Slots whose storage does not answer.</param>
    public async Task<IActionResult> OnPostRetire(
        string code,
        [FromForm] string[] slots,
        [FromForm] DataHeld[] held,
        [FromForm] string[] methods,
        [FromForm] string[] silent,
        bool donor,
        CancellationToken stop
    )
    {
        if (Repair.NumberOf(code) is not { } number)
        {
            return NotFound();
        }

        var erased = new List<Erased>();
        foreach (var (i, slot) in slots.Index())
        {
            if (i < held.Length && i < methods.Length && Enum.TryParse<ErasureMethod>(methods[i], out var method))
            {
                erased.Add(new Erased(slot, held[i], method, !silent.Contains(slot)));
            }
        }

        return (await retire.Run(number, erased, donor, User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(done, "/Counter/Repair", new { code })
            : Refused(refusal, Here, new { code });
    }
}
