using System.Text.Json;
using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>An identifier that is unique among its kind within one service map: lower case words joined by hyphens.</summary>
public interface IMapId<TSelf>
    where TSelf : struct, IMapId<TSelf>
{
    string Value { get; }

    static abstract TSelf Of(string value);
}

[JsonConverter(typeof(MapIdConverter<PartId>))]
public readonly record struct PartId(string Value) : IMapId<PartId>
{
    public static PartId Of(string value) => new(value);

    public override string ToString() => Value;
}

[JsonConverter(typeof(MapIdConverter<FastenerId>))]
public readonly record struct FastenerId(string Value) : IMapId<FastenerId>
{
    public static FastenerId Of(string value) => new(value);

    public override string ToString() => Value;
}

[JsonConverter(typeof(MapIdConverter<JointId>))]
public readonly record struct JointId(string Value) : IMapId<JointId>
{
    public static JointId Of(string value) => new(value);

    public override string ToString() => Value;
}

[JsonConverter(typeof(MapIdConverter<TieId>))]
public readonly record struct TieId(string Value) : IMapId<TieId>
{
    public static TieId Of(string value) => new(value);

    public override string ToString() => Value;
}

[JsonConverter(typeof(MapIdConverter<AssemblyId>))]
public readonly record struct AssemblyId(string Value) : IMapId<AssemblyId>
{
    public static AssemblyId Of(string value) => new(value);

    public override string ToString() => Value;
}

[JsonConverter(typeof(MapIdConverter<CheckId>))]
public readonly record struct CheckId(string Value) : IMapId<CheckId>
{
    public static CheckId Of(string value) => new(value);

    public override string ToString() => Value;
}

internal sealed class MapIdConverter<TId> : JsonConverter<TId>
    where TId : struct, IMapId<TId>
{
    public override TId Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        TId.Of(reader.GetString() ?? throw new JsonException("an id cannot be null"));

    public override void Write(Utf8JsonWriter writer, TId value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Value);
}
