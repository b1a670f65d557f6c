using System.Globalization;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Web.Hosting;

/// <summary>What a slot takes, in words.</summary>
internal static class SlotWords
{
    public static string Of(Specification slot)
    {
        string?[] said = [slot.Soldered == true ? "soldered, nothing to exchange" : null, .. Kinds(slot), slot.Note];
        var facts = said.OfType<string>().ToList();
        return facts.Count > 0 ? string.Join(" · ", facts) : Show.Words(slot.Kind);
    }

    private static string?[] Kinds(Specification slot) =>
        slot switch
        {
            Specification.Memory s =>
            [
                s.Generation,
                s.MegaTransfers is { } mt ? $"{mt} MT/s" : null,
                s.StickGb is { } stick ? $"{stick} GB a stick" : null,
                s.MakerGb is { } gb ? $"{gb} GB stated by the maker" : null,
                s.ControllerGb is { } most ? $"{most} GB by the controller" : null,
                s.SolderedGb is { } fixedGb ? $"{fixedGb} GB soldered besides" : null,
            ],
            Specification.Drive s =>
            [
                FormOf(s.Form),
                Lengths(s.LengthsMm),
                Key(s.Key),
                s.Buses is { } buses
                    ? string.Join(" and ", buses.Select(b => b == DriveBus.Nvme ? "NVMe" : "SATA"))
                    : null,
                s.DoubleSided is { } both ? (both ? "chips on both sides fit" : "single-sided only") : null,
                s.HeightMm is { } height ? $"{Number(height)} mm high" : null,
            ],
            Specification.Radio s =>
            [
                FormOf(s.Form),
                Lengths(s.LengthsMm),
                Key(s.Key),
                s.ProcessorRadio == true
                    ? $"wired to the processor's radio block{(s.ProcessorRadioGeneration is { } block ? $", generation {block}" : "")}"
                    : null,
                Only(s.OnlyNumbers),
            ],
            Specification.Cellular s => [Lengths(s.LengthsMm), Key(s.Key), Only(s.OnlyNumbers)],
            Specification.Battery s =>
            [
                s.EnergyWh is { } wh ? $"{Number(wh)} Wh" : null,
                Volts(s.Volts),
                s.Cells is { } cells ? $"{cells} cells" : null,
                s.Pack,
                Plug(s.Connector),
            ],
            Specification.CoinCell s =>
            [
                Volts(s.Volts),
                Plug(s.Connector),
                s.Rechargeable == true ? "charged by the board" : null,
            ],
            Specification.Charger s =>
            [
                Volts(s.Volts),
                s.Watts is { } watts ? $"{Number(watts)} W" : null,
                Plug(s.Connector),
                s.PowerDelivery == true ? "USB Power Delivery" : null,
                s.IdentificationPin == true ? "asks by a pin who the charger is" : null,
            ],
            Specification.Display s =>
            [
                s.Inches is { } inches ? $"{Number(inches)} inches" : null,
                s is { PixelsWide: { } wide, PixelsHigh: { } high } ? $"{wide} × {high}" : null,
                s.Contacts is { } contacts ? $"{contacts} contacts" : null,
            ],
            _ => [],
        };

    private static string? Lengths(IReadOnlyList<int>? mm) =>
        mm is { } lengths ? $"22 × {string.Join(" or 22 × ", lengths)} mm" : null;

    private static string? Key(M2Key? key) => key is { } known ? $"key {known}" : null;

    private static string? Only(IReadOnlyList<string>? numbers) =>
        numbers is { Count: > 0 } only ? $"only {string.Join(", ", only)}" : null;

    private static string? Volts(double? volts) => volts is { } known ? $"{Number(known)} V" : null;

    private static string? Plug(string? connector) => connector is { } plug ? $"plug {plug}" : null;

    private static string? FormOf(SlotForm? form) =>
        form switch
        {
            SlotForm.M2 => "M.2 card",
            SlotForm.TwoAndAHalfInch => "2.5-inch case",
            SlotForm.MSata => "mSATA card",
            SlotForm.HalfSize => "half-size card",
            SlotForm.OpticalBay => "bay of an optical drive",
            _ => null,
        };

    private static string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
