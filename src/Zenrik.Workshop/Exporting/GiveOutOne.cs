using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Exporting;

/// <summary>A unit with all that is known of it, to be read elsewhere.</summary>
public sealed record UnitPaper(
    string Tag,
    string Serial,
    string Maker,
    string Model,
    string Site,
    string? User,
    DateOnly Bought,
    DateOnly? WarrantyUntil,
    UnitState State,
    IReadOnlyList<SlotPaper> Inside,
    IReadOnlyList<BatteryPaper> Battery,
    IReadOnlyList<string> Repairs,
    IReadOnlyList<LinePaper> Timeline
);

/// <param name="Number">Null: nothing is recorded in it.</param>
public sealed record SlotPaper(
    string Slot,
    string Name,
    string? Number,
    string? Serial,
    DateTimeOffset? Since,
    string? Repair,
    MovementReason? Reason
);

/// <param name="Health">Full charge over design.</param>
public sealed record BatteryPaper(DateTimeOffset At, double Health, double? FullWh, double? DesignWh, int? Cycles);

public sealed record LinePaper(DateTimeOffset At, string What, string By, string? Repair);

/// <summary>A repair with all that was said and done, to be read elsewhere.</summary>
public sealed record RepairPaper(
    string Code,
    string Unit,
    RepairPurpose Purpose,
    RepairState State,
    RepairEnd? End,
    IReadOnlyList<string> Symptoms,
    IReadOnlyList<string> Circumstances,
    string? Fault,
    string? Note,
    string? Decided,
    DateOnly? PromisedOn,
    DateTimeOffset OpenedAt,
    string OpenedBy,
    DateTimeOffset? ClosedAt,
    string? ClosedBy,
    double? MinutesPlanned,
    double? MinutesTaken,
    string? Follows,
    string? Campaign,
    IReadOnlyList<ExchangePaper> Exchanged,
    IReadOnlyList<NotePaper> Notes,
    IReadOnlyList<LinePaper> Record
);

public sealed record ExchangePaper(
    string Slot,
    string Name,
    string Why,
    string? NumberOut,
    string? NumberIn,
    bool Surprise
);

public sealed record NotePaper(DateTimeOffset At, RepairNoteKind Kind, string Text, string By);

/// <summary>One passport or one repair as JSON.</summary>
public sealed class GiveOutOne(PassportOf passports, HistoryOf history, RepairOf repairs, RecordOf record)
{
    /// <summary>How papers are written: names and choices as everywhere else they leave the program.</summary>
    public static JsonSerializerOptions Json { get; } =
        new(JsonSerializerDefaults.Web)
        {
            WriteIndented = true,
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
        };

    public async Task<Outcome<UnitPaper>> Unit(string tag, CancellationToken stop = default)
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out var unknown))
        {
            return unknown;
        }

        var unit = passport.Unit;
        var known = await history.Run(unit.Id, stop);
        return new UnitPaper(
            unit.Tag,
            unit.Serial,
            unit.Model.Maker,
            unit.Model.Name,
            unit.Site,
            unit.UserName,
            unit.BoughtOn,
            unit.WarrantyUntil,
            unit.State,
            [
                .. passport.Slots.Select(s => new SlotPaper(
                    s.Slot,
                    s.Name,
                    s.Item?.Number.Number,
                    s.Item?.Serial,
                    s.Since,
                    s.RepairCode,
                    s.Reason
                )),
            ],
            [.. known.Readings.Select(r => new BatteryPaper(r.At, r.Health, r.FullWh, r.DesignWh, r.Cycles))],
            [.. passport.Repairs.Select(r => r.Code)],
            [.. known.Timeline.Select(l => new LinePaper(l.At, l.Text, l.By, l.RepairCode))]
        );
    }

    public async Task<Outcome<RepairPaper>> Repair(long number, CancellationToken stop = default)
    {
        if (!(await repairs.Run(number, stop)).Try(out var view, out var unknown))
        {
            return unknown;
        }

        var r = view.Repair;
        var lines = view.Bench is { } bench ? await record.Run(bench, stop) : [];
        return new RepairPaper(
            r.Code,
            r.Unit.Tag,
            r.Purpose,
            r.State,
            r.End,
            r.Symptoms,
            r.Circumstances,
            r.FaultId,
            r.Note,
            r.Decided,
            r.PromisedOn,
            r.OpenedAt,
            r.OpenedBy.Name,
            r.ClosedAt,
            r.ClosedBy?.Name,
            r.MinutesPlanned,
            r.MinutesTaken,
            r.Follows?.Code,
            r.Campaign,
            [
                .. r.Lines.Select(l => new ExchangePaper(
                    l.Slot,
                    l.AssemblyName,
                    l.Fault,
                    l.NumberOut,
                    l.NumberIn,
                    l.Surprise
                )),
            ],
            [.. r.Notes.Select(n => new NotePaper(n.At, n.Kind, n.Text, n.By.Name))],
            [.. lines.Where(l => !l.TakenBack).Select(l => new LinePaper(l.At, $"{l.Title}: {l.Said}", l.By, null))]
        );
    }
}
