using Zenrik.Core.Teardown;

namespace Zenrik.Core.ServiceMaps;

/// <summary>
/// What the schema cannot say: identifiers resolve, counts equal positions, everything can be reached and freed, and
/// the drawing lies inside its outline.
/// </summary>
public static class ServiceMapRules
{
    /// <summary>Every rule the map breaks; empty when it may be used.</summary>
    public static IReadOnlyList<Finding> Check(string file, ServiceMap map)
    {
        var findings = new List<Finding>();
        void Find(string path, string reason) => findings.Add(new Finding(file, path, reason));

        CheckIds(map, Find);
        if (findings.Exists(f => f.Path.EndsWith(".id", StringComparison.Ordinal)))
        {
            // With one id for two things every further finding would be a guess.
            return findings;
        }

        // What follows goes along references; those that lead nowhere have been named and are left out.
        var whole = findings.Count == 0 ? map : WithoutDangling(map);
        CheckParts(whole, Find);
        CheckFasteners(whole, Find);
        CheckJoints(whole, Find);
        CheckAssemblies(whole, Find);
        CheckVariants(whole, Find);
        CheckSpecifications(whole, Find);
        CheckDrawing(whole, Find);
        if (whole.Joints.Any(j => j.Id == whole.Isolation) && !RidesInCircles(whole))
        {
            CheckRemovability(whole, Find);
        }

        return [.. findings.Distinct()];
    }

    /// <summary>The map without references to what it does not have. Lists keep their length, so paths stay right.</summary>
    private static ServiceMap WithoutDangling(ServiceMap map)
    {
        var ids = map.Parts.Select(p => p.Id).ToHashSet();
        var joints = map.Joints.Select(j => j.Id).ToHashSet();
        // Two stand-ins, so that what had an end missing does not seem to have both ends on one part.
        var still = map.Parts.FirstOrDefault(p => p.Fixed)?.Id ?? map.Parts[0].Id;
        var loose = map.Parts.FirstOrDefault(p => !p.Fixed && p.Slot is not null)?.Id ?? map.Parts[^1].Id;
        PartId Known(PartId id, PartId standIn) => ids.Contains(id) ? id : standIn;
        PartId[] OnlyKnown(IReadOnlyList<PartId> list) => [.. list.Where(ids.Contains)];
        return map with
        {
            Waits = [],
            Parts =
            [
                .. map.Parts.Select(p =>
                    p with
                    {
                        MountedOn = p.MountedOn is { } on && ids.Contains(on) ? on : null,
                        BlockedBy = OnlyKnown(p.BlockedBy),
                        Ways =
                        [
                            .. p.Ways.Select(w =>
                                w with
                                {
                                    Clears = OnlyKnown(w.Clears),
                                    Over = OnlyKnown(w.Over),
                                    Keeps = [.. w.Keeps.Where(joints.Contains)],
                                }
                            ),
                        ],
                    }
                ),
            ],
            Fasteners =
            [
                .. map.Fasteners.Select(f =>
                    f with
                    {
                        Holds = Known(f.Holds, loose),
                        Into = Known(f.Into, still),
                        Under = OnlyKnown(f.Under),
                    }
                ),
            ],
            Joints =
            [
                .. map.Joints.Select(j =>
                    j with
                    {
                        Between = [Known(j.Plug, loose), Known(j.Socket, still)],
                        OtherEnd = j.OtherEnd is { } other && joints.Contains(other) ? other : null,
                        Under = OnlyKnown(j.Under),
                    }
                ),
            ],
            Ties =
            [
                .. map.Ties.Select(t =>
                    t with
                    {
                        Of = Known(t.Of, loose),
                        On = Known(t.On, still),
                        Under = OnlyKnown(t.Under),
                    }
                ),
            ],
            Assemblies =
            [
                .. map.Assemblies.Select(a =>
                    a with
                    {
                        Part = Known(a.Part, loose),
                        Brings = OnlyKnown(a.Brings),
                        MovesOver = OnlyKnown(a.MovesOver),
                    }
                ),
            ],
            Variants =
            [
                .. map.Variants.Select(v =>
                    v with
                    {
                        Choices = [.. v.Choices.Select(c => c with { Parts = OnlyKnown(c.Parts) })],
                    }
                ),
            ],
        };
    }

    private static void CheckIds(ServiceMap map, Action<string, string> find)
    {
        Unique("parts", map.Parts.Select(p => p.Id.Value));
        Unique("fasteners", map.Fasteners.Select(f => f.Id.Value));
        Unique("joints", map.Joints.Select(j => j.Id.Value));
        Unique("ties", map.Ties.Select(t => t.Id.Value));
        Unique("assemblies", map.Assemblies.Select(a => a.Id.Value));
        Unique("checks", map.Checks.Select(c => c.Id.Value));
        Unique("preparations", map.Preparations.Select(p => p.Id));
        Unique("variants", map.Variants.Select(v => v.Id));
        Unique("decoys", map.Decoys.Select(d => d.Id));

        var parts = map.Parts.Select(p => p.Id).ToHashSet();
        var checks = map.Checks.Select(c => c.Id).ToHashSet();
        var joints = map.Joints.Select(j => j.Id).ToHashSet();

        foreach (var (i, p) in map.Parts.Index())
        {
            if (p.MountedOn is { } on)
            {
                PartExists($"$.parts[{i}].mountedOn", on);
            }

            PartsExist($"$.parts[{i}].blockedBy", p.BlockedBy);
            if (p.Check is { } check)
            {
                CheckExists($"$.parts[{i}].check", check);
            }

            foreach (var (k, way) in p.Ways.Index())
            {
                PartsExist($"$.parts[{i}].ways[{k}].clears", way.Clears);
                PartsExist($"$.parts[{i}].ways[{k}].over", way.Over);
                foreach (var (n, kept) in way.Keeps.Index().Where(j => !joints.Contains(j.Item)))
                {
                    find($"$.parts[{i}].ways[{k}].keeps[{n}]", $"there is no joint \"{kept}\"");
                }
            }
        }

        foreach (var (i, f) in map.Fasteners.Index())
        {
            PartExists($"$.fasteners[{i}].holds", f.Holds);
            PartExists($"$.fasteners[{i}].into", f.Into);
            PartsExist($"$.fasteners[{i}].under", f.Under);
            if (f.Magnet is { } magnet)
            {
                PartExists($"$.fasteners[{i}].magnet", magnet);
                if (!f.NearMagnet)
                {
                    find($"$.fasteners[{i}].magnet", "a part with a magnet is given where nearMagnet is true");
                }
            }
        }

        foreach (var (i, j) in map.Joints.Index())
        {
            PartsExist($"$.joints[{i}].between", [.. j.Between]);
            PartsExist($"$.joints[{i}].under", j.Under);
            if (j.OtherEnd is { } other && !joints.Contains(other))
            {
                find($"$.joints[{i}].otherEnd", $"there is no joint \"{other}\"");
            }

            CheckExists($"$.joints[{i}].check", j.Check);
        }

        foreach (var (i, t) in map.Ties.Index())
        {
            PartExists($"$.ties[{i}].of", t.Of);
            PartExists($"$.ties[{i}].on", t.On);
            PartsExist($"$.ties[{i}].under", t.Under);
        }

        foreach (var (i, a) in map.Assemblies.Index())
        {
            PartExists($"$.assemblies[{i}].part", a.Part);
            PartsExist($"$.assemblies[{i}].brings", a.Brings);
            PartsExist($"$.assemblies[{i}].movesOver", a.MovesOver);
            foreach (var (k, check) in a.After.Index())
            {
                CheckExists($"$.assemblies[{i}].after[{k}]", check);
            }
        }

        foreach (var (i, p) in map.Preparations.Index())
        {
            foreach (var (k, check) in p.For.Index())
            {
                CheckExists($"$.preparations[{i}].for[{k}]", check);
            }
        }

        var named = map.Parts.SelectMany(p => p.Contains.Append(p.Id.Value)).ToHashSet();
        foreach (var (i, absent) in map.Without.Index().Where(w => named.Contains(w.Item)))
        {
            find($"$.without[{i}]", $"\"{absent}\" is a part of this map, or contained in one");
        }

        foreach (var (i, v) in map.Variants.Index())
        {
            foreach (var (k, choice) in v.Choices.Index())
            {
                PartsExist($"$.variants[{i}].choices[{k}].parts", choice.Parts);
            }
        }

        foreach (var (i, d) in map.Decoys.Index())
        {
            PartExists($"$.decoys[{i}].on", d.On);
            if (d.MistakenFor is { } these && map.Fasteners.All(f => f.Id != these))
            {
                find($"$.decoys[{i}].mistakenFor", $"there are no screws \"{these}\"");
            }
        }

        foreach (var (i, w) in map.Waits.Index())
        {
            WaitExists($"$.waits[{i}].what", w.Waiting);
            WaitExists($"$.waits[{i}].after", w.First);
            foreach (var (k, or) in w.Or.Index())
            {
                WaitExists($"$.waits[{i}].or[{k}]", Act.Parse(or));
            }

            if (w.What == w.After)
            {
                find($"$.waits[{i}].after", "nothing comes after itself");
            }
        }

        if (map.Joints.All(j => j.Id != map.Isolation))
        {
            find("$.isolation", $"there is no joint \"{map.Isolation}\"");
        }

        void WaitExists(string path, Act act)
        {
            var known = act.Kind switch
            {
                ActKind.LiftOut => map.Parts.Any(p => p.Id == act.Part && !p.Fixed),
                ActKind.Undo => map.Fasteners.Any(f => f.Id == act.Fastener),
                ActKind.Open => act.Joint != map.Isolation && map.Joints.Any(j => j.Id == act.Joint),
                ActKind.Isolate => act.Joint == map.Isolation,
                ActKind.Free => map.Ties.Any(t => t.Id == act.Tie),
                _ => false,
            };
            if (!known)
            {
                find(path, $"this map has no \"{act}\"");
            }
        }

        void Unique(string list, IEnumerable<string> ids)
        {
            var seen = new HashSet<string>(StringComparer.Ordinal);
            foreach (var (i, id) in ids.Index())
            {
                if (!seen.Add(id))
                {
                    find($"$.{list}[{i}].id", $"the id \"{id}\" is used twice");
                }
            }
        }

        void PartExists(string path, PartId id)
        {
            if (!parts.Contains(id))
            {
                find(path, $"there is no part \"{id}\"");
            }
        }

        void PartsExist(string path, IReadOnlyList<PartId> ids)
        {
            foreach (var (k, id) in ids.Index())
            {
                PartExists($"{path}[{k}]", id);
            }
        }

        void CheckExists(string path, CheckId? id)
        {
            if (id is { } given && !checks.Contains(given))
            {
                find(path, $"there is no check \"{given}\"");
            }
        }
    }

    private static void CheckParts(ServiceMap map, Action<string, string> find)
    {
        if (map.Parts.Count(p => p.Fixed) != 1)
        {
            find("$.parts", "exactly one part must be fixed: the one that stays on the bench");
        }

        var slots = new HashSet<string>(StringComparer.Ordinal);
        foreach (var (i, p) in map.Parts.Index())
        {
            if (p.Slot is { } slot && !slots.Add(slot))
            {
                find($"$.parts[{i}].slot", $"the slot \"{slot}\" is taken by another part");
            }

            if (p.Side == Side.Edge && !p.Outside)
            {
                find($"$.parts[{i}].side", "only what is outside is reached from the edge; say base or deck");
            }

            if (p.Label is not null && p.Slot is null)
            {
                find($"$.parts[{i}].label", "a label is read into a slot; name the slot or drop the label");
            }

            if (RidesOnItself(map, p) is { } by)
            {
                find($"$.parts[{i}].mountedOn", $"\"{p.Id}\" rides on itself by way of \"{by}\"");
            }

            if (p.Optional && p.Slot is null && !map.Variants.Any(v => v.Choices.Any(c => c.Parts.Contains(p.Id))))
            {
                find(
                    $"$.parts[{i}].optional",
                    "whether a unit has it is seen by its slot or by its variant; give it one of them"
                );
            }

            CheckWays(map, p, i, find);
        }
    }

    private static void CheckWays(ServiceMap map, Part part, int at, Action<string, string> find)
    {
        var ids = new HashSet<string>(StringComparer.Ordinal);
        var leaving = RidesInCircles(map) ? [part.Id] : map.MovingWith(part.Id).ToHashSet();
        foreach (var (k, way) in part.Ways.Index())
        {
            if (!ids.Add(way.Id))
            {
                find($"$.parts[{at}].ways[{k}].id", $"the way \"{way.Id}\" is given twice");
            }

            foreach (var (n, below) in way.Over.Index().Where(b => !map.Part(b.Item).BlockedBy.Contains(part.Id)))
            {
                find(
                    $"$.parts[{at}].ways[{k}].over[{n}]",
                    $"aside it lies on \"{below}\", so that must be blocked by \"{part.Id}\" in its place too"
                );
            }

            if (way.Over.Count > 0 && part.MountedOn is { } rides && !map.Part(rides).Fixed)
            {
                find(
                    $"$.parts[{at}].ways[{k}].over",
                    $"what lies on another part while aside may not ride on one: it would stay lying there without \"{rides}\""
                );
            }

            foreach (var (n, kept) in way.Keeps.Index())
            {
                var ends = map.Joint(kept).Between;
                if (ends.Count(leaving.Contains) != 1)
                {
                    find(
                        $"$.parts[{at}].ways[{k}].keeps[{n}]",
                        ends.Any(leaving.Contains)
                            ? $"both ends of \"{kept}\" go along with \"{part.Id}\", so nothing is kept by it"
                            : $"\"{kept}\" ends neither on \"{part.Id}\" nor on what rides on it"
                    );
                }
                else if (part.MountedOn is { } carrier && ends.Contains(carrier))
                {
                    find(
                        $"$.parts[{at}].ways[{k}].keeps[{n}]",
                        $"\"{kept}\" leads to \"{carrier}\", which \"{part.Id}\" rides on; it would tear when that leaves"
                    );
                }
            }
        }
    }

    private static bool RidesInCircles(ServiceMap map) => map.Parts.Any(p => RidesOnItself(map, p) is not null);

    private static PartId? RidesOnItself(ServiceMap map, Part part)
    {
        var carriers = new HashSet<PartId> { part.Id };
        for (var on = part.MountedOn; on is { } carrier; on = map.Part(carrier).MountedOn)
        {
            if (!carriers.Add(carrier))
            {
                return carrier;
            }
        }

        return null;
    }

    private static void CheckFasteners(ServiceMap map, Action<string, string> find)
    {
        foreach (var (i, f) in map.Fasteners.Index())
        {
            if (f.Count != f.Positions.Count)
            {
                find($"$.fasteners[{i}].count", $"says {f.Count}, but {f.Positions.Count} positions are given");
            }

            if (f.Holds == f.Into)
            {
                find($"$.fasteners[{i}].into", "screws hold one part into another; both are the same here");
            }
        }
    }

    private static void CheckJoints(ServiceMap map, Action<string, string> find)
    {
        foreach (var (i, j) in map.Joints.Index())
        {
            if (j.Plug == j.Socket)
            {
                find($"$.joints[{i}].between", "a joint connects two different parts");
            }
            else if (j.OtherEnd is { } other)
            {
                CheckLead(map, j, map.Joint(other), $"$.joints[{i}].otherEnd", find);
            }
        }
    }

    /// <summary>A lead with a plug at each end: two joints of the same two parts, one in a socket of each.</summary>
    private static void CheckLead(ServiceMap map, Joint joint, Joint other, string path, Action<string, string> find)
    {
        if (joint.Between != other.Between.Turned())
        {
            find(path, $"\"{other.Id}\" must join the same two parts the other way round: a socket on each");
        }

        Joint[] ends = [joint, other];
        if (map.Joints.Any(j => !ends.Contains(j) && j.OtherEnd is { } end && ends.Any(e => e.Id == end)))
        {
            find(path, "a lead has two ends; a third joint names one of these as well");
        }

        foreach (var end in ends)
        {
            if (end.Id == map.Isolation || end.Kind.IsSlot() || end.Kind == JointKind.SlideContacts)
            {
                find(path, $"\"{end.Id}\" is no end of a loose lead: it isolates, or is a slot or contacts");
            }
            else if (map.Parts.Any(p => p.Ways.Any(w => w.Keeps.Contains(end.Id))))
            {
                find(path, $"\"{end.Id}\" is kept by a way; of a loose lead one end is always opened");
            }
        }
    }

    private static void CheckAssemblies(ServiceMap map, Action<string, string> find)
    {
        foreach (var (i, a) in map.Assemblies.Index())
        {
            var main = map.Part(a.Part);
            if (main.Slot is null)
            {
                find($"$.assemblies[{i}].part", $"\"{a.Part}\" has no slot, so its number could not be recorded");
            }

            if (main.Fixed)
            {
                find($"$.assemblies[{i}].part", $"\"{a.Part}\" is the fixed part and cannot be lifted out");
            }
        }
    }

    private static void CheckVariants(ServiceMap map, Action<string, string> find)
    {
        var taken = new HashSet<PartId>();
        foreach (var (i, v) in map.Variants.Index())
        {
            foreach (var (k, choice) in v.Choices.Index())
            {
                foreach (var (n, id) in choice.Parts.Index())
                {
                    var path = $"$.variants[{i}].choices[{k}].parts[{n}]";
                    if (!map.Part(id).Optional)
                    {
                        find(path, $"\"{id}\" must be optional, since some units are without it");
                    }

                    if (!taken.Add(id))
                    {
                        find(path, $"\"{id}\" belongs to another choice already");
                    }
                }
            }
        }
    }

    private static void CheckSpecifications(ServiceMap map, Action<string, string> find)
    {
        foreach (var (i, s) in map.Specifications.Index())
        {
            if (s.Soldered != true && !s.IsOutside && map.PartInSlot(s.Slot) is null)
            {
                find(
                    $"$.specifications[{i}].slot",
                    s is Specification.Charger
                        ? $"no part has the slot \"{s.Slot}\"; what charger the machine takes is said of the slot \"{Specification.Charger.Outside}\""
                        : $"no part has the slot \"{s.Slot}\"; say soldered if nothing goes in"
                );
            }
        }
    }

    private static void CheckDrawing(ServiceMap map, Action<string, string> find)
    {
        var (width, height) = (map.Drawing.WidthMm, map.Drawing.HeightMm);
        bool Inside(Point p) => p.X >= 0 && p.Y >= 0 && p.X <= width && p.Y <= height;

        foreach (var (i, p) in map.Parts.Index())
        {
            if (p.Shape is not { } shape)
            {
                continue;
            }

            var b = shape.Bounds;
            if (!Inside(new Point(b.Left, b.Top)) || !Inside(new Point(b.Right, b.Bottom)))
            {
                find($"$.parts[{i}].shape", $"reaches outside the drawing of {width} × {height} mm");
            }
        }

        foreach (var (i, f) in map.Fasteners.Index())
        {
            foreach (var (k, at) in f.Positions.Index())
            {
                if (!Inside(at))
                {
                    find($"$.fasteners[{i}].positions[{k}]", $"lies outside the drawing of {width} × {height} mm");
                }
            }
        }

        foreach (var (i, j) in map.Joints.Index())
        {
            if (!Inside(j.At) || !j.Route.All(Inside))
            {
                find($"$.joints[{i}]", $"lies outside the drawing of {width} × {height} mm");
            }
        }

        foreach (var (i, d) in map.Decoys.Index())
        {
            foreach (var (k, _) in d.Positions.Index().Where(at => !Inside(at.Item)))
            {
                find($"$.decoys[{i}].positions[{k}]", $"lies outside the drawing of {width} × {height} mm");
            }
        }

        foreach (var (i, t) in map.Ties.Index())
        {
            if (!Inside(t.At))
            {
                find($"$.ties[{i}].at", $"lies outside the drawing of {width} × {height} mm");
            }
        }
    }

    private static void CheckRemovability(ServiceMap map, Action<string, string> find)
    {
        var graph = TeardownGraph.Of(map);
        var circles = graph.Circles();
        foreach (var circle in circles)
        {
            find(PathOf(map, circle[0]), $"nothing can begin here: {string.Join(" needs ", circle)}");
        }

        if (circles.Count == 0)
        {
            foreach (var (act, never) in graph.Impossible().Where(i => i.Never.AnyOf.All(a => !graph.Acts.Contains(a))))
            {
                find(
                    PathOf(map, act),
                    never.AnyOf.Count == 0
                        ? "nothing can free it"
                        : $"nothing can free it: it waits for {string.Join(" or ", never.AnyOf)}, which never happens"
                );
            }

            foreach (var (act, inside) in graph.OutsideThatWaitsForInside())
            {
                find(
                    PathOf(map, act),
                    $"it is outside and comes off before the machine is opened, but waits for {string.Join(" or ", inside.AnyOf)}, which is inside"
                );
            }
        }
    }

    private static string PathOf(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.LiftOut or ActKind.SetAside => $"$.parts[{IndexOf(map.Parts, p => p.Id.Value == act.Target)}]",
            ActKind.Undo => $"$.fasteners[{IndexOf(map.Fasteners, f => f.Id.Value == act.Target)}]",
            ActKind.Open or ActKind.Isolate => $"$.joints[{IndexOf(map.Joints, j => j.Id.Value == act.Target)}]",
            ActKind.Free => $"$.ties[{IndexOf(map.Ties, t => t.Id.Value == act.Target)}]",
            _ => "$",
        };

    private static int IndexOf<T>(IReadOnlyList<T> list, Predicate<T> match) => list.ToList().FindIndex(match);
}
