namespace Zenrik.Core.ServiceMaps;

/// <summary>What came of reading a map: the map, or every reason why there is none.</summary>
public sealed record MapReading(ServiceMap? Map, IReadOnlyList<Finding> Findings);

/// <summary>
/// Reads service maps: checked first against the schema, then against the rules of <see cref="ServiceMapRules"/>. Never
/// throws on bad input.
/// </summary>
public static class ServiceMapReader
{
    /// <summary>Largest text read, in bytes of UTF-8.</summary>
    public const int MaxBytes = CheckedJson<ServiceMap>.MaxBytes;

    private static readonly CheckedJson<ServiceMap> Format = new(
        "service map",
        "service-map.schema.json",
        ServiceMap.CurrentFormat,
        ServiceMap.OldestFormat
    );

    /// <summary>The published JSON Schema of the format.</summary>
    public static string Schema => Format.Schema;

    /// <summary>Reads one map.</summary>
    /// <param name="file">A name to put into the findings.</param>
    /// <param name="json">The text of the map.</param>
    public static MapReading Read(string file, string json)
    {
        var (map, findings) = Format.Read(file, json);
        findings = map is null ? findings : ServiceMapRules.Check(file, map);
        return new MapReading(findings.Count == 0 ? map : null, findings);
    }

    /// <summary>Writes a map so that <see cref="Read"/> gives it back.</summary>
    public static string Write(ServiceMap map) => Text(map);

    /// <summary>Any piece of a map as it is written: equal pieces give equal text.</summary>
    internal static string Text<T>(T piece) => CheckedJson<ServiceMap>.Text(piece);
}
