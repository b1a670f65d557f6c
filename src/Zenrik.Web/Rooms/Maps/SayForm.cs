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

    /// <summary>need-not, needs, cannot-tell, holds, joins, rides, in-slot, called, lies, measures, screws, opens, same, absent, seen or firmware.</summary>
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

    /// <summary>What the firmware offers, what is ticked.</summary>
    public IReadOnlyList<string> Offers { get; init; } = [];

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
            "rides" when Part is not null => new Statement.Rides(Part, string.IsNullOrEmpty(Other) ? null : Other),
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
            "firmware" => new Statement.Firmware(Offers),
            "lies" when What is not null && Places is { Count: > 0 } at => Lies(What, at),
            _ => null,
        };

    /// <summary>Says it of a model; a form that makes no statement is answered with what it lacks.</summary>
    public Task<Outcome<string>> Send(SayOfModel say, string code, Actor by, CancellationToken stop) =>
        ToStatement() is { } statement
            ? say.Run(Request, code, Seen, statement, by, stop)
            : Task.FromResult<Outcome<string>>(
                new Refusal(
                    RefusalReason.Invalid,
                    Said == "lies"
                        ? "A place is written as millimetres from the top left, like 12.5,40: two corners for a part, one place for each screw. Nothing was changed."
                        : "Something is missing there. Nothing was changed; fill it in and send it once more."
                )
            );

    private bool Both => What is not null && After is not null;

    private static Statement.Lies? Lies(string what, IReadOnlyList<Point> at) =>
        !Act.TryParse(what, out var act) ? null
        : act.Kind != ActKind.LiftOut ? new Statement.Lies(what, null, at)
        : at is not [var one, var other] ? null
        : new Statement.Lies(
            what,
            new Shape
            {
                Rect =
                [
                    Math.Min(one.X, other.X),
                    Math.Min(one.Y, other.Y),
                    Math.Abs(one.X - other.X),
                    Math.Abs(one.Y - other.Y),
                ],
            },
            null
        );

    /// <summary>The places; null when one cannot be read.</summary>
    private List<Point>? Places
    {
        get
        {
            var places = new List<Point>();
            foreach (var word in (Points ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries))
            {
                if (
                    word.Split(',') is not [var x, var y]
                    || !double.TryParse(x, NumberStyles.Float, CultureInfo.InvariantCulture, out var left)
                    || !double.TryParse(y, NumberStyles.Float, CultureInfo.InvariantCulture, out var top)
                )
                {
                    return null;
                }

                places.Add(new Point(left, top));
            }

            return places;
        }
    }
}
