using Microsoft.AspNetCore.Html;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;

namespace Zenrik.Web.Drawing;

/// <summary>
/// The small pieces a drawing repeats by the hundred, as SVG elements. They are text, not views: looking up and running a
/// view for each screw head cost more than everything else a drawing does.
/// </summary>
public static class Glyphs
{
    /// <summary>An outline, in millimetres of the drawing.</summary>
    public static IHtmlContent Outline(Shape shape) =>
        shape switch
        {
            { Rect: [var x, var y, var w, var h] } => new HtmlString(
                $"""<rect x="{Show.Mm(x)}" y="{Show.Mm(y)}" width="{Show.Mm(w)}" height="{Show.Mm(h)}" rx="{Show.Mm(Math.Min(2, Math.Min(w, h) / 4))}"/>"""
            ),
            { Circle: [var x, var y, var r] } => new HtmlString(
                $"""<circle cx="{Show.Mm(x)}" cy="{Show.Mm(y)}" r="{Show.Mm(r)}"/>"""
            ),
            { Rings: { } rings } => new HtmlString($"""<path fill-rule="evenodd" d="{Paths.Rings(rings)}"/>"""),
            _ => HtmlString.Empty,
        };

    /// <summary>A name on the drawing.</summary>
    public static IHtmlContent Label(DrawnLabel label) =>
        new HtmlContentBuilder()
            .AppendHtml(
                $"""<text transform="translate({Show.Mm(label.At.X)} {Show.Mm(label.At.Y)}){(label.Upright ? " rotate(-90)" : "")}" font-size="{Show.Mm(label.SizeMm)}" dy=".34em">"""
            )
            .Append(label.Text)
            .AppendHtml("</text>");

    /// <summary>
    /// A screw from above, its recess drawn as it is, about the origin; the bar beneath is as long as the screw, 0.3 of the
    /// radius to a millimetre.
    /// </summary>
    /// <param name="radius">Of the head.</param>
    public static IHtmlContent Screw(Screw screw, double radius)
    {
        var a = radius * 0.55;
        var pin = Show.Mm(a * 0.25);
        var recess = screw.Drive switch
        {
            Drive.HexStandoff => Lobe(Paths.Hexagon(a * 1.4)),
            Drive.FiveLobe => Lobe(Paths.Lobes(5, a * 1.15)),
            Drive.T5Pin or Drive.T6Pin => $"""{Lobe(Paths.Lobes(6, a * 1.15))}<circle class="pin" r="{pin}"/>""",
            var lobed when lobed.IsHexalobular() => Lobe(Paths.Lobes(6, a * 1.15)),
            Drive.Slot => $"""<path d="M{Show.Mm(-a)},0H{Show.Mm(a)}"/>""",
            _ => $"""<path d="M{Show.Mm(-a)},0H{Show.Mm(a)}M0,{Show.Mm(-a)}V{Show.Mm(a)}"/>""",
        };
        var bar = Math.Min(2 * radius, screw.LengthMm * 0.3 * radius);
        return new HtmlString(
            $"""<circle r="{Show.Mm(radius)}" class="{(screw.Finish == Finish.Silver ? "silver" : "black")}"/>{recess}<path class="len" d="M{Show.Mm(-radius)},{Show.Mm(radius + 1.4)}h{Show.Mm(bar)}"/>"""
        );

        static string Lobe(string path) => $"""<path class="lobe" d="{path}"/>""";
    }

    /// <summary>A joint from above, about the origin, its lead to the left.</summary>
    public static IHtmlContent Joint(JointKind kind) =>
        new HtmlString(
            kind switch
            {
                JointKind.FlipLockRibbon =>
                    """<rect x="-6" y="-2" width="12" height="4"/><path class="bar" d="M-6,-2h12"/>""",
                JointKind.SlideLockRibbon =>
                    """<rect x="-6" y="-2" width="12" height="4"/><path class="bar" d="M-7.5,2h15"/>""",
                JointKind.LeverLockDisplay =>
                    """<rect x="-9" y="-2" width="18" height="4" rx=".8"/><path class="bar" d="M-9,3.2h18"/>""",
                JointKind.PullTabPlug => """<rect x="-5" y="-2" width="10" height="4" rx="1"/><path d="M0,-2v-2.4"/>""",
                JointKind.WirePlug =>
                    """<rect x="-4" y="-2.4" width="8" height="4.8" rx="1"/><path d="M-2,-2.4v4.8M2,-2.4v4.8"/>""",
                JointKind.CoaxSnap => """<circle r="2.3"/><circle class="dot" r=".8"/>""",
                JointKind.EdgeSlotMemory =>
                    """<rect x="-9" y="-1.2" width="18" height="2.4"/><path d="M-9,-2.6v5.2M9,-2.6v5.2"/>""",
                JointKind.EdgeSlotM2 => """<rect x="-8" y="-1.3" width="16" height="2.6"/><path d="M4,-1.3v2.6"/>""",
                JointKind.BarrelPowerPort =>
                    """<rect x="-4" y="-3" width="8" height="6" rx="2"/><circle class="dot" r="1"/>""",
                JointKind.CoinCellHolder => """<circle r="4.2"/><path d="M-5,-3.4h3M-5,3.4h3"/>""",
                _ => """<rect x="-5" y="-5" width="10" height="10"/><path d="M-5,-2l3,-3"/>""",
            }
        );
}
