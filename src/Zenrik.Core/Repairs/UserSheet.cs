namespace Zenrik.Core.Repairs;

/// <summary>A part that was exchanged or added, as its user may be told of it.</summary>
/// <param name="Slot">Where it went in: "drive-a".</param>
/// <param name="Name">What it is called: "drive".</param>
/// <param name="Added">True where its slot was empty: nothing went with an old one.</param>
public sealed record ExchangedPart(string Slot, string Name, bool Added = false);

/// <summary>
/// What whoever uses a machine is told when they fetch it: what was done, what became of their data and settings, what to
/// look out for. Common practice, no published source.
/// </summary>
/// <param name="Exchanged">In the order of the repair.</param>
/// <param name="End">How the repair ended.</param>
/// <param name="StopGaps">What is not yet as it should be, each with its reason.</param>
/// <param name="Purpose">What it was taken in for.</param>
/// <param name="ClosedOn">The day it ended, as the sheet writes days.</param>
public sealed record UserSheet(
    IReadOnlyList<ExchangedPart> Exchanged,
    RepairEnd? End,
    IReadOnlyList<(string What, string Reason)> StopGaps,
    string ClosedOn,
    RepairPurpose Purpose = RepairPurpose.Fault
)
{
    /// <summary>Slots whose exchange takes with it what was stored.</summary>
    private static readonly string[] HoldData = ["drive", "storage", "bay-drive"];

    /// <summary>Slots whose exchange takes with it the clock, or what the firmware was set to.</summary>
    private static readonly string[] HoldSettings = ["board", "coin-cell"];

    /// <summary>One sentence a part; where none was exchanged, how it ended.</summary>
    public IReadOnlyList<string> Done =>
        Exchanged.Count > 0
            ? [.. Exchanged.Select(p => $"The {p.Name} was {(p.Added ? "added" : "exchanged")}.")]
            :
            [
                End switch
                {
                    RepairEnd.Serviced when Purpose == RepairPurpose.Cleaning => "The dust was blown out of it.",
                    RepairEnd.Serviced => "It was looked through without being opened.",
                    RepairEnd.Cured => "It was cured without a part.",
                    RepairEnd.NoFaultFound => "No fault was found.",
                    RepairEnd.Elsewhere => "The cause lies elsewhere, not in the machine.",
                    RepairEnd.SentAway => "It was sent away for repair.",
                    RepairEnd.Retired => "It is not used any more.",
                    _ => "It was opened, looked at and put back together.",
                },
            ];

    /// <summary>What became of what is stored.</summary>
    public string Data =>
        Touches(HoldData)
            ? "What was stored on the machine was on the part that was exchanged. Sign in and look whether your files are there; what was not backed up elsewhere may be gone. The old part is erased or destroyed by the house's rules."
        : Touches(HoldSettings)
            ? "Your files were not touched. The machine may ask for its recovery key or for the time when it first starts; ask the workshop if you do not have the key."
        : "Nothing that is stored on the machine was touched.";

    /// <summary>What is not as it should be, and what to do when something is.</summary>
    public IReadOnlyList<string> LookOut =>
        [
            .. StopGaps.Select(g => $"Not yet as it should be: {g.What}. {g.Reason}"),
            .. Touches(["battery"])
                ? [$"The battery was exchanged on {ClosedOn}. It needs no breaking in."]
                : Array.Empty<string>(),
            .. End == RepairEnd.NoFaultFound
                ?
                [
                    "The fault did not show here. If it comes back, write down when and what you were doing, and leave it switched on if that is safe.",
                ]
                : Array.Empty<string>(),
            "If it becomes hot, swells, smells or smokes: switch it off, unplug it, leave it lying on something that does not burn and tell the workshop at once.",
            "If what was wrong comes back within a month, bring it in again with this sheet.",
        ];

    /// <summary>What is written to whoever waits for a finished machine, where they are not called.</summary>
    /// <param name="user">Null: nobody in particular.</param>
    public static string Message(string? user, string model, string tag, string code) =>
        $"""
            Hello{(user is null ? "" : $" {user}")},

            your {model} ({tag}) is ready and can be fetched at the workshop. Say {code} when you come.
            If you have a loan unit, bring it back with its charger.
            """;

    private bool Touches(string[] stems) =>
        Exchanged.Any(p =>
            !p.Added
            && stems.Any(s => p.Slot == s || p.Slot.StartsWith($"{s}-", StringComparison.Ordinal))
            // A small board beside the main one holds nothing.
            && !p.Slot.EndsWith("-board", StringComparison.Ordinal)
        );
}
