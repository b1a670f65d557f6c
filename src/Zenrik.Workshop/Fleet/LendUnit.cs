using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fleet;

/// <summary>Lends a unit of the loan pool out and takes it back.</summary>
public sealed class LendUnit(WorkshopDb db, TimeProvider clock)
{
    /// <param name="repairCode">The repair whose user it helps out; empty for none.</param>
    public Task<Outcome<string>> Out(
        Guid request,
        string tag,
        string? to,
        DateOnly? dueOn,
        string? repairCode,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{tag} {to}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!Keeping.Whom(to).Try(out var whom, out var nobody))
            {
                return nobody;
            }

            if (dueOn < clock.Today())
            {
                return new Refusal(RefusalReason.Invalid, "The day it is due back has passed. Correct it.");
            }

            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            if (!unit.InLoanPool)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{unit.Tag} is not in the loan pool; it has a user of its own. Put it into the pool first."
                );
            }

            if (unit.State == UnitState.Loaned)
            {
                return new Refusal(RefusalReason.Conflict, $"{unit.Tag} is out on loan. Take it back first.");
            }

            if (
                await db.SentAway(now)
                    .Where(r => r.UnitId == unit.Id)
                    .Select(r => (long?)r.Number)
                    .SingleOrDefaultAsync(stop) is
                { } away
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{unit.Tag} was sent away in {Repair.CodeOf(away)}. When it is back, take that repair up again and test it first."
                );
            }

            Repair? repair = null;
            if (!string.IsNullOrWhiteSpace(repairCode))
            {
                var number = Repair.NumberOf(repairCode);
                repair = await db.Repairs.SingleOrDefaultAsync(r => r.Number == number, stop);
                if (repair is null)
                {
                    return new Refusal(RefusalReason.NotFound, $"There is no repair {repairCode.Trim()}.");
                }
            }

            var occasion = new Occasion(by, now, repair?.Id);
            if (await db.Step(unit.Id, UnitState.Loaned, $"Lent to {whom}", occasion, stop) is { } refusal)
            {
                return refusal;
            }

            db.Loans.Add(
                new Loan
                {
                    Id = Guid.CreateVersion7(),
                    UnitId = unit.Id,
                    To = whom,
                    DueOn = dueOn,
                    RepairId = repair?.Id,
                    OutAt = now,
                    OutById = by.Id,
                }
            );
            return $"{unit.Tag} is lent to {whom}.";
        }
    }

    public Task<Outcome<string>> Back(Guid request, string tag, Actor by, CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, tag, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            if (unit.State != UnitState.Loaned)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{unit.Tag} is {UnitLife.Name(unit.State)}, not on loan. Nothing was changed."
                );
            }

            return await db.Step(unit.Id, UnitState.InUse, "Back from loan", new Occasion(by, now), stop) is { } refusal
                ? refusal
                : $"{unit.Tag} is back and ready to go out again.";
        }
    }

    /// <summary>Puts a unit into the loan pool, or takes it out.</summary>
    public Task<Outcome<string>> Pool(Guid request, string tag, bool inPool, Actor by, CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{tag} {inPool}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            if (!inPool && unit.State == UnitState.Loaned)
            {
                return new Refusal(RefusalReason.Conflict, $"{unit.Tag} is out on loan. Take it back first.");
            }

            if (unit.InLoanPool != inPool)
            {
                unit.InLoanPool = inPool;
                db.UnitEvents.Add(
                    UnitEvent.Of(
                        unit.Id,
                        UnitEventKind.Loan,
                        inPool ? "Into the loan pool" : "Out of the loan pool",
                        new Occasion(by, now)
                    )
                );
            }

            return $"{unit.Tag} is {(inPool ? "in the loan pool" : "no loan unit any more")}.";
        }
    }
}
