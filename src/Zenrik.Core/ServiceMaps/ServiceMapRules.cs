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
        if (findings.Count > 0)
        {
            // The rules below follow references; with dangling ones they would only repeat the finding.
            return findings;
        }

        CheckParts(map, Find);
        CheckFasteners(map, Find);
        CheckJoints(map, Find);
        CheckAssemblies(map, Find);
        CheckDrawing(map, Find);
        if (findings.Count == 0)
        {
            CheckRemovability(map, Find);
        }

        return findings;
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

        var parts = map.Parts.Select(p => p.Id).ToHashSet();
        var checks = map.Checks.Select(c => c.Id).ToHashSet();

        foreach (var (i, p) in map.Parts.Index())
        {
            if (p.MountedOn is { } on)
            {
                PartExists($"$.parts[{i}].mountedOn", on);
            }

            PartsExist($"$.parts[{i}].blockedBy", p.BlockedBy);
        }

        foreach (var (i, f) in map.Fasteners.Index())
        {
            PartExists($"$.fasteners[{i}].holds", f.Holds);
            PartExists($"$.fasteners[{i}].into", f.Into);
            PartsExist($"$.fasteners[{i}].under", f.Under);
        }

        foreach (var (i, j) in map.Joints.Index())
        {
            PartsExist($"$.joints[{i}].between", j.Between);
            PartsExist($"$.joints[{i}].under", j.Under);
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
            foreach (var (k, check) in a.After.Index())
            {
                CheckExists($"$.assemblies[{i}].after[{k}]", check);
            }
        }

        if (map.Joints.All(j => j.Id != map.Isolation))
        {
            find("$.isolation", $"there is no joint \"{map.Isolation}\"");
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

            if (p.Label is not null && p.Slot is null)
            {
                find($"$.parts[{i}].label", "a label is read into a slot; name the slot or drop the label");
            }

            var carriers = new HashSet<PartId> { p.Id };
            for (var on = p.MountedOn; on is { } carrier; on = map.Part(carrier).MountedOn)
            {
                if (!carriers.Add(carrier))
                {
                    find($"$.parts[{i}].mountedOn", $"\"{p.Id}\" rides on itself by way of \"{carrier}\"");
                    break;
                }
            }
        }
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
            if (j.Between[0] == j.Between[1])
            {
                find($"$.joints[{i}].between", "a joint connects two different parts");
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

            var forms = new object?[] { shape.Rect, shape.Circle, shape.Rings }.Count(form => form is not null);
            if (forms != 1)
            {
                find($"$.parts[{i}].shape", "give one of rect, circle and rings");
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
        foreach (var circle in graph.Circles())
        {
            find(PathOf(map, circle[0]), $"nothing can begin here: {string.Join(" needs ", circle)}");
        }
    }

    private static string PathOf(ServiceMap map, Act act) =>
        act.Kind switch
        {
            ActKind.LiftOut => $"$.parts[{IndexOf(map.Parts, p => p.Id.Value == act.Target)}]",
            ActKind.Undo => $"$.fasteners[{IndexOf(map.Fasteners, f => f.Id.Value == act.Target)}]",
            ActKind.Open or ActKind.Isolate => $"$.joints[{IndexOf(map.Joints, j => j.Id.Value == act.Target)}]",
            ActKind.Free => $"$.ties[{IndexOf(map.Ties, t => t.Id.Value == act.Target)}]",
            _ => "$",
        };

    private static int IndexOf<T>(IReadOnlyList<T> list, Predicate<T> match) => list.ToList().FindIndex(match);
}
