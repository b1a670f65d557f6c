using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>What a session starts from: its plan and the numbers it expects to read.</summary>
/// <param name="Removed">By slot: the number the passport records, where one is known.</param>
/// <param name="Fitted">By slot: the number of the item promised to this repair.</param>
public sealed record Brief(
    Plan Plan,
    IReadOnlyDictionary<string, PartNumber> Removed,
    IReadOnlyDictionary<string, PartNumber> Fitted
);

/// <summary>A screw group that is out.</summary>
/// <param name="Out">How many came out.</param>
/// <param name="MatField">The field they lie in; null when they stay captive.</param>
/// <param name="Explained">Set when the count differs from the map.</param>
/// <param name="KeptAt">Where they lie, by the house's way of keeping screws.</param>
public sealed record ScrewsOut(FastenerGroup Group, int Out, int? MatField, string KeptAt, Difference? Explained);

/// <summary>A number that has been read, exactly as printed.</summary>
/// <param name="Likeness">How it stands to what was expected; null when nothing was.</param>
/// <param name="Why">What explains a difference.</param>
/// <param name="Item">The item whose own label was read, by its code; null where only a number was read.</param>
public sealed record ReadNumber(
    string Slot,
    bool Fitted,
    PartNumber Number,
    Likeness? Likeness,
    NumberDifference? Why = null,
    string? Item = null
);

/// <summary>An act that was not done, or not as it should be.</summary>
public sealed record LeftAct(int Step, Act Act, Leaving How, string Reason);

/// <summary>Something a new assembly does not bring.</summary>
/// <param name="Item">What it is called in <see cref="Entry.Moved"/>: a part's id, or the words of the map.</param>
/// <param name="Name">As shown.</param>
/// <param name="Moved">True when it is on the new assembly.</param>
/// <param name="ByAct">True when an act of the plan moves it; otherwise it is ticked by hand.</param>
public sealed record ToMove(Assembly Assembly, string Item, string Name, bool Moved, bool ByAct);

/// <summary>Something handed back not as it should be, to be put right another day.</summary>
public sealed record StopGap(string What, string Reason);

/// <summary>A count that was explained, kept for the repair's record.</summary>
public sealed record CountNote(FastenerGroup Group, bool Back, int Expected, int Count, Difference Why, string? Note);

/// <summary>Two groups of one part that are out, fit the same driver and thread, and differ in length.</summary>
public sealed record MixUp(FastenerGroup Longer, FastenerGroup Shorter);

/// <summary>Like heads of several lengths lying on the mat.</summary>
/// <param name="Lengths">By length in mm, longest first, the fields they lie in.</param>
public sealed record LikeHeads(
    Drive Drive,
    MetricThread Thread,
    IReadOnlyList<(double LengthMm, IReadOnlyList<int> Fields)> Lengths
);
