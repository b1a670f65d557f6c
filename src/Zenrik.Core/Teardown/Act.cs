using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>The kinds of act. The first block takes apart, the second puts back, the third closes out.</summary>
public enum ActKind
{
    Prepare,
    TurnOver,
    Isolate,
    Undo,
    Open,
    Free,
    SetAside,
    LiftOut,

    PutIn,
    PutBack,
    Lay,
    Close,
    Fasten,
    Reconnect,

    ReadRemoved,
    ReadFitted,
    CleanAndPaste,
    BlowClean,
    PowerTest,
    Check,

    /// <summary>What comes onto a new drive: the old one's content, a backup, or a system installed anew.</summary>
    FillDrive,
}

/// <summary>
/// One thing done by hand, written "kind:target" ("undo:base-screws") or, where a part has several ways,
/// "kind:target/way" ("set-aside:radio/leads-on"). The target is the id, within the map, of the fastener group, joint,
/// tie, part, check or preparation acted on; it is empty for turning over and the power test.
/// </summary>
public readonly record struct Act(ActKind Kind, string Target, string? Way = null)
{
    public static readonly Act TurnOver = new(ActKind.TurnOver, "");

    public static readonly Act PowerTest = new(ActKind.PowerTest, "");

    public static Act Prepare(Preparation preparation) => new(ActKind.Prepare, preparation.Id);

    public static Act Isolate(JointId joint) => new(ActKind.Isolate, joint.Value);

    public static Act Undo(FastenerId group) => new(ActKind.Undo, group.Value);

    public static Act Open(JointId joint) => new(ActKind.Open, joint.Value);

    public static Act Free(TieId tie) => new(ActKind.Free, tie.Value);

    public static Act LiftOut(PartId part) => new(ActKind.LiftOut, part.Value);

    /// <summary>Takes a part out or aside in one of its ways.</summary>
    public static Act Remove(PartId part, PartWay way) =>
        new(way.SetsAside ? ActKind.SetAside : ActKind.LiftOut, part.Value, way.Id);

    public static Act ReadRemoved(PartId part) => new(ActKind.ReadRemoved, part.Value);

    public static Act ReadFitted(PartId part) => new(ActKind.ReadFitted, part.Value);

    public static Act CleanAndPaste(PartId part) => new(ActKind.CleanAndPaste, part.Value);

    public static Act BlowClean(PartId part) => new(ActKind.BlowClean, part.Value);

    public static Act FillDrive(PartId drive) => new(ActKind.FillDrive, drive.Value);

    public static Act Check(CheckId check) => new(ActKind.Check, check.Value);

    public PartId Part =>
        Kind
            is ActKind.LiftOut
                or ActKind.PutIn
                or ActKind.SetAside
                or ActKind.PutBack
                or ActKind.ReadRemoved
                or ActKind.ReadFitted
                or ActKind.CleanAndPaste
                or ActKind.BlowClean
                or ActKind.FillDrive
            ? PartId.Of(Target)
            : throw new InvalidOperationException($"{this} acts on no part");

    public FastenerId Fastener =>
        Kind is ActKind.Undo or ActKind.Fasten
            ? FastenerId.Of(Target)
            : throw new InvalidOperationException($"{this} acts on no fastener group");

    public JointId Joint =>
        Kind is ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect
            ? JointId.Of(Target)
            : throw new InvalidOperationException($"{this} acts on no joint");

    public TieId Tie =>
        Kind is ActKind.Free or ActKind.Lay
            ? TieId.Of(Target)
            : throw new InvalidOperationException($"{this} acts on no tie");

    /// <summary>The act that undoes this one on the way back, or null when nothing needs undoing.</summary>
    public Act? Reverse =>
        Kind switch
        {
            ActKind.TurnOver => TurnOver,
            ActKind.Isolate => this with { Kind = ActKind.Reconnect },
            ActKind.Undo => this with { Kind = ActKind.Fasten },
            ActKind.Open => this with { Kind = ActKind.Close },
            ActKind.Free => this with { Kind = ActKind.Lay },
            ActKind.SetAside => this with { Kind = ActKind.PutBack },
            ActKind.LiftOut => this with { Kind = ActKind.PutIn },
            _ => null,
        };

    public override string ToString() =>
        Way is null ? $"{KindName(Kind)}:{Target}" : $"{KindName(Kind)}:{Target}/{Way}";

    /// <summary>Reads what <see cref="ToString"/> wrote.</summary>
    /// <exception cref="FormatException">The text is no act.</exception>
    public static Act Parse(string text) =>
        TryParse(text, out var act)
            ? act
            : throw new FormatException($"\"{text}\" is no act; acts are written kind:target");

    /// <summary>Reads what <see cref="ToString"/> wrote; false when the text is no act.</summary>
    public static bool TryParse(string? text, out Act act)
    {
        var colon = text?.IndexOf(':', StringComparison.Ordinal) ?? -1;
        if (colon < 0 || !Kinds.TryGetValue(text![..colon], out var kind))
        {
            act = default;
            return false;
        }

        var target = text[(colon + 1)..];
        var slash = target.IndexOf('/', StringComparison.Ordinal);
        act = slash < 0 ? new Act(kind, target) : new Act(kind, target[..slash], target[(slash + 1)..]);
        return true;
    }

    private static readonly Dictionary<string, ActKind> Kinds = Enum.GetValues<ActKind>().ToDictionary(KindName);

    private static string KindName(ActKind kind) =>
        string.Concat(kind.ToString().Select((c, i) => i > 0 && char.IsUpper(c) ? $"-{c}" : $"{c}")).ToLowerInvariant();
}
