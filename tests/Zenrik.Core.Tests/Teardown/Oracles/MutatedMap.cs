using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown.Oracles;

/// <summary>
/// A shipped map changed by chance, a few changes at a time: parts, screws, joints and ties dropped and added, parts tied to
/// another carrier, covered, given ways, put outside or on the other side. The same seed gives the same map.
/// </summary>
internal static class MutatedMap
{
    /// <summary>A map the checker finds nothing in, or null where this seed leads to none.</summary>
    /// <param name="whole">The map to change.</param>
    /// <param name="random">Where chance comes from.</param>
    /// <param name="mostActs">Parts are dropped until no more acts are left than this.</param>
    public static ServiceMap? Of(ServiceMap whole, Random random, int mostActs = int.MaxValue)
    {
        var map = Cut(OfOneUnit(whole, random), random, mostActs);
        if (map is null)
        {
            return null;
        }

        for (var changes = random.Next(1, 7); changes > 0; changes--)
        {
            var changed = Changed(map, random, changes);
            map = ServiceMapRules.Check("mutated", changed).Count == 0 ? changed : map;
        }

        return ServiceMapRules.Check("mutated", map).Count == 0 && Acts(map) <= mostActs ? map : null;
    }

    /// <summary>With some of what is optional, and without what says nothing about taking apart.</summary>
    private static ServiceMap OfOneUnit(ServiceMap whole, Random random)
    {
        var map = whole.For(whole.Parts.Where(p => p.Optional && random.Next(2) == 0).Select(p => p.Id).ToHashSet());
        var parts = map.Parts.Select(p => p.Id).ToHashSet();
        return map with
        {
            Assemblies = [.. map.Assemblies.Where(a => parts.Contains(a.Part))],
            Variants = [],
            Specifications = [],
            Decoys = [],
        };
    }

    private static int Acts(ServiceMap map) => TeardownGraph.Of(map).Acts.Count;

    private static ServiceMap? Cut(ServiceMap map, Random random, int mostActs)
    {
        var kept = map.Joint(map.Isolation).Between;
        while (Acts(map) > mostActs)
        {
            var others = map.Parts.Where(p => !p.Fixed && !kept.Contains(p.Id)).ToList();
            if (others.Count == 0)
            {
                return null;
            }

            map = Without(map, others[random.Next(others.Count)].Id);
        }

        return map;
    }

    /// <summary>Without a part and all that holds or joins it; what rode on it rides on what that rode on.</summary>
    private static ServiceMap Without(ServiceMap map, PartId gone)
    {
        var carrier = map.Part(gone).MountedOn;
        return (
            map with
            {
                Parts =
                [
                    .. map.Parts.Select(p =>
                        p.Id == gone
                            ? p with
                            {
                                Optional = true,
                            }
                            : p with
                            {
                                Optional = false,
                                MountedOn = p.MountedOn == gone ? carrier : p.MountedOn,
                            }
                    ),
                ],
                Assemblies = [.. map.Assemblies.Where(a => a.Part != gone)],
            }
        ).For(new HashSet<PartId>());
    }

    private static ServiceMap Changed(ServiceMap map, Random random, int number)
    {
        var movable = map.Parts.Where(p => !p.Fixed).ToList();
        var part = movable[random.Next(movable.Count)];
        var other = map.Parts[random.Next(map.Parts.Count)];
        var side = (Side)random.Next(2);
        ServiceMap With(Func<Part, Part> change) =>
            map with
            {
                Parts = [.. map.Parts.Select(p => p.Id == part.Id ? change(p) : p)],
            };
        IReadOnlyList<PartId> Toggled(IReadOnlyList<PartId> list) =>
            list.Contains(other.Id) ? [.. list.Where(p => p != other.Id)] : [.. list, other.Id];
        switch (random.Next(13))
        {
            case 0:
                return map.Joint(map.Isolation).Between.Contains(part.Id) ? map : Without(map, part.Id);
            case 1:
                return WithNewPart(map, random, number);
            case 2:
                return With(p => p with { MountedOn = other.Id });
            case 3:
                return With(p => p with { BlockedBy = Toggled(p.BlockedBy) });
            case 4:
                return With(p => p with { Ways = SomeWays(map, p, random) });
            case 5:
                return With(p => p with { Outside = !p.Outside });
            case 6:
                return With(p => p with { Side = side, Tool = random.Next(2) == 0 ? Tool.PryTool : null });
            case 7 when map.Fasteners.Count > 0:
                var screws = map.Fasteners[random.Next(map.Fasteners.Count)];
                return map with
                {
                    Fasteners = random.Next(4) switch
                    {
                        0 => [.. map.Fasteners.Where(f => f != screws)],
                        1 => Changing(map.Fasteners, screws, screws with { Under = Toggled(screws.Under) }),
                        2 => Changing(map.Fasteners, screws, screws with { Side = side }),
                        _ => Changing(map.Fasteners, screws, screws with { Holds = part.Id, Into = other.Id }),
                    },
                };
            case 8 or 9:
                var joint = map.Joints[random.Next(map.Joints.Count)];
                return map with
                {
                    Joints = random.Next(5) switch
                    {
                        4 => [.. map.Joints, OtherEnd(joint)],
                        0 when joint.Id != map.Isolation => [.. map.Joints.Where(j => j != joint)],
                        1 => Changing(map.Joints, joint, joint with { Side = side }),
                        2 => Changing(map.Joints, joint, joint with { Between = [part.Id, other.Id] }),
                        _ => Changing(map.Joints, joint, joint with { Under = Toggled(joint.Under) }),
                    },
                };
            case 10 when map.Ties.Count > 0:
                var tie = map.Ties[random.Next(map.Ties.Count)];
                return map with
                {
                    Ties = random.Next(3) switch
                    {
                        0 => [.. map.Ties.Where(t => t != tie)],
                        1 => Changing(map.Ties, tie, tie with { Under = Toggled(tie.Under) }),
                        _ => Changing(map.Ties, tie, tie with { Of = part.Id, On = other.Id }),
                    },
                };
            default:
                return map with
                {
                    Joints =
                    [
                        .. map.Joints,
                        new Joint
                        {
                            Id = JointId.Of($"new-joint-{number}"),
                            Name = $"new joint {number}",
                            Kind = (JointKind)random.Next(6),
                            Between = [part.Id, other.Id],
                            Under = random.Next(2) == 0 ? [] : [map.Parts[random.Next(map.Parts.Count)].Id],
                            Side = side,
                            At = new Point(1, 1),
                        },
                    ],
                };
        }

        // A loose lead: the joint may be opened at its other part as well.
        Joint OtherEnd(Joint joint) =>
            joint with
            {
                Id = JointId.Of($"new-end-{number}"),
                Name = $"new end {number}",
                Between = [joint.Socket, joint.Plug],
                OtherEnd = joint.Id,
                Under = random.Next(2) == 0 ? [] : [map.Parts[random.Next(map.Parts.Count)].Id],
                Side = side,
            };
    }

    private static IReadOnlyList<T> Changing<T>(IReadOnlyList<T> list, T old, T changed)
        where T : class => [.. list.Select(x => ReferenceEquals(x, old) ? changed : x)];

    private static ServiceMap WithNewPart(ServiceMap map, Random random, int number)
    {
        var id = PartId.Of($"new-part-{number}");
        PartId Any() => map.Parts[random.Next(map.Parts.Count)].Id;
        PartId? on = random.Next(3) == 0 ? Any() : null;
        var part = new Part
        {
            Id = id,
            Name = $"new part {number}",
            MountedOn = on,
            Outside = random.Next(5) == 0,
            BlockedBy = random.Next(2) == 0 ? [] : [Any()],
            Side = (Side)random.Next(2),
            Seconds = random.Next(2, 60),
        };
        FastenerGroup screws = new()
        {
            Id = FastenerId.Of($"new-screws-{number}"),
            Name = $"new {number}",
            Count = 1,
            Screw = new Screw
            {
                Drive = (Drive)random.Next(3),
                Thread = MetricThread.M2,
                LengthMm = 3,
            },
            Holds = id,
            Into = on ?? map.Parts.First(p => p.Fixed).Id,
            Under = random.Next(2) == 0 ? [] : [Any()],
            Side = (Side)random.Next(2),
            Positions = [new Point(1, 1)],
        };
        // What lies beneath the new part waits for it.
        var below = random.Next(map.Parts.Count);
        return map with
        {
            Parts =
            [
                .. map.Parts.Select((p, i) => i == below && !p.Fixed ? p with { BlockedBy = [.. p.BlockedBy, id] } : p),
                part,
            ],
            Fasteners = random.Next(3) == 0 ? map.Fasteners : [.. map.Fasteners, screws],
        };
    }

    private static IReadOnlyList<PartWay> SomeWays(ServiceMap map, Part part, Random random)
    {
        var leaving = map.MovingWith(part.Id);
        var across = map
            .Joints.Where(j => leaving.Contains(j.Plug) != leaving.Contains(j.Socket))
            .Select(j => j.Id)
            .Where(_ => random.Next(3) > 0)
            .ToList();
        List<PartWay> ways = [.. part.Ways.Where(_ => random.Next(2) == 0)];
        if (across.Count > 0 && random.Next(2) == 0)
        {
            ways.Add(Way("aside-too", keeps: across));
        }

        if (random.Next(2) == 0)
        {
            ways.AddRange([Way("this-way"), Way("that-way")]);
        }

        return [.. ways.DistinctBy(w => w.Id)];

        PartWay Way(string id, IReadOnlyList<JointId>? keeps = null) =>
            new()
            {
                Id = id,
                Name = id.Replace('-', ' '),
                Keeps = keeps ?? [],
                Over =
                    keeps is null || random.Next(3) > 0
                        ? []
                        : [.. map.Parts.Where(p => p.BlockedBy.Contains(part.Id)).Take(1).Select(p => p.Id)],
                Clears = random.Next(2) == 0 ? [] : [map.Parts[random.Next(map.Parts.Count)].Id],
                Seconds = random.Next(2, 60),
            };
    }
}
