using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Displays by what their joint, frame and picture are; touch and antennas are told by eye. Common practice, no published source.</summary>
internal static class DisplayRules
{
    public static void Judge(FitQuestion q, Specification.Display slot, Reasons reasons)
    {
        if (reasons.Wanted<ItemSpecification.Display>(ItemKind.Display) is not { } item)
        {
            return;
        }

        if (
            reasons.Need(item.Contacts, "the contacts of its plug (30 or 40)") is { } contacts
            && slot.Contacts is { } wanted
        )
        {
            if (contacts == wanted)
            {
                reasons.For($"{contacts} contacts match.");
            }
            else
            {
                reasons.Against($"Its plug has {contacts} contacts, and the cable in the machine {wanted}.");
            }
        }

        if (reasons.Need(item.Inches, "its diagonal") is { } inches && slot.Inches is { } frame)
        {
            if (Math.Round(inches * 10) == Math.Round(frame * 10))
            {
                reasons.For(FormattableString.Invariant($"{inches:0.0} inch fills the frame."));
            }
            else
            {
                reasons.Against(FormattableString.Invariant($"{inches:0.0} inch in a frame for {frame:0.0}."));
            }
        }

        if (
            item is { PixelsWide: { } wide, PixelsHigh: { } high }
            && slot is { PixelsWide: { } across, PixelsHigh: { } down }
            && (wide, high) != (across, down)
        )
        {
            reasons.If(
                (long)wide * high > (long)across * down
                    ? $"{wide} × {high} instead of {across} × {down}: look whether the cable in the machine carries it."
                    : $"{wide} × {high} instead of {across} × {down}: coarser for its user."
            );
        }

        ListedRules.Judge(q, reasons);
    }
}
