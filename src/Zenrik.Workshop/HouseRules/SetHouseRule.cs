using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.HouseRules;

namespace Zenrik.Workshop.HouseRules;

/// <summary>Decides a house rule. Plans made from now on follow it; sessions on the bench keep the rules they began with.</summary>
public sealed class SetHouseRule(WorkshopDb db, TimeProvider clock)
{
    /// <returns>What is now in force, as a sentence. Deciding the same twice changes nothing.</returns>
    public async Task<Outcome<string>> Run(string ruleId, string schoolId, Actor by, CancellationToken stop = default)
    {
        if (HousePractice.Default.With(ruleId, schoolId).Refusal is { } unknown)
        {
            return unknown;
        }

        return await db.Write(by, ruleId, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var now = clock.GetUtcNow();
            var before = await db
                .HouseChoices.Where(c => c.RuleId == ruleId)
                .Select(c => c.SchoolId)
                .SingleOrDefaultAsync(stop);
            if (before != schoolId)
            {
                db.NoteChange(nameof(HouseChoice), ruleId, before, schoolId);
            }

            // One statement: two leads deciding at once leave one decision, not an error.
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO house_choices (rule_id, school_id, at, by_id) VALUES ({ruleId}, {schoolId}, {now}, {by.Id})
                ON CONFLICT (rule_id) DO UPDATE SET school_id = EXCLUDED.school_id, at = EXCLUDED.at, by_id = EXCLUDED.by_id
                WHERE house_choices.school_id <> EXCLUDED.school_id
                """,
                stop
            );
            var rule = RuleBook.Find(ruleId)!;
            return $"From now on: {rule.Find(schoolId)!.Name}.";
        }
    }
}
