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
        var gone = off.SelectMany(p => map.MovingWith(p, off)).ToHashSet();
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
                        [isOff ? Act.Undo(f.Id).Reverse!.Value : Act.Undo(f.Id)]
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
                var opens = j.Id == map.Isolation ? Act.Isolate(j.Id) : Act.Open(j.Id);
                seen.Add(
                    new SeenThing(
                        j.Id.Value,
                        ThingKind.Joint,
                        Called(j.Name, j.Kind.Handling().Name, j.At),
                        isOff,
                        [isOff ? opens.Reverse!.Value : opens]
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
                        [isOff ? Act.Free(t.Id).Reverse!.Value : Act.Free(t.Id)]
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

        var (off, done) =
            map.Fasteners.FirstOrDefault(f => f.Id.Value == id) is { } f
                ? (Act.Undo(f.Id), moment.ScrewsOut.Contains(f.Id))
            : map.Joints.FirstOrDefault(j => j.Id.Value == id) is { } j
                ? (j.Id == map.Isolation ? Act.Isolate(j.Id) : Act.Open(j.Id), moment.JointsOpen.Contains(j.Id))
            : map.Ties.FirstOrDefault(t => t.Id.Value == id) is { } t ? (Act.Free(t.Id), moment.TiesFree.Contains(t.Id))
            : ((Act?)null, false);
        return done ? off!.Value.Reverse : off;
    }

    /// <summary>What is done to the whole machine: preparations left, turning, the power test, checks.</summary>
    public static IReadOnlyList<Act> Whole(Referee run) =>
        [
            .. run.Task.Map.Preparations.Select(Act.Prepare).Where(p => run.Machine.Do(p) is null),
            Act.TurnOver,
            Act.PowerTest,
            .. run.Task.Map.Checks.Select(c => Act.Check(c.Id)),
        ];

    private static IEnumerable<Act> OfPart(Part part, bool isOut, bool isAside, bool isReplaced)
    {
        IEnumerable<Act> plain = part.Ways.Any(w => !w.SetsAside)
            ? part.Ways.Where(w => !w.SetsAside).Select(w => Act.Remove(part.Id, w))
            : [Act.LiftOut(part.Id)];
        if (isOut)
        {
            if (isReplaced)
            {
                yield return Act.ReadRemoved(part.Id);
                yield return Act.ReadFitted(part.Id);
                yield return Act.FillDrive(part.Id);
            }

            if (part.Thermal is not null)
            {
                yield return Act.CleanAndPaste(part.Id);
            }

            yield return Act.LiftOut(part.Id).Reverse!.Value;
        }
        else if (isAside)
        {
            yield return new Act(ActKind.PutBack, part.Id.Value);
            foreach (var act in plain)
            {
                yield return act;
            }
        }
        else
        {
            foreach (var act in plain.Concat(part.Ways.Where(w => w.SetsAside).Select(w => Act.Remove(part.Id, w))))
            {
                yield return act;
            }
        }

        if (part.Dusty)
        {
            yield return Act.BlowClean(part.Id);
        }
    }

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
