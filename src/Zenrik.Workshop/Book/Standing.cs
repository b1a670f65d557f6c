using System.Globalization;
using Microsoft.EntityFrameworkCore;

namespace Zenrik.Workshop.Book;

/// <summary>What holds for every unit and every repair, read by one statement and once a request.</summary>
/// <param name="LastClosed">When a repair was last closed; null when none was. What is learned from closed repairs is kept under it.</param>
/// <param name="Editions">The newest revision of every model that has a published map.</param>
/// <param name="Drafts">The newest version of the draft of every model without a published map.</param>
/// <param name="Choices">The house's choices where it has made any: school by rule.</param>
/// <param name="Figures">The house's figures; as shipped where nobody has set them.</param>
internal sealed record Standing(
    DateTimeOffset? LastClosed,
    IReadOnlyDictionary<string, int> Editions,
    IReadOnlyDictionary<string, int> Drafts,
    IReadOnlyDictionary<string, string> Choices,
    HouseFigures Figures
);

internal static class StandingQuery
{
    /// <summary>Reads it, or gives what this request has read; a write reads it anew.</summary>
    public static async Task<Standing> Standing(this WorkshopDb db, CancellationToken stop) => db.Standing ??= (
            await db
                .Database.SqlQuery<Row>(
                    $"""
                    SELECT (SELECT max(closed_at) FROM repairs) AS last_closed,
                           ARRAY(SELECT model_code || '=' || max(revision) FROM service_map_revisions WHERE NOT is_draft GROUP BY model_code) AS editions,
                           ARRAY(SELECT model_code || '=' || max(version) FROM draft_steps d
                                 WHERE NOT EXISTS (SELECT FROM service_map_revisions r WHERE r.model_code = d.model_code AND NOT is_draft)
                                 GROUP BY model_code) AS drafts,
                           ARRAY(SELECT rule_id || '=' || school_id FROM house_choices ORDER BY rule_id) AS choices,
                           (SELECT to_jsonb(f)::text FROM house_figures f) AS figures
                    """
                )
                .ToListAsync(stop)
        )[0].Read();

    private sealed class Row
    {
        public DateTimeOffset? LastClosed { get; init; }

        public required string[] Editions { get; init; }

        public required string[] Drafts { get; init; }

        public required string[] Choices { get; init; }

        public string? Figures { get; init; }

        public Standing Read() =>
            new(
                LastClosed,
                Numbers(Editions),
                Numbers(Drafts),
                Pairs(Choices).ToDictionary(p => p.Key, p => p.Value),
                Figures is null ? new HouseFigures() : StoredJson.ReadRow<HouseFigures>(Figures)
            );

        private static Dictionary<string, int> Numbers(string[] pairs) =>
            Pairs(pairs).ToDictionary(p => p.Key, p => int.Parse(p.Value, CultureInfo.InvariantCulture));

        private static IEnumerable<(string Key, string Value)> Pairs(string[] pairs) =>
            pairs.Select(p => (p[..p.LastIndexOf('=')], p[(p.LastIndexOf('=') + 1)..]));
    }
}
