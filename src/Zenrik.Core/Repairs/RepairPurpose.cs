namespace Zenrik.Core.Repairs;

/// <summary>What a unit is taken in for.</summary>
public enum RepairPurpose
{
    /// <summary>Something is wrong: what its user notices, or a part known to have failed.</summary>
    Fault,

    /// <summary>What is in a slot works, and more of it is wanted.</summary>
    Upgrade,

    /// <summary>Dust is blown out of what gathers it.</summary>
    Cleaning,

    /// <summary>It comes back, or goes to somebody else, and is looked through first. Nothing is opened.</summary>
    CheckUp,
}

/// <summary>A point a machine is looked through for.</summary>
/// <param name="Id">Kebab case.</param>
/// <param name="Says">What is so when it is in order.</param>
/// <param name="Symptom">The symptom triage begins with when it is not.</param>
public sealed record CheckPoint(string Id, string Says, string Symptom);

/// <summary>What is known of purposes.</summary>
public static class RepairPurposes
{
    /// <summary>What an exchange for more is called on its line, where a fault stands else.</summary>
    public const string ToBeUpgraded = "to be upgraded";

    /// <summary>
    /// What a machine is looked through for before it serves again, in the order of doing it: what might be dangerous first,
    /// then what needs no power. Common practice, no published source.
    /// </summary>
    public static IReadOnlyList<CheckPoint> CheckUp { get; } =
    [
        new("flat", "It lies flat, closes, and nothing bulges", "swollen"),
        new("case", "Case and glass are whole", "case-cracked"),
        new("hinge", "The lid stays where it is put", "hinge-loose"),
        new("ports", "Plugs sit firmly in every port", "port-loose"),
        new("charging", "It charges, and plug and port stay cool", "will-not-charge"),
        new("start", "It starts into its system", "stops-at-start"),
        new("picture", "The picture is clean in all four corners", "picture-artefacts"),
        new("keys", "Every key answers", "keys-dead"),
        new("pointer", "Pointer and its buttons answer", "pointer-dead"),
        new("sound", "Sound comes from both sides", "no-sound"),
        new("microphone", "The microphone is heard", "microphone-dead"),
        new("camera", "The camera shows a picture", "camera-dead"),
        new("wireless", "It joins the wireless network", "no-wireless"),
        new("battery", "The battery lasts as long as its age allows", "battery-short"),
    ];

    /// <summary>"upgrade": as it is said of a repair.</summary>
    public static string Name(RepairPurpose purpose) =>
        purpose switch
        {
            RepairPurpose.Fault => "something is wrong",
            RepairPurpose.Upgrade => "upgrade",
            RepairPurpose.Cleaning => "cleaning",
            RepairPurpose.CheckUp => "check-up",
            _ => throw new ArgumentOutOfRangeException(nameof(purpose)),
        };
}
