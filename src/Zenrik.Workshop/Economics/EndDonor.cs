using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Economics;

/// <summary>Ends a unit's time as a donor: it serves again, or it leaves the house.</summary>
public sealed class EndDonor(WorkshopDb db, PassportOf passports, ServiceMapShelf maps, TimeProvider clock)
{
    /// <summary>Back to use; refused as <see cref="UnitLife.MayServeAgain"/> says.</summary>
    /// <returns>What was done, as a sentence.</returns>
    public Task<Outcome<string>> BackInUse(Guid request, string tag, Actor by, CancellationToken stop = default) =>
        Run(
            request,
            tag,
            by,
            async (passport, occasion) =>
            {
                var filled = passport.Slots.Where(s => s.Item is not null).Select(s => s.Slot).ToList();
                var taken = await db
                    .Movements.Where(m => m.FromUnitId == passport.Unit.Id)
                    .Where(m => m.Reason == MovementReason.Stripped || m.Reason == MovementReason.Scrapped)
                    .Where(m => !filled.Contains(m.FromSlot!))
                    .Select(m => m.FromSlot!)
                    .Distinct()
                    .ToListAsync(stop);
                var stillOut = passport.Slots.Where(s => taken.Contains(s.Slot)).Select(s => s.Name).ToList();
                var givenUp = (await db.GivenUp(maps, [passport.Unit.Id], stop)).GetValueOrDefault(passport.Unit.Id);
                if (
                    UnitLife.MayServeAgain(
                        passport.Unit.Tag,
                        stillOut,
                        givenUp is { WithoutPower: true } ? givenUp.Code : null
                    ) is
                    { } refusal
                )
                {
                    return refusal;
                }

                return await Leave(passport, UnitState.InUse, "a donor no more: back in use", occasion, stop);
            },
            stop
        );

    /// <summary>Out of the house; storage still in it is erased first, well enough for leaving.</summary>
    /// <returns>What was done, as a sentence.</returns>
    public Task<Outcome<string>> Retire(
        Guid request,
        string tag,
        IReadOnlyList<Erased> erased,
        Actor by,
        CancellationToken stop = default
    ) =>
        Run(
            request,
            tag,
            by,
            async (passport, occasion) =>
            {
                if (!Erasing.Of(passport, erased, leavesHouse: true, occasion).Try(out var records, out var lacking))
                {
                    return lacking;
                }

                db.Erasures.AddRange(records);
                return await Leave(passport, UnitState.Retired, "a donor no more: retired", occasion, stop);
            },
            stop
        );

    private Task<Outcome<string>> Run(
        Guid request,
        string tag,
        Actor by,
        Func<Passport, Occasion, Task<Outcome<string>>> end,
        CancellationToken stop,
        [CallerMemberName] string act = ""
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{act} {tag}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            return unit.State != UnitState.Donor
                ? new Refusal(RefusalReason.Conflict, $"{unit.Tag} is {UnitLife.Name(unit.State)}, not a donor.")
                : await end((await passports.Run(unit.Tag, stop)).Value, new Occasion(by, now));
        }
    }

    private async Task<Outcome<string>> Leave(
        Passport passport,
        UnitState to,
        string text,
        Occasion occasion,
        CancellationToken stop
    ) =>
        await db.Step(passport.Unit.Id, to, text, occasion, stop) is { } refusal
            ? refusal
            : $"{passport.Unit.Tag} is {UnitLife.Name(to)}.";
}
