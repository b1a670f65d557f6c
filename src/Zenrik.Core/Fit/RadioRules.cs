using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>
/// Radio cards. M.2 (PCI-SIG, from memory): key A has contacts 8 to 15 cut, key E 24 to 31; cards cut for both go into
/// either.
/// </summary>
internal static class RadioRules
{
    public static void Judge(FitQuestion q, Specification.Radio slot, Reasons reasons)
    {
        if (reasons.Wanted<ItemSpecification.Radio>(ItemKind.Radio) is not { } item)
        {
            return;
        }

        if (q.Model.Model.Class == DeviceClass.Chromebook)
        {
            if (q.Listed)
            {
                reasons.For($"The number is listed for this slot of the {q.Model.Model.Name}.");
            }
            else
            {
                reasons.Against(
                    "A Chromebook's system brings drivers for the cards its maker lists alone, and this number is not listed.",
                    Evidence.Practice
                );
            }
        }

        var halfSlot = slot.Form == SlotForm.HalfSize;
        if (halfSlot != (item.HalfSize is true))
        {
            reasons.Against(
                halfSlot
                    ? "The slot takes a half-size card of the older kind, and this is an M.2 card."
                    : "The slot takes an M.2 card, and this is a half-size card of the older kind."
            );
            return;
        }

        if (halfSlot)
        {
            reasons.For("A half-size card for a half-size slot.");
        }
        else if (reasons.Need(item.LengthMm, "its length (22 by what)") is { } length && slot.LengthsMm is { } lengths)
        {
            if (!lengths.Contains(length))
            {
                reasons.Against(
                    $"22{length} does not fit: the slot takes {string.Join(" or ", lengths.Select(l => $"22{l}"))}.",
                    Evidence.Standard
                );
            }
        }

        if (!halfSlot && reasons.Need(item.Key, "its notches (A, E, or both)") is { } key && slot.Key is { } socket)
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

        if (reasons.Need(item.NeedsProcessorRadio, "whether it needs the processor's own radio block") is true)
        {
            switch (slot.ProcessorRadio)
            {
                case true
                    when item.ProcessorRadioGeneration is { } needs
                        && slot.ProcessorRadioGeneration is { } has
                        && needs != has:
                    reasons.Against(
                        $"The card is made for generation {needs} of the processor's radio block, and this processor has generation {has}."
                    );
                    break;
                case true:
                    reasons.For("The slot is wired to the radio block in the processor, which the card needs.");
                    break;
                case false:
                    reasons.Against(
                        "The card needs the radio block inside the processor, and this slot is not wired to one."
                    );
                    break;
                default:
                    reasons.Missing(
                        "The card needs the processor's radio block; whether this slot is wired to one would settle it."
                    );
                    break;
            }
        }

        if (slot.OnlyNumbers is { Count: > 0 } only)
        {
            if (
                q.Number is { } number
                && only.Any(n => Parts.PartNumber.Canonicalise(n) == Parts.PartNumber.Canonicalise(number))
            )
            {
                reasons.For("It is on the firmware's list.");
            }
            else
            {
                reasons.Against(
                    "The firmware stops at start with any card off its list, and this number is not on it."
                );
            }
        }

        if (
            q.Inside.GetValueOrDefault(q.Slot) is ItemSpecification.Radio { ManagedFleet: true }
            && reasons.Need(item.ManagedFleet, "whether it has the features of a managed fleet") is false
        )
        {
            reasons.If(
                "The card in it has the features of a managed fleet, and this one has not: remote help stops working.",
                Evidence.Practice
            );
        }
    }
}
