using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;

namespace Zenrik.Web.Rooms.Prints;

/// <summary>QR labels (ISO/IEC 18004) for units, items and bins, on label sheets at true scale.</summary>
public sealed class LabelsModel(LabelsFor labels, ListUnits units) : RoomPage
{
    public string Kind { get; private set; } = "unit";

    public LabelSheet Sheet { get; private set; } = LabelSheet.All[1];

    public int Used { get; private set; }

    public IReadOnlyList<PrintedLabel> Labels { get; private set; } = [];

    /// <summary>Codes asked for that name nothing.</summary>
    public string? Missing { get; private set; }

    [BindProperty(SupportsGet = true, Name = "")]
    public UnitQuery Query { get; set; } = new();

    public Task<IActionResult> OnGet(string? kind, string? codes, string? sheet, int? used, CancellationToken stop) =>
        Lay(kind, (codes ?? "").Split(','), sheet, used, stop);

    /// <summary>The same for more codes than an address holds: those ticked in a list, or all it shows.</summary>
    public async Task<IActionResult> OnPost(
        string? kind,
        string? codes,
        [FromForm] string[] tags,
        bool all,
        string? sheet,
        int? used,
        CancellationToken stop
    ) =>
        await Lay(
            kind,
            codes is not null ? codes.Split(',')
                : all ? [.. await units.Tags(Query, stop)]
                : tags,
            sheet,
            used,
            stop
        );

    private async Task<IActionResult> Lay(
        string? kind,
        IReadOnlyList<string> codes,
        string? sheet,
        int? used,
        CancellationToken stop
    )
    {
        Kind = kind is "item" or "bin" ? kind : "unit";
        Sheet = LabelSheet.Find(sheet) ?? Sheet;
        Used = Math.Clamp(used ?? 0, 0, Sheet.Count - 1);
        var wanted = codes.Select(LabelCode.Of).Where(c => c.Length > 0).Distinct().ToList();
        Labels = await labels.Run(Kind, wanted, stop);
        var missing = wanted.Except(Labels.Select(l => l.Code)).ToList();
        Missing =
            missing.Count == 0 ? null
            : missing.Count == 1 ? $"Nothing is called {missing[0]}."
            : $"{missing.Count} codes name nothing, {missing[0]} among them.";
        return Page();
    }
}
