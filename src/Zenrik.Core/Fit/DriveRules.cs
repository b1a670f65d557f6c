using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>
/// Drives. M.2 (PCI-SIG M.2 specification, from memory): cards 22 mm wide, 30, 42, 60, 80 or 110 long; key B has contacts
/// 12 to 19 cut, key M 59 to 66; a card cut for both goes into either socket. 2.5-inch cases 5, 7, 9.5 or 12.5 mm high.
/// </summary>
internal static class DriveRules
{
    public static void Judge(FitQuestion q, Specification.Drive slot, Reasons reasons)
    {
        if (slot.Form == SlotForm.OpticalBay && q.Item is not ItemSpecification.Drive)
        {
            // What a bay is made for is an optical drive, told by its number.
            ListedRules.Judge(q, reasons);
            return;
        }

        if (reasons.Wanted<ItemSpecification.Drive>(ItemKind.Drive) is not { } item)
        {
            return;
        }

        var slotForm = slot.Form switch
        {
            SlotForm.MSata => DriveForm.MSata,
            SlotForm.OpticalBay or SlotForm.TwoAndAHalfInch => DriveForm.TwoAndAHalfInch,
            _ => slot.LengthsMm is null ? DriveForm.TwoAndAHalfInch : DriveForm.M2,
        };
        if (reasons.Need(item.DriveForm, "whether it is an M.2 card or a 2.5-inch case") is not { } form)
        {
            return;
        }

        if (form != slotForm)
        {
            reasons.Against($"The slot takes {Name(slotForm)}, and this is {Name(form)}.");
            return;
        }

        if (form == DriveForm.M2)
        {
            Length(slot, item, reasons);
            Key(slot, item, reasons);
            Sides(q, slot, item, reasons);
        }
        else if (form == DriveForm.TwoAndAHalfInch)
        {
            if (slot.Form == SlotForm.OpticalBay)
            {
                reasons.If(
                    "It goes into the optical drive's bay by a caddy of the bay's height, with its bezel and bracket; the optical drive is then outside.",
                    Evidence.Practice
                );
            }

            Height(slot, item, reasons);
        }

        if (reasons.Need(item.Bus, "whether it speaks NVMe or SATA") is not { } bus)
        {
            return;
        }

        if (slot.Buses is not { } buses)
        {
            reasons.Missing(
                "Not known of this slot: whether it carries NVMe or SATA. The maker's data, or a card that ran in it, would settle it."
            );
        }
        else
        {
            if (buses.Contains(bus))
            {
                reasons.For($"{Name(bus)} is what the slot carries.");
            }
            else
            {
                reasons.Against(
                    $"It speaks {Name(bus)}, and the slot carries {string.Join(" and ", buses.Select(Name))} only: it would not be seen."
                );
            }
        }

        if (form == DriveForm.M2 && bus == DriveBus.Nvme && item.Key == M2Key.BAndM && slot.Key == M2Key.M)
        {
            reasons.For(
                "Notched for B and M it runs on two of the slot's four lanes: half the rate.",
                Evidence.Standard
            );
        }

        if (q.Inside.GetValueOrDefault(q.Slot)?.Holds is not { } before || item.Gb is not { } gb)
        {
            return;
        }

        if (q.TooSmall && gb <= before)
        {
            reasons.Against(
                $"It holds {gb} GB, no more than the {before} in it now, which was too small.",
                Evidence.Practice
            );
        }
        else if (gb < before)
        {
            reasons.If(
                $"It holds {gb} GB, less than the {before} in it now: look whether the data goes on it.",
                Evidence.Practice
            );
        }
    }

    private static void Length(Specification.Drive slot, ItemSpecification.Drive item, Reasons reasons)
    {
        if (reasons.Need(item.LengthMm, "its length (22 by what)") is not { } length)
        {
            return;
        }

        var lengths = string.Join(" or ", slot.LengthsMm!.Select(l => $"22{l}"));
        if (!slot.LengthsMm!.Contains(length) && length < slot.LengthsMm!.Max())
        {
            reasons.If(
                $"22{length} does not reach a mount of {lengths}: with an extender that brings its screw to the mount.",
                Evidence.Practice
            );
        }
        else if (!slot.LengthsMm!.Contains(length))
        {
            reasons.Against($"22{length} does not reach a mount: the slot takes {lengths}.", Evidence.Standard);
        }
        else if (slot.LengthsMm!.Count > 1 && length < slot.LengthsMm!.Max())
        {
            reasons.If($"22{length} goes in with the mount moved.");
        }
        else
        {
            reasons.For($"22{length} reaches its mount.", Evidence.Standard);
        }
    }

    private static void Key(Specification.Drive slot, ItemSpecification.Drive item, Reasons reasons)
    {
        if (reasons.Need(item.Key, "its notches (M, or B and M)") is { } key && slot.Key is { } socket)
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
    }

    private static void Sides(FitQuestion q, Specification.Drive slot, ItemSpecification.Drive item, Reasons reasons)
    {
        if (slot.DoubleSided is not false)
        {
            return;
        }

        if (reasons.Need(item.DoubleSided, "whether chips sit on both sides") is not true)
        {
            return;
        }

        const string Tight =
            "Chips on both sides, and parts or a pad lie beneath the slot: about 1 mm of height is missing";
        if (q.Practice.Of(RuleBook.DoubleSidedDrive) == DoubleSidedDrive.Refuse)
        {
            reasons.Against($"{Tight}. The house does not fit such drives.", Evidence.HouseRule);
        }
        else
        {
            reasons.Waivable(
                RuleBook.DoubleSidedDrive,
                $"{Tight}. Somebody must sign for it.",
                $"{Tight}. Signed for: the pad beneath stays out, it runs hotter."
            );
        }
    }

    private static void Height(Specification.Drive slot, ItemSpecification.Drive item, Reasons reasons)
    {
        if (reasons.Need(item.HeightMm, "its height in mm") is not { } height || slot.HeightMm is not { } room)
        {
            return;
        }

        if (height > room)
        {
            reasons.Against(FormattableString.Invariant($"It is {height:0.#} mm high, and the bay has {room:0.#}."));
        }
        else if (height < room)
        {
            reasons.If(
                FormattableString.Invariant(
                    $"It is {height:0.#} mm high in a bay of {room:0.#}: a spacer or the carrier must hold it."
                ),
                Evidence.Practice
            );
        }
        else
        {
            reasons.For(FormattableString.Invariant($"{height:0.#} mm fills the bay."));
        }

        if (item.Spinning is true)
        {
            reasons.If("Discs turn in it: not in a rubber caddy without screws.", Evidence.Practice);
        }
    }

    private static string Name(DriveForm form) =>
        form switch
        {
            DriveForm.M2 => "an M.2 card",
            DriveForm.MSata => "an mSATA card",
            _ => "a 2.5-inch case",
        };

    private static string Name(DriveBus bus) => bus == DriveBus.Nvme ? "NVMe" : "SATA";
}
