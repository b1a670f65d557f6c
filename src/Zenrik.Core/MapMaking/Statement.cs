using System.Text.Json;
using System.Text.Json.Serialization;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>
/// Something a person said of a model beside what sessions showed. What is said later counts before what was said earlier.
/// Acts are written "kind:target".
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "said")]
[JsonDerivedType(typeof(NeedNot), "need-not")]
[JsonDerivedType(typeof(Needs), "needs")]
[JsonDerivedType(typeof(CannotTell), "cannot-tell")]
[JsonDerivedType(typeof(Holds), "holds")]
[JsonDerivedType(typeof(Joins), "joins")]
[JsonDerivedType(typeof(Lead), "lead")]
[JsonDerivedType(typeof(Rides), "rides")]
[JsonDerivedType(typeof(Brings), "brings")]
[JsonDerivedType(typeof(InSlot), "in-slot")]
[JsonDerivedType(typeof(Called), "called")]
[JsonDerivedType(typeof(Lies), "lies")]
[JsonDerivedType(typeof(Measures), "measures")]
[JsonDerivedType(typeof(Moved), "moved")]
[JsonDerivedType(typeof(Runs), "runs")]
[JsonDerivedType(typeof(Drawn), "drawn")]
[JsonDerivedType(typeof(Stays), "stays")]
[JsonDerivedType(typeof(Pictured), "pictured")]
[JsonDerivedType(typeof(Screws), "screws")]
[JsonDerivedType(typeof(Opens), "opens")]
[JsonDerivedType(typeof(Same), "same")]
[JsonDerivedType(typeof(Absent), "absent")]
[JsonDerivedType(typeof(Seen), "seen")]
[JsonDerivedType(typeof(Takes), "takes")]
[JsonDerivedType(typeof(Firmware), "firmware")]
public abstract record Statement
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
        AllowOutOfOrderMetadataProperties = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    private Statement() { }

    /// <summary>One thing need not wait for another.</summary>
    public sealed record NeedNot(string What, string After) : Statement;

    /// <summary>One thing must wait for another, whatever sessions show.</summary>
    public sealed record Needs(string What, string After) : Statement;

    /// <summary>Asked, and nobody could tell: it is not asked again.</summary>
    public sealed record CannotTell(string What, string After) : Statement;

    /// <summary>The part that screws or a tie hold.</summary>
    public sealed record Holds(string What, string Part) : Statement;

    /// <summary>The two parts a joint connects: whose plug it is, then which has the socket.</summary>
    public sealed record Joins(string Joint, string Plug, string Socket) : Statement;

    /// <summary>Two joints are the two ends of one loose lead: one of them is opened, whichever.</summary>
    /// <param name="Other">The joint at the other end; null: the joint is no end of a lead after all.</param>
    /// <param name="Socket">The part that has the socket of the joint.</param>
    /// <param name="OtherSocket">The part that has the socket of the other.</param>
    public sealed record Lead(string Joint, string? Other, string Socket, string OtherSocket) : Statement;

    /// <summary>What a part rides on; null: on nothing.</summary>
    public sealed record Rides(string Part, string? On) : Statement;

    /// <summary>Whether a new part comes with another that rides on it, or that one moves over from the old part.</summary>
    public sealed record Brings(string Part, string What, bool Does) : Statement;

    /// <summary>The slot a part's number is kept under; null: none is kept.</summary>
    public sealed record InSlot(string Part, string? Slot) : Statement;

    /// <summary>Another name for a thing; its identity stays.</summary>
    public sealed record Called(string What, string Name) : Statement;

    /// <summary>Where a thing lies on the drawing: the outline of a part, a point for each screw, the point of a joint or tie.</summary>
    public sealed record Lies(string What, Shape? Shape, IReadOnlyList<Point>? At) : Statement;

    /// <summary>Things that lie elsewhere by so much, mm to the right and down.</summary>
    public sealed record Moved(IReadOnlyList<string> What, double RightMm, double DownMm) : Statement;

    /// <summary>Where the cable of a joint runs, up to the joint; empty: nothing to draw.</summary>
    public sealed record Runs(string Joint, IReadOnlyList<Point> Through) : Statement;

    /// <summary>How near to the eye a part lies on the drawing, whatever waits for it: 1, deepest, to 99.</summary>
    public sealed record Drawn(string Part, int Layer) : Statement;

    /// <summary>What looks as if it had to be undone and stays; no places: it is none after all.</summary>
    /// <param name="Side">The side it is seen from.</param>
    public sealed record Stays(string Name, DecoyKind Kind, IReadOnlyList<Point> At, string Why, Side Side = Side.Base)
        : Statement;

    /// <summary>A photograph laid under the drawing.</summary>
    public sealed record Pictured(Underlay Picture) : Statement;

    /// <summary>The outline of the machine, mm.</summary>
    public sealed record Measures(double WidthMm, double HeightMm) : Statement;

    /// <summary>How many screws there are and what they are, whatever sessions counted.</summary>
    /// <param name="LengthMm">Null: not measured.</param>
    public sealed record Screws(string What, int Count, Drive Drive, double? LengthMm) : Statement;

    /// <summary>How a joint opens.</summary>
    public sealed record Opens(string Joint, JointKind Kind) : Statement;

    /// <summary>Two names of one thing; it is known by the second.</summary>
    public sealed record Same(string What, string As) : Statement;

    /// <summary>There is no such thing in the machine.</summary>
    public sealed record Absent(string What) : Statement;

    /// <summary>A thing copied from another model is here as well: a person has looked.</summary>
    public sealed record Seen(string What) : Statement;

    /// <summary>What may go into a slot.</summary>
    public sealed record Takes(Specification What) : Statement;

    /// <summary>What the firmware offers, of <see cref="BenchLedger.FirmwareOffers"/>.</summary>
    public sealed record Firmware(IReadOnlyList<string> Offers) : Statement;

    /// <summary>What a draft is told of what a session went on by; null: the acts of the session say it.</summary>
    public static Statement? Of(MapCorrection correction) =>
        correction switch
        {
            MapCorrection.Brings s => new Brings(s.On.Value, s.Part.Value, Does: true),
            MapCorrection.Stays s => new Needs($"{Act.LiftOut(s.Part)}", $"{Act.LiftOut(s.Cover)}"),
            _ => null,
        };

    public string ToText() => JsonSerializer.Serialize(this, Json);

    /// <summary>Reads what <see cref="ToText"/> wrote.</summary>
    public static Statement Parse(string text) => JsonSerializer.Deserialize<Statement>(text, Json)!;
}
