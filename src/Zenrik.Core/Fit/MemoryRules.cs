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
            "DDR3" or "DDR3L" => 204,
            "DDR4" => 260,
            "DDR5" => 262,
            _ => null,
        };

    /// <summary>Peak MB/s of one channel.</summary>
    public static int PeakMegabytes(int megaTransfers) => megaTransfers * 8;

    public static void Judge(FitQuestion q, Specification.Memory slot, Reasons reasons)
    {
        if (reasons.Wanted<ItemSpecification.Memory>(ItemKind.Memory) is not { } item)
        {
            return;
        }

        if (item.MemoryForm is MemoryForm.Dimm)
        {
            reasons.Against("A module for desktop machines is twice as wide as the slot.", Evidence.Standard);
        }

        if (
            reasons.Need(item.Generation, "the generation (DDR3, DDR4, DDR5)") is { } generation
            && slot.Generation is { } wanted
        )
        {
            if (generation == "DDR3" && wanted == "DDR3L")
            {
                reasons.Against(
                    "It wants 1.5 V, and this board gives 1.35 V alone: the machine would not start. DDR3L is the one.",
                    Evidence.Standard
                );
            }
            else if (generation == "DDR3L" && wanted == "DDR3")
            {
                reasons.For(
                    "DDR3L, 204 contacts: notch and key match, and it runs at 1.5 V as well as at 1.35.",
                    Evidence.Standard
                );
            }
            else if (generation == wanted)
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

            var slower = Others(q)
                .Select(s => (q.Inside.GetValueOrDefault(s.Slot) as ItemSpecification.Memory)?.MegaTransfers)
                .Where(s => s is not null && s < Math.Min(speed, most))
                .Min();
            if (slower is { } other)
            {
                reasons.If(
                    $"The other stick runs at {other} MT/s, so both do: mixed speeds run at the slower.",
                    Evidence.Standard
                );
            }
        }

        if (reasons.Need(item.Gb, "its size in GB") is { } gb)
        {
            if (slot.StickGb is { } each && gb > each)
            {
                reasons.Against($"{gb} GB on one stick, and a slot of this board takes {each} at most.");
            }

            if (q.TooSmall && q.Inside.GetValueOrDefault(q.Slot)?.Holds is { } now && gb <= now)
            {
                reasons.Against($"{gb} GB is no more than the {now} in it, which was too small.", Evidence.Practice);
            }

            Size(q, slot, gb, reasons);
            Channels(q, slot, gb, reasons);
        }
    }

    private static void Size(FitQuestion q, Specification.Memory slot, int gb, Reasons reasons)
    {
        if (Others(q).Exists(s => q.NotKnown.Contains(s.Slot)))
        {
            reasons.Missing("Not known: whether the other slot holds a stick. Look, or ask the system.");
            return;
        }

        var others = Others(q).Where(s => q.Inside.ContainsKey(s.Slot)).ToList();
        if (others.Any(s => q.Inside[s.Slot].Holds is null))
        {
            reasons.Missing("Not known: how much the other slot holds. Read its label, or ask the system.");
            return;
        }

        // What is soldered to the board counts with the sticks.
        var total = gb + others.Sum(s => q.Inside[s.Slot].Holds!.Value) + (slot.SolderedGb ?? 0);
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

    private static void Channels(FitQuestion q, Specification.Memory slot, int gb, Reasons reasons)
    {
        var others = Others(q);
        if (others.Count == 0)
        {
            if (slot.SolderedGb is { } soldered)
            {
                if (soldered == gb)
                {
                    reasons.For($"With the {soldered} GB soldered: both channels.", Evidence.Practice);
                }
                else
                {
                    reasons.If(
                        $"With {soldered} GB soldered: only the matching part runs on both channels.",
                        Evidence.Practice
                    );
                }
            }

            return;
        }

        // Two of unknown size are never two alike.
        if (others.Exists(s => q.NotKnown.Contains(s.Slot) || q.Inside.GetValueOrDefault(s.Slot) is { Holds: null }))
        {
            return;
        }

        var filled = others.Where(s => q.Inside.ContainsKey(s.Slot)).ToList();
        if (filled.Count == 0)
        {
            var first = Sticks(q).First().Slot;
            if (q.Slot != first)
            {
                reasons.If($"A single stick goes into {first}, not here.", Evidence.Practice);
            }
            else
            {
                reasons.If("A single stick runs on one channel: half the rate of two.", Evidence.Practice);
            }
        }
        else if (filled.Any(s => q.Inside[s.Slot].Holds is { } other && other != gb))
        {
            reasons.If("The sticks differ in size: only the matching part runs on both channels.", Evidence.Practice);
        }
        else
        {
            reasons.For("Two alike: both channels.", Evidence.Practice);
        }
    }

    /// <summary>The slots a stick goes into.</summary>
    private static IEnumerable<Specification.Memory> Sticks(FitQuestion q) =>
        q.Model.Specifications.OfType<Specification.Memory>().Where(s => s.Soldered is not true);

    private static List<Specification.Memory> Others(FitQuestion q) => [.. Sticks(q).Where(s => s.Slot != q.Slot)];
}
