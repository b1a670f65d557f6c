using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using NJsonSchema;
using NJsonSchema.Validation;

namespace Zenrik.Core;

/// <summary>
/// Reads one of the project's file formats: JSON (RFC 8259) checked against its schema (draft 2020-12) before it becomes
/// an object. Never throws on bad input.
/// </summary>
/// <typeparam name="T">What the text becomes.</typeparam>
/// <param name="thing">What such a text is called in a sentence: "service map".</param>
/// <param name="schemaResource">The schema's name among the resources of this assembly.</param>
/// <param name="currentFormat">The newest value of "format" that is read.</param>
/// <param name="oldestFormat">The oldest.</param>
internal sealed class CheckedJson<T>(string thing, string schemaResource, int currentFormat, int oldestFormat)
    where T : class
{
    /// <summary>Largest text read, in bytes of UTF-8. The largest real files are a fiftieth of it.</summary>
    public const int MaxBytes = 2 * 1024 * 1024;

    private const int MaxDepth = 32;

    // How the reader begins to say that a field is none of the kind's own; the schema knows the fields of all kinds.
    private const string Unmapped = "The JSON property";

    private const string OfAnotherKind = "a thing of this kind has no such field";

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = JsonNumberHandling.Strict,
        PropertyNameCaseInsensitive = false,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        WriteIndented = true,
        // "kind" may stand behind what it tells.
        AllowOutOfOrderMetadataProperties = true,
        MaxDepth = MaxDepth,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, allowIntegerValues: false) },
    };

    private readonly Lazy<string> schemaText = new(() =>
    {
        using var stream = typeof(Finding).Assembly.GetManifestResourceStream(schemaResource)!;
        using var reader = new StreamReader(stream, Encoding.UTF8);
        return reader.ReadToEnd();
    });

    private JsonSchema? parsed;

    /// <summary>The published JSON Schema of the format.</summary>
    public string Schema => schemaText.Value;

    // The library follows references between definitions only under their older name.
    private JsonSchema ParsedSchema =>
        parsed ??= JsonSchema
            .FromJsonAsync(Schema.Replace("$defs", "definitions", StringComparison.Ordinal))
            .GetAwaiter()
            .GetResult();

    /// <summary>Any piece as it is written: equal pieces give equal text.</summary>
    public static string Text<TPiece>(TPiece piece) => JsonSerializer.Serialize(piece, Json);

    /// <summary>The object, or every reason why there is none.</summary>
    public (T? Value, IReadOnlyList<Finding> Findings) Read(string file, string json)
    {
        if (Encoding.UTF8.GetByteCount(json) > MaxBytes)
        {
            return Refuse(file, "$", $"the text is larger than {MaxBytes / 1024 / 1024} MB; a {thing} is not");
        }

        try
        {
            using var document = JsonDocument.Parse(
                json,
                new JsonDocumentOptions { MaxDepth = MaxDepth, AllowDuplicateProperties = false }
            );
            if (FormatOf(document.RootElement) is { } format && (format > currentFormat || format < oldestFormat))
            {
                return Refuse(
                    file,
                    "$.format",
                    $"this {thing} is written in format {format}; this program reads {(oldestFormat == currentFormat ? $"format {currentFormat}" : $"formats {oldestFormat} to {currentFormat}")}"
                );
            }
        }
        catch (JsonException e)
        {
            return Refuse(file, e.Path ?? "$", $"this is not readable JSON: {e.Message}");
        }

        List<Finding> findings;
        try
        {
            findings =
            [
                .. Flatten(ParsedSchema.Validate(json))
                    .Select(e => new Finding(file, PathOf(e), Explain(e)))
                    .DistinctBy(f => (f.Path, f.Reason)),
            ];
        }
        // The schema's library reads the text by itself; of what is JSON it fails on figures alone.
        catch (Exception e)
            when (e is InvalidCastException or OverflowException or FormatException or Newtonsoft.Json.JsonException)
        {
            return Refuse(file, "$", "a figure in it is far larger than any that is meant");
        }

        if (findings.Count > 0)
        {
            return (null, findings);
        }

        try
        {
            return (JsonSerializer.Deserialize<T>(json, Json)!, []);
        }
        catch (JsonException e)
        {
            return Refuse(
                file,
                e.Path ?? "$",
                e.Message.StartsWith(Unmapped, StringComparison.Ordinal) ? OfAnotherKind : e.Message
            );
        }
    }

    private static (T?, IReadOnlyList<Finding>) Refuse(string file, string path, string reason) =>
        (null, [new Finding(file, path, reason)]);

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
