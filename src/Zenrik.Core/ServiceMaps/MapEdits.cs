using Zenrik.Core.Teardown;

namespace Zenrik.Core.ServiceMaps;

/// <summary>Corrections of a map that a bench can ask for. Each gives a new map; whether it is consistent, its rules say.</summary>
public static class MapEdits
{
    /// <summary>A screw group has another number of screws: one a position.</summary>
    public static ServiceMap WithScrewsAt(this ServiceMap map, FastenerId group, IReadOnlyList<Point> positions) =>
        map with
        {
            Fasteners =
            [
                .. map.Fasteners.Select(f =>
                    f.Id == group ? f with { Count = positions.Count, Positions = positions } : f
                ),
            ],
        };

    /// <summary>An act does not have to wait for a part to be out of the way.</summary>
    public static ServiceMap WithoutWait(this ServiceMap map, Act act, PartId cover)
    {
        PartId[] Without(IReadOnlyList<PartId> ids) => [.. ids.Where(id => id != cover)];
        map = map with { Waits = [.. map.Waits.Where(w => w.Waiting != act || w.First != Act.LiftOut(cover))] };
        return act.Kind switch
        {
            ActKind.Undo => map with
            {
                Fasteners =
                [
                    .. map.Fasteners.Select(f => f.Id == act.Fastener ? f with { Under = Without(f.Under) } : f),
                ],
            },
            ActKind.Open or ActKind.Isolate => map with
            {
                Joints = [.. map.Joints.Select(j => j.Id == act.Joint ? j with { Under = Without(j.Under) } : j)],
            },
            ActKind.Free => map with
            {
                Ties = [.. map.Ties.Select(t => t.Id == act.Tie ? t with { Under = Without(t.Under) } : t)],
            },
            ActKind.LiftOut or ActKind.SetAside => map with
            {
                Parts =
                [
                    .. map.Parts.Select(p =>
                        p.Id == act.Part
                            ? p with
                            {
                                BlockedBy = Without(p.BlockedBy),
                                Ways = [.. p.Ways.Select(w => w with { Clears = Without(w.Clears) })],
                            }
                            : p
                    ),
                ],
            },
            _ => map,
        };
    }

    /// <summary>What an act waits for on this map, beside what holds and joins its part, and what is either of several.</summary>
    public static IReadOnlyList<Act> WaitsOf(this ServiceMap map, Act act)
    {
        var covers = act.Kind switch
        {
            ActKind.Undo => map.Fastener(act.Fastener).Under,
            ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Under,
            ActKind.Free => map.Tie(act.Tie).Under,
            _ => map.Part(act.Part).BlockedBy,
        };
        return
        [
            .. covers
                .Select(Act.LiftOut)
                .Concat(map.Waits.Where(w => w.Waiting == act && w.Or.Count == 0).Select(w => w.First))
                .Distinct(),
        ];
    }

    /// <summary>An act waits for these and no others, beside what holds and joins its part, and what is either of several.</summary>
    public static ServiceMap WaitingOnlyFor(this ServiceMap map, Act act, IReadOnlyList<Act> after)
    {
        var without = map.WaitsOf(act)
            .Where(a => a.Kind == ActKind.LiftOut)
            .Aggregate(map, (changed, cover) => changed.WithoutWait(act, cover.Part));
        return without with
        {
            Waits =
            [
                .. without.Waits.Where(w => w.Waiting != act || w.Or.Count > 0),
                .. after.Select(a => new SeenWait
                {
                    What = act.ToString(),
                    After = a.ToString(),
                    Sessions = 1,
                    People = 1,
                }),
            ],
        };
    }

    /// <summary>A part comes out only after another.</summary>
    public static ServiceMap WithWait(this ServiceMap map, PartId part, PartId cover) =>
        map with
        {
            Parts =
            [
                .. map.Parts.Select(p =>
                    p.Id == part && !p.BlockedBy.Contains(cover) ? p with { BlockedBy = [.. p.BlockedBy, cover] } : p
                ),
            ],
        };

    /// <summary>The one part an act waits for after what is done: with that wait gone, the act would be possible now.</summary>
    /// <returns>Null when it can be done now, or when more than one thing stands in its way.</returns>
    public static Part? OnlyWait(this ServiceMap map, IReadOnlyList<Act> done, Act act)
    {
        return Allows(map) ? null : map.Parts.FirstOrDefault(p => Allows(map.WithoutWait(act, p.Id)));

        bool Allows(ServiceMap tried)
        {
            var machine = new Simulation(tried);
            foreach (var before in done)
            {
                if (machine.Do(before) is not null)
                {
                    return false;
                }
            }

            return machine.Do(act) is null;
        }
    }
}
