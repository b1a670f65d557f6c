using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>What could be larger or better in a slot of a unit, and within what limits.</summary>
/// <param name="Now">What is in it, in words; null when nothing is known.</param>
/// <param name="Room">What may go in, in words.</param>
public sealed record UpgradePath(string Slot, string Name, string? Now, string Room);

/// <summary>The upgrades a model allows.</summary>
public static class UpgradePaths
{
    /// <summary>One line for each slot with a specification, what is soldered included.</summary>
    public static IReadOnlyList<UpgradePath> Of(
        ServiceMap model,
        IReadOnlyDictionary<string, ItemSpecification> inside
    ) =>
        [
            .. model
                .Specifications.Where(s => s.Kind is not SpecificationKind.CoinCell)
                .Select(s => new UpgradePath(
                    s.Slot,
                    model.PartInSlot(s.Slot)?.Name ?? s.Slot,
                    inside.TryGetValue(s.Slot, out var now) ? Describe(now) : null,
                    s.Soldered is true ? "soldered: as it was bought" : Room(s)
                )),
        ];

    /// <summary>True when an item is more of what the slot is for: larger memory or drive, more energy.</summary>
    public static bool IsMore(ItemSpecification item, ItemSpecification? now) =>
        now is null
        || (item.Gb ?? 0) > (now.Gb ?? int.MaxValue)
        || (item.EnergyWh ?? 0) > (now.EnergyWh ?? double.MaxValue)
        || (item.Kind == ItemKind.Radio && item.ManagedFleet is true && now.ManagedFleet is not true);

    /// <summary>"16 GB DDR4-3200".</summary>
    public static string Describe(ItemSpecification item) =>
        string.Join(
            " ",
            new[]
            {
                item.Kind is ItemKind.Memory or ItemKind.Drive && item.Gb is { } gb ? $"{gb} GB" : null,
                item.Generation is { } g ? (item.MegaTransfers is { } s ? $"{g}-{s}" : g) : null,
                item.LengthMm is { } l ? $"22{l}" : null,
                item.DoubleSided switch
                {
                    true => "double-sided",
                    false => "single-sided",
                    null => null,
                },
                item.HeightMm is { } h ? FormattableString.Invariant($"{h:0.#} mm") : null,
                item.Kind == ItemKind.Radio && item.Key is { } key ? $"key {key}" : null,
                item.EnergyWh is { } e ? FormattableString.Invariant($"{e:0} Wh") : null,
                item.Watts is { } w ? FormattableString.Invariant($"{w:0} W") : null,
            }.Where(t => t is not null)
        );

    private static string Room(Specification s) =>
        s.Kind switch
        {
            SpecificationKind.Memory =>
                $"{s.Generation} up to {s.MegaTransfers} MT/s; {s.MakerGb} GB in all by the maker"
                    + (s.ControllerGb is { } c ? $", {c} by the processor's controller" : ""),
            SpecificationKind.Drive when s.LengthsMm is { } lengths =>
                $"{string.Join(" or ", lengths.Select(l => $"22{l}"))}, key {s.Key}, {(s.DoubleSided is false ? "single-sided" : "either side")}",
            SpecificationKind.Drive => FormattableString.Invariant($"2.5 inch, {s.HeightMm:0.#} mm")
                + (s.Form == SlotForm.OpticalBay ? ", by a caddy" : ""),
            SpecificationKind.Cellular => $"key {s.Key}, with antennas in the lid",
            SpecificationKind.Charger => FormattableString.Invariant($"{s.Watts:0} W, plug {s.Connector}"),
            SpecificationKind.Display => FormattableString.Invariant($"{s.Inches:0.0} inch, {s.Contacts} contacts"),
            SpecificationKind.Radio =>
                $"22{s.LengthsMm?[0]}, key {s.Key}, {(s.ProcessorRadio is true ? "with" : "without")} the processor's radio block",
            _ => FormattableString.Invariant($"{s.EnergyWh:0} Wh, {s.Volts:0.0#} V, plug {s.Connector}"),
        };
}
