using System.Collections;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>The two parts a joint connects. In a file a list of two: the plug's, then the socket's.</summary>
/// <param name="Plug">The part whose plug, ribbon or card it is.</param>
/// <param name="Socket">The part that carries the socket: where the joint is reached.</param>
[CollectionBuilder(typeof(JointEnds), nameof(Of))]
[JsonConverter(typeof(AsList))]
public readonly record struct JointEnds(PartId Plug, PartId Socket) : IEnumerable<PartId>
{
    /// <exception cref="ArgumentException">They are not two.</exception>
    public static JointEnds Of(ReadOnlySpan<PartId> ends) =>
        ends is [var plug, var socket]
            ? new JointEnds(plug, socket)
            : throw new ArgumentException($"A joint has two ends, not {ends.Length}.", nameof(ends));

    /// <summary>The other way round.</summary>
    public JointEnds Turned() => new(Socket, Plug);

    public bool Contains(PartId part) => Plug == part || Socket == part;

    public IEnumerator<PartId> GetEnumerator()
    {
        yield return Plug;
        yield return Socket;
    }

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    private sealed class AsList : JsonConverter<JointEnds>
    {
        public override JointEnds Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            JsonSerializer.Deserialize<PartId[]>(ref reader, options) is [var plug, var socket]
                ? new JointEnds(plug, socket)
                : throw new JsonException("A joint has two ends.");

        public override void Write(Utf8JsonWriter writer, JointEnds value, JsonSerializerOptions options) =>
            JsonSerializer.Serialize(writer, new[] { value.Plug, value.Socket }, options);
    }
}
