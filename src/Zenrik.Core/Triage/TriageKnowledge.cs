using System.Text.Json.Serialization;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Triage;

/// <summary>One file of triage knowledge. Files refer to each other's entries by id.</summary>
public sealed record TriageFile
{
    /// <summary>The version of the file format this program reads.</summary>
    public const int CurrentFormat = 2;

    [JsonPropertyName("$schema")]
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

/// <summary>What a test or a remedy needs of the machine. Nothing of it: a look from outside.</summary>
public enum Need
{
    /// <summary>Charger in, battery connected or the power button pressed.</summary>
    Power,

    /// <summary>The system, or at least the firmware, runs; power is needed for that.</summary>
    Running,

    /// <summary>The machine is open and the battery isolated.</summary>
    Opened,
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

    /// <summary>What must not be done to such a machine until something allows it again; forbidding power forbids running.</summary>
    public IReadOnlyList<Need> Forbids { get; init; } = [];

    /// <summary>What every act on such a machine is done under: splinters.</summary>
    public Hazard? Hazard { get; init; }
}

/// <summary>What was going on when the trouble began, or how it shows.</summary>
public sealed record Circumstance
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    /// <summary>What must not be done to a machine that is dead after it; see <see cref="Symptom.Forbids"/>.</summary>
    public IReadOnlyList<Need> Forbids { get; init; } = [];
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

    /// <summary>
    /// Ids of the components it usually is a piece of where a map does not name it, likeliest first; the board where none
    /// of them is named either.
    /// </summary>
    public IReadOnlyList<string> Within { get; init; } = [];
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

    /// <summary>Something is wrong that no entry knows: what is left when everything known was tried.</summary>
    Unknown,
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

    /// <summary>How many times as often it is met on machines with a feature of <see cref="MachineFeatures"/>; positive.</summary>
    public IReadOnlyDictionary<string, double> Features { get; init; } = new Dictionary<string, double>();

    /// <summary>
    /// True when it can only happen where the component is a part of its own: what is soldered has no seat. Elsewhere its
    /// weight falls to what the component's own failing is called.
    /// </summary>
    public bool Separate { get; init; }

    public Hazard? Hazard { get; init; }

    /// <summary>True where nothing but another part cures it.</summary>
    [JsonIgnore]
    public bool WantsPart => Component is not null && Nature is (FaultNature.Part or FaultNature.BoardLevel);

    /// <summary>True where it is cured with what is there: seated, set, installed, cleaned; or nothing is wrong.</summary>
    [JsonIgnore]
    public bool WantsNoPart =>
        Nature
            is FaultNature.Seating
                or FaultNature.Software
                or FaultNature.Setting
                or FaultNature.Dirt
                or FaultNature.None;
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

    /// <summary>What it needs of the machine; empty: nothing.</summary>
    public IReadOnlyList<Need> Needs { get; init; } = [];

    [JsonIgnore]
    public bool Opens => Needs.Contains(Need.Opened);

    /// <summary>Shown with it whatever the complaint.</summary>
    public string? Caution { get; init; }

    /// <summary>Device classes it exists on; empty: all.</summary>
    public IReadOnlyList<DeviceClass> Classes { get; init; } = [];

    /// <summary>Features of <see cref="MachineFeatures"/> without which it makes no sense.</summary>
    public IReadOnlyList<string> Requires { get; init; } = [];

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

    /// <summary>Set for a finding that is dangerous: the machine is set apart, and this is what to do at once.</summary>
    public string? Stop { get; init; }

    /// <summary>As <see cref="Symptom.Forbids"/>, from this answer on.</summary>
    public IReadOnlyList<Need> Forbids { get; init; } = [];

    /// <summary>What is allowed again from this answer on.</summary>
    public IReadOnlyList<Need> Allows { get; init; } = [];
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

    /// <summary>Something is wrong that nothing known explains: written down and decided by a person.</summary>
    NotExplained,
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

    /// <summary>What it needs of the machine, the try whether it helped included; empty: nothing.</summary>
    public IReadOnlyList<Need> Needs { get; init; } = [];

    [JsonIgnore]
    public bool Opens => Needs.Contains(Need.Opened);

    /// <summary>What is allowed again once it has been tried: a machine that was dried may be switched on.</summary>
    public IReadOnlyList<Need> Allows { get; init; } = [];

    /// <summary>Done one after the other, where one sentence does not hold it.</summary>
    public IReadOnlyList<string> Steps { get; init; } = [];

    /// <summary>Shown with it whatever the complaint.</summary>
    public string? Caution { get; init; }

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
        cures = new(() => [.. Remedies.Select(r => Faults.Select(f => CureChance(r, f)).ToArray())]);
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

    /// <summary>Chance that a remedy cures a fault, in [0, 1], by the closest name among its cures; 0 when none names it.</summary>
    public static double CureChance(Remedy remedy, Fault fault) =>
        FaultNames.Closest(remedy.Cures, c => c.Faults, fault)?.Chance ?? 0;

    /// <summary>
    /// The components a machine has, outside ones included, and by each the component that is exchanged for it: itself
    /// where it can be had alone, otherwise what carries it; null where nothing can be ordered that contains it. What the
    /// map says the model is without is left out.
    /// </summary>
    /// <param name="map">The map of the unit.</param>
    public IReadOnlyDictionary<string, string?> ComponentsOf(ServiceMap map)
    {
        var own = map.Assemblies.Select(a => a.Part.Value).ToHashSet();
        var carriers = map
            .Parts.SelectMany(p => p.Contains.Select(c => (Inner: c, Outer: p.Id.Value)))
            .ToLookup(c => c.Inner, c => c.Outer);
        var board = IsOwn(Component(Board)) ? Board : null;
        return Components
            .Where(c => !map.Without.Contains(c.Id))
            .ToDictionary(
                c => c.Id,
                c =>
                    c.Outside || IsOwn(c) ? c.Id
                    : c.Parts.SelectMany(p => carriers[p]).ToList() is { Count: > 0 } outer
                        ? outer.Exists(own.Contains)
                                ? Components
                                    .FirstOrDefault(x => x.Parts.Any(p => own.Contains(p) && outer.Contains(p)))
                                    ?.Id
                                    ?? board
                            : null
                    : c.Within.FirstOrDefault(w => IsOwn(Component(w))) ?? board
            );

        bool IsOwn(FaultyComponent? c) => c?.Parts.Any(own.Contains) == true;
    }

    /// <summary>What stands for whatever no map names: most things are soldered to it.</summary>
    internal const string Board = "board";
}

/// <summary>What about a machine decides whether a test makes sense or a fault is likely.</summary>
public static class MachineFeatures
{
    /// <summary>The battery comes off from outside, without a screwdriver.</summary>
    public const string ExternalBattery = "external-battery";

    /// <summary>The memory sits in slots.</summary>
    public const string MemorySlots = "memory-slots";

    /// <summary>It is charged through a fast port alone.</summary>
    public const string FastPortOnly = "fast-port-only";

    /// <summary>It may have a second port that charges: any but one that charges through its own power port alone.</summary>
    public const string SecondChargingPort = "second-charging-port";

    /// <summary>It charges through a power port of its own and through a fast port.</summary>
    public const string BothChargingPorts = "both-charging-ports";

    /// <summary>Every feature a file may name.</summary>
    public static IReadOnlyList<string> All { get; } =
    [ExternalBattery, MemorySlots, FastPortOnly, SecondChargingPort, BothChargingPorts];

    /// <summary>What is taken for granted of a machine nobody has described.</summary>
    public static IReadOnlySet<string> Unknown { get; } =
        new HashSet<string> { MemorySlots, SecondChargingPort, BothChargingPorts };

    /// <summary>The features of a unit.</summary>
    public static IReadOnlySet<string> Of(ServiceMap map) =>
        new[]
        {
            (ExternalBattery, map.Parts.Any(p => p is { Cells: true, Outside: true })),
            (
                MemorySlots,
                map.Specifications.Any(s => s is { Kind: SpecificationKind.Memory, Soldered: not true })
                    && map.Joints.Any(j => j.Kind == JointKind.EdgeSlotMemory)
            ),
            (FastPortOnly, map.Without.Contains("power-port") && !map.Without.Contains("fast-port")),
            (SecondChargingPort, !map.Without.Contains("fast-port")),
            (BothChargingPorts, !map.Without.Contains("power-port") && !map.Without.Contains("fast-port")),
        }
            .Where(f => f.Item2)
            .Select(f => f.Item1)
            .ToHashSet();
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
