using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>
/// Memory modules. Contacts by generation as JEDEC publishes them (DDR3 204, DDR4 260, DDR5 262; from memory): the notch
/// of one does not go over the key of another. Peak rate in MB/s is MT/s × 8, for 64 data lines.
/// </summary>
internal static class MemoryRules
{
    /// <summary>Contacts of a small-outline module; null for a generation not met here.</summary>
    public static int? Contacts(string? generation) =>
        generation switch
        {
            "DDR3" => 204,
            "DDR4" => 260,
            "DDR5" => 262,
            _ => null,
        };

    /// <summary>Peak MB/s of one channel.</summary>
    public static int PeakMegabytes(int megaTransfers) => megaTransfers * 8;

    public static void Judge(FitQuestion q, Reasons reasons)
    {
        if (!reasons.Kind(ItemKind.Memory))
        {
            return;
        }

        var (slot, item) = (q.Specification!, q.Item!);
        if (item.MemoryForm is MemoryForm.Dimm)
        {
            reasons.Against("A module for desktop machines is twice as wide as the slot.", Evidence.Standard);
        }

        if (
            reasons.Need(item.Generation, "the generation (DDR3, DDR4, DDR5)") is { } generation
            && slot.Generation is { } wanted
        )
        {
            if (generation == wanted)
            {
                reasons.For($"{generation}, {Contacts(generation)} contacts: notch and key match.", Evidence.Standard);
            }
            else
            {
                reasons.Against(
                    $"{generation} ({Contacts(generation)} contacts) does not go into a {wanted} slot ({Contacts(wanted)}): the notch is elsewhere.",
                    Evidence.Standard
                );
            }
        }

        if (reasons.Need(item.MegaTransfers, "its speed in MT/s") is { } speed && slot.MegaTransfers is { } most)
        {
            if (speed < most)
            {
                reasons.If(
                    $"It runs everything at {speed} MT/s ({PeakMegabytes(speed)} MB/s), not at {most}.",
                    Evidence.Standard
                );
            }
            else if (speed > most)
            {
                reasons.For($"It is faster than the slot and runs at {most} MT/s.", Evidence.Practice);
            }
        }

        if (reasons.Need(item.Gb, "its size in GB") is { } gb)
        {
            Size(q, slot, gb, reasons);
            Channels(q, gb, reasons);
        }
    }

    private static void Size(FitQuestion q, Specification slot, int gb, Reasons reasons)
    {
        var others = Others(q).Where(s => q.Inside.ContainsKey(s.Slot)).ToList();
        if (others.Any(s => q.Inside[s.Slot].Gb is null))
        {
            reasons.Missing("Not known: how much the other slot holds. Read its label, or ask the system.");
            return;
        }

        var total = gb + others.Sum(s => q.Inside[s.Slot].Gb!.Value);
        if (slot.MakerGb is not { } maker || total <= maker)
        {
            if (slot.MakerGb is not null)
            {
                reasons.For($"{total} GB in all, within the maker's {slot.MakerGb}.");
            }

            return;
        }

        if (q.Practice.Of(RuleBook.MemoryAboveMaximum) == MemoryAboveMaximum.Refuse)
        {
            reasons.Against(
                $"{total} GB in all is above the maker's {maker}, and the house stays within it.",
                Evidence.HouseRule
            );
        }
        else if (slot.ControllerGb is not { } controller)
        {
            reasons.Missing(
                $"{total} GB in all is above the maker's {maker}; what the processor's controller takes would settle it."
            );
        }
        else if (total <= controller)
        {
            reasons.If(
                $"{total} GB in all is above the maker's {maker} and within the {controller} the processor's controller takes: usually works, unsupported. Test it before it goes out.",
                Evidence.Practice
            );
        }
        else
        {
            reasons.Against($"{total} GB in all is more than the {controller} the processor's controller takes.");
        }
    }

    private static void Channels(FitQuestion q, int gb, Reasons reasons)
    {
        var others = Others(q);
        if (others.Count == 0)
        {
            return;
        }

        var filled = others.Where(s => q.Inside.ContainsKey(s.Slot)).ToList();
        if (filled.Count == 0)
        {
            var first = q.Model.Specifications.First(s => s.Kind == SpecificationKind.Memory).Slot;
            if (q.Slot != first)
            {
                reasons.If($"A single stick goes into {first}, not here.", Evidence.Practice);
            }
            else
            {
                reasons.If("A single stick runs on one channel: half the rate of two.", Evidence.Practice);
            }
        }
        else if (filled.Any(s => q.Inside[s.Slot].Gb is { } other && other != gb))
        {
            reasons.If("The sticks differ in size: only the matching part runs on both channels.", Evidence.Practice);
        }
        else
        {
            reasons.For("Two alike: both channels.", Evidence.Practice);
        }
    }

    private static List<Specification> Others(FitQuestion q) =>
        [.. q.Model.Specifications.Where(s => s.Kind == SpecificationKind.Memory && s.Slot != q.Slot)];
}
