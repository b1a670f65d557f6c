using Microsoft.EntityFrameworkCore;
using Zenrik.Core.HouseRules;

namespace Zenrik.Workshop.HouseRules;

/// <summary>Reads the workshop's practice.</summary>
public sealed class HouseRulesOf(WorkshopDb db)
{
    /// <summary>What is in force. Rules or schools this program no longer knows count as default.</summary>
    public async Task<HousePractice> Run(CancellationToken stop = default) =>
        (await db.Standing(stop)).Choices.Aggregate(
            HousePractice.Default,
            (practice, c) => practice.With(c.Key, c.Value).Try(out var changed, out _) ? changed : practice
        );

    /// <summary>The decisions with who made them and when.</summary>
    public async Task<IReadOnlyList<HouseChoice>> Decided(CancellationToken stop = default) =>
        await db.HouseChoices.AsNoTracking().Include(c => c.By).ToListAsync(stop);
}
