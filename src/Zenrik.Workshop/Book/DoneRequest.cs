namespace Zenrik.Workshop.Book;

/// <summary>A request that has been carried out, by the number its page made up, with what was said to it.</summary>
public sealed class DoneRequest
{
    public required Guid Id { get; init; }

    public required DateTimeOffset At { get; init; }

    /// <summary>Who sent it.</summary>
    public required Guid ById { get; init; }

    /// <summary>What it did and to what: "LendUnit.Out SK-00417".</summary>
    public required string Act { get; init; }

    public required string Said { get; set; }
}
