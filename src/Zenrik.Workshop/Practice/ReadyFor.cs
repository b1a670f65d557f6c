using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Practice;
using Zenrik.Workshop.HouseRules;

namespace Zenrik.Workshop.Practice;

/// <summary>Who has practised which model, where the house wants that asked.</summary>
public sealed class ReadyFor(WorkshopDb db, HouseRulesOf rules, TimeProvider clock)
{
    /// <summary>Says before the bench that somebody has not practised a model.</summary>
    /// <returns>A caution; null where the house does not ask, or where it would go right.</returns>
    public async Task<string?> Caution(Actor by, Model model, CancellationToken stop = default)
    {
        if (!await Asked(stop))
        {
            return null;
        }

        var days = (await Trained([by.Id], [model.Code], stop)).SelectMany(t => t).ToList();
        return Training.IsReady(days, Days.Of(clock.GetUtcNow())) ? null
            : days.Count == 0 ? $"You have not practised the {model.Name} yet: run through it in the drawing first."
            : $"The {model.Name} is some time ago, or went wrong last: run through it in the drawing first.";
    }

    /// <summary>Of some people and models those that do not go together yet.</summary>
    /// <returns>By person the codes of the models; nothing where the house does not ask.</returns>
    public async Task<ILookup<Guid, string>> Unpractised(
        IReadOnlyCollection<Guid> people,
        IReadOnlyCollection<string> models,
        CancellationToken stop = default
    )
    {
        var pairs = await Asked(stop) ? people.SelectMany(p => models.Select(m => (Person: p, Model: m))).ToList() : [];
        if (pairs.Count == 0)
        {
            return pairs.ToLookup(p => p.Person, p => p.Model);
        }

        var (trained, today) = (await Trained(people, models, stop), Days.Of(clock.GetUtcNow()));
        return pairs
            .Where(p => !Training.IsReady([.. trained[(p.Person, Topics.OfModel(p.Model))]], today))
            .ToLookup(p => p.Person, p => p.Model);
    }

    private async Task<bool> Asked(CancellationToken stop) =>
        (await rules.Run(stop)).Of(RuleBook.Readiness) == Readiness.Asked;

    private async Task<ILookup<(Guid Person, string Topic), (double Day, bool Right)>> Trained(
        IReadOnlyCollection<Guid> people,
        IReadOnlyCollection<string> models,
        CancellationToken stop
    )
    {
        var topics = models.Select(Topics.OfModel).ToList();
        return (
            await db.Trainings().Where(t => topics.Contains(t.Topic) && people.Contains(t.PersonId)).ToListAsync(stop)
        ).ToLookup(t => (t.PersonId, t.Topic), t => (Days.Of(t.EndedAt), t.Right));
    }
}
