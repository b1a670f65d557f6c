using Zenrik.Core.Economics;
using Zenrik.Workshop.Economics;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>What _Erasure.cshtml sends: lists that run alongside, one entry a piece of storage.</summary>
public sealed record ErasureForm
{
    public IReadOnlyList<string> Slots { get; init; } = [];

    public IReadOnlyList<DataHeld> Held { get; init; } = [];

    /// <summary>As sent; empty where none was chosen.</summary>
    public IReadOnlyList<string?> Methods { get; init; } = [];

    /// <summary>Slots whose storage does not answer.</summary>
    public IReadOnlyList<string> Silent { get; init; } = [];

    /// <summary>Pieces a method was chosen for; the others are asked for by whoever needs them.</summary>
    public IReadOnlyList<Erased> Read() =>
        [
            .. Slots
                .Index()
                .Where(s => s.Index < Held.Count && s.Index < Methods.Count)
                .Select(s =>
                    Enum.TryParse<ErasureMethod>(Methods[s.Index], out var method) && Enum.IsDefined(method)
                        ? new Erased(s.Item, Held[s.Index], method, !Silent.Contains(s.Item))
                        : null
                )
                .OfType<Erased>(),
        ];
}
