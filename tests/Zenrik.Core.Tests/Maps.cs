using System.Runtime.CompilerServices;
using CsCheck;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Tests;

/// <summary>Maps to test with: the shipped ones, and generated ones.</summary>
internal static class Maps
{
    /// <summary>A unit of the shipped model without its optional parts.</summary>
    public static ServiceMap Sandpiper { get; } = SandpiperWhole.Plain();

    public static ServiceMap SandpiperWhole => Shipped("sandpiper-14");

    public static string SandpiperJson => File.ReadAllText(Path.Combine(Folder(), "sandpiper-14.map.json"));

    public static IEnumerable<string> ShippedFiles => Directory.EnumerateFiles(Folder(), "*.map.json").Order();

    /// <summary>A shipped model with all its optional parts.</summary>
    public static ServiceMap Shipped(string code) =>
        ServiceMapReader.Read(code, File.ReadAllText(Path.Combine(Folder(), $"{code}.map.json"))).Map!;

    /// <summary>
    /// Consistent maps of 2 to 14 parts with random screws, joints, ties, covers, riders, ways and sides. Later parts may
    /// be covered by earlier ones only, so every part can come out.
    /// </summary>
    public static Gen<ServiceMap> Generated { get; } = GeneratedUpTo(14);

    public static Gen<ServiceMap> GeneratedUpTo(int most) =>
        from seed in Gen.ULong
        from parts in Gen.Int[2, most]
        select Generate(new Random((int)(seed % int.MaxValue)), parts);

    private static ServiceMap Generate(Random random, int count)
    {
        PartId Id(int i) => PartId.Of(i == 0 ? "chassis" : $"part-{i}");
        Point Somewhere() => new(random.Next(0, 300), random.Next(0, 200));
        Side SomeSide() => random.Next(5) == 0 ? Side.Deck : Side.Base;
        List<PartId> Some(int below, PartId except) =>
            [
                .. Enumerable
                    .Range(1, Math.Max(0, below - 1))
                    .Where(_ => random.Next(4) == 0)
                    .Select(Id)
                    .Where(p => p != except),
            ];

        var parts = new List<Part>
        {
            new()
            {
                Id = Id(0),
                Name = "chassis",
                Fixed = true,
            },
        };
        var fasteners = new List<FastenerGroup>();
        var joints = new List<Joint>();
        var ties = new List<Tie>();
        for (var i = 1; i <= count; i++)
        {
            // Carriers come later in the list than what rides on them is allowed to be covered by: no circles.
            PartId? carrier = random.Next(4) == 0 && i < count ? Id(random.Next(i + 1, count + 1)) : null;
            parts.Add(
                new Part
                {
                    Id = Id(i),
                    Name = $"part {i}",
                    Slot = $"slot-{i}",
                    MountedOn = carrier,
                    BlockedBy = Some(i, carrier ?? Id(0)),
                    Side = SomeSide(),
                    Thermal = random.Next(6) == 0 ? new Thermal { Faces = 1 } : null,
                }
            );
            var into = carrier ?? Id(0);
            var jointed = i == 1 || random.Next(2) == 0;
            var setAside = random.Next(5) == 0;
            parts[^1] = parts[^1] with
            {
                Outside = i == 1 && random.Next(4) == 0 && carrier is null,
                Ways = [.. Ways(i, into, setAside)],
            };
            if (random.Next(3) > 0)
            {
                var n = random.Next(1, 5);
                fasteners.Add(
                    new FastenerGroup
                    {
                        Id = FastenerId.Of($"screws-{i}"),
                        Name = $"part {i}",
                        Count = n,
                        Screw = new Screw
                        {
                            Drive = (Drive)random.Next(3),
                            Thread = MetricThread.M2,
                            LengthMm = random.Next(2, 6),
                        },
                        Holds = Id(i),
                        Into = into,
                        Under = Some(i, into),
                        Captive = random.Next(4) == 0,
                        Side = SomeSide(),
                        Positions = [.. Enumerable.Range(0, n).Select(_ => Somewhere())],
                    }
                );
            }

            if (jointed)
            {
                joints.Add(
                    new Joint
                    {
                        Id = JointId.Of($"joint-{i}"),
                        Name = $"joint {i}",
                        Kind = (JointKind)random.Next(6),
                        Between = [Id(i), into],
                        Under = Some(i, into),
                        Side = SomeSide(),
                        At = Somewhere(),
                    }
                );
                if (random.Next(4) == 0)
                {
                    // A loose lead: it may be opened at this end as well.
                    joints.Add(
                        joints[^1] with
                        {
                            Id = JointId.Of($"end-{i}"),
                            Name = $"end {i}",
                            Between = [into, Id(i)],
                            OtherEnd = joints[^1].Id,
                            Under = Some(i, into),
                            Side = SomeSide(),
                        }
                    );
                }
            }

            if (setAside)
            {
                joints.Add(
                    new Joint
                    {
                        Id = JointId.Of($"lead-{i}"),
                        Name = $"lead {i}",
                        Kind = JointKind.WirePlug,
                        Between = [Id(i), Id(0)],
                        // A joint beneath the part it belongs to is reached by raising that on its lead.
                        Under = random.Next(2) == 0 ? [Id(i)] : Some(i, into),
                        Side = SomeSide(),
                        At = Somewhere(),
                    }
                );
            }

            if (random.Next(4) == 0)
            {
                ties.Add(
                    new Tie
                    {
                        Id = TieId.Of($"tie-{i}"),
                        Name = $"tie {i}",
                        Kind = TieKind.Tape,
                        Of = Id(i),
                        On = into,
                        At = Somewhere(),
                    }
                );
            }
        }

        JointId Isolates()
        {
            var leads = joints
                .SelectMany(j => j.OtherEnd is { } end ? [j.Id, end] : Array.Empty<JointId>())
                .ToHashSet();
            List<Joint> fit = [.. joints.Where(j => !leads.Contains(j.Id))];
            if (fit.Count == 0)
            {
                joints.RemoveAll(j => j.OtherEnd is not null);
                fit = joints;
            }

            return fit[random.Next(fit.Count)].Id;
        }

        IEnumerable<PartWay> Ways(int i, PartId into, bool setAside)
        {
            if (random.Next(3) == 0)
            {
                foreach (var name in new[] { "one", "other" })
                {
                    yield return new PartWay
                    {
                        Id = name,
                        Name = name,
                        Clears = Some(i, into),
                        Seconds = random.Next(5, 60),
                    };
                }
            }

            if (setAside)
            {
                yield return new PartWay
                {
                    Id = "aside",
                    Name = "on its lead",
                    Keeps = [JointId.Of($"lead-{i}")],
                    Seconds = random.Next(5, 60),
                };
            }
        }

        return new ServiceMap
        {
            Format = 1,
            Model = new Model
            {
                Code = "generated",
                Name = "Generated",
                Maker = "Nobody",
                Class = DeviceClass.Laptop,
            },
            Revision = 1,
            Drawing = new Drawing { WidthMm = 300, HeightMm = 200 },
            Isolation = Isolates(),
            Preparations =
            [
                new Preparation
                {
                    Id = "shut-down",
                    Title = "Shut down",
                    Seconds = 30,
                },
            ],
            Parts = parts,
            Fasteners = fasteners,
            Joints = joints,
            Ties = ties,
            Assemblies =
            [
                .. parts
                    .Where(p => !p.Fixed)
                    .Select(p => new Assembly
                    {
                        Id = AssemblyId.Of(p.Id.Value),
                        Name = p.Name,
                        Part = p.Id,
                        Faults = ["broken"],
                    }),
            ],
            Checks = [],
        };
    }

    private static string Folder([CallerFilePath] string here = "") =>
        Path.Combine(Path.GetDirectoryName(here)!, "..", "..", "data", "service-maps");
}
