using Microsoft.EntityFrameworkCore;
using Zenrik.Core.HouseRules;

namespace Zenrik.Workshop.HouseRules;

/// <summary>Reads the workshop's practice.</summary>
public sealed class HouseRulesOf(WorkshopDb db)
{
    /// <summary>What is in force. Rules or schools this program no longer knows count as default.</summary>
    public async Task<HousePractice> Run(CancellationToken stop = default) => Of((await db.Standing(stop)).Choices);

    /// <summary>What is in force, and the decisions with who made them and when.</summary>
    public async Task<(HousePractice Practice, IReadOnlyList<HouseChoice> Decided)> Decided(
        CancellationToken stop = default
    )
    {
        var decided = await db.HouseChoices.AsNoTracking().Include(c => c.By).ToListAsync(stop);
        return (Of(decided.Select(c => KeyValuePair.Create(c.RuleId, c.SchoolId))), decided);
    }

    private static HousePractice Of(IEnumerable<KeyValuePair<string, string>> choices) =>
        choices.Aggregate(
            HousePractice.Default,
            (practice, c) => practice.With(c.Key, c.Value).Try(out var changed, out _) ? changed : practice
        );
}
