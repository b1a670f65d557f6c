using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>What a bench found otherwise than its map says; the session goes on by the map so corrected.</summary>
public abstract record MapCorrection
{
    private const string BringsWord = "brings:";
    private const string TriesWord = "tries:";
    private const string StaysWord = "stays:";
    private const char Before = '>';
    private const char And = ';';
    private const char Then = ',';

    private MapCorrection() { }

    /// <summary>A new assembly comes with a part that was to move over to it: the old one's stays where it is.</summary>
    /// <param name="On">The part that is exchanged.</param>
    public sealed record Brings(PartId On, PartId Part) : MapCorrection
    {
        public override ServiceMap In(ServiceMap map) =>
            map with
            {
                Assemblies =
                [
                    .. map.Assemblies.Select(a =>
                        a.Part != On || a.Brings.Contains(Part)
                            ? a
                            : a with
                            {
                                Brings = [.. a.Brings, Part],
                                MovesOver = [.. a.MovesOver.Where(p => p != Part)],
                            }
                    ),
                ],
            };

        public override string ToString() => $"{BringsWord}{On}{Before}{Part}";
    }

    /// <summary>It is tried whether a part comes before another it was only ever seen to come after.</summary>
    /// <param name="Waits">What is freed by that, the lifting out last, each with all it waits for still.</param>
    /// <param name="Cover">The part it may not have to wait for.</param>
    public sealed record Tries(IReadOnlyList<(Act Act, IReadOnlyList<Act> After)> Waits, PartId Cover) : MapCorrection
    {
        /// <summary>The lifting out that is tried.</summary>
        public Act Tried => Waits[^1].Act;

        public override ServiceMap In(ServiceMap map) =>
            Waits.Aggregate(map, (changed, wait) => changed.WaitingOnlyFor(wait.Act, wait.After));

        public override string ToString() =>
            $"{TriesWord}{string.Join(And, Waits.Select(w => string.Join(Then, w.After.Prepend(w.Act))))}{Before}{Cover}";

        internal static Tries Read(string text, PartId cover) =>
            new(
                [
                    .. text.Split(And)
                        .Select(w => w.Split(Then))
                        .Select(w => (Act.Parse(w[0]), (IReadOnlyList<Act>)[.. w.Skip(1).Select(Act.Parse)])),
                ],
                cover
            );
    }

    /// <summary>It was tried, and does not come before the other.</summary>
    public sealed record Stays(PartId Part, PartId Cover) : MapCorrection
    {
        public override ServiceMap In(ServiceMap map) => map.WithWait(Part, Cover);

        public override string ToString() => $"{StaysWord}{Part}{Before}{Cover}";
    }

    /// <summary>The map with this in it.</summary>
    public abstract ServiceMap In(ServiceMap map);

    /// <summary>Reads what <see cref="object.ToString"/> wrote; null for anything else.</summary>
    public static MapCorrection? Read(string? text)
    {
        if (text?.Split(Before) is not [var what, { Length: > 0 } part])
        {
            return null;
        }

        var cover = PartId.Of(part);
        return After(BringsWord) is { } on ? new Brings(PartId.Of(on), cover)
            : After(StaysWord) is { } waiting ? new Stays(PartId.Of(waiting), cover)
            : After(TriesWord) is { } waits ? Tries.Read(waits, cover)
            : null;

        string? After(string word) => what.StartsWith(word, StringComparison.Ordinal) ? what[word.Length..] : null;
    }
}
