using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Tests.Teardown.Oracles;

/// <summary>
/// A machine of any size built the way real ones are: a cover, then layers of brackets and parts over one another, boards
/// that carry cards, here and there a second way. For measuring growth; the same size and seed give the same machine.
/// </summary>
internal static class GrownMachine
{
    /// <summary>A map of about the given number of acts (never more), and its deepest part.</summary>
    public static (ServiceMap Map, PartId Deepest) Of(int acts, int seed)
    {
        var random = new Random(seed);
        var (parts, fasteners, joints, ties) = (
            new List<Part>(),
            new List<FastenerGroup>(),
            new List<Joint>(),
            new List<Tie>()
        );
        parts.Add(Made("chassis", null, []) with { Fixed = true });
        Add("cover", null, [], screws: 8);
        joints.Add(Plug("battery-plug", "battery", ["cover"]));
        Add("battery", null, ["cover"], screws: 4);
        var layer = new List<string> { "cover" };
        for (var n = 0; parts.Count - 1 + fasteners.Count + joints.Count + ties.Count + 9 <= acts; n++)
        {
            var over = layer[random.Next(layer.Count)];
            Add($"bracket-{n}", null, [over], screws: 1);
            Add($"part-{n}", null, [$"bracket-{n}"], screws: random.Next(1, 5), twoWays: n % 5 == 2 ? layer[^1] : null);
            joints.Add(Plug($"plug-{n}", $"part-{n}", [$"bracket-{n}"]));
            Add($"card-{n}", $"part-{n}", [], screws: 1);
            if (n % 3 == 0)
            {
                ties.Add(
                    new Tie
                    {
                        Id = TieId.Of($"tie-{n}"),
                        Name = $"tie {n}",
                        Kind = TieKind.Tape,
                        Of = PartId.Of($"part-{n}"),
                        On = PartId.Of("chassis"),
                        Under = [PartId.Of($"bracket-{n}")],
                        At = Somewhere(),
                    }
                );
            }

            layer.Add($"part-{n}");
            if (layer.Count > 4)
            {
                layer.RemoveAt(0);
            }
        }

        Add("deepest", null, [.. layer], screws: 4);
        return (
            new ServiceMap
            {
                Format = ServiceMap.CurrentFormat,
                Model = new Model
                {
                    Code = "grown",
                    Name = "Grown",
                    Maker = "Nobody",
                    Class = DeviceClass.Laptop,
                },
                Revision = 1,
                Drawing = new Drawing { WidthMm = 300, HeightMm = 200 },
                Isolation = JointId.Of("battery-plug"),
                Preparations = [],
                Parts = parts,
                Fasteners = fasteners,
                Joints = joints,
                Ties = ties,
                Assemblies = [],
                Checks = [],
            },
            PartId.Of("deepest")
        );

        Point Somewhere() => new(random.Next(300), random.Next(200));

        Part Made(string id, string? on, string[] blocked) =>
            new()
            {
                Id = PartId.Of(id),
                Name = id,
                MountedOn = on is null ? null : PartId.Of(on),
                BlockedBy = [.. blocked.Select(PartId.Of)],
            };

        void Add(string id, string? on, string[] blocked, int screws, string? twoWays = null)
        {
            var part = Made(id, on, blocked) with { Tool = random.Next(4) == 0 ? Tool.PryTool : null };
            parts.Add(
                twoWays is null
                    ? part
                    : part with
                    {
                        Ways =
                        [
                            new PartWay
                            {
                                Id = "over",
                                Name = "over it",
                                Seconds = 60 + random.Next(60),
                            },
                            new PartWay
                            {
                                Id = "clear",
                                Name = "cleared",
                                Clears = [PartId.Of(twoWays)],
                                Seconds = 10,
                            },
                        ],
                    }
            );
            fasteners.Add(
                new FastenerGroup
                {
                    Id = FastenerId.Of($"screws-{id}"),
                    Name = id,
                    Count = screws,
                    Screw = new Screw
                    {
                        Drive = random.Next(6) == 0 ? Drive.PH1 : Drive.PH0,
                        Thread = MetricThread.M2,
                        LengthMm = 3,
                    },
                    Holds = PartId.Of(id),
                    Into = PartId.Of(on ?? "chassis"),
                    Under = [.. blocked.Take(1).Select(PartId.Of)],
                    Positions = [.. Enumerable.Range(0, screws).Select(_ => Somewhere())],
                }
            );
        }

        Joint Plug(string id, string of, string[] under) =>
            new()
            {
                Id = JointId.Of(id),
                Name = id,
                Kind = JointKind.WirePlug,
                Between = [PartId.Of(of), PartId.Of("chassis")],
                Under = [.. under.Select(PartId.Of)],
                At = Somewhere(),
            };
    }
}
