namespace Zenrik.Core.Triage;

/// <summary>What came of reading triage knowledge: the knowledge, or every reason why there is none.</summary>
public sealed record TriageReading(TriageKnowledge? Knowledge, IReadOnlyList<Finding> Findings);

/// <summary>
/// Reads triage files: each checked against the schema, all together against the rules of <see cref="TriageRules"/>.
/// Never throws on bad input.
/// </summary>
public static class TriageReader
{
    private static readonly CheckedJson<TriageFile> Format = new(
        "triage file",
        "triage.schema.json",
        TriageFile.CurrentFormat,
        TriageFile.CurrentFormat
    );

    /// <summary>The published JSON Schema of the format.</summary>
    public static string Schema => Format.Schema;

    /// <summary>Reads files that belong together.</summary>
    /// <param name="files">Each with a name for the findings.</param>
    public static TriageReading Read(IEnumerable<(string Name, string Json)> files)
    {
        var findings = new List<Finding>();
        var read = new List<(string Name, TriageFile File)>();
        foreach (var (name, json) in files)
        {
            var (file, wrong) = Format.Read(name, json);
            findings.AddRange(wrong);
            if (file is not null)
            {
                read.Add((name, file));
            }
        }

        if (findings.Count == 0)
        {
            findings.AddRange(TriageRules.Check(read));
        }

        return new TriageReading(
            findings.Count == 0 ? new TriageKnowledge([.. read.Select(r => r.File)]) : null,
            findings
        );
    }
}
