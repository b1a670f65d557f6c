using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Triage;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>One page for whoever uses the machine: what was found and done, what to look out for. No numbers, no names of parts they cannot see.</summary>
public sealed class ForUserModel(RepairOf repairs, SetFigures figures) : RoomPage
{
    /// <summary>Slots whose exchange takes what was stored, or what the machine was set to, with it.</summary>
    private static readonly string[] HoldsData = ["drive", "storage", "bay-drive"];

    private static readonly string[] HoldsSettings = ["board", "coin-cell"];

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

    /// <summary>What was exchanged, or how it ended without a part.</summary>
    public IReadOnlyList<string> Done =>
        Exchanged.Count > 0
            ? [.. Exchanged.Select(l => $"The {l.AssemblyName} was exchanged.")]
            :
            [
                View.Repair.End is { } end
                    ? $"{Show.Capital(EndTriage.Words(end))}."
                    : "It was opened, looked at and put back together.",
            ];

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

    public string Data =>
        Touches(HoldsData)
            ? "What was stored on the machine was on the part that was exchanged. Sign in and look whether your files are there; what was not backed up elsewhere is gone. The old part is erased or destroyed by the house's rules."
        : Touches(HoldsSettings)
            ? "Your files were not touched. The machine may ask for its recovery key or for the time when it first starts; the workshop has noted both."
        : "Nothing that is stored on the machine was touched.";

    /// <summary>What is not as it should be, and what to do when something is.</summary>
    public IReadOnlyList<string> LookOut =>
        [
            .. (View.Bench?.Ledger.StopGaps ?? []).Select(g => $"Not yet as it should be: {g.What}. {g.Reason}"),
            .. Touches(["battery"])
                ? [$"The battery was exchanged on {Show.Date(View.Repair.ClosedAt!.Value)}. It needs no breaking in."]
                : Array.Empty<string>(),
            .. View.Repair.End is RepairEnd.NoFaultFound
                ?
                [
                    "The fault did not show here. If it comes back, write down when and what you were doing, and leave it switched on if that is safe.",
                ]
                : Array.Empty<string>(),
            "If it becomes hot, swells, smells or smokes: switch it off, unplug it, leave it lying on something that does not burn and tell the workshop at once.",
            "If what was wrong comes back within a month, bring it in again with this sheet.",
        ];

    private IReadOnlyList<RepairLine> Exchanged =>
        [.. View.Lines.Select(l => l.Line).Where(l => l.NumberIn is not null).OrderBy(l => l.Position)];

    private bool Touches(string[] stems) =>
        Exchanged.Any(l => stems.Any(s => l.Slot == s || l.Slot.StartsWith($"{s}-", StringComparison.Ordinal)));
}
