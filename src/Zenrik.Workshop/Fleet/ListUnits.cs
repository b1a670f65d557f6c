using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Fleet;

/// <param name="SupportEnds">The last day its maker supports the model; null when not known.</param>
/// <param name="Health">What its battery last said of itself, full charge over design; null: nothing, or another is in it since.</param>
/// <param name="Repairs">The days its closed repairs ended, the latest first; at most <see cref="ListUnits.MostRepairs"/>.</param>
public sealed record UnitRow(
    string Tag,
    string Model,
    string Site,
    string? UserName,
    string Serial,
    DateOnly BoughtOn,
    DateOnly? SupportEnds,
    UnitState State,
    bool InLoanPool,
    double? Health,
    IReadOnlyList<DateTimeOffset> Repairs,
    long? Repair
);

/// <summary>What the fleet's list is ordered by; the tag always decides between equals.</summary>
public enum UnitOrder
{
    Tag,
    Model,
    Site,
    Oldest,
    Newest,
}

/// <summary>Which units are wanted. Conditions that are given all hold.</summary>
/// <param name="Search">
/// Words; each is part of a tag, serial, user, site or model name, a state, or the beginning of a part number inside.
/// </param>
/// <param name="Campaign">Marked for it, and not done yet.</param>
/// <param name="Loaners">Only units of the loan pool.</param>
/// <param name="Page">From 0.</param>
public sealed record UnitQuery(
    string? Search = null,
    string? Site = null,
    string? Model = null,
    UnitState? State = null,
    string? Campaign = null,
    bool Loaners = false,
    UnitOrder Order = UnitOrder.Tag,
    int Page = 0
);

/// <param name="Total">How many there are, up to <see cref="ListUnits.CountedUpTo"/>.</param>
public sealed record UnitPage(IReadOnlyList<UnitRow> Rows, int Total, bool More);

/// <summary>The fleet, narrowed by what is typed and chosen.</summary>
public sealed class ListUnits(WorkshopDb db)
{
    public const int PageSize = 60;

    /// <summary>A life line has no room for more.</summary>
    public const int MostRepairs = 12;

    /// <summary>Counting on costs more than it tells.</summary>
    public const int CountedUpTo = 1000;

    /// <summary>Deeper pages are refused by being empty: nobody reads so far, and narrowing is faster.</summary>
    private const int DeepestPage = 50;

    /// <summary>Shorter words have no trigram; they are the beginning of a tag.</summary>
    private const int Trigram = 3;

    /// <summary>Fewer characters of a part number are not asked of the catalogue: they would mean half of it.</summary>
    private const int NumberPrefix = 5;

    public async Task<UnitPage> Run(UnitQuery query, CancellationToken stop = default)
    {
        await using var transaction = await PlanAnew(query, stop);
        var (units, found) = await Find(query, stop);
        var ordered = query.Order switch
        {
            UnitOrder.Model => units.OrderBy(u => u.ModelCode).ThenBy(u => u.Tag),
            UnitOrder.Site => units.OrderBy(u => u.Site).ThenBy(u => u.Tag),
            UnitOrder.Oldest => units.OrderBy(u => u.BoughtOn).ThenBy(u => u.Tag),
            UnitOrder.Newest => units.OrderByDescending(u => u.BoughtOn).ThenByDescending(u => u.Tag),
            _ => units.OrderBy(u => u.Tag),
        };
        var page = Math.Clamp(query.Page, 0, DeepestPage);
        var underway = db.Repairs.Where(Repair.Underway);
        var said = db.ReadingsOfPresentBatteries();
        var rows = await ordered
            .Skip(page * PageSize)
            .Take(PageSize + 1)
            .Select(u => new
            {
                u.Id,
                Row = new UnitRow(
                    u.Tag,
                    u.Model.Name,
                    u.Site,
                    u.UserName,
                    u.Serial,
                    u.BoughtOn,
                    u.Model.SupportEnds,
                    u.State,
                    u.InLoanPool,
                    said.Where(r => r.UnitId == u.Id)
                        .OrderByDescending(r => r.At)
                        .Select(r => (double?)r.Health)
                        .FirstOrDefault(),
                    Array.Empty<DateTimeOffset>(),
                    underway.Where(r => r.UnitId == u.Id).Select(r => (long?)r.Number).FirstOrDefault()
                ),
            })
            .ToListAsync(stop);
        var more = rows.Count > PageSize;
        if (more)
        {
            rows.RemoveAt(PageSize);
        }

        var total =
            page == 0 && !more
                ? rows.Count
                : found ?? await units.Select(u => u.Id).Take(CountedUpTo + 1).CountAsync(stop);
        var shown = rows.ConvertAll(r => r.Id);
        var repairs = (
            await db
                .Repairs.Where(r => shown.Contains(r.UnitId) && r.State == RepairState.Closed)
                .OrderByDescending(r => r.ClosedAt)
                .Select(r => new { r.UnitId, r.ClosedAt })
                .ToListAsync(stop)
        ).ToLookup(r => r.UnitId, r => r.ClosedAt!.Value);
        return new UnitPage(
            rows.ConvertAll(r => r.Row with { Repairs = [.. repairs[r.Id].Take(MostRepairs)] }),
            Math.Min(total, CountedUpTo),
            more
        );
    }

    /// <summary>The tags of all units a query means, for acts on many; at most <see cref="CountedUpTo"/>.</summary>
    public async Task<IReadOnlyList<string>> Tags(UnitQuery query, CancellationToken stop = default)
    {
        await using var transaction = await PlanAnew(query, stop);
        var (units, _) = await Find(query, stop);
        return await units.OrderBy(u => u.Tag).Select(u => u.Tag).Take(CountedUpTo).ToListAsync(stop);
    }

    /// <summary>All units a query means, in no order, for reading on.</summary>
    internal Task<IQueryable<Unit>> Meant(UnitQuery query, CancellationToken stop = default) => Narrow(query, stop);

    /// <summary>What the filters can be set to; five hundred sites and campaigns at most.</summary>
    public async Task<(
        IReadOnlyList<string> Sites,
        IReadOnlyList<(string Code, string Name)> Models,
        IReadOnlyList<string> Campaigns
    )> Choices(CancellationToken stop = default)
    {
        // From one value of an indexed column to the next: a few reads of an index, not of a whole table.
        var values = await db
            .Database.SqlQuery<string>(
                $"""
                WITH RECURSIVE
                site AS (
                    SELECT min(site) AS v FROM units
                    UNION ALL
                    SELECT (SELECT min(u.site) FROM units u WHERE u.site > site.v) FROM site WHERE site.v IS NOT NULL
                ),
                campaign AS (
                    SELECT min(campaign) AS v FROM campaign_marks
                    UNION ALL
                    SELECT (SELECT min(m.campaign) FROM campaign_marks m WHERE m.campaign > campaign.v) FROM campaign
                    WHERE campaign.v IS NOT NULL
                )
                (SELECT 's' || v AS "Value" FROM site WHERE v IS NOT NULL LIMIT 500)
                UNION ALL
                (SELECT 'c' || v AS "Value" FROM campaign WHERE v IS NOT NULL LIMIT 500)
                """
            )
            .ToListAsync(stop);
        return (Of('s'), await Models(stop), Of('c'));

        List<string> Of(char kind) => [.. values.Where(v => v[0] == kind).Select(v => v[1..])];
    }

    /// <summary>
    /// Until the transaction ends, statements are planned for the words given: a plan kept for any word reads the whole table
    /// for a rare one. Null without words.
    /// </summary>
    private async Task<IDbContextTransaction?> PlanAnew(UnitQuery query, CancellationToken stop)
    {
        if (string.IsNullOrWhiteSpace(query.Search))
        {
            return null;
        }

        var transaction = await db.Database.BeginTransactionAsync(stop);
        await db.Database.ExecuteSqlAsync($"SET LOCAL plan_cache_mode = force_custom_plan", stop);
        return transaction;
    }

    /// <summary>
    /// The units meant, and how many when words were given. A few are found by their words first and put in order afterwards;
    /// where they are many, walking the order's index soon meets enough of them. One query for both leaves the choice to a
    /// guess of how many there are, and a wrong one walks everything.
    /// </summary>
    private async Task<(IQueryable<Unit> Units, int? Found)> Find(UnitQuery query, CancellationToken stop)
    {
        var units = await Narrow(query, stop);
        if (string.IsNullOrWhiteSpace(query.Search))
        {
            return (units, null);
        }

        var found = await units.Select(u => u.Id).Take(CountedUpTo + 1).ToListAsync(stop);
        return (
            found.Count > CountedUpTo ? units : db.Units.AsNoTracking().Where(u => found.Contains(u.Id)),
            found.Count
        );
    }

    private async Task<IQueryable<Unit>> Narrow(UnitQuery query, CancellationToken stop)
    {
        var units = db.Units.AsNoTracking();
        if (query.Site is { Length: > 0 } site)
        {
            units = units.Where(u => u.Site == site);
        }

        if (query.Model is { Length: > 0 } model)
        {
            units = units.Where(u => u.ModelCode == model);
        }

        if (query.State is { } state)
        {
            units = units.Where(u => u.State == state);
        }

        if (query.Campaign is { Length: > 0 } campaign)
        {
            units = units.Where(u => u.Campaigns.Any(m => m.Campaign == campaign && m.DoneAt == null));
        }

        if (query.Loaners)
        {
            units = units.Where(u => u.InLoanPool);
        }

        foreach (var word in (query.Search ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(6))
        {
            units = await Matching(units, word, stop);
        }

        return units;
    }

    private async Task<IQueryable<Unit>> Matching(IQueryable<Unit> units, string word, CancellationToken stop)
    {
        if (Enum.GetValues<UnitState>().Where(s => Named(s, word)).ToList() is [var state])
        {
            return units.Where(u => u.State == state);
        }

        var canonical = PartNumber.Canonicalise(word);
        if (canonical.Length >= NumberPrefix)
        {
            var prefix = Patterns.Beginning(canonical);
            var numbers = await db
                .CatalogueNumbers.Where(n => EF.Functions.Like(n.Canonical, prefix))
                .Select(n => n.Id)
                .Take(50)
                .ToListAsync(stop);
            if (numbers.Count > 0)
            {
                return units.Where(u => db.Items.Any(i => i.UnitId == u.Id && numbers.Contains(i.NumberId)));
            }
        }

        var text = word.ToLowerInvariant();
        // Words of three letters and more anywhere; shorter ones have no trigram and are the beginning, which is the tag's.
        var pattern = text.Length < Trigram ? Patterns.Beginning(text) : Patterns.Containing(text);
        var models = (await Models(stop))
            .Where(m => m.Name.Split(' ').Any(w => w.StartsWith(word, StringComparison.OrdinalIgnoreCase)))
            .Select(m => m.Code)
            .ToList();
        return models.Count == 0
            ? units.Where(u => EF.Functions.Like(EF.Property<string>(u, Unit.SearchText), pattern))
            : units.Where(u =>
                models.Contains(u.ModelCode) || EF.Functions.Like(EF.Property<string>(u, Unit.SearchText), pattern)
            );
    }

    /// <summary>All models; there are few.</summary>
    private async Task<IReadOnlyList<(string Code, string Name)>> Models(CancellationToken stop)
    {
        var all = await db
            .Models.AsNoTracking()
            .Where(m => m.MergedInto == null)
            .OrderBy(m => m.Name)
            .Select(m => new { m.Code, m.Name })
            .ToListAsync(stop);
        return [.. all.Select(m => (m.Code, m.Name))];
    }

    /// <summary>"donor", "retired", "on-loan": states as people type them, in one word.</summary>
    private static bool Named(UnitState state, string word) =>
        word.Length >= 4
        && (
            string.Equals(state.ToString(), word, StringComparison.OrdinalIgnoreCase)
            || (state is UnitState.Loaned && word.Equals("loan", StringComparison.OrdinalIgnoreCase))
        );
}
