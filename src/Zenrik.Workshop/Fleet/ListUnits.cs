using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Fleet;

public sealed record UnitRow(
    string Tag,
    string Model,
    string Site,
    string? UserName,
    string Serial,
    DateOnly BoughtOn,
    UnitState State,
    bool InLoanPool,
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

    /// <summary>Counting on costs more than it tells.</summary>
    public const int CountedUpTo = 1000;

    /// <summary>Deeper pages are refused by being empty: nobody reads so far, and narrowing is faster.</summary>
    private const int DeepestPage = 50;

    /// <summary>The generated column that is searched as one types.</summary>
    internal const string SearchText = "SearchText";

    /// <summary>Shorter words have no trigram; they are the beginning of a tag.</summary>
    private const int Trigram = 3;

    /// <summary>Fewer characters of a part number are not asked of the catalogue: they would mean half of it.</summary>
    private const int NumberPrefix = 5;

    public async Task<UnitPage> Run(UnitQuery query, CancellationToken stop = default)
    {
        var units = await Narrow(query, stop);
        var ordered = query.Order switch
        {
            UnitOrder.Model => units.OrderBy(u => u.ModelCode).ThenBy(u => u.Tag),
            UnitOrder.Site => units.OrderBy(u => u.Site).ThenBy(u => u.Tag),
            UnitOrder.Oldest => units.OrderBy(u => u.BoughtOn).ThenBy(u => u.Tag),
            UnitOrder.Newest => units.OrderByDescending(u => u.BoughtOn).ThenByDescending(u => u.Tag),
            _ => units.OrderBy(u => u.Tag),
        };
        var page = Math.Clamp(query.Page, 0, DeepestPage);
        var rows = await ordered
            .Skip(page * PageSize)
            .Take(PageSize + 1)
            .Select(u => new UnitRow(
                u.Tag,
                u.Model.Name,
                u.Site,
                u.UserName,
                u.Serial,
                u.BoughtOn,
                u.State,
                u.InLoanPool,
                db.Repairs.Where(r =>
                        r.UnitId == u.Id
                        && (
                            r.State == RepairState.Open
                            || r.State == RepairState.OnBench
                            || r.State == RepairState.Stopped
                        )
                    )
                    .Select(r => (long?)r.Number)
                    .FirstOrDefault()
            ))
            .ToListAsync(stop);
        var more = rows.Count > PageSize;
        if (more)
        {
            rows.RemoveAt(PageSize);
        }

        var total =
            page == 0 && !more ? rows.Count : await units.Select(u => u.Id).Take(CountedUpTo + 1).CountAsync(stop);
        return new UnitPage(rows, Math.Min(total, CountedUpTo), more);
    }

    /// <summary>The tags of all units a query means, for acts on many; at most <see cref="CountedUpTo"/>.</summary>
    public async Task<IReadOnlyList<string>> Tags(UnitQuery query, CancellationToken stop = default) =>
        await (await Narrow(query, stop)).OrderBy(u => u.Tag).Select(u => u.Tag).Take(CountedUpTo).ToListAsync(stop);

    /// <summary>What the filters can be set to.</summary>
    public async Task<(
        IReadOnlyList<string> Sites,
        IReadOnlyList<(string Code, string Name)> Models,
        IReadOnlyList<string> Campaigns
    )> Choices(CancellationToken stop = default)
    {
        var sites = await Distinct("SELECT min(site) AS v FROM units", "site", "units", stop);
        var campaigns = await Distinct(
            "SELECT min(campaign) AS v FROM campaign_marks",
            "campaign",
            "campaign_marks",
            stop
        );
        return (sites, await Models(stop), campaigns);
    }

    /// <summary>Different values of an indexed column, by stepping from one to the next: a few index reads, not a whole table.</summary>
    private async Task<IReadOnlyList<string>> Distinct(
        string first,
        string column,
        string table,
        CancellationToken stop
    )
    {
#pragma warning disable EF1002 // Names of columns and tables stand in the code, not in input.
        var values = await db
            .Database.SqlQueryRaw<string>(
                $"""
                WITH RECURSIVE step AS (
                    {first}
                    UNION ALL
                    SELECT (SELECT min({column}) FROM {table} WHERE {column} > step.v) FROM step WHERE step.v IS NOT NULL
                )
                SELECT v AS "Value" FROM step WHERE v IS NOT NULL LIMIT 500
                """
            )
            .ToListAsync(stop);
#pragma warning restore EF1002
        return values;
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
            ? units.Where(u => EF.Functions.Like(EF.Property<string>(u, SearchText), pattern))
            : units.Where(u =>
                models.Contains(u.ModelCode) || EF.Functions.Like(EF.Property<string>(u, SearchText), pattern)
            );
    }

    /// <summary>All models; there are few.</summary>
    private async Task<IReadOnlyList<(string Code, string Name)>> Models(CancellationToken stop)
    {
        var all = await db
            .Models.AsNoTracking()
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
