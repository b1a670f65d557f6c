using System.Globalization;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>A specification in words.</summary>
internal static class Facts
{
    public static string Of(Specification s)
    {
        string?[] facts =
        [
            s.Soldered == true ? "soldered, nothing to exchange" : null,
            s.Form is { } form ? FormOf(form) : null,
            s.Generation,
            s.MegaTransfers is { } mt ? $"{mt} MT/s" : null,
            s.StickGb is { } stick ? $"{stick} GB a stick" : null,
            s.MakerGb is { } gb ? $"{gb} GB stated by the maker" : null,
            s.ControllerGb is { } most ? $"{most} GB by the controller" : null,
            s.SolderedGb is { } fixedGb ? $"{fixedGb} GB soldered besides" : null,
            s.LengthsMm is { } lengths ? $"22 × {string.Join(" or 22 × ", lengths)} mm" : null,
            s.Key is { } key ? $"key {key}" : null,
            s.Buses is { } buses ? string.Join(" and ", buses.Select(b => b == DriveBus.Nvme ? "NVMe" : "SATA")) : null,
            s.DoubleSided is { } both ? (both ? "chips on both sides fit" : "single-sided only") : null,
            s.HeightMm is { } height ? $"{Number(height)} mm high" : null,
            s.ProcessorRadio == true
                ? $"wired to the processor's radio block{(s.ProcessorRadioGeneration is { } block ? $", generation {block}" : "")}"
                : null,
            s.OnlyNumbers is { Count: > 0 } only ? $"only {string.Join(", ", only)}" : null,
            s.EnergyWh is { } wh ? $"{Number(wh)} Wh" : null,
            s.Volts is { } volts ? $"{Number(volts)} V" : null,
            s.Watts is { } watts ? $"{Number(watts)} W" : null,
            s.Cells is { } cells ? $"{cells} cells" : null,
            s.Pack,
            s.Connector is { } plug ? $"plug {plug}" : null,
            s.Rechargeable == true ? "charged by the board" : null,
            s.PowerDelivery == true ? "USB Power Delivery" : null,
            s.IdentificationPin == true ? "asks by a pin who the charger is" : null,
            s.Inches is { } inches ? $"{Number(inches)} inches" : null,
            s.PixelsWide is { } wide && s.PixelsHigh is { } high ? $"{wide} × {high}" : null,
            s.Contacts is { } contacts ? $"{contacts} contacts" : null,
            s.Note,
        ];
        if (facts.All(f => f is null))
        {
            return Show.Words(s.Kind);
        }

        return string.Join(" · ", facts.OfType<string>());
    }

    private static string FormOf(SlotForm form) =>
        form switch
        {
            SlotForm.M2 => "M.2 card",
            SlotForm.TwoAndAHalfInch => "2.5-inch case",
            SlotForm.MSata => "mSATA card",
            SlotForm.HalfSize => "half-size card",
            _ => "bay of an optical drive",
        };

    private static string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
