using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Practice;

/// <summary>What a thing in the machine is, at a glance.</summary>
public enum ThingKind
{
    Part,
    Screws,
    Joint,
    Tie,
}

/// <summary>Something in the machine a learner can lay a hand on, allowed or not.</summary>
/// <param name="Name">What it is called; where names are hidden, what it looks like and where it lies.</param>
/// <param name="Off">True when it is out, undone, open, free or aside.</param>
/// <param name="Acts">What could be done with it as it is; the usual one first.</param>
public sealed record SeenThing(string Id, ThingKind Kind, string Name, bool Off, IReadOnlyList<Act> Acts);

/// <summary>What of a machine lies open to the eye, as a list beside the drawing.</summary>
public static class Sight
{
    /// <summary>Everything in sight, what is still in its place first; nothing that lies under something else.</summary>
    public static IReadOnlyList<SeenThing> Of(Referee run)
    {
        var map = run.Task.Map;
        var moment = run.Moment;
        var off = moment.PartsOut.Concat(moment.PartsAside).ToHashSet();
        var gone = map.GoneWith(off);
        var replaced = map.Replaced(run.Task.Goals).Select(a => a.Part).ToHashSet();
        var side = moment.Up ?? Side.Deck;
        var nameless = run.Task.Level >= PracticeLevel.Nameless;

        // Hidden by what is still where it was, in the same body.
        bool Covered(IEnumerable<PartId> by, PartId at) =>
            by.Any(b => !off.Contains(b) && gone.Contains(b) == gone.Contains(at));
        bool Faces(Side of, PartId at) => of == side || map.Part(at).Side == Side.Edge || gone.Contains(at);
        string Called(string name, string like, Point? at) =>
            nameless ? $"{like}, {(at is { } point ? Place(map, point, side) : "out of the drawing")}" : name;

        var seen = new List<SeenThing>();
        foreach (var part in map.Parts.Where(p => !p.Fixed))
        {
            var (isOut, isAside) = (moment.PartsOut.Contains(part.Id), moment.PartsAside.Contains(part.Id));
            if (
                !(isOut || isAside)
                && (
                    !Faces(part.Side, part.Id)
                    || Covered(part.BlockedBy.Where(b => map.Part(b).Layer > part.Layer), part.Id)
                )
            )
            {
                continue;
            }

            seen.Add(
                new SeenThing(
                    part.Id.Value,
                    ThingKind.Part,
                    Called(part.Name, Like(part), part.Shape is { } shape ? shape.Bounds.Centre : null),
                    isOut || isAside,
                    [.. OfPart(part, isOut, isAside, replaced.Contains(part.Id))]
                )
            );
        }

        foreach (var f in map.Fasteners)
        {
            var isOff = moment.ScrewsOut.Contains(f.Id);
            if (isOff || (Faces(f.Side, f.Holds) && !Covered(f.Under, f.Holds)))
            {
                var name =
                    run.Task.Level >= PracticeLevel.Uncounted ? "screws"
                    : f.Count == 1 ? "one screw"
                    : $"{Wording.Count(f.Count)} screws";
                seen.Add(
                    new SeenThing(
                        f.Id.Value,
                        ThingKind.Screws,
                        Called(Wording.ScrewsOf(f), name, Middle(f.Positions)),
                        isOff,
                        [Turned(Act.Undo(f.Id), isOff)]
                    )
                );
            }
        }

        foreach (var j in map.Joints)
        {
            var isOff = moment.JointsOpen.Contains(j.Id);
            var at = j.Between.FirstOrDefault(p => map.Part(p).Outside, j.Socket);
            if (isOff || (Faces(j.Side, at) && !Covered(j.Under, j.Socket)))
            {
                seen.Add(
                    new SeenThing(
                        j.Id.Value,
                        ThingKind.Joint,
                        Called(j.Name, j.Kind.Handling().Name, j.At),
                        isOff,
                        [Turned(TeardownGraph.Opening(map, j.Id), isOff)]
                    )
                );
            }
        }

        foreach (var t in map.Ties)
        {
            var isOff = moment.TiesFree.Contains(t.Id);
            var at = map.Part(t.Of).Outside ? t.Of : t.On;
            if (isOff || (Faces(t.Side, at) && !Covered(t.Under, t.On)))
            {
                seen.Add(
                    new SeenThing(
                        t.Id.Value,
                        ThingKind.Tie,
                        Called(t.Name, t.Kind.Handling().Name, t.At),
                        isOff,
                        [Turned(Act.Free(t.Id), isOff)]
                    )
                );
            }
        }

        return [.. seen.OrderBy(s => s.Off)];
    }

    /// <summary>What a hand does that goes for a thing of the map, in sight or not; null: there is no such thing.</summary>
    public static Act? At(Referee run, string id)
    {
        var map = run.Task.Map;
        var moment = run.Moment;
        if (map.Parts.FirstOrDefault(p => p.Id.Value == id) is { } part)
        {
            return OfPart(part, moment.PartsOut.Contains(part.Id), moment.PartsAside.Contains(part.Id), false).First();
        }

        return map.Fasteners.FirstOrDefault(f => f.Id.Value == id) is { } f
                ? Turned(Act.Undo(f.Id), moment.ScrewsOut.Contains(f.Id))
            : map.Joints.FirstOrDefault(j => j.Id.Value == id) is { } j
                ? Turned(TeardownGraph.Opening(map, j.Id), moment.JointsOpen.Contains(j.Id))
            : map.Ties.FirstOrDefault(t => t.Id.Value == id) is { } t
                ? Turned(Act.Free(t.Id), moment.TiesFree.Contains(t.Id))
            : null;
    }

    /// <summary>
    /// What is done to the whole machine: preparations left, turning, the power test, checks, and what comes onto a new
    /// drive, before it goes in or once all is closed.
    /// </summary>
    public static IReadOnlyList<Act> Whole(Referee run) =>
        [
            .. run.Task.Map.Preparations.Select(Act.Prepare).Where(p => run.Machine.Do(p) is null),
            Act.TurnOver,
            Act.PowerTest,
            .. run.Task.Plan.Acts.Where(a => a.Kind == ActKind.FillDrive),
            .. run.Task.Map.Checks.Select(c => Act.Check(c.Id)),
        ];

    private static IEnumerable<Act> OfPart(Part part, bool isOut, bool isAside, bool isReplaced)
    {
        IEnumerable<Act> acts =
            isOut
                ?
                [
                    .. isReplaced ? [Act.ReadRemoved(part.Id), Act.ReadFitted(part.Id)] : Array.Empty<Act>(),
                    .. part.Thermal is not null ? [Act.CleanAndPaste(part.Id)] : Array.Empty<Act>(),
                    Act.LiftOut(part.Id).Reverse!.Value,
                ]
            : isAside ? [new Act(ActKind.PutBack, part.Id.Value), .. TeardownGraph.Lifting(part)]
            : part.Fixed ? [Act.LiftOut(part.Id)]
            : TeardownGraph.Removing(part);
        return part.Dusty ? acts.Append(Act.BlowClean(part.Id)) : acts;
    }

    /// <summary>What is done with a thing that is in its place, or its reverse when it is not.</summary>
    private static Act Turned(Act off, bool isOff) => isOff ? off.Reverse!.Value : off;

    private static string Like(Part part) =>
        part.Cells ? "battery pack"
        : part.Layer >= MachineView.CoverLayer ? "cover"
        : part.MountedOn is null ? "part"
        : "small part";

    private static Point? Middle(IReadOnlyList<Point> points) =>
        points.Count == 0 ? null : new Point(points.Average(p => p.X), points.Average(p => p.Y));

    /// <summary>"left at the hinge", "in the middle", "right at the front": by thirds of what the eye sees.</summary>
    private static string Place(ServiceMap map, Point at, Side side)
    {
        var x = side == Side.Deck ? map.Drawing.WidthMm - at.X : at.X;
        var across =
            x < map.Drawing.WidthMm / 3 ? "left"
            : x > 2 * map.Drawing.WidthMm / 3 ? "right"
            : "middle";
        var along =
            at.Y < map.Drawing.HeightMm / 3 ? "at the hinge"
            : at.Y > 2 * map.Drawing.HeightMm / 3 ? "at the front"
            : "";
        return along.Length == 0 && across == "middle" ? "in the middle" : $"{across} {along}".TrimEnd();
    }
}
