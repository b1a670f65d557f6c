using System.Text.Json;
using System.Text.Json.Serialization;

namespace Zenrik.Workshop.Book;

/// <summary>How values of Core are kept in jsonb columns and read from shipped files.</summary>
internal static class StoredJson
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        AllowOutOfOrderMetadataProperties = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };

    public static string Write<T>(T value) => JsonSerializer.Serialize(value, Options);

    public static T Read<T>(string json) => Read<T>(json, Options);

    /// <summary>A row of a table as PostgreSQL's <c>to_jsonb</c> writes it, by the names of its columns.</summary>
    public static T ReadRow<T>(string json) => Read<T>(json, Row);

    private static readonly JsonSerializerOptions Row = new(Options)
    {
        PropertyNamingPolicy = JsonNamingPolicy.SnakeCaseLower,
    };

    private static T Read<T>(string json, JsonSerializerOptions options) =>
        JsonSerializer.Deserialize<T>(json, options) ?? throw new InvalidOperationException("A stored value is empty.");
}
