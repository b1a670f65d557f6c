using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Fit;

/// <summary>Signs, with name and reason, for a number that a house rule stands against.</summary>
public sealed class SignWaiver(WorkshopDb db, PassportOf passports, FitOf fits, TimeProvider clock)
{
    /// <returns>What was signed, as a sentence. Signing twice changes nothing.</returns>
    public async Task<Outcome<string>> Run(
        long repairNumber,
        string slot,
        string number,
        string? reason,
        Actor by,
        CancellationToken stop = default
    )
    {
        var why = reason?.Trim() ?? "";
        if (why.Length is < 5 or > Waiver.MaxReason)
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"Say in 5 to {Waiver.MaxReason} characters why it is fitted all the same."
            );
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State != RepairState.Open)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} is past choosing parts.");
            }

            var canonical = PartNumber.Canonicalise(number);
            var known = await db
                .CatalogueNumbers.Include(n => n.Fits)
                .SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
            if (known is null)
            {
                return new Refusal(RefusalReason.NotFound, $"The part number {number} is not known here.");
            }

            var passport = (await passports.Run(repair.Unit.Tag, stop)).Value;
            var signed = await db.Waivers.Of(repair.Id, stop);
            if (!(await fits.One(passport, slot, known, signed, stop)).Try(out var answer, out var refusal))
            {
                return refusal;
            }

            if (answer.Waivable.Count == 0)
            {
                return signed[known.Number].Any()
                    ? $"{known.Number} is signed for."
                    : new Refusal(
                        RefusalReason.Conflict,
                        $"Nothing about {known.Number} in this slot can be signed for."
                    );
            }

            db.Waivers.AddRange(
                answer.Waivable.Select(rule => new Waiver
                {
                    Id = Guid.CreateVersion7(),
                    RepairId = repair.Id,
                    Slot = slot,
                    Number = known.Number,
                    Rule = rule,
                    Reason = why,
                    At = clock.GetUtcNow(),
                    ById = by.Id,
                })
            );
            return $"{by.Name} signs for {known.Number}: {string.Join(", ", answer.Waivable.Select(r => RuleBook.Find(r)!.Question))}";
        }
    }
}

internal static class Waivers
{
    /// <summary>House rules signed for in a repair, by number.</summary>
    public static async Task<ILookup<string, string>> Of(
        this DbSet<Waiver> waivers,
        Core.Stock.RepairId repair,
        CancellationToken stop
    ) => (await waivers.AsNoTracking().Where(w => w.RepairId == repair).ToListAsync(stop)).ByNumber();

    /// <summary>The house rules signed for, by number.</summary>
    public static ILookup<string, string> ByNumber(this IEnumerable<Waiver> signed) =>
        signed.ToLookup(w => w.Number, w => w.Rule);
}
