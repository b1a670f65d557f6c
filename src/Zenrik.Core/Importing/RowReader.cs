namespace Zenrik.Core.Importing;

/// <summary>Reads the cells of one row, each by its own rule; the first that cannot be read is the reason the row is not taken.</summary>
public sealed class RowReader(RowValues row)
{
    /// <summary>The first thing that is wrong; null while nothing is.</summary>
    public Refusal? Wrong { get; private set; }

    /// <summary>What a cell says; null where it says nothing, or nothing that can be read.</summary>
    public T? Text<T>(string column, Func<string, Outcome<T>> read)
        where T : class => row[column] is { } cell ? Read(cell, read) : null;

    /// <summary>The same of figures, days and choices.</summary>
    public T? Value<T>(string column, Func<string, Outcome<T>> read)
        where T : struct => row[column] is { } cell && read(cell) is var got && Kept(got) ? got.Value : null;

    /// <summary>A cell no row is taken without: a blank one is read too, so that its own rule says what is missing.</summary>
    public T? Needed<T>(string column, Func<string?, Outcome<T>> read)
        where T : class => Read(row[column], read);

    /// <summary>Says that something is wrong that no single cell tells.</summary>
    public void Refuse(string message) => Wrong ??= new Refusal(RefusalReason.Invalid, message);

    /// <summary>The row's value, or what is wrong with it.</summary>
    public Outcome<T> Or<T>(Func<T> whole) => Wrong is { } wrong ? wrong : whole();

    private T? Read<TCell, T>(TCell cell, Func<TCell, Outcome<T>> read)
        where T : class => read(cell) is var got && Kept(got) ? got.Value : null;

    private bool Kept<T>(Outcome<T> got)
    {
        Wrong ??= got.Refusal;
        return got.Refusal is null;
    }
}
