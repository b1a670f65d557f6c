using System.Globalization;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>Something said of a draft, as a form sends it.</summary>
public sealed record SayForm
{
    public Guid Request { get; init; }

    /// <summary>The version of the draft the page showed.</summary>
    public int Seen { get; init; }

    /// <summary>need-not, needs, cannot-tell, holds, joins, rides, in-slot, called, lies or measures.</summary>
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
            "lies" when What is not null && Places is { Count: > 0 } at => Lies(What, at),
            _ => null,
        };

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
