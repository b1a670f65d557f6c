using System.Runtime.CompilerServices;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Hosting;

namespace Zenrik.Web.Drawing;

/// <summary>
/// The small pieces a drawing repeats by the hundred, as SVG elements. They are text, not views: looking up and running a
/// view for each screw head cost more than everything else a drawing does. What a map says does not change, so its text is
/// written once for as long as the map is in use.
/// </summary>
public static class Glyphs
{
    /// <summary>What a map says of a thing, as text: before its state, after it, and what is drawn of it.</summary>
    /// <param name="Head">Up to where the classes of its state go.</param>
    /// <param name="Title">From there on, with its name as a title.</param>
    private sealed record Text(string Head, string Title, string Body)
    {
        public HtmlString In(string state, bool named, string after = "") =>
            new(string.Concat([Head, state, named ? Title : "\"><title></title>", Body, after, "</g>"]));
    }

    /// <summary>Of the things of the maps in use; each goes with its map.</summary>
    private static readonly ConditionalWeakTable<object, Text> Written = [];

    private static readonly ConditionalWeakTable<Shape, HtmlString> Outlines = [];

    /// <summary>An outline, in millimetres of the drawing.</summary>
    public static HtmlString Outline(Shape shape) => Outlines.GetValue(shape, OutlineOf);

    /// <summary>A part of the machine where it is.</summary>
    /// <param name="state">Classes of its state.</param>
    /// <param name="named">False where nothing is called by its name.</param>
    /// <param name="hatched">True when it was out and is back.</param>
    /// <param name="label">Its name on the drawing; null without.</param>
    /// <param name="turned">True where the drawing is the other way round, and what is read turned back.</param>
    public static HtmlString Part(Part part, string state, bool named, bool hatched, DrawnLabel? label, bool turned)
    {
        var text = Written.GetValue(part, static thing => PartOf((Part)thing));
        var hatch = hatched ? $"""<g class="hatched">{text.Body}</g>""" : "";
        return text.In(state, named, hatch + (label is null ? "" : Label(label, turned).Value));
    }

    /// <summary>A group of screws, each where it is; the first is numbered 1 where their order matters.</summary>
    public static HtmlString Screws(FastenerGroup group, string state, bool named) =>
        Written.GetValue(group, static thing => ScrewsOf((FastenerGroup)thing)).In(state, named);

    /// <summary>A joint where it is, with the way its cable takes.</summary>
    public static HtmlString Joint(Joint joint, string state, bool named) =>
        Written.GetValue(joint, static thing => JointOf((Joint)thing)).In(state, named);

    /// <summary>A tie where it holds.</summary>
    public static HtmlString Tie(Tie tie, string state, bool named) =>
        Written.GetValue(tie, static thing => TieOf((Tie)thing)).In(state, named);

    /// <summary>What is easily taken for a screw to be undone.</summary>
    public static HtmlString Decoy(Decoy decoy, bool named) =>
        Written.GetValue(decoy, static thing => DecoyOf((Decoy)thing)).In("", named);

    private static Text Of(string kind, string id, string name, string body) =>
        new($"""<g data-id="{Encode(id)}" class="{kind} """, $"\"><title>{Encode(name)}</title>", body);

    private static string Encode(string text) => HtmlEncoder.Default.Encode(text);

    private static string At(Point at) => $"translate({Show.Mm(at.X)} {Show.Mm(at.Y)})";

    private static Text PartOf(Part part) => Of("part", part.Id.Value, part.Name, Outline(part.Shape!).Value!);

    private static Text ScrewsOf(FastenerGroup group)
    {
        var head = Screw(group.Screw, HeadRadius);
        var well = group.Recessed ? """<circle class="well" r="4.6"/>""" : "";
        return Of(
            "screw",
            group.Id.Value,
            $"{group.Name}: {Show.Count(group.Count, "screw")}, {group.Screw.Drive.Name()}, {group.Screw.Size}",
            string.Concat(
                group.Positions.Select(
                    (at, i) =>
                        $"""<g transform="{At(at)}"><g class="glyph">{well}{head}</g>{(group.Numbered ? $"""<text class="order" y="-5.4" font-size="5.4">{i + 1}</text>""" : "")}</g>"""
                )
            )
        );
    }

    private static Text JointOf(Joint joint)
    {
        var cable = joint.Route.Count > 1 ? $"""<path class="cable" d="{Paths.Cable(joint.Route)}"/>""" : "";
        return Of(
            "joint",
            joint.Id.Value,
            $"{joint.Name}, {joint.Kind.Handling().Name}{(joint.Mark is { } mark ? $", marked {mark}" : "")}",
            $"""{cable}<g transform="{At(joint.At)} rotate({Show.Mm(joint.Angle)})">{Joint(joint.Kind)}</g>"""
        );
    }

    private static Text TieOf(Tie tie) =>
        Of(
            "tie",
            tie.Id.Value,
            tie.Name,
            $"""<g transform="{At(tie.At)}"><rect x="-6" y="-2.6" width="12" height="5.2"/></g>"""
        );

    private static Text DecoyOf(Decoy decoy)
    {
        var mark =
            decoy.Kind == DecoyKind.Drain
                ? """<path d="M0,-3.4C2.6,0 2.6,3 0,3C-2.6,3 -2.6,0 0,-3.4Z"/>"""
                : """<circle r="3.2"/><path d="M-4,4L4,-4"/>""";
        return Of(
            "decoy",
            decoy.Id,
            $"{decoy.Name}: stays. {decoy.Why}",
            string.Concat(decoy.Positions.Select(at => $"""<g transform="{At(at)}">{mark}</g>"""))
        );
    }

    private const double HeadRadius = 3.2;

    private static HtmlString OutlineOf(Shape shape) =>
        shape switch
        {
            Shape.Rect(var x, var y, var w, var h) => new HtmlString(
                $"""<rect x="{Show.Mm(x)}" y="{Show.Mm(y)}" width="{Show.Mm(w)}" height="{Show.Mm(h)}" rx="{Show.Mm(Math.Min(2, Math.Min(w, h) / 4))}"/>"""
            ),
            Shape.Circle(var x, var y, var r) => new HtmlString(
                $"""<circle cx="{Show.Mm(x)}" cy="{Show.Mm(y)}" r="{Show.Mm(r)}"/>"""
            ),
            Shape.Rings(var rings) => new HtmlString($"""<path fill-rule="evenodd" d="{Paths.Rings(rings)}"/>"""),
            _ => HtmlString.Empty,
        };

    /// <summary>An order that is only believed: from what waits to what it waits for, with its number in the list.</summary>
    public static HtmlString Wait(DrawnWait wait)
    {
        var (from, to, at) = (wait.From, wait.To, wait.Middle);
        var angle = Math.Atan2(to.Y - from.Y, to.X - from.X) * 180 / Math.PI;
        return new HtmlString(
            $"""<g class="wait"><path class="line" d="M{Show.Mm(from.X)} {Show.Mm(from.Y)}L{Show.Mm(to.X)} {Show.Mm(to.Y)}"/>"""
                + $"""<path class="head" d="M-4 -2.4L0 0L-4 2.4" transform="translate({Show.Mm(to.X)} {Show.Mm(to.Y)}) rotate({Show.Mm(angle)})"/>"""
                + $"""<circle cx="{Show.Mm(at.X)}" cy="{Show.Mm(at.Y)}" r="4.4"/><text x="{Show.Mm(at.X)}" y="{Show.Mm(at.Y + 2)}" font-size="6">{wait.Number}</text></g>"""
        );
    }

    /// <summary>A name on the drawing.</summary>
    public static HtmlString Label(DrawnLabel label, bool turned = false) =>
        new(
            $"""<text transform="translate({Show.Mm(label.At.X)} {Show.Mm(label.At.Y)}){(turned ? " scale(-1 1)" : "")}{(label.Upright ? " rotate(-90)" : "")}" font-size="{Show.Mm(label.SizeMm)}" dy=".34em">{Encode(label.Text)}</text>"""
        );

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
