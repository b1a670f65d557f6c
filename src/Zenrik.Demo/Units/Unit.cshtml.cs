using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Demo.Units;

/// <summary>The simulated unit: made from a passport, aged and broken as asked, it says what a real one would.</summary>
public sealed class UnitModel(PassportOf passports, HearUnit hear, WorkshopDb db, Product product, TimeProvider clock)
    : PageModel
{
    private const double UsualWh = 45;
    private const double DaysInMonth = 30.44;
    private const string Carrier = "aled";

    public string Tag { get; private set; } = "";

    public int Months { get; private set; }

    public IReadOnlySet<UnitFault> Faults { get; private set; } = new HashSet<UnitFault>();

    public SimulatedUnit Unit { get; private set; } = null!;

    /// <summary>Its page in the product.</summary>
    public Uri Passport => new(product.Address, $"fleet/{Tag}");

    /// <summary>What came of what it said; null when nothing did or nothing was said.</summary>
    public string? Heard { get; private set; }

    /// <summary>Why what it said was not taken; null when it was or nothing was said.</summary>
    public string? Refusal { get; private set; }

    public static string Name(UnitFault fault) =>
        fault switch
        {
            UnitFault.MemoryDead => "memory not seen",
            UnitFault.DriveDead => "drive not seen",
            UnitFault.GaugeMad => "battery gauge mad",
            UnitFault.MemorySwapped => "memory swapped by somebody",
            _ => "list cut short",
        };

    public async Task<IActionResult> OnGet(
        string tag,
        int? months,
        [FromQuery] UnitFault[] faults,
        CancellationToken stop
    )
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return NotFound();
        }

        Tag = passport.Unit.Tag;
        Faults = faults.ToHashSet();
        var battery = passport.Slots.FirstOrDefault(s => s.Slot.StartsWith("battery", StringComparison.Ordinal));
        var since = battery?.Since ?? new DateTimeOffset(passport.Unit.BoughtOn, TimeOnly.MinValue, TimeSpan.Zero);
        Months = Math.Clamp(months ?? (int)((clock.GetUtcNow() - since).TotalDays / DaysInMonth), 0, 120);
        Unit = new SimulatedUnit(
            passport.Unit.Model.Name,
            passport.Unit.Serial,
            [.. passport.Slots.Select(Part).OfType<SimulatedPart>()],
            (battery?.Item?.Number.Specification as ItemSpecification.Battery)?.EnergyWh ?? UsualWh,
            Months,
            Faults
        );
        return Page();
    }

    /// <summary>Says it in the name of somebody of the demo who carried the text over.</summary>
    public async Task<IActionResult> OnPost(string tag, string? text, CancellationToken stop)
    {
        var by = await db.Users.Where(u => u.UserName == Carrier).Select(u => new Actor(u.Id, u.Name)).FirstAsync(stop);
        var heard = await hear.Either(tag, text, by, stop);
        var shown = await OnGet(tag, null, [], stop);
        (Heard, Refusal) = (heard.Try(out var came, out _) ? came.Text : null, heard.Refusal?.Message);
        return shown;
    }

    private static SimulatedPart? Part(PassportSlot slot)
    {
        PartKind? kind = HardwareCheck.KindOf(slot.Slot) switch
        {
            ItemKind.Memory => PartKind.Memory,
            ItemKind.Drive => PartKind.Drive,
            ItemKind.Radio => PartKind.Radio,
            ItemKind.Board => PartKind.Board,
            ItemKind.Battery => PartKind.Battery,
            _ => null,
        };
        return kind is { } known && slot.Item is { } item
            ? new SimulatedPart(known, item.Number.Number, item.Serial, item.Number.Specification?.Holds ?? 0)
            : null;
    }
}
