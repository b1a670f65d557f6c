using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Importing;

/// <summary>A machine as a line of a file says it; what is null is not said.</summary>
/// <param name="Serial">In capitals.</param>
/// <param name="Model">Name or code.</param>
public sealed record ListedUnit(
    string Tag,
    string Serial,
    string Model,
    string? Maker,
    DeviceClass? Class,
    string? Site,
    string? User,
    DateOnly? Bought,
    DateOnly? Warranty,
    bool? Loan
)
{
    /// <summary>What is said of the unit with this line read over it: what the line does not say stays.</summary>
    public UnitFacts Over(UnitFacts facts) =>
        new(
            Serial,
            Site ?? facts.Site,
            User ?? facts.User,
            Bought ?? facts.Bought,
            Warranty ?? facts.Warranty,
            Loan ?? facts.Loan
        );

    /// <summary>Reads the cells of a line, the first that cannot be read being the reason.</summary>
    public static Outcome<ListedUnit> Read(RowValues row, DayOrder days)
    {
        var cells = new RowReader(row);
        var tag = cells.Text("tag", UnitTag.Read)?.Text;
        var serial = cells.Text("serial", ReadSerial);
        var model = cells.Text("model", c => MapMaking.ModelName.Read(c, "The model's name"));
        var maker = cells.Text("maker", c => MapMaking.ModelName.Read(c, "The maker"));
        var kind = cells.Value("class", Sheets.ReadClass);
        var site = cells.Text("site", SiteName.Read)?.Text;
        var user = cells.Text("user", UnitUser.Read)?.Text;
        var bought = cells.Value("bought", c => Days.Read(c, days));
        var warranty = cells.Value("warranty", c => Days.Read(c, days));
        var loan = cells.Value("loan", Sheets.ReadYes);
        foreach (var (id, said) in new[] { ("tag", tag), ("serial", serial), ("model", model) })
        {
            if (said is null)
            {
                cells.Refuse($"It has no {id}.");
            }
        }

        return cells.Or(() => new ListedUnit(tag!, serial!, model!, maker, kind, site, user, bought, warranty, loan));

        static Outcome<string> ReadSerial(string cell) =>
            SerialNumber.Read(cell).Try(out var read, out var unreadable) ? read.ToUpperInvariant() : unreadable;
    }
}

/// <summary>A machine as the book has it.</summary>
/// <param name="LentOut">True while somebody has it on loan.</param>
public sealed record KnownUnit(string Tag, string ModelCode, string ModelName, UnitFacts Facts, bool LentOut = false);

/// <summary>
/// Judges the lines of a list of machines one after the other: a machine is known by its tag, and has one serial. What a
/// line does not say stays as it is.
/// </summary>
/// <param name="today">Nothing was bought after it.</param>
public sealed class UnitRows(DateOnly today)
{
    private readonly Dictionary<string, int> tags = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int> serials = new(StringComparer.Ordinal);

    /// <param name="line">Where the row stands.</param>
    /// <param name="row">What it says, with what is said for rows that say nothing.</param>
    /// <param name="model">The code of its model; null for one that is not known yet and is entered.</param>
    /// <param name="byTag">The machine that has its tag.</param>
    /// <param name="bySerial">The machine that has its serial.</param>
    /// <param name="crossed">A machine whose serial is this tag, or whose tag is this serial.</param>
    public RowFate Judge(
        int line,
        ListedUnit row,
        string? model,
        KnownUnit? byTag,
        KnownUnit? bySerial,
        KnownUnit? crossed
    )
    {
        if (row.Tag == row.Serial)
        {
            return new RowFate.Refused($"{row.Tag} is tag and serial at once.");
        }

        if (Twice(tags, row.Tag) is { } first)
        {
            return new RowFate.Refused($"The tag {row.Tag} stands in line {first} already.");
        }

        if (Twice(serials, row.Serial) is { } before)
        {
            return new RowFate.Refused($"The serial {row.Serial} stands in line {before} already.");
        }

        (tags[row.Tag], serials[row.Serial]) = (line, line);
        if (bySerial is not null && bySerial.Tag != row.Tag)
        {
            return new RowFate.Refused(
                $"The serial {row.Serial} is that of {bySerial.Tag}, a {bySerial.ModelName} at {bySerial.Facts.Site}. One machine has one tag."
            );
        }

        if (crossed is not null && crossed.Tag != row.Tag)
        {
            return new RowFate.Refused(
                $"{crossed.Tag} has this tag for its serial, or this serial for its tag. Look at both labels."
            );
        }

        if (byTag is null)
        {
            return row.Site is null ? new RowFate.Refused("It has no site, and none is said for rows without one.")
                : row.Bought is not { } bought
                    ? new RowFate.Refused("It has no day it was bought on, and none is said for rows without one.")
                : new UnitFacts(row.Serial, row.Site, row.User, bought, row.Warranty, row.Loan ?? false).Impossible(
                    today
                )
                    is { } impossible
                    ? new RowFate.Refused(impossible.Message)
                : new RowFate.New(model is null ? $"and the model {row.Maker} {row.Model} with it" : null);
        }

        if (model != byTag.ModelCode)
        {
            return new RowFate.Refused(
                $"{row.Tag} is a {byTag.ModelName} in the book, not a {row.Model}. Look at the machine; if it was entered as the wrong one, correct it on its passport."
            );
        }

        var after = row.Over(byTag.Facts);
        return after.Impossible(today) is { } wrong ? new RowFate.Refused(wrong.Message)
            : byTag.LentOut && !after.Loan
                ? new RowFate.Refused($"{row.Tag} is out on loan; take it back before it leaves the loan pool.")
            : RowFate.Of(byTag.Facts.To(after));

        int? Twice(Dictionary<string, int> seen, string key) => seen.TryGetValue(key, out var at) ? at : null;
    }
}

/// <summary>Finds a model by what a spreadsheet calls it: its code, its name, or maker and name together.</summary>
public sealed class ModelNames
{
    private readonly ILookup<string, (string Code, string Maker)> byName;
    private readonly Dictionary<string, string> byCode;

    public ModelNames(IEnumerable<(string Code, string Maker, string Name)> models)
    {
        var all = models.ToList();
        byCode = all.GroupBy(m => ColumnMatch.Plain(m.Code)).ToDictionary(g => g.Key, g => g.First().Code);
        byName = all.SelectMany(m =>
                new[] { ColumnMatch.Plain(m.Name), ColumnMatch.Plain($"{m.Maker}{m.Name}") }
                    .Distinct()
                    .Select(n => (Name: n, Model: (m.Code, Maker: ColumnMatch.Plain(m.Maker))))
            )
            .ToLookup(x => x.Name, x => x.Model);
    }

    /// <returns>Its code; null where there is none of that name; refused where there are several.</returns>
    public Outcome<string?> Find(string name, string? maker)
    {
        var plain = ColumnMatch.Plain(name);
        var by = maker is null ? null : ColumnMatch.Plain(maker);
        var found = byName[plain].Where(m => by is null || m.Maker == by).Select(m => m.Code).Distinct().ToList();
        return found.Count switch
        {
            1 => found[0],
            > 1 => new Refusal(RefusalReason.Conflict, $"There are several models called {name}. Say the maker too."),
            _ => by is null && byCode.TryGetValue(plain, out var code) ? code : (string?)null,
        };
    }
}
