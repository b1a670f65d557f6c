using System.Text;
using QRCoder;

namespace Zenrik.Web.Drawing;

/// <summary>QR codes (ISO/IEC 18004) as SVG path data, one unit a module, with the quiet zone of four modules.</summary>
public static class Qr
{
    /// <summary>Side of the whole code in modules.</summary>
    public static int Side(string text) => Modules(text).Count;

    /// <summary>The dark modules.</summary>
    public static string Path(string text)
    {
        var path = new StringBuilder();
        foreach (var (y, row) in Modules(text).Index())
        {
            for (var x = 0; x < row.Count; x++)
            {
                if (row[x])
                {
                    path.Append(System.Globalization.CultureInfo.InvariantCulture, $"M{x},{y}h1v1h-1z");
                }
            }
        }

        return path.ToString();
    }

    private static List<System.Collections.BitArray> Modules(string text)
    {
        using var data = QRCodeGenerator.GenerateQrCode(text, QRCodeGenerator.ECCLevel.M);
        return data.ModuleMatrix;
    }
}
