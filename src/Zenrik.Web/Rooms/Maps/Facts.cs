using System.Globalization;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>A specification in words.</summary>
internal static class Facts
{
    public static string Of(Specification s)
    {
        string?[] facts =
        [
            s.Soldered == true ? "soldered, nothing to exchange" : null,
            s.Generation,
            s.MegaTransfers is { } mt ? $"{mt} MT/s" : null,
            s.MakerGb is { } gb ? $"{gb} GB stated by the maker" : null,
            s.ControllerGb is { } most ? $"{most} GB by the controller" : null,
            s.LengthsMm is { } lengths ? $"22 × {string.Join(" or 22 × ", lengths)} mm" : null,
            s.Key is { } key ? $"key {key}" : null,
            s.DoubleSided is { } both ? (both ? "chips on both sides fit" : "single-sided only") : null,
            s.HeightMm is { } height ? $"{Number(height)} mm high" : null,
            s.EnergyWh is { } wh ? $"{Number(wh)} Wh" : null,
            s.Volts is { } volts ? $"{Number(volts)} V" : null,
            s.Cells is { } cells ? $"{cells} cells" : null,
            s.Note,
        ];
        return string.Join(" · ", facts.OfType<string>());
    }

    private static string Number(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
