using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms;

/// <summary>Where the scan line leads.</summary>
public sealed class ScanModel(ResolveCode resolve, ListUnits units, ListHistory history, ViewStock stock) : PageModel
{
    public string Code { get; private set; } = "";

    public IReadOnlyList<string> Nearest { get; private set; } = [];

    /// <summary>Why a label's whole code could not be read; null: it was none, or it could.</summary>
    public Refusal? Unreadable { get; private set; }

    /// <summary>Shown of each kind of thing that what was typed is part of.</summary>
    private const int MostOfEach = 8;

    /// <summary>Fewer characters are part of nearly everything.</summary>
    private const int LeastTyped = 2;

    public UnitPage Units { get; private set; } = new([], 0, false);

    public IReadOnlyList<Repair> Repairs { get; private set; } = [];

    public IReadOnlyList<StockLine> Numbers { get; private set; } = [];

    /// <summary>True when what was typed is part of something.</summary>
    public bool Found => Units.Rows.Count + Repairs.Count + Numbers.Count > 0;

    /// <summary>
    /// What a code stands for, in one word: at a bench a part number, or what nobody knows, belongs to the act that asks
    /// for one; anything else leads where it names.
    /// </summary>
    public async Task<IActionResult> OnGetKind(string? code, CancellationToken stop) =>
        Content(
            Badges.IsBadge(code) ? "badge"
            : SaysNumber(code) ? "number"
            : (await resolve.Run(code, stop)).GetType().Name.ToLowerInvariant()
        );

    /// <param name="code">What was typed or scanned.</param>
    /// <param name="bench">The repair on the bench the scan line stood on; a part number belongs to its act.</param>
    public async Task<IActionResult> OnGet(string? code, string? bench, CancellationToken stop)
    {
        if (Badges.IsBadge(code))
        {
            // Not in an address: half of what opens is on the badge.
            TempData["Badge"] = code;
            return RedirectToPage("/SignIn/Badge");
        }

        if (bench is not null && SaysNumber(code))
        {
            return RedirectToPage("/Bench/Session", new { code = bench, number = code!.Trim() });
        }

        var found = await resolve.Run(code, stop);
        switch (found)
        {
            case Resolved.Unit unit:
                return RedirectToPage("/Fleet/Passport", new { tag = unit.Tag });
            case Resolved.Repair repair:
                return RedirectToPage("/Counter/Repair", new { code = repair.Code });
            case Resolved.Number
            or Resolved.Item
            or Resolved.Unknown when bench is not null && !string.IsNullOrWhiteSpace(code):
                return RedirectToPage("/Bench/Session", new { code = bench, number = code.Trim() });
            case Resolved.Item item:
                return RedirectToPage("/Stores/Item", new { code = item.Code });
            case Resolved.Number number:
                return RedirectToPage("/Stores/Number", new { number = number.Text });
            case Resolved.Bin bin:
                return RedirectToPage("/Stores/Bin", new { code = bin.Code });
            case Resolved.Unknown unknown:
                (Code, Nearest) = (unknown.Code, unknown.Nearest);
                Unreadable = ScannedLabel.Read(code ?? "").Refusal;
                await Search(code?.Trim() ?? "", stop);
                Response.StatusCode = Found ? StatusCodes.Status200OK : StatusCodes.Status404NotFound;
                return Page();
            default:
                throw new InvalidOperationException($"the scan line knows no way to {found}");
        }
    }

    /// <summary>True for a part's whole label: at a bench it answers for the part, whichever item of the book it is.</summary>
    private static bool SaysNumber(string? code) =>
        ScannedLabel.Read(code ?? "").Try(out var label, out _) && label?.Number is not null;

    /// <summary>Looks what the words are part of: a tag, a serial, somebody's name, a site, a number, what was wrong.</summary>
    private async Task Search(string words, CancellationToken stop)
    {
        if (words.Length is < LeastTyped or > PartNumber.MaxLength)
        {
            return;
        }

        Units = await units.Run(new UnitQuery(words), stop);
        Repairs = [.. (await history.Run(new HistoryQuery(words), stop)).Repairs.Take(MostOfEach)];
        Numbers = [.. (await stock.Run(new StockQuery(words), stop)).Lines.Take(MostOfEach)];
        Units = Units with { Rows = [.. Units.Rows.Take(MostOfEach)] };
    }
}
