using System.Text.Json;
using System.Text.Json.Serialization;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>What a thing is that gets its name as it comes off.</summary>
public enum NamedKind
{
    Screws,
    Joint,

    /// <summary>The plug that makes the machine electrically dead.</summary>
    Isolation,
    Tie,
    Part,
}

/// <summary>
/// A thing of a machine without a map, named by the technician as it comes off: a first map is made of these later.
/// </summary>
public sealed record NamedThing
{
    /// <summary>Longest name, in characters.</summary>
    public const int MaxName = 60;

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    public required NamedKind Kind { get; init; }

    public required string Name { get; init; }

    /// <summary>Screws: how many, 1 to 99.</summary>
    public int Count { get; init; }

    /// <summary>Screws: the head.</summary>
    public Drive? Drive { get; init; }

    /// <summary>Screws: length under the head in mm, where it was measured.</summary>
    public double? LengthMm { get; init; }

    /// <summary>Joints: how it opens.</summary>
    public JointKind? Joint { get; init; }

    /// <summary>Ties: what holds.</summary>
    public TieKind? Tie { get; init; }

    /// <summary>Joints: what has to be tried afterwards, one of <see cref="FreeMap.Checks"/>.</summary>
    public string? Check { get; init; }

    /// <summary>Parts: true when another one goes in; its numbers are read.</summary>
    public bool Exchanged { get; init; }

    /// <summary>Parts: true when it comes out of the closed machine (a tray, an external battery).</summary>
    public bool Outside { get; init; }

    /// <summary>The side it is reached from; null: the base.</summary>
    public Side? Side { get; init; }

    /// <summary>Its identity in the model's draft when it was named there before; null: its name says who it is.</summary>
    public string? Identity { get; init; }

    /// <summary>Parts: what held and joined it, as acts of this session that took these off ("undo:base-screws"); null: not said.</summary>
    public IReadOnlyList<string>? Held { get; init; }

    /// <summary>Parts: what rode on it and left with it, as ids of the model's draft; null: not said.</summary>
    public IReadOnlyList<string>? Carries { get; init; }

    /// <summary>Parts: the exchanged part it was taken off to go onto the new one, by its id; null: none.</summary>
    public string? MovesFrom { get; init; }

    public string ToText() => JsonSerializer.Serialize(this, Json);

    /// <summary>Reads what <see cref="ToText"/> wrote.</summary>
    public static NamedThing Parse(string text) => JsonSerializer.Deserialize<NamedThing>(text, Json)!;

    /// <summary>Why it cannot be taken; null when it can.</summary>
    public Refusal? Refuse() =>
        string.IsNullOrWhiteSpace(Name) ? Invalid("Give it a name, as you would call it on the way back.")
        : Name.Length > MaxName ? Invalid($"A name has at most {MaxName} characters; this one has {Name.Length}.")
        : Name.Any(char.IsControl) ? Invalid("The name has characters that cannot be printed. Type it again.")
        : Kind == NamedKind.Screws && Count is < 1 or > Ledger.MaxCount
            ? Invalid($"A count of {Count} cannot be right; give a number from 1 to {Ledger.MaxCount}.")
        : Identity is { } id && !FreeMap.IsId(id) ? Invalid("Pick it from the list, or give it a name.")
        : LengthMm is <= 0 or > 60 ? Invalid("A screw's length is between 0 and 60 mm; leave it empty if not measured.")
        : Check is not null && FreeMap.Checks.All(c => c.Id.Value != Check) ? Invalid($"There is no check \"{Check}\".")
        : null;

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
