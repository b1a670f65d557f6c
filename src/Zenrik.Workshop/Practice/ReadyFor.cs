using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Practice;
using Zenrik.Workshop.HouseRules;

namespace Zenrik.Workshop.Practice;

/// <summary>Says before the bench, where the house wants it said, that somebody has not practised a model.</summary>
public sealed class ReadyFor(WorkshopDb db, HouseRulesOf rules, TimeProvider clock)
{
    /// <returns>A caution; null where the house does not ask, or where it would go right.</returns>
    public async Task<string?> Caution(Actor by, Model model, CancellationToken stop = default)
    {
        if ((await rules.Run(stop)).Of(RuleBook.Readiness) == Readiness.NotAsked)
        {
            return null;
        }

        var (topic, who) = (Topics.OfModel(model.Code), by.Id);
        var trained = await db.Trainings().Where(t => t.Topic == topic && t.PersonId == who).ToListAsync(stop);
        var days = trained.ConvertAll(t => (Days.Of(t.EndedAt), t.Right));
        return Training.IsReady(days, Days.Of(clock.GetUtcNow())) ? null
            : days.Count == 0 ? $"You have not practised the {model.Name} yet: run through it in the drawing first."
            : $"The {model.Name} is some time ago, or went wrong last: run through it in the drawing first.";
    }
}
