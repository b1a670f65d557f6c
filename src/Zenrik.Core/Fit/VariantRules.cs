using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Fit;

/// <summary>Slots that a unit has only in one of its variants.</summary>
internal static class VariantRules
{
    public static void Judge(FitQuestion q, Part part, Reasons reasons)
    {
        var filled = q.Inside.Keys.ToHashSet();
        if (q.Model.FittedWhen(filled).Contains(part.Id))
        {
            return;
        }

        var variant = q.Model.Variants.FirstOrDefault(v => v.Choices.Any(c => c.Parts.Contains(part.Id)));
        if (variant is null)
        {
            // An empty slot that may be filled.
            reasons.If(
                part.Id is var empty && q.Model.Fasteners.Any(f => f.Holds == empty)
                    ? "The slot is empty in this unit; the screw that holds it must be at hand."
                    : "The slot is empty in this unit.",
                Evidence.Practice
            );
            return;
        }

        var wanted = variant.Choices.First(c => c.Parts.Contains(part.Id));
        var lost = variant
            .Choices.Where(c => c != wanted && c.Parts.Any(p => q.Model.Part(p).Slot is { } s && filled.Contains(s)))
            .SelectMany(c => c.Parts)
            .Except(wanted.Parts)
            .Select(p => Wording.The(q.Model.Part(p).Name))
            .ToList();
        reasons.If(
            lost.Count > 0
                ? $"This unit has the other build ({variant.Name}): {string.Join(", ", lost)} must go for it."
                : $"Whether this unit is built for it ({variant.Name}: {wanted.Name}) is to be seen inside first."
        );
    }
}
