using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>A thing that can fail, and what one can order to exchange it.</summary>
/// <param name="Id">A part's id, or the name of something that cannot be had apart from one.</param>
/// <param name="Apart">False when it comes only as part of something larger.</param>
public sealed record Component(string Id, string Name, bool Apart, IReadOnlyList<Assembly> Assemblies);

public static class Components
{
    /// <summary>Everything in a map that some assembly contains, in the order of the map.</summary>
    public static IReadOnlyList<Component> ComponentsOf(this ServiceMap map)
    {
        var named = map
            .Parts.Select(p => (Id: p.Id.Value, p.Name))
            .Concat(map.Parts.SelectMany(p => p.Contains).Distinct().Select(c => (Id: c, Name: c.Replace('-', ' '))))
            .DistinctBy(c => c.Id);
        return
        [
            .. named
                .Select(c => (c.Id, c.Name, With: map.AssembliesWith(c.Id)))
                .Where(c => c.With.Count > 0)
                .Select(c => new Component(c.Id, c.Name, c.With.Any(a => a.Part.Value == c.Id), c.With)),
        ];
    }

    /// <summary>The assemblies whose exchange exchanges a component: smallest first.</summary>
    /// <param name="component">A part's id, or the name of something contained in a part.</param>
    public static IReadOnlyList<Assembly> AssembliesWith(this ServiceMap map, string component) =>
        [
            .. map
                .Assemblies.Where(a =>
                    a.Brings.Append(a.Part)
                        .Select(id => map.Parts.FirstOrDefault(p => p.Id == id))
                        .Any(p => p is not null && (p.Id.Value == component || p.Contains.Contains(component)))
                )
                .OrderBy(a => a.Brings.Count),
        ];
}
