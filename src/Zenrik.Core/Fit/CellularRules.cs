using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Cellular cards: M.2, 22 or 30 mm wide, key B (PCI-SIG M.2, from memory); they need antennas of their own in the lid.</summary>
internal static class CellularRules
{
    public static void Judge(FitQuestion q, Specification.Cellular slot, Reasons reasons)
    {
        if (reasons.Wanted<ItemSpecification.Cellular>(ItemKind.Cellular) is not { } item)
        {
            return;
        }

        if (reasons.Need(item.Key, "its notches (B)") is { } key && slot.Key is { } socket)
        {
            if (key.GoesInto(socket))
            {
                reasons.For($"Notch {key} goes over key {socket}.", Evidence.Standard);
            }
            else
            {
                reasons.Against($"Notch {key} does not go over key {socket}.", Evidence.Standard);
            }
        }

        if (reasons.Need(item.LengthMm, "its length") is { } length && slot.LengthsMm?.Contains(length) == false)
        {
            reasons.Against(
                $"{length} mm long, and the slot takes {string.Join(" or ", slot.LengthsMm)}.",
                Evidence.Standard
            );
        }

        var trait = ByEye.Find("cellular-antennas")!;
        switch (trait.Find(q.Looks.GetValueOrDefault(trait.Id))?.Id)
        {
            case "fitted":
                reasons.For("Antennas for it are in the lid.", Evidence.ByEye);
                break;
            case "none":
                reasons.If(
                    "No antennas for it are in the lid: a lid with them, or leads laid in, come with it.",
                    Evidence.ByEye
                );
                break;
            default:
                reasons.Missing($"Look at the unit: {Sentence.Uncapital(trait.Question)}", Evidence.ByEye);
                break;
        }

        ListedRules.Judge(q, reasons);
    }
}
