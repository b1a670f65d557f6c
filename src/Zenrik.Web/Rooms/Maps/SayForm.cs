using System.Globalization;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Book;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>Something said of a draft, as a form sends it.</summary>
public sealed record SayForm
{
    public Guid Request { get; init; }

    /// <summary>The version of the draft the page showed.</summary>
    public int Seen { get; init; }

    /// <summary>need-not, needs, cannot-tell, holds, joins, lead, rides, in-slot, called, lies, measures, brings, screws, opens, same, absent, seen, firmware, moved, runs, drawn, stays or pictured.</summary>
    public string? Said { get; init; }

    public string? What { get; init; }

    public string? After { get; init; }

    public string? Part { get; init; }

    public string? Other { get; init; }

    public string? Name { get; init; }

    /// <summary>Places in mm: "12.5,40 200,44"; two corners of a part.</summary>
    public string? Points { get; init; }

    public double? Width { get; init; }

    public double? Height { get; init; }

    public int? Count { get; init; }

    public Drive? Drive { get; init; }

    public double? Length { get; init; }

    public JointKind? Joint { get; init; }

    /// <summary>Of a part's place: "rectangle" by two corners, "circle" by its centre and a point of its edge, or "outline".</summary>
    public string? Shaped { get; init; }

    /// <summary>Things that are ticked, by the acts that take them off.</summary>
    public IReadOnlyList<string>? Ticked { get; init; }

    public double? Right { get; init; }

    public double? Down { get; init; }

    public int? Layer { get; init; }

    public DecoyKind? Kind { get; init; }

    public Side? Side { get; init; }

    /// <summary>Of what rides on a part: whether a new part comes with it.</summary>
    public bool? Does { get; init; }

    public string? Why { get; init; }

    public Guid? Photo { get; init; }

    /// <summary>Two points of a photograph in picture elements: "12,40 1580,44".</summary>
    public string? Picture { get; init; }

    /// <summary>What the firmware offers, what is ticked.</summary>
    public IReadOnlyList<string>? Offers { get; init; }

    /// <summary>The statement; null when the form does not make one.</summary>
    public Statement? ToStatement() =>
        Said switch
        {
            "need-not" when Both => new Statement.NeedNot(What!, After!),
            "needs" when Both => new Statement.Needs(What!, After!),
            "cannot-tell" when Both => new Statement.CannotTell(What!, After!),
            "holds" when What is not null && Part is not null => new Statement.Holds(What, Part),
            "joins" when What is not null && Part is not null && Other is not null => new Statement.Joins(
                What,
                Part,
                Other
            ),
            "lead" when What is not null && Part is not null && After is not null => new Statement.Lead(
                What,
                string.IsNullOrEmpty(Other) ? null : Other,
                Part,
                After
            ),
            "rides" when Part is not null => new Statement.Rides(Part, string.IsNullOrEmpty(Other) ? null : Other),
            "brings" when Part is not null && Other is { Length: > 0 } && Does is { } does => new Statement.Brings(
                Part,
                Other,
                does
            ),
            "in-slot" when Part is not null => new Statement.InSlot(
                Part,
                string.IsNullOrWhiteSpace(Name) ? null : Name.Trim()
            ),
            "called" when What is not null => new Statement.Called(What, Name ?? ""),
            "measures" when Width is { } w && Height is { } h => new Statement.Measures(w, h),
            "screws" when What is not null && Count is { } count && Drive is { } drive => new Statement.Screws(
                What,
                count,
                drive,
                Length
            ),
            "opens" when What is not null && Joint is { } kind => new Statement.Opens(What, kind),
            "same" when What is not null && Other is { Length: > 0 } => new Statement.Same(What, Other),
            "absent" when What is not null => new Statement.Absent(What),
            "seen" when What is not null => new Statement.Seen(What),
            "firmware" => new Statement.Firmware(Offers ?? []),
            "moved" when Right is { } right && Down is { } down => new Statement.Moved(Ticked ?? [], right, down),
            "runs" when What is not null && Read(Points) is { } through => new Statement.Runs(What, through),
            "drawn" when Part is not null && Layer is { } layer => new Statement.Drawn(Part, layer),
            "stays" when Kind is { } decoy && Read(Points) is { } spots => new Statement.Stays(
                Name ?? "",
                decoy,
                spots,
                Why ?? "",
                Side == Core.ServiceMaps.Side.Deck ? Core.ServiceMaps.Side.Deck : Core.ServiceMaps.Side.Base
            ),
            "pictured"
                when Photo is { } photo
                    && Width is { } wide
                    && Height is { } high
                    && Read(Picture) is [var first, var second]
                    && Read(Points) is [var firstMm, var secondMm] => new Statement.Pictured(
                new Underlay(photo, (int)wide, (int)high, first, firstMm, second, secondMm)
            ),
            "lies" when What is not null && Read(Points) is { Count: > 0 } at => Lies(What, at, Shaped),
            _ => null,
        };

    /// <summary>Says it of a model; a form that makes no statement is answered with what it lacks.</summary>
    public Task<Outcome<string>> Send(SayOfModel say, string code, Actor by, CancellationToken stop) =>
        ToStatement() is { } statement
            ? say.Run(Request, code, Seen, statement, by, stop)
            : Task.FromResult<Outcome<string>>(Unread(Said));

    /// <summary>What a form lacks that makes no statement.</summary>
    public static Refusal Unread(string? said) =>
        new(
            RefusalReason.Invalid,
            said == "lies"
                ? "A place is written as millimetres from the top left, like 12.5,40: two corners for a part, centre and edge for a round one, three or more for an outline, one place for each screw. Nothing was changed."
                : "Something is missing there. Nothing was changed; fill it in and send it once more."
        );

    private bool Both => What is not null && After is not null;

    private static Statement.Lies? Lies(string what, IReadOnlyList<Point> at, string? form) =>
        !Act.TryParse(what, out var act) ? null
        : act.Kind != ActKind.LiftOut ? new Statement.Lies(what, null, at)
        : ShapeOf(at, form) is { } shape ? new Statement.Lies(what, shape, null)
        : null;

    private static Shape? ShapeOf(IReadOnlyList<Point> at, string? form) =>
        (form, at) switch
        {
            ("circle", [var centre, var edge]) => new Shape.Circle(
                centre.X,
                centre.Y,
                Math.Round(centre.DistanceTo(edge), 1)
            ),
            ("outline", { Count: >= 3 }) => new Shape.Rings([at]),
            (null or "rectangle", [var one, var other]) => new Shape.Rect(
                Math.Min(one.X, other.X),
                Math.Min(one.Y, other.Y),
                Math.Abs(one.X - other.X),
                Math.Abs(one.Y - other.Y)
            ),
            _ => null,
        };

    /// <summary>Points as "x,y x,y"; null when one cannot be read. Nothing is no point.</summary>
    private static List<Point>? Read(string? text)
    {
        var places = new List<Point>();
        foreach (var word in (text ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries))
        {
            if (
                word.Split(',') is not [var x, var y]
                || !double.TryParse(x, NumberStyles.Float, CultureInfo.InvariantCulture, out var left)
                || !double.TryParse(y, NumberStyles.Float, CultureInfo.InvariantCulture, out var top)
                || !double.IsFinite(left)
                || !double.IsFinite(top)
            )
            {
                return null;
            }

            places.Add(new Point(left, top));
        }

        return places;
    }
}
