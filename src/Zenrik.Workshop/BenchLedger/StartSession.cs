using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>Takes a repair to the bench: fixes its plan and promises the consumables it will use up.</summary>
public sealed class StartSession(WorkshopDb db, PassportOf passports, PlanFor plans, TimeProvider clock)
{
    /// <returns>The repair's code. Starting a session that has begun leads to it.</returns>
    public async Task<Outcome<string>> Run(long repairNumber, Actor by, CancellationToken stop = default)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
        {
            return missing;
        }

        switch (repair.State)
        {
            case RepairState.OnBench:
                return repair.Code;
            case RepairState.Closed or RepairState.Withdrawn:
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} is closed. Open a new repair for this unit."
                );
        }

        var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
        if (!(await plans.Of(passport.Fitted!, repair.Goals, stop)).Try(out var plan, out var unplannable))
        {
            return unplannable;
        }

        var promised = await db
            .Reservations.Where(r => r.RepairId == repair.Id && r.LineId != null)
            .Select(r => r.LineId)
            .ToListAsync(stop);
        if (repair.Lines.Find(l => !promised.Contains(l.Id)) is { } without)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"No {without.AssemblyName} is chosen yet. Choose one from the shelf before the machine is opened."
            );
        }

        foreach (var (kind, needed) in plan.Consumables)
        {
            if (await PromiseConsumable(repair, kind, needed, by, stop) is { } lacking)
            {
                return lacking;
            }
        }

        foreach (var line in repair.Lines)
        {
            line.ExpectedOut = passport.Slots.FirstOrDefault(s => s.Slot == line.Slot)?.Item?.Number.Number;
        }

        repair.State = RepairState.OnBench;
        repair.MinutesPlanned = plan.Minutes.Expected;
        db.BenchSessions.Add(
            new BenchSession
            {
                Id = Guid.CreateVersion7(),
                RepairId = repair.Id,
                ModelCode = plan.Map.Model.Code,
                MapRevision = plan.Map.Revision,
                FittedParts = [.. plan.Map.Parts.Where(p => p.Optional).Select(p => p.Id.Value)],
                Practice = [.. plan.Basis.Practice.Departures],
                Acts = [.. plan.Acts.Select(a => a.ToString())],
                StartedAt = clock.GetUtcNow(),
                StartedById = by.Id,
            }
        );
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return repair.Code;
    }

    private async Task<Refusal?> PromiseConsumable(
        Repair repair,
        Consumable kind,
        int needed,
        Actor by,
        CancellationToken stop
    )
    {
        var name = kind.ToString();
        var lot = await db
            .Lots.Where(l =>
                l.Number.Consumable == name && l.Bin.Kind == BinKind.Shelf && l.OnHand - l.Promised >= needed
            )
            .OrderBy(l => l.Bin.Code)
            .Select(l => (Guid?)l.Id)
            .FirstOrDefaultAsync(stop);
        // Counted up only where there is still enough: another bench may have been quicker.
        var promised = await db
            .Lots.Where(l => l.Id == lot && l.OnHand - l.Promised >= needed)
            .ExecuteUpdateAsync(l => l.SetProperty(x => x.Promised, x => x.Promised + needed), stop);
        if (promised == 0)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"This plan uses {kind.Name()} ({needed} of it), and there is not enough free on the shelf. "
                    + "Fetch some in before the machine is opened."
            );
        }

        db.Reservations.Add(
            new Reservation
            {
                Id = Guid.CreateVersion7(),
                RepairId = repair.Id,
                LotId = lot,
                Quantity = needed,
                At = clock.GetUtcNow(),
                ById = by.Id,
            }
        );
        return null;
    }
}
