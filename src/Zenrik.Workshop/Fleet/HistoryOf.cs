using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fleet;

/// <summary>One line of a unit's timeline.</summary>
/// <param name="Text">What changed.</param>
/// <param name="RepairCode">The repair it happened in.</param>
public sealed record TimelineLine(DateTimeOffset At, string Text, string By, string? RepairCode);

/// <summary>What a unit has cost since it was bought, in the workshop's currency.</summary>
/// <param name="Parts">Landed cost of everything fitted, as far as it is known.</param>
/// <param name="Unpriced">Fitted parts nobody entered a cost for.</param>
/// <param name="Minutes">Hands-on minutes of its closed repairs.</param>
public sealed record CostSoFar(decimal Parts, int Unpriced, double Minutes, decimal Labour, string Currency)
{
    public decimal Total => Parts + Labour;
}

/// <param name="Readings">The battery's, oldest first.</param>
/// <param name="Questions">What the machine said that nobody has decided yet.</param>
/// <param name="Loan">Who has it now; null when nobody.</param>
/// <param name="Waivers">What was signed for in its repairs, newest first, of numbers that sit in it now.</param>
public sealed record UnitHistory(
    IReadOnlyList<TimelineLine> Timeline,
    IReadOnlyList<BatteryRecord> Readings,
    CostSoFar Cost,
    IReadOnlyList<UnitQuestion> Questions,
    Loan? Loan,
    IReadOnlyList<Waiver> Waivers
);

/// <summary>Everything that happened to a unit.</summary>
public sealed class HistoryOf(WorkshopDb db)
{
    /// <summary>Lines of the timeline that are sent; older ones are in the repairs and items themselves.</summary>
    public const int MostLines = 120;

    private const int MostReadings = 60;

    public async Task<UnitHistory> Run(UnitId unit, CancellationToken stop = default)
    {
        var events = db
            .UnitEvents.AsNoTracking()
            .Where(e => e.UnitId == unit)
            .OrderByDescending(e => e.Id)
            .Take(MostLines)
            .Select(e => new
            {
                e.Id,
                e.At,
                Text = (string?)e.Text,
                In = false,
                Slot = (string?)null,
                Code = "",
                Number = "",
                Reason = (MovementReason?)null,
                By = e.By.Name,
                Repair = e.Repair == null ? null : (long?)e.Repair.Number,
            });
        var moves = db
            .Movements.AsNoTracking()
            .Where(m => (m.ToUnitId == unit || m.FromUnitId == unit) && m.Reason != MovementReason.AsBuilt)
            .OrderByDescending(m => m.Id)
            .Take(MostLines)
            .Select(m => new
            {
                m.Id,
                m.At,
                Text = (string?)null,
                In = m.ToUnitId == unit,
                Slot = m.ToUnitId == unit ? m.ToSlot : m.FromSlot,
                m.Item!.Code,
                Number = m.Item.Number.Number,
                Reason = (MovementReason?)m.Reason,
                By = m.By.Name,
                Repair = m.Repair == null ? null : (long?)m.Repair.Number,
            });
        var lines = await moves.Concat(events).ToListAsync(stop);
        var fitted = db.Movements.Where(m => m.ToUnitId == unit && m.Reason == MovementReason.Fitted);
        var figures = await db.Figures(stop);
        // One statement: of the rest there are few rows, and each of its own would take longer to send than to answer.
        var rest = await db
            .Units.AsNoTracking()
            .Where(u => u.Id == unit)
            .Select(u => new
            {
                Parts = fitted.Sum(m => m.Item!.Cost) ?? 0,
                Unpriced = fitted.Count(m => m.Item!.Cost == null),
                Minutes = db.Repairs.Where(r => r.UnitId == u.Id).Sum(r => r.MinutesTaken) ?? 0,
                Readings = db
                    .BatteryReadings.Where(r => r.UnitId == u.Id)
                    .OrderByDescending(r => r.At)
                    .Take(MostReadings)
                    .ToList(),
                Questions = db
                    .UnitQuestions.Where(q => q.UnitId == u.Id && q.DecidedAt == null)
                    .OrderBy(q => q.At)
                    .ToList(),
                Loan = db.Loans.Include(l => l.Repair).FirstOrDefault(l => l.UnitId == u.Id && l.BackAt == null),
                Waivers = db
                    .Waivers.Include(w => w.By)
                    .Where(w =>
                        db.Repairs.Any(r => r.Id == w.RepairId && r.UnitId == u.Id)
                        && db.Items.Any(i => i.UnitId == u.Id && i.Slot == w.Slot && i.Number.Number == w.Number)
                    )
                    .OrderByDescending(w => w.At)
                    .ToList(),
            })
            .SingleAsync(stop);
        rest.Readings.Reverse();
        return new UnitHistory(
            [
                .. lines
                    .OrderByDescending(l => l.At)
                    .ThenBy(l => l.Text is null)
                    .ThenByDescending(l => l.Id)
                    .Take(MostLines)
                    .Select(l => new TimelineLine(
                        l.At,
                        l.Text ?? $"{(l.In ? "In" : "Out")}: {l.Number} ({l.Code}), {l.Slot}{Why(l.Reason)}",
                        l.By,
                        l.Repair is { } number ? Repair.CodeOf(number) : null
                    )),
            ],
            rest.Readings,
            new CostSoFar(
                rest.Parts,
                rest.Unpriced,
                rest.Minutes,
                decimal.Round((decimal)rest.Minutes / 60 * figures.LabourPerHour, 2),
                figures.Currency
            ),
            rest.Questions,
            rest.Loan,
            rest.Waivers
        );
    }

    private static string Why(MovementReason? reason) =>
        reason switch
        {
            MovementReason.Reported => ", the passport put right",
            MovementReason.Stripped => ", stripped",
            MovementReason.Scrapped => ", destroyed",
            MovementReason.PutRight => ", a movement taken back",
            _ => "",
        };
}
