using System.Text.Json;
using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>A place on the drawing in millimetres from its top left corner; written [x, y] in a map.</summary>
[JsonConverter(typeof(PointConverter))]
public readonly record struct Point(double X, double Y)
{
    public double DistanceTo(Point other) => Math.Sqrt(Math.Pow(X - other.X, 2) + Math.Pow(Y - other.Y, 2));
}

/// <summary>The outline of a part: exactly one of the three forms is given.</summary>
public sealed record Shape
{
    /// <summary>[x, y, width, height] in mm.</summary>
    public IReadOnlyList<double>? Rect { get; init; }

    /// <summary>[centre x, centre y, radius] in mm.</summary>
    public IReadOnlyList<double>? Circle { get; init; }

    /// <summary>Closed rings in mm; the first is the outline, further ones are openings in it.</summary>
    public IReadOnlyList<IReadOnlyList<Point>>? Rings { get; init; }

    /// <summary>The same elsewhere, mm to the right and down.</summary>
    public Shape Moved(double right, double down) =>
        this switch
        {
            { Rect: [var x, var y, var w, var h] } => new Shape { Rect = [x + right, y + down, w, h] },
            { Circle: [var x, var y, var r] } => new Shape { Circle = [x + right, y + down, r] },
            { Rings: { } rings } => new Shape
            {
                Rings = [.. rings.Select(ring => ring.Select(p => new Point(p.X + right, p.Y + down)).ToArray())],
            },
            _ => this,
        };

    /// <summary>The smallest upright rectangle around the shape.</summary>
    [JsonIgnore]
    public Box Bounds =>
        this switch
        {
            { Rect: [var x, var y, var w, var h] } => new Box(x, y, x + w, y + h),
            { Circle: [var cx, var cy, var r] } => new Box(cx - r, cy - r, cx + r, cy + r),
            { Rings: [{ Count: > 0 } outline, ..] } => new Box(
                outline.Min(p => p.X),
                outline.Min(p => p.Y),
                outline.Max(p => p.X),
                outline.Max(p => p.Y)
            ),
            _ => default,
        };
}

/// <summary>An upright rectangle in mm.</summary>
public readonly record struct Box(double Left, double Top, double Right, double Bottom)
{
    public double Width => Right - Left;

    public double Height => Bottom - Top;

    public bool Overlaps(Box other) =>
        Left < other.Right && other.Left < Right && Top < other.Bottom && other.Top < Bottom;

    public Point Centre => new((Left + Right) / 2, (Top + Bottom) / 2);
}

internal sealed class PointConverter : JsonConverter<Point>
{
    public override Point Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        var xy = JsonSerializer.Deserialize<double[]>(ref reader, options);
        return xy is [var x, var y] ? new Point(x, y) : throw new JsonException("a point is [x, y]");
    }

    public override void Write(Utf8JsonWriter writer, Point value, JsonSerializerOptions options)
    {
        writer.WriteStartArray();
        writer.WriteNumberValue(value.X);
        writer.WriteNumberValue(value.Y);
        writer.WriteEndArray();
    }
}
