using Zenrik.Core.Triage;

namespace Zenrik.Workshop.Triage;

/// <summary>The triage knowledge that ships with the program. Common practice, no published source.</summary>
public static class ShippedTriage
{
    public static TriageKnowledge Knowledge { get; } = Read();

    private static TriageKnowledge Read()
    {
        var reading = TriageReader.Read(ShippedFiles.In("triage/"));
        return reading.Knowledge
            ?? throw new InvalidOperationException($"Shipped triage knowledge: {string.Join("; ", reading.Findings)}");
    }
}
