using System.Text.Json;
using System.Text.Json.Serialization;

namespace Zenrik.Core.ServiceMaps;

/// <summary>
/// The key of an M.2 socket, or the notches of a card: A lacks contacts 8 to 15, B 12 to 19, E 24 to 31, M 59 to 66
/// (PCI-SIG M.2, from memory). A socket has one; a card may be cut for two and is then written "A+E", "B+M".
/// </summary>
[JsonConverter(typeof(M2KeyConverter))]
public readonly record struct M2Key
{
    private const char Between = '+';

    private static readonly string[] Texts = ["M", "B", "B+M", "E", "A", "A+E"];

    /// <summary>All there are, those of drives first.</summary>
    public static IReadOnlyList<M2Key> All { get; } = [.. Texts.Select((_, i) => new M2Key((byte)i))];

    public static M2Key M { get; } = new(0);

    public static M2Key BAndM { get; } = new(2);

    private readonly byte at;

    private M2Key(byte at) => this.at = at;

    /// <returns>Null for what is no key.</returns>
    public static M2Key? Find(string? text) => All.Cast<M2Key?>().FirstOrDefault(k => k!.Value.ToString() == text);

    /// <summary>True when a card with these notches goes over a socket's key.</summary>
    public bool GoesInto(M2Key socket) => ToString().Split(Between).Contains(socket.ToString());

    /// <summary>"M", "B+M": as it is written in maps.</summary>
    public override string ToString() => Texts[at];
}

internal sealed class M2KeyConverter : JsonConverter<M2Key>
{
    public override M2Key Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        M2Key.Find(reader.TokenType == JsonTokenType.String ? reader.GetString() : null)
        ?? throw new JsonException($"an M.2 key is one of {string.Join(", ", M2Key.All)}");

    public override void Write(Utf8JsonWriter writer, M2Key value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}
