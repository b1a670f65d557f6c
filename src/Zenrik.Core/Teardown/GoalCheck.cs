using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>Answers goals a map cannot fulfil: by name, and with what would do instead.</summary>
internal static class GoalCheck
{
    /// <returns>Null when the goal can be planned.</returns>
    public static Refusal? Refuse(ServiceMap map, Goal goal)
    {
        switch (goal)
        {
            case Goal.LiftOut { Part: var id } when map.Parts.FirstOrDefault(p => p.Id == id) is not { Fixed: false }:
                return NotFound(map, id.Value, $"The {map.Model.Name} has no part \"{id}\" that comes out");
            case Goal.Replace { Assembly: var id } when map.Assemblies.All(a => a.Id != id):
                return NotFound(map, id.Value, $"Nothing called \"{id}\" can be ordered for the {map.Model.Name}");
            case Goal.Replace { Assembly: var id } when map.Parts.All(p => p.Id != map.Assembly(id).Part):
                return new Refusal(RefusalReason.NotFound, $"This unit has no {map.Assembly(id).Name} fitted.");
            case Goal.Reseat { Joint: var id } when map.Joints.All(j => j.Id != id):
                return new Refusal(RefusalReason.NotFound, $"The {map.Model.Name} has no joint \"{id}\".");
            case Goal.Clean { Part: var id } when map.Parts.FirstOrDefault(p => p.Id == id) is not { Dusty: true }:
                return new Refusal(
                    RefusalReason.NotFound,
                    $"Nothing called \"{id}\" gathers dust in the {map.Model.Name}."
                );
            default:
                return null;
        }
    }

    private static Refusal NotFound(ServiceMap map, string name, string sentence)
    {
        var with = map.AssembliesWith(name).Select(a => a.Name).ToList();
        return new Refusal(
            RefusalReason.NotFound,
            with.Count > 0
                ? $"{sentence} by itself: it is part of {string.Join(" and of ", with.Select(Wording.The))}. Ask for that."
                : $"{sentence}. It has {string.Join(", ", map.Assemblies.Select(a => a.Name))}."
        );
    }
}
