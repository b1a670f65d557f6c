using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Triage;

/// <summary>
/// Ends a triage: with a part to exchange, cured, or given back; or takes such an end back. A fault that is dangerous to
/// touch sets the machine apart instead.
/// </summary>
public sealed class EndTriage(WorkshopDb db, TriageOf triage, TimeProvider clock)
{
    /// <param name="fault">The fault to act on, of those that can explain the complaint.</param>
    /// <returns>Where the repair stands now, as a sentence.</returns>
    public Task<Outcome<string>> With(
        long repairNumber,
        TriageStanding end,
        string fault,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State != RepairState.Open || repair.TriageEnd is not null)
            {
                return new Refusal(RefusalReason.Conflict, $"The triage of {repair.Code} has ended already.");
            }

            if (!(await triage.Run(repairNumber, stop)).Try(out var view, out var none))
            {
                return none;
            }

            if (view.Network.Faults.FirstOrDefault(f => f.Id == fault) is not { } found)
            {
                return new Refusal(
                    RefusalReason.NotFound,
                    $"\"{fault}\" does not explain what {repair.Code} was taken in for."
                );
            }

            if (end == TriageStanding.Cured != (view.Advice.Standing == TriageStanding.Cured))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    end == TriageStanding.Cured
                        ? "Nothing tried so far has cured it."
                        : "A remedy has cured it; take that step back first."
                );
            }

            if (end is TriageStanding.Open or TriageStanding.Stopped)
            {
                return new Refusal(RefusalReason.Invalid, "That is no end of a triage.");
            }

            if (TriageSafety.CheckEnd(view.Network, [.. view.Steps.Select(s => s.Step)], end) is { } forbidden)
            {
                return forbidden;
            }

            if (end == TriageStanding.SureEnough && found.Component is null)
            {
                return new Refusal(RefusalReason.Conflict, $"“{found.Name}” is nothing a part is exchanged for.");
            }

            var now = clock.GetUtcNow();
            if (
                end == TriageStanding.SureEnough
                && TriageSafety.StopOf(view.Knowledge, found) is { } danger
                && repair.MadeSafeAt is null
            )
            {
                return await db.SetApart(repair, danger, found.Name, new(by, now), stop);
            }

            repair.TriageEnd = end;
            repair.TriageEndedAt = now;
            repair.FaultId = end switch
            {
                TriageStanding.NoFaultFound => Of(view, FaultNature.None) ?? found.Id,
                TriageStanding.NotExplained => Of(view, FaultNature.Unknown) ?? found.Id,
                _ => found.Id,
            };
            if (end == TriageStanding.NotExplained)
            {
                repair.Decided = Short(view.Advice.Reason);
            }

            RepairEnd? closing = end switch
            {
                TriageStanding.Cured => RepairEnd.Cured,
                TriageStanding.NoFaultFound => RepairEnd.NoFaultFound,
                TriageStanding.Elsewhere => RepairEnd.Elsewhere,
                _ => null,
            };
            if (closing is { } ends)
            {
                var occasion = new Occasion(by, now);
                repair.EndAs(ends, occasion);
                repair.MinutesTaken = view.Steps.Sum(s =>
                    view.Knowledge.Test(s.Test ?? "")?.Minutes ?? view.Knowledge.Remedy(s.Remedy ?? "")?.Minutes ?? 0
                );
                await db.Follow(repair, occasion, stop);
            }

            return end == TriageStanding.NotExplained ? $"{repair.Code} is not explained; a lead decides."
                : closing is null ? $"To act on: {found.Name}."
                : $"{repair.Code} is closed: {RepairLife.Name(closing.Value)}.";
        }
    }

    /// <summary>Goes back to testing, as long as nothing has been promised or opened.</summary>
    public Task<Outcome<string>> TakeBack(long repairNumber, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State != RepairState.Open)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} is past triage.");
            }

            if (repair.Lines.Count > 0)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    "An assembly is chosen already. Take it off the repair first."
                );
            }

            (repair.TriageEnd, repair.FaultId, repair.TriageEndedAt) = (null, null, null);
            return "Testing goes on.";
        }
    }

    private static string? Of(TriageView view, FaultNature nature) =>
        view.Network.Faults.FirstOrDefault(f => f.Nature == nature)?.Id;

    private static string Short(string text) =>
        text.Length <= Repair.MaxDecided ? text : $"{text[..(Repair.MaxDecided - 1)]}…";
}
