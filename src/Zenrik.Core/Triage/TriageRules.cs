using System.Globalization;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Triage;

/// <summary>What must hold between the entries of triage files beyond the schema.</summary>
internal static class TriageRules
{
    /// <summary>How far the chances of a row may miss 1, for figures written with three digits.</summary>
    private const double SumTolerance = 0.001;

    public static IReadOnlyList<Finding> Check(IReadOnlyList<(string Name, TriageFile File)> files)
    {
        var all = new TriageKnowledge([.. files.Select(f => f.File)]);
        if (all.Faults.Count == 0)
        {
            return [new Finding(files.Count > 0 ? files[0].Name : "triage", "$", "no file names a fault")];
        }

        var findings = new List<Finding>();
        foreach (var (name, file) in files)
        {
            findings.AddRange(
                Faults(all, file)
                    .Concat(Tests(all, file))
                    .Concat(Remedies(all, file))
                    .Concat(Symptoms(all, file))
                    .Concat(Components(all, file))
                    .Select(f => new Finding(name, f.Path, f.Reason))
            );
        }

        findings.AddRange(Repeated(files, "symptoms", f => f.Symptoms.Select(s => s.Id)));
        findings.AddRange(Repeated(files, "circumstances", f => f.Circumstances.Select(c => c.Id)));
        findings.AddRange(Repeated(files, "components", f => f.Components.Select(c => c.Id)));
        findings.AddRange(Repeated(files, "faults", f => f.Faults.Select(x => x.Id)));
        findings.AddRange(Repeated(files, "tests", f => f.Tests.Select(t => t.Id)));
        findings.AddRange(Repeated(files, "remedies", f => f.Remedies.Select(r => r.Id)));
        return findings;
    }

    private static IEnumerable<Finding> Repeated(
        IReadOnlyList<(string Name, TriageFile File)> files,
        string list,
        Func<TriageFile, IEnumerable<string>> ids
    )
    {
        var seen = new Dictionary<string, string>();
        foreach (var (name, file) in files)
        {
            foreach (var (i, id) in ids(file).Index())
            {
                if (!seen.TryAdd(id, name))
                {
                    yield return new Finding(name, $"$.{list}[{i}].id", $"\"{id}\" is already used in {seen[id]}");
                }
            }
        }
    }

    private static IEnumerable<(string Path, string Reason)> Components(TriageKnowledge all, TriageFile file)
    {
        foreach (var (i, component) in file.Components.Index())
        {
            if (component.Outside == component.Parts.Count > 0)
            {
                yield return (
                    $"$.components[{i}]",
                    "a component is either outside the machine or names the parts that maps call it by"
                );
            }

            foreach (var (n, _) in component.Within.Index().Where(w => all.Component(w.Item) is null))
            {
                yield return ($"$.components[{i}].within[{n}]", $"there is no component \"{component.Within[n]}\"");
            }
        }
    }

    private static IEnumerable<(string Path, string Reason)> Symptoms(TriageKnowledge all, TriageFile file)
    {
        foreach (var (i, symptom) in file.Symptoms.Index())
        {
            if (
                symptom.Forbids.Count > 0
                && !all.Remedies.Any(r => symptom.Forbids.All(TriageSafety.Under(r.Allows).Contains))
            )
            {
                yield return ($"$.symptoms[{i}].forbids", "no remedy ever allows again what is forbidden here");
            }

            if (symptom.Stop is null && !all.Faults.Any(f => f.Shows.ContainsKey(symptom.Id)))
            {
                yield return ($"$.symptoms[{i}]", $"no fault shows \"{symptom.Id}\", so nothing could be found");
            }
        }
    }

    private static IEnumerable<(string Path, string Reason)> Faults(TriageKnowledge all, TriageFile file)
    {
        foreach (var (i, fault) in file.Faults.Index())
        {
            var path = $"$.faults[{i}]";
            if (fault.Component is { } component && all.Component(component) is null)
            {
                yield return ($"{path}.component", $"there is no component \"{component}\"");
            }

            foreach (var symptom in fault.Shows.Keys.Where(s => all.Symptom(s) is null))
            {
                yield return ($"{path}.shows.{symptom}", $"there is no symptom \"{symptom}\"");
            }

            foreach (var circumstance in fault.Circumstances.Keys.Where(c => all.Circumstance(c) is null))
            {
                yield return ($"{path}.circumstances.{circumstance}", $"there is no circumstance \"{circumstance}\"");
            }

            foreach (var feature in fault.Features.Keys.Except(MachineFeatures.All))
            {
                yield return ($"{path}.features.{feature}", NoFeature(feature));
            }

            if (fault is { Separate: true, Component: null })
            {
                yield return ($"{path}.separate", "only a component can be a part of its own");
            }

            if (fault.Weight is { Laptop: 0, Chromebook: 0 })
            {
                yield return ($"{path}.weight", "a fault that is never met on any class can be left out");
            }

            if (!all.Remedies.Any(r => r.Cures.Any(c => c.Faults.Any(n => FaultNames.Closeness(n, fault) > 0))))
            {
                yield return (path, $"no remedy cures \"{fault.Id}\"");
            }
        }
    }

    private static IEnumerable<(string Path, string Reason)> Tests(TriageKnowledge all, TriageFile file)
    {
        foreach (var (i, test) in file.Tests.Index())
        {
            var path = $"$.tests[{i}]";
            var rows = test
                .Given.Select((g, n) => (Path: $"{path}.given[{n}].chances", g.Chances))
                .Append((Path: $"{path}.otherwise", Chances: test.Otherwise))
                .ToList();
            foreach (var row in rows)
            {
                if (row.Chances.Count != test.Outcomes.Count)
                {
                    yield return (
                        row.Path,
                        $"{row.Chances.Count} chances are given for {test.Outcomes.Count} outcomes"
                    );
                }
                else if (Math.Abs(row.Chances.Sum() - 1) > SumTolerance)
                {
                    yield return (
                        row.Path,
                        $"the chances of a test's outcomes add up to 1; these add up to {row.Chances.Sum().ToString("0.###", CultureInfo.InvariantCulture)}"
                    );
                }
            }

            foreach (var (n, outcome) in test.Outcomes.Index())
            {
                if (rows.All(r => n >= r.Chances.Count || r.Chances[n] == 0))
                {
                    yield return ($"{path}.outcomes[{n}]", $"no fault makes the outcome \"{outcome.Id}\" possible");
                }
            }

            foreach (var (n, feature) in test.Requires.Index().Where(r => !MachineFeatures.All.Contains(r.Item)))
            {
                yield return ($"{path}.requires[{n}]", NoFeature(feature));
            }

            // What is dangerous or decides about power is a finding of its own; what is forbidden must be allowed somewhere.
            foreach (var (n, outcome) in test.Outcomes.Index().Where(o => o.Item.Forbids.Any(o.Item.Allows.Contains)))
            {
                yield return ($"{path}.outcomes[{n}]", $"the outcome \"{outcome.Id}\" forbids what it allows");
            }

            foreach (var (n, symptom) in test.Symptoms.Index().Where(s => all.Symptom(s.Item) is null))
            {
                yield return ($"{path}.symptoms[{n}]", $"there is no symptom \"{symptom}\"");
            }

            foreach (var finding in Names(all, test.Given.Select(g => g.Faults), $"{path}.given"))
            {
                yield return finding;
            }

            foreach (var fault in all.Faults)
            {
                var closest = test
                    .Given.SelectMany(g => g.Faults)
                    .Select(n => FaultNames.Closeness(n, fault))
                    .Where(c => c > 0)
                    .ToList();
                if (closest.Count > 1 && closest.Count(c => c == closest.Max()) > 1)
                {
                    yield return ($"{path}.given", $"\"{fault.Id}\" is named twice, so its chances are not clear");
                }
            }
        }
    }

    private static IEnumerable<(string Path, string Reason)> Remedies(TriageKnowledge all, TriageFile file)
    {
        foreach (var (i, remedy) in file.Remedies.Index())
        {
            var path = $"$.remedies[{i}]";
            if (remedy.Exchanges is { } component && all.Component(component) is null)
            {
                yield return ($"{path}.exchanges", $"there is no component \"{component}\"");
            }

            if (
                remedy.Allows.Any(a => TriageSafety.Under(remedy.Needs).Contains(a))
                || remedy.Needs.Any(remedy.Allows.Contains)
            )
            {
                yield return ($"{path}.allows", "a remedy cannot need what only it allows");
            }

            foreach (var finding in Names(all, remedy.Cures.Select(c => c.Faults), $"{path}.cures"))
            {
                yield return finding;
            }
        }
    }

    private static string NoFeature(string feature) =>
        $"there is no feature \"{feature}\"; known: {string.Join(", ", MachineFeatures.All)}";

    private static IEnumerable<(string Path, string Reason)> Names(
        TriageKnowledge all,
        IEnumerable<IReadOnlyList<string>> lists,
        string path
    ) =>
        from list in lists.Index()
        from name in list.Item.Index()
        where !all.Faults.Any(f => FaultNames.Closeness(name.Item, f) > 0)
        select ($"{path}[{list.Index}].faults[{name.Index}]", $"\"{name.Item}\" names no fault");
}
