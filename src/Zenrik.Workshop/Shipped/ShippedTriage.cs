using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Shipped;

/// <summary>The triage knowledge that ships with the program. Common practice, no published source.</summary>
public static class ShippedTriage
{
    public static TriageKnowledge Knowledge { get; } = Read();

    /// <summary>What a repair's unit is handled under, by what was said, found, or is to be exchanged for.</summary>
    internal static IReadOnlyList<Hazard> HazardsOf(Repair repair) =>
        [
            .. repair
                .Symptoms.Select(s => Knowledge.Symptom(s)?.Hazard)
                .Append(repair.FaultId is { } fault ? Knowledge.Fault(fault)?.Hazard : null)
                .Concat(repair.Lines.Select(l => Hazards.NamedIn(l.Fault)))
                .OfType<Hazard>()
                .Distinct(),
        ];

    /// <summary>Why a repair's unit is not taken to the bench yet; null when nothing found forbids it.</summary>
    internal static Refusal? NotYet(Repair repair, IEnumerable<TriageStepRecord> steps) =>
        TriageSafety.CheckBench(Knowledge, repair.Symptoms, repair.Circumstances, steps.Select(t => t.Step));

    /// <summary>Why a repair's unit is not given back unrepaired yet; null when nothing found forbids it.</summary>
    /// <param name="why">As in <see cref="TriageSafety.CheckGivenBack"/>.</param>
    internal static Refusal? NotBack(Repair repair, IEnumerable<TriageStepRecord> steps, string why) =>
        TriageSafety.CheckGivenBack(Knowledge, repair.Symptoms, repair.Circumstances, steps.Select(t => t.Step), why);

    /// <summary>Whether a repair's unit must not get power, by what was said and found.</summary>
    internal static bool IsWithoutPower(Repair repair, IEnumerable<TriageStepRecord> steps) =>
        TriageSafety.IsWithoutPower(Knowledge, repair.Symptoms, repair.Circumstances, steps.Select(t => t.Step));

    private static TriageKnowledge Read()
    {
        var reading = TriageReader.Read(ShippedFiles.In("triage/"));
        return reading.Knowledge
            ?? throw new InvalidOperationException($"Shipped triage knowledge: {string.Join("; ", reading.Findings)}");
    }
}
