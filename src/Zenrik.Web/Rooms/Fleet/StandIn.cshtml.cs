using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.UnitStandIn;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Fleet;

/// <summary>The simulated unit: made from a passport, aged and broken as asked, it says what a real one would.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class StandInModel(PassportOf passports, HearUnit hear, TimeProvider clock) : RoomPage
{
    private const double UsualWh = 45;
    private const double DaysInMonth = 30.44;

    public string Tag { get; private set; } = "";

    public int Months { get; private set; }

    public IReadOnlySet<UnitFault> Faults { get; private set; } = new HashSet<UnitFault>();

    public SimulatedUnit Unit { get; private set; } = null!;

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
            battery?.Item?.Number.Specification?.EnergyWh ?? UsualWh,
            Months,
            Faults
        );
        return Page();
    }

    public async Task<IActionResult> OnPostSpeak(string tag, string? text, CancellationToken stop)
    {
        return (await hear.Either(tag, text, User.Actor(), stop)).Try(out var came, out var refusal)
            ? Did(came.Text, "/Fleet/Passport", new { tag })
            : Refused(refusal, "/Fleet/Passport", new { tag });
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
            ? new SimulatedPart(known, item.Number.Number, item.Serial, item.Number.Specification?.Gb ?? 0)
            : null;
    }
}
