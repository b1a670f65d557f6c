using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>What could be larger or better in a slot of a unit, and within what limits.</summary>
/// <param name="Now">What is in it, in words; null when nothing is known.</param>
/// <param name="Room">What may go in, in words.</param>
public sealed record UpgradePath(string Slot, string Name, string? Now, string Room);

/// <summary>The upgrades a model allows.</summary>
public static class UpgradePaths
{
    /// <summary>One line for each slot inside with a specification, what is soldered included.</summary>
    public static IReadOnlyList<UpgradePath> Of(
        ServiceMap model,
        IReadOnlyDictionary<string, ItemSpecification> inside
    ) =>
        [
            .. model
                .Specifications.Where(s => s.Kind is not SpecificationKind.CoinCell && !s.IsOutside)
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
        || item.Holds > now.Holds
        || (item, now) switch
        {
            (ItemSpecification.Battery more, ItemSpecification.Battery less) => more.EnergyWh > less.EnergyWh,
            (ItemSpecification.Radio { ManagedFleet: true }, not ItemSpecification.Radio { ManagedFleet: true }) =>
                true,
            _ => false,
        };

    /// <summary>"16 GB DDR4-3200".</summary>
    public static string Describe(ItemSpecification item) => string.Join(" ", Words(item).OfType<string>());

    private static string?[] Words(ItemSpecification item) =>
        item switch
        {
            ItemSpecification.Memory m =>
            [
                Size(m.Gb),
                m.Generation is { } made ? (m.MegaTransfers is { } speed ? $"{made}-{speed}" : made) : null,
            ],
            ItemSpecification.Drive d =>
            [
                Size(d.Gb),
                Length(d.LengthMm),
                d.DoubleSided is { } both ? (both ? "double-sided" : "single-sided") : null,
                d.HeightMm is { } high ? FormattableString.Invariant($"{high:0.#} mm") : null,
            ],
            ItemSpecification.Radio r => [Length(r.LengthMm), r.Key is { } key ? $"key {key}" : null],
            ItemSpecification.Cellular c => [Length(c.LengthMm)],
            ItemSpecification.Battery b => [b.EnergyWh is { } wh ? FormattableString.Invariant($"{wh:0} Wh") : null],
            ItemSpecification.Power p => [Watts(p.Watts)],
            ItemSpecification.Charger c => [Watts(c.Watts)],
            _ => [],
        };

    private static string? Size(int? gb) => gb is { } known ? $"{known} GB" : null;

    private static string? Length(int? mm) => mm is { } known ? $"22{known}" : null;

    private static string? Watts(double? watts) => watts is { } w ? FormattableString.Invariant($"{w:0} W") : null;

    private static string Room(Specification slot) =>
        slot switch
        {
            Specification.Memory s => $"{s.Generation} up to {s.MegaTransfers} MT/s; {s.MakerGb} GB in all by the maker"
                + (s.ControllerGb is { } c ? $", {c} by the processor's controller" : ""),
            Specification.Drive { LengthsMm: { } lengths } s =>
                $"{string.Join(" or ", lengths.Select(l => $"22{l}"))}, key {s.Key}, {(s.DoubleSided is false ? "single-sided" : "either side")}",
            Specification.Drive s => FormattableString.Invariant($"2.5 inch, {s.HeightMm:0.#} mm")
                + (s.Form == SlotForm.OpticalBay ? ", by a caddy" : ""),
            Specification.Cellular s => $"key {s.Key}, with antennas in the lid",
            Specification.Charger s => FormattableString.Invariant($"{s.Watts:0} W, plug {s.Connector}"),
            Specification.Display s => FormattableString.Invariant($"{s.Inches:0.0} inch, {s.Contacts} contacts"),
            Specification.Radio s =>
                $"22{s.LengthsMm?[0]}, key {s.Key}, {(s.ProcessorRadio is true ? "with" : "without")} the processor's radio block",
            Specification.Battery s => FormattableString.Invariant(
                $"{s.EnergyWh:0} Wh, {s.Volts:0.0#} V, plug {s.Connector}"
            ),
            Specification.CoinCell s => FormattableString.Invariant($"{s.Volts:0.0#} V"),
            _ => throw new ArgumentOutOfRangeException(nameof(slot)),
        };
}
