using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Practice;

/// <summary>What went wrong at a move.</summary>
public enum SlipKind
{
    /// <summary>Something would have torn, cracked or come off.</summary>
    Broken,

    /// <summary>What may be under power was touched.</summary>
    UnderPower,

    /// <summary>It cannot be done now, and nothing is harmed by trying: it is hidden, on the other side, done already.</summary>
    InVain,

    /// <summary>The tool does not fit what it is put to.</summary>
    WrongTool,

    /// <summary>Screws of two kinds came together, or one went into a hole it is too long or too short for.</summary>
    Screws,

    /// <summary>The count was wrong.</summary>
    Count,

    /// <summary>On the way back something was left out that belongs beneath, or before.</summary>
    OutOfOrder,

    /// <summary>Left out altogether.</summary>
    Forgotten,
}

/// <summary>A move that would have done harm, or nothing, and what it costs.</summary>
/// <param name="Thing">The id, within the map, of what stood against it; null: what was acted on.</param>
/// <param name="Sentence">What would have happened.</param>
/// <param name="Minutes">Time lost by itself, what is broken not counted.</param>
/// <param name="Breaks">The part that would have to be exchanged; null: nothing.</param>
/// <param name="Topic">What there is to be learned (<see cref="Topics"/>).</param>
public sealed record Slip(SlipKind Kind, string? Thing, string Sentence, double Minutes, PartId? Breaks, string Topic);

/// <summary>What exchanging a part would have cost here.</summary>
/// <param name="Name">What is ordered for it.</param>
/// <param name="Minutes">Of the whole job, from this workshop's plans.</param>
/// <param name="Price">Of the part, in the workshop's currency; null: nobody here knows one.</param>
public sealed record HarmFigure(string Name, double Minutes, decimal? Price);
