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

        var (learner, topic) = ((await Trained([by.Id], stop))[by.Id].Learner(), Topics.OfModel(model.Code));
        return learner.IsReady(topic, Days.Of(clock.GetUtcNow())) ? null
            : learner.Times(topic) == 0
                ? $"You have not practised the {model.Name} yet: run through it in the drawing first."
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

        var (trained, today) = (await Trained(people, stop), Days.Of(clock.GetUtcNow()));
        var learners = people.Distinct().ToDictionary(p => p, p => trained[p].Learner());
        return pairs
            .Where(p => !learners[p.Person].IsReady(Topics.OfModel(p.Model), today))
            .ToLookup(p => p.Person, p => p.Model);
    }

    private async Task<bool> Asked(CancellationToken stop) =>
        (await rules.Run(stop)).Of(RuleBook.Readiness) == Readiness.Asked;

    /// <summary>Whatever they trained: how fast somebody forgets is seen in all of it.</summary>
    private async Task<ILookup<Guid, Trained>> Trained(IReadOnlyCollection<Guid> people, CancellationToken stop) =>
        (await db.Trainings().Where(t => people.Contains(t.PersonId)).ToListAsync(stop)).ToLookup(t => t.PersonId);
}
