namespace Zenrik.Core.Importing;

/// <summary>One column a sheet may have.</summary>
/// <param name="Id">Stable: "serial".</param>
/// <param name="Name">As a person reads it: "Serial".</param>
/// <param name="Help">What stands in it, in a few words.</param>
/// <param name="Required">True when no row is taken without it.</param>
/// <param name="AlsoCalled">Other headings it is known by, in any case and punctuation.</param>
/// <param name="Looks">Whether a cell looks like one of these; null where nothing can be told from a cell.</param>
public sealed record SheetColumn(
    string Id,
    string Name,
    string Help,
    bool Required = false,
    IReadOnlyList<string>? AlsoCalled = null,
    Func<string, bool>? Looks = null
)
{
    /// <summary>True when cells of it are days.</summary>
    public bool IsDay { get; init; }
}

/// <summary>A kind of list that can be taken in.</summary>
/// <param name="Id">Stable, as in addresses: "units".</param>
/// <param name="Name">"Units".</param>
/// <param name="Says">What a row is.</param>
public sealed record Sheet(string Id, string Name, string Says, IReadOnlyList<SheetColumn> Columns)
{
    /// <summary>Rows that say the same in this column are judged as one; null: each for itself.</summary>
    public string? Together { get; init; }

    public SheetColumn? Column(string id) => Columns.FirstOrDefault(c => c.Id == id);
}

/// <summary>A row as it stands in a file.</summary>
/// <param name="Line">Where: 1 is the headings.</param>
/// <param name="Cells">In the order of the headings; missing ones at the end are left out.</param>
public sealed record SourceRow(int Line, IReadOnlyList<string> Cells);

/// <summary>The cells of a row by column id, blanks left out.</summary>
public sealed class RowValues(int line, IReadOnlyDictionary<string, string> cells)
{
    /// <summary>Where it stands in the file: 1 is the headings.</summary>
    public int Line => line;

    /// <summary>All that is said, by column id.</summary>
    public IReadOnlyDictionary<string, string> All => cells;

    /// <summary>What is said in a column, without blanks around it; null when nothing is.</summary>
    public string? this[string column] => cells.GetValueOrDefault(column);

    /// <param name="matched">Column ids by the index of their heading.</param>
    public static RowValues Of(SourceRow row, IReadOnlyDictionary<int, string> matched)
    {
        var cells = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var (at, id) in matched)
        {
            if (at < row.Cells.Count && row.Cells[at].Trim() is { Length: > 0 } said)
            {
                cells[id] = said;
            }
        }

        return new RowValues(row.Line, cells);
    }
}

/// <summary>What becomes of a row.</summary>
public abstract record RowFate
{
    private RowFate() { }

    /// <summary>It is entered.</summary>
    /// <param name="Says">What that means where it is more than a new line; null otherwise.</param>
    public sealed record New(string? Says = null) : RowFate;

    /// <summary>What is known already is changed.</summary>
    public sealed record Changed(IReadOnlyList<FactChange> Changes) : RowFate;

    /// <summary>The book says so already.</summary>
    public sealed record Same : RowFate;

    /// <summary>It cannot be taken, and why.</summary>
    public sealed record Refused(string Reason) : RowFate;

    /// <summary>Same without changes, Changed with some.</summary>
    public static RowFate Of(IReadOnlyList<FactChange> changes) =>
        changes.Count == 0 ? new Same() : new Changed(changes);
}
