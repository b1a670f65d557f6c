using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Triage;

/// <summary>One file of triage knowledge. Files refer to each other's entries by id.</summary>
public sealed record TriageFile
{
    /// <summary>The version of the file format this program reads.</summary>
    public const int CurrentFormat = 1;

    [System.Text.Json.Serialization.JsonPropertyName("$schema")]
    public string? SchemaAddress { get; init; }

    public required int Format { get; init; }

    public required string Name { get; init; }

    /// <summary>What the file is about, one sentence.</summary>
    public string? About { get; init; }

    public IReadOnlyList<Circumstance> Circumstances { get; init; } = [];

    public IReadOnlyList<FaultyComponent> Components { get; init; } = [];

    public IReadOnlyList<Symptom> Symptoms { get; init; } = [];

    public IReadOnlyList<Fault> Faults { get; init; } = [];

    public IReadOnlyList<TriageTest> Tests { get; init; } = [];

    public IReadOnlyList<Remedy> Remedies { get; init; } = [];
}

/// <summary>What a user says, by what is felt.</summary>
public sealed record Symptom
{
    public required string Id { get; init; }

    /// <summary>The heading it is found under: "keys", "radio".</summary>
    public required string Group { get; init; }

    public required string Name { get; init; }

    /// <summary>True when the machine does not run.</summary>
    public bool Dead { get; init; }

    /// <summary>Set for what is dangerous: nothing is tested, and this is what to do at once.</summary>
    public string? Stop { get; init; }
}

/// <summary>What was going on when the trouble began, or how it shows.</summary>
public sealed record Circumstance
{
    public required string Id { get; init; }

    public required string Name { get; init; }
}

/// <summary>A thing that fails as one, whatever a model's map calls it.</summary>
public sealed record FaultyComponent
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    /// <summary>True for what is no part of the machine: the charger.</summary>
    public bool Outside { get; init; }

    /// <summary>What maps call it: ids of parts, or of what parts contain.</summary>
    public IReadOnlyList<string> Parts { get; init; } = [];
}

public enum FaultNature
{
    /// <summary>A part is broken or worn.</summary>
    Part,

    /// <summary>A joint is not seated, or a screw is loose.</summary>
    Seating,
    Software,
    Setting,
    Dirt,

    /// <summary>Something soldered to the board.</summary>
    BoardLevel,

    /// <summary>At fault is something other than the unit: the site's network.</summary>
    Elsewhere,

    /// <summary>Nothing is wrong that shows.</summary>
    None,
}

/// <summary>One thing that can be wrong.</summary>
public sealed record Fault
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    /// <summary>Id of the component it is a fault of; null for software, settings and dirt.</summary>
    public string? Component { get; init; }

    public required FaultNature Nature { get; init; }

    /// <summary>How often it is met, relative to the other faults, by device class. Not negative.</summary>
    public required ClassWeights Weight { get; init; }

    /// <summary>Chance that a unit with this fault is brought in with the symptom, by symptom id; (0, 1].</summary>
    public required IReadOnlyDictionary<string, double> Shows { get; init; }

    /// <summary>How many times as often the circumstance is met with this fault as with others; positive.</summary>
    public IReadOnlyDictionary<string, double> Circumstances { get; init; } = new Dictionary<string, double>();
}

public sealed record ClassWeights
{
    public required double Laptop { get; init; }

    public required double Chromebook { get; init; }

    public double Of(DeviceClass device) => device == DeviceClass.Chromebook ? Chromebook : Laptop;
}

/// <summary>Something one can look at, listen to or try that tells faults apart and changes nothing.</summary>
public sealed record TriageTest
{
    public required string Id { get; init; }

    /// <summary>As one asks it.</summary>
    public required string Title { get; init; }

    public string? How { get; init; }

    /// <summary>Hands-on minutes, without opening the machine.</summary>
    public required double Minutes { get; init; }

    /// <summary>What must be at hand.</summary>
    public string? Tool { get; init; }

    /// <summary>True when the machine must be open.</summary>
    public bool Opens { get; init; }

    /// <summary>True when the machine must run for it.</summary>
    public bool Running { get; init; }

    /// <summary>Device classes it exists on; empty: all.</summary>
    public IReadOnlyList<DeviceClass> Classes { get; init; } = [];

    /// <summary>Ids of the symptoms it is asked for; its chances hold for units brought in with one of them.</summary>
    public required IReadOnlyList<string> Symptoms { get; init; }

    public required IReadOnlyList<TestOutcome> Outcomes { get; init; }

    /// <summary>Chances of the outcomes under some faults.</summary>
    public required IReadOnlyList<GivenFaults> Given { get; init; }

    /// <summary>Chances of the outcomes under every other fault.</summary>
    public required IReadOnlyList<double> Otherwise { get; init; }
}

public sealed record TestOutcome
{
    public required string Id { get; init; }

    public required string Name { get; init; }
}

/// <summary>Chances of a test's outcomes, in their order, under the faults named.</summary>
public sealed record GivenFaults
{
    /// <summary>Fault ids, or "component:ID", or "nature:NATURE". The most particular one that names a fault holds.</summary>
    public required IReadOnlyList<string> Faults { get; init; }

    public required IReadOnlyList<double> Chances { get; init; }
}

/// <summary>How an act of triage may end a repair without a part.</summary>
public enum RemedyEnd
{
    /// <summary>Given back with what was tried.</summary>
    NoFaultFound,

    /// <summary>Somebody else's: soldering on the board.</summary>
    BeyondBench,

    /// <summary>The unit is well; somebody else puts the cause right.</summary>
    Elsewhere,
}

/// <summary>Something one can do that may cure.</summary>
public sealed record Remedy
{
    public required string Id { get; init; }

    public required string Title { get; init; }

    public string? How { get; init; }

    public required double Minutes { get; init; }

    /// <summary>What it costs besides work, in the workshop's currency, where no better price is known.</summary>
    public double Price { get; init; }

    public bool Opens { get; init; }

    public IReadOnlyList<DeviceClass> Classes { get; init; } = [];

    /// <summary>Id of the component it exchanges, or null.</summary>
    public string? Exchanges { get; init; }

    public RemedyEnd? Ends { get; init; }

    public required IReadOnlyList<Cure> Cures { get; init; }
}

/// <summary>The chance, in (0, 1], that a remedy cures the faults named.</summary>
public sealed record Cure
{
    /// <summary>As in <see cref="GivenFaults.Faults"/>.</summary>
    public required IReadOnlyList<string> Faults { get; init; }

    public required double Chance { get; init; }
}

/// <summary>All knowledge together, consistent. Comes from <see cref="TriageReader"/>.</summary>
public sealed class TriageKnowledge
{
    // Who names whom is worked out once; after that a network is a choice of rows.
    private readonly Lazy<IReadOnlyList<double>[][]> rows;
    private readonly Lazy<double[][]> cures;

    internal TriageKnowledge(IReadOnlyList<TriageFile> files)
    {
        Circumstances = [.. files.SelectMany(f => f.Circumstances)];
        Components = [.. files.SelectMany(f => f.Components)];
        Symptoms = [.. files.SelectMany(f => f.Symptoms)];
        Faults = [.. files.SelectMany(f => f.Faults)];
        Tests = [.. files.SelectMany(f => f.Tests)];
        Remedies = [.. files.SelectMany(f => f.Remedies)];
        rows = new(() =>
            [
                .. Tests.Select(t =>
                    Faults.Select(f => FaultNames.Closest(t.Given, g => g.Faults, f)?.Chances ?? t.Otherwise).ToArray()
                ),
            ]
        );
        cures = new(() =>
            [
                .. Remedies.Select(r =>
                    Faults.Select(f => FaultNames.Closest(r.Cures, c => c.Faults, f)?.Chance ?? 0).ToArray()
                ),
            ]
        );
    }

    public IReadOnlyList<Circumstance> Circumstances { get; }

    public IReadOnlyList<FaultyComponent> Components { get; }

    public IReadOnlyList<Symptom> Symptoms { get; }

    public IReadOnlyList<Fault> Faults { get; }

    public IReadOnlyList<TriageTest> Tests { get; }

    public IReadOnlyList<Remedy> Remedies { get; }

    public Symptom? Symptom(string id) => Symptoms.FirstOrDefault(s => s.Id == id);

    public Circumstance? Circumstance(string id) => Circumstances.FirstOrDefault(c => c.Id == id);

    public FaultyComponent? Component(string id) => Components.FirstOrDefault(c => c.Id == id);

    public Fault? Fault(string id) => Faults.FirstOrDefault(f => f.Id == id);

    public TriageTest? Test(string id) => Tests.FirstOrDefault(t => t.Id == id);

    public Remedy? Remedy(string id) => Remedies.FirstOrDefault(r => r.Id == id);

    /// <summary>Chances of the outcomes of a test under a fault; both by their index here.</summary>
    internal IReadOnlyList<double> Row(int test, int fault) => rows.Value[test][fault];

    /// <summary>Chance that a remedy cures a fault; both by their index here.</summary>
    internal double Cure(int remedy, int fault) => cures.Value[remedy][fault];

    /// <summary>The components a machine has, outside ones included.</summary>
    /// <param name="map">The map of the unit.</param>
    public IReadOnlySet<string> ComponentsOf(ServiceMap map)
    {
        var named = map.Parts.SelectMany(p => p.Contains.Append(p.Id.Value)).ToHashSet();
        return Components.Where(c => c.Outside || c.Parts.Any(named.Contains)).Select(c => c.Id).ToHashSet();
    }
}

/// <summary>How entries name faults: by id, by component, by nature.</summary>
internal static class FaultNames
{
    public const string Component = "component:";
    public const string Nature = "nature:";

    /// <summary>3 when the name is the fault's own, 2 its component's, 1 its nature's, 0 when it does not name it.</summary>
    public static int Closeness(string name, Fault fault) =>
        name == fault.Id ? 3
        : name == Component + fault.Component ? 2
        : name == Nature + Text(fault.Nature) ? 1
        : 0;

    public static string Text(FaultNature nature) =>
        System.Text.Json.JsonNamingPolicy.KebabCaseLower.ConvertName(nature.ToString());

    /// <summary>Of entries that name faults the one that names this fault most closely; null when none does.</summary>
    public static T? Closest<T>(IEnumerable<T> entries, Func<T, IReadOnlyList<string>> names, Fault fault)
        where T : class =>
        entries
            .Select(e => (Entry: e, Closeness: names(e).Max(n => Closeness(n, fault))))
            .Where(e => e.Closeness > 0)
            .OrderByDescending(e => e.Closeness)
            .Select(e => e.Entry)
            .FirstOrDefault();
}
