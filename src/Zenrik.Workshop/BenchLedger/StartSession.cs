using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>
/// Takes a repair to the bench: fixes its plan and promises the consumables it will use up. A unit whose model has no map
/// begins without a plan; what comes off gets its name there.
/// </summary>
public sealed class StartSession(
    WorkshopDb db,
    PassportOf passports,
    ServiceMapShelf maps,
    PlanFor plans,
    PromiseConsumables consumables,
    TimeProvider clock
)
{
    /// <returns>The repair's code. Starting a session that has begun leads to it.</returns>
    public Task<Outcome<string>> Run(long repairNumber, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
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

            if (repair.State == RepairState.Stopped)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} is set apart as dangerous. It is not opened before somebody says it is safe."
                );
            }

            var found = await db.StepsOf([repair.Id]).AsNoTracking().ToListAsync(stop);
            if (ShippedTriage.NotYet(repair, found) is { } notYet)
            {
                return notYet;
            }

            var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
            var isDraft = await maps.IsDraft(repair.Unit.ModelCode, stop);
            // A draft may not know yet what this repair is about: then it goes on as it began, by naming.
            if (passport.Model is null || (isDraft && !repair.HasGoals))
            {
                Begin(repair, null, FreeMap.BareActs(FreeMap.Bare(repair.Unit.Model.ToCore())), by);
                await db.Follow(repair, new Occasion(by, clock.GetUtcNow()), stop);
                return repair.Code;
            }

            if (!repair.HasGoals)
            {
                return new Refusal(RefusalReason.Conflict, $"Nothing is to be exchanged in {repair.Code} yet.");
            }

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

            if (await consumables.For(repair, plan, by, stop) is { } lacking)
            {
                return lacking;
            }

            foreach (var line in repair.Lines)
            {
                line.ExpectedOut = passport.Slots.FirstOrDefault(s => s.Slot == line.Slot)?.Item?.Number.Number;
            }

            if (isDraft)
            {
                if (Drafts.Unusable(passport.Model) is { } unusable)
                {
                    return unusable;
                }

                await db.KeepEdition(passport.Model, clock.GetUtcNow(), stop);
            }

            repair.MinutesPlanned = plan.Minutes.Expected;
            Begin(repair, plan, [.. plan.Acts], by);
            await db.Follow(repair, new Occasion(by, clock.GetUtcNow()), stop);
            return repair.Code;
        }
    }

    private void Begin(Repair repair, Plan? plan, IReadOnlyList<Act> acts, Actor by)
    {
        repair.Go(RepairState.OnBench);
        db.BenchSessions.Add(
            new BenchSession
            {
                Id = Guid.CreateVersion7(),
                RepairId = repair.Id,
                ModelCode = repair.Unit.ModelCode,
                MapRevision = plan?.Map.Revision,
                FittedParts = [.. plan?.Map.Parts.Where(p => p.Optional).Select(p => p.Id.Value) ?? []],
                VacantSlots = [.. plan?.Map.Vacant.Select(id => plan.Map.Part(id).Slot!) ?? []],
                Practice = [.. plan?.Basis.Practice.Departures ?? []],
                Acts = [.. acts.Select(a => a.ToString())],
                StartedAt = clock.GetUtcNow(),
                StartedById = by.Id,
            }
        );
    }
}
