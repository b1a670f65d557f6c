using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Fit;

/// <summary>Writes into a passport what somebody saw of a unit, so that nobody need look again.</summary>
public sealed class NoteLook(WorkshopDb db, TimeProvider clock)
{
    /// <returns>What is now in the passport, as a sentence.</returns>
    public async Task<Outcome<string>> Run(
        string tag,
        string traitId,
        string lookId,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (ByEye.Find(traitId) is not { } trait)
        {
            return new Refusal(RefusalReason.NotFound, $"Nothing called \"{traitId}\" is looked at.");
        }

        if (trait.Find(lookId) is not { } look)
        {
            return new Refusal(RefusalReason.NotFound, $"{trait.Question} \"{lookId}\" is no answer.");
        }

        return await db.Write(by, tag, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var wanted = LabelCode.Of(tag);
            var unit = await db.Units.Where(u => u.Tag == wanted).Select(u => (UnitId?)u.Id).SingleOrDefaultAsync(stop);
            if (unit is not { Value: var id })
            {
                return UnitTag.Unknown(wanted);
            }

            var now = clock.GetUtcNow();
            var before = await db
                .UnitLooks.Where(l => l.UnitId == unit && l.Trait == trait.Id)
                .Select(l => l.Look)
                .SingleOrDefaultAsync(stop);
            if (before != look.Id)
            {
                db.NoteChange(nameof(UnitLook), trait.Id, before, look.Id);
            }

            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO unit_looks (unit_id, trait, look, at, by_id) VALUES ({id}, {trait.Id}, {look.Id}, {now}, {by.Id})
                ON CONFLICT (unit_id, trait) DO UPDATE SET look = EXCLUDED.look, at = EXCLUDED.at, by_id = EXCLUDED.by_id
                """,
                stop
            );
            return $"In the passport of {wanted}: {look.Name}.";
        }
    }
}
