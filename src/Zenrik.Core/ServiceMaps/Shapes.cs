using System.Text.Json;
using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>A place on the drawing in millimetres from its top left corner; written [x, y] in a map.</summary>
[JsonConverter(typeof(PointConverter))]
public readonly record struct Point(double X, double Y)
{
    public double DistanceTo(Point other) => Math.Sqrt(Math.Pow(X - other.X, 2) + Math.Pow(Y - other.Y, 2));
}

/// <summary>The outline of a part. Written as one of "rect", "circle" and "rings" in a map.</summary>
[JsonConverter(typeof(ShapeConverter))]
public abstract record Shape
{
    private Shape() { }

    /// <summary>The same elsewhere, mm to the right and down.</summary>
    public abstract Shape Moved(double right, double down);

    /// <summary>The smallest upright rectangle around the shape.</summary>
    public abstract Box Bounds { get; }

    /// <summary>An upright rectangle, mm: its top left corner and its size.</summary>
    public sealed record Rect(double X, double Y, double Width, double Height) : Shape
    {
        public override Shape Moved(double right, double down) => this with { X = X + right, Y = Y + down };

        public override Box Bounds => new(X, Y, X + Width, Y + Height);
    }

    /// <summary>A circle, mm: its centre and its radius.</summary>
    public sealed record Circle(double X, double Y, double Radius) : Shape
    {
        public override Shape Moved(double right, double down) => this with { X = X + right, Y = Y + down };

        public override Box Bounds => new(X - Radius, Y - Radius, X + Radius, Y + Radius);
    }

    /// <summary>Closed rings, mm, filled by the even-odd rule; the first is the outline, further ones are openings in it.</summary>
    public sealed record Rings(IReadOnlyList<IReadOnlyList<Point>> Outlines) : Shape
    {
        public override Shape Moved(double right, double down) =>
            new Rings([.. Outlines.Select(ring => ring.Select(p => new Point(p.X + right, p.Y + down)).ToArray())]);

        public override Box Bounds =>
            Outlines is [{ Count: > 0 } outline, ..]
                ? new Box(outline.Min(p => p.X), outline.Min(p => p.Y), outline.Max(p => p.X), outline.Max(p => p.Y))
                : default;
    }
}

/// <summary>An upright rectangle in mm.</summary>
public readonly record struct Box(double Left, double Top, double Right, double Bottom)
{
    public double Width => Right - Left;

    public double Height => Bottom - Top;

    public bool Overlaps(Box other) =>
        Left < other.Right && other.Left < Right && Top < other.Bottom && other.Top < Bottom;

    /// <summary>Where the way from the centre to a point outside leaves the box.</summary>
    public Point EdgeTowards(Point outside)
    {
        var (x, y) = (outside.X - Centre.X, outside.Y - Centre.Y);
        var share = Math.Min(
            x == 0 ? double.PositiveInfinity : Width / 2 / Math.Abs(x),
            y == 0 ? double.PositiveInfinity : Height / 2 / Math.Abs(y)
        );
        return double.IsFinite(share) ? new Point(Centre.X + (x * share), Centre.Y + (y * share)) : Centre;
    }

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

internal sealed class ShapeConverter : JsonConverter<Shape>
{
    public override Shape Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        JsonSerializer.Deserialize<Written>(ref reader, options) switch
        {
            { Rect: [var x, var y, var width, var height], Circle: null, Rings: null } => new Shape.Rect(
                x,
                y,
                width,
                height
            ),
            { Circle: [var x, var y, var radius], Rect: null, Rings: null } => new Shape.Circle(x, y, radius),
            { Rings: { } rings, Rect: null, Circle: null } => new Shape.Rings(rings),
            _ => throw new JsonException("give one of rect, circle and rings"),
        };

    public override void Write(Utf8JsonWriter writer, Shape value, JsonSerializerOptions options) =>
        JsonSerializer.Serialize(
            writer,
            value switch
            {
                Shape.Rect r => new Written { Rect = [r.X, r.Y, r.Width, r.Height] },
                Shape.Circle c => new Written { Circle = [c.X, c.Y, c.Radius] },
                Shape.Rings r => new Written { Rings = r.Outlines },
                _ => throw new ArgumentOutOfRangeException(nameof(value)),
            },
            options
        );

    private sealed record Written
    {
        [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
        public IReadOnlyList<double>? Rect { get; init; }

        [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
        public IReadOnlyList<double>? Circle { get; init; }

        [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
        public IReadOnlyList<IReadOnlyList<Point>>? Rings { get; init; }
    }
}
