using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>One page for whoever uses the machine: what was found and done, what to look out for. No numbers, no names of parts they cannot see.</summary>
public sealed class ForUserModel(RepairOf repairs, SetFigures figures) : RoomPage
{
    public RepairView View { get; private set; } = null!;

    public string? Organisation { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (
            Repair.NumberOf(code) is not { } number
            || !(await repairs.Run(number, stop)).Try(out var view, out _)
            || view.Repair.State != RepairState.Closed
        )
        {
            return NotFound();
        }

        (View, Organisation) = (view, (await figures.Read(stop)).Organisation);
        return Page();
    }

    public UserSheet Sheet =>
        new(
            [
                .. View
                    .Lines.Select(l => l.Line)
                    .Where(l => l.NumberIn is not null)
                    .OrderBy(l => l.Position)
                    .Select(l => new ExchangedPart(
                        l.Slot,
                        l.AssemblyName,
                        View.Bench?.Session.VacantSlots.Contains(l.Slot) == true
                    )),
            ],
            View.Repair.End,
            [.. (View.Bench?.Ledger.StopGaps ?? []).Select(g => (g.What, g.Reason))],
            Show.Date(View.Repair.ClosedAt!.Value),
            View.Repair.Purpose
        );

    /// <summary>What was tried and works.</summary>
    public IReadOnlyList<string> Checked =>
        View is not { Plan: { } plan, Bench.Ledger: { } ledger }
            ? []
            :
            [
                .. plan
                    .Steps.Where(s => s.Act.Kind == ActKind.Check && !ledger.Left.Any(l => l.Step == s.Number))
                    .Select(s => s.Title),
            ];
}
