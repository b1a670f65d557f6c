using Zenrik.Core;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Web.Hosting;

/// <summary>What a repair is for, in a few words.</summary>
public static class Trouble
{
    /// <summary>The faults of its lines; before there are any, the fault found or what the user notices.</summary>
    public static string Of(Repair repair) =>
        repair.Lines.Count > 0 ? repair.What
        : repair.FaultId is { } fault ? ShippedTriage.Knowledge.Fault(fault)?.Name ?? fault
        : repair.Symptoms.Count > 0 ? Symptoms(repair)
        : repair.What;

    /// <summary>What the user notices, as one sentence.</summary>
    public static string Symptoms(Repair repair) =>
        string.Join(
            "; ",
            repair
                .Symptoms.Select(s => ShippedTriage.Knowledge.Symptom(s)?.Name ?? s)
                .Select((name, i) => i == 0 ? name : Sentence.Uncapital(name))
        );

    /// <summary>Circumstances and since when.</summary>
    public static string Circumstances(Repair repair) =>
        string.Join(
            ", ",
            repair
                .Circumstances.Select(c => ShippedTriage.Knowledge.Circumstance(c)?.Name ?? c)
                .Concat(repair.Since is { } since ? [$"since {Show.Date(since)}"] : [])
        );
}
