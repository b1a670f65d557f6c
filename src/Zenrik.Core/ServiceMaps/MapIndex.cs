using System.Runtime.CompilerServices;

namespace Zenrik.Core.ServiceMaps;

/// <summary>
/// The things of a map by id. Kept beside the map, not in it: a copy made by "with" must not inherit the index of its
/// original.
/// </summary>
internal sealed class MapIndex
{
    private static readonly ConditionalWeakTable<ServiceMap, MapIndex> Kept = [];

    private readonly Dictionary<JointId, JointId> ends = [];

    private MapIndex(ServiceMap map)
    {
        Parts = ById(map.Parts, p => p.Id);
        Fasteners = ById(map.Fasteners, f => f.Id);
        Joints = ById(map.Joints, j => j.Id);
        Ties = ById(map.Ties, t => t.Id);
        foreach (var joint in map.Joints)
        {
            if (joint.OtherEnd is { } other && Joints.ContainsKey(other))
            {
                ends.TryAdd(joint.Id, other);
                ends.TryAdd(other, joint.Id);
            }
        }
    }

    public IReadOnlyDictionary<PartId, Part> Parts { get; }

    public IReadOnlyDictionary<FastenerId, FastenerGroup> Fasteners { get; }

    public IReadOnlyDictionary<JointId, Joint> Joints { get; }

    public IReadOnlyDictionary<TieId, Tie> Ties { get; }

    /// <summary>By joint of a loose lead, the one at its other end.</summary>
    public IReadOnlyDictionary<JointId, JointId> OtherEnds => ends;

    public static MapIndex Of(ServiceMap map) => Kept.GetValue(map, static m => new MapIndex(m));

    /// <summary>The first of each id; that ids are used once is for the map's checks to say.</summary>
    private static Dictionary<TId, T> ById<TId, T>(IReadOnlyList<T> list, Func<T, TId> id)
        where TId : notnull
    {
        var byId = new Dictionary<TId, T>(list.Count);
        foreach (var item in list)
        {
            byId.TryAdd(id(item), item);
        }

        return byId;
    }
}
