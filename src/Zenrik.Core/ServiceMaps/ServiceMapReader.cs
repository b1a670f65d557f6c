using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using NJsonSchema;
using NJsonSchema.Validation;

namespace Zenrik.Core.ServiceMaps;

/// <summary>One thing wrong with a map.</summary>
/// <param name="File">The name the caller gave the text.</param>
/// <param name="Path">Where in it, as a JSON path: "$.joints[3].under[0]".</param>
/// <param name="Reason">What is wrong and what would be right, one sentence.</param>
public sealed record Finding(string File, string Path, string Reason)
{
    public override string ToString() => $"{File} {Path}: {Reason}";
}

/// <summary>What came of reading a map: the map, or every reason why there is none.</summary>
public sealed record MapReading(ServiceMap? Map, IReadOnlyList<Finding> Findings);

/// <summary>
/// Reads service maps: JSON (RFC 8259) checked first against the schema (draft 2020-12), then against the rules of
/// <see cref="ServiceMapRules"/>. Never throws on bad input.
/// </summary>
public static class ServiceMapReader
{
    /// <summary>Largest text read, in bytes of UTF-8. The largest real maps are a fiftieth of it.</summary>
    public const int MaxBytes = 2 * 1024 * 1024;

    private const int MaxDepth = 32;

    private static readonly Lazy<string> SchemaText = new(() =>
    {
        using var stream = typeof(ServiceMapReader).Assembly.GetManifestResourceStream("service-map.schema.json")!;
        using var reader = new StreamReader(stream, Encoding.UTF8);
        return reader.ReadToEnd();
    });

    // The library follows references between definitions only under their older name.
    private static readonly Lazy<JsonSchema> ParsedSchema = new(() =>
        JsonSchema
            .FromJsonAsync(SchemaText.Value.Replace("$defs", "definitions", StringComparison.Ordinal))
            .GetAwaiter()
            .GetResult()
    );

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = JsonNumberHandling.Strict,
        PropertyNameCaseInsensitive = false,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        WriteIndented = true,
        MaxDepth = MaxDepth,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, allowIntegerValues: false) },
    };

    /// <summary>The published JSON Schema of the format.</summary>
    public static string Schema => SchemaText.Value;

    /// <summary>Reads one map.</summary>
    /// <param name="file">A name to put into the findings.</param>
    /// <param name="json">The text of the map.</param>
    public static MapReading Read(string file, string json)
    {
        if (Encoding.UTF8.GetByteCount(json) > MaxBytes)
        {
            return Refuse(file, "$", $"the text is larger than {MaxBytes / 1024 / 1024} MB; a service map is not");
        }

        try
        {
            using var document = JsonDocument.Parse(
                json,
                new JsonDocumentOptions { MaxDepth = MaxDepth, AllowDuplicateProperties = false }
            );
            if (FormatOf(document.RootElement) is { } format && format != ServiceMap.CurrentFormat)
            {
                return Refuse(
                    file,
                    "$.format",
                    $"this map is written in format {format}; this program reads format {ServiceMap.CurrentFormat}"
                );
            }
        }
        catch (JsonException e)
        {
            return Refuse(file, e.Path ?? "$", $"this is not readable JSON: {e.Message}");
        }

        var schemaFindings = Flatten(ParsedSchema.Value.Validate(json))
            .Select(e => new Finding(file, PathOf(e), Explain(e)))
            .DistinctBy(f => (f.Path, f.Reason))
            .ToList();
        if (schemaFindings.Count > 0)
        {
            return new MapReading(null, schemaFindings);
        }

        ServiceMap map;
        try
        {
            map = JsonSerializer.Deserialize<ServiceMap>(json, Json)!;
        }
        catch (JsonException e)
        {
            return Refuse(file, e.Path ?? "$", e.Message);
        }

        var ruleFindings = ServiceMapRules.Check(file, map);
        return new MapReading(ruleFindings.Count == 0 ? map : null, ruleFindings);
    }

    /// <summary>Writes a map so that <see cref="Read"/> gives it back.</summary>
    public static string Write(ServiceMap map) => JsonSerializer.Serialize(map, Json);

    /// <summary>Any piece of a map as it is written: equal pieces give equal text.</summary>
    internal static string Text<T>(T piece) => JsonSerializer.Serialize(piece, Json);

    private static MapReading Refuse(string file, string path, string reason) =>
        new(null, [new Finding(file, path, reason)]);

    private static int? FormatOf(JsonElement root) =>
        root.ValueKind == JsonValueKind.Object
        && root.TryGetProperty("format", out var format)
        && format.ValueKind == JsonValueKind.Number
        && format.TryGetInt32(out var number)
            ? number
            : null;

    /// <summary>The innermost errors: a broken array item is reported by what is wrong inside it.</summary>
    private static IEnumerable<ValidationError> Flatten(IEnumerable<ValidationError> errors) =>
        errors.SelectMany(e =>
            e is ChildSchemaValidationError { Errors.Count: > 0 } nested
                ? Flatten(nested.Errors.Values.SelectMany(inner => inner))
                : [e]
        );

    private static string PathOf(ValidationError error) =>
        "$" + (error.Path ?? "").TrimStart('#').Replace('/', '.').Replace(".[", "[", StringComparison.Ordinal);

    private static string Explain(ValidationError error) =>
        error.Kind switch
        {
            ValidationErrorKind.PropertyRequired => "this field is missing",
            ValidationErrorKind.NoAdditionalPropertiesAllowed => "the format has no such field",
            ValidationErrorKind.NotInEnumeration =>
                $"allowed here: {string.Join(", ", error.Schema.Enumeration.Select(v => $"\"{v}\""))}",
            ValidationErrorKind.PatternMismatch => $"must match {error.Schema.Pattern}",
            ValidationErrorKind.StringExpected => "text is expected here",
            ValidationErrorKind.NumberExpected => "a number is expected here",
            ValidationErrorKind.IntegerExpected => "a whole number is expected here",
            ValidationErrorKind.BooleanExpected => "true or false is expected here",
            ValidationErrorKind.ObjectExpected => "an object is expected here",
            ValidationErrorKind.ArrayExpected => "a list is expected here",
            ValidationErrorKind.TooFewItems => $"at least {error.Schema.MinItems} entries are needed",
            ValidationErrorKind.TooManyItems => $"at most {error.Schema.MaxItems} entries are allowed",
            ValidationErrorKind.NumberTooSmall => $"must be at least {error.Schema.Minimum}",
            ValidationErrorKind.NumberTooBig => $"must be at most {error.Schema.Maximum}",
            ValidationErrorKind.StringTooShort => "must not be empty",
            ValidationErrorKind.StringTooLong => $"must be at most {error.Schema.MaxLength} characters",
            _ => $"does not satisfy the schema ({error.Kind})",
        };
}
