using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.BenchLedger;

/// <summary>What a model's firmware may offer that decides what is done before and after a part is exchanged.</summary>
public static class FirmwareOffers
{
    /// <summary>The built-in battery can be switched off in it.</summary>
    public const string BatteryOff = "battery-off";

    /// <summary>The drive can be driven in several storage modes.</summary>
    public const string StorageMode = "storage-mode";

    /// <summary>Service tag and asset number are entered in it.</summary>
    public const string ServiceTag = "service-tag";

    /// <summary>Each, with how a person would say it.</summary>
    public static IReadOnlyList<(string Id, string Name)> All { get; } =
    [
        (BatteryOff, "the battery can be switched off in it"),
        (StorageMode, "it has several storage modes"),
        (ServiceTag, "service tag and asset number are entered in it"),
    ];

    /// <summary>What is reckoned with until somebody has looked: a question too many does less harm than one too few.</summary>
    internal static IReadOnlyList<string> UsualOf(DeviceClass device) =>
        device == DeviceClass.Laptop ? [StorageMode, ServiceTag] : [ServiceTag];
}

/// <summary>
/// What is saved before a machine goes dark and set again before it first starts, as any machine of its class asks for it:
/// a machine without a map has it from the first day. Common practice, no published source.
/// </summary>
internal sealed class UsualPractice(DeviceClass device, IReadOnlyList<string> offers)
{
    private static readonly CheckId Tag = CheckId.Of("service-tag");
    private static readonly CheckId Mode = CheckId.Of("storage-mode");
    private static readonly CheckId Key = CheckId.Of("recovery-key");
    private static readonly CheckId Clock = CheckId.Of("clock");
    private static readonly CheckId Enrol = CheckId.Of("enrol");
    private static readonly CheckId Care = CheckId.Of("battery-care");
    private static readonly CheckId Memory = CheckId.Of("memory");

    private bool IsLaptop => device == DeviceClass.Laptop;

    /// <summary>What is done before the machine is opened, in this order.</summary>
    public IReadOnlyList<Preparation> Preparations
    {
        get
        {
            var kept = Checks.Select(c => c.Id).ToHashSet();
            return
            [
                IsLaptop
                    ? Note(
                        "note-backup",
                        "Backup made, recovery key at hand",
                        "What is the user's is saved elsewhere; the key of the disk encryption is written down or can be looked up.",
                        Key,
                        Mode,
                        Clock
                    )
                    : Note(
                        "note-backup",
                        "What is only on the machine is saved elsewhere",
                        "It starts anew after the exchange: ask the user, look into the downloads.",
                        Enrol
                    ),
                .. IsLaptop
                    ?
                    [
                        Note(
                            "note-settings",
                            "Note storage mode and firmware settings",
                            "In the set-up screens: storage mode, start order, what differs from the fleet. A photograph of each page will do.",
                            Mode,
                            Clock
                        ),
                    ]
                    : Array.Empty<Preparation>(),
                .. offers.Contains(FirmwareOffers.ServiceTag)
                    ?
                    [
                        Note(
                            "note-tag",
                            "Note service tag and asset number",
                            "As firmware shows them; compare with the base.",
                            Tag
                        ),
                    ]
                    : Array.Empty<Preparation>(),
                .. offers.Contains(FirmwareOffers.BatteryOff)
                    ?
                    [
                        new Preparation
                        {
                            Id = "battery-off",
                            Title = "Switch the battery off in firmware",
                            How =
                                "Restart into the set-up screens, charger out: disable the built-in battery. It goes dark by itself.",
                            Seconds = 60,
                            FirmwareBatteryOff = true,
                        },
                    ]
                    : Array.Empty<Preparation>(),
            ];

            Preparation Note(string id, string title, string how, params CheckId[] checks) =>
                new()
                {
                    Id = id,
                    Title = title,
                    How = how,
                    Seconds = 60,
                    For = [.. checks.Where(kept.Contains)],
                };
        }
    }

    /// <summary>All that is noted, as one act, where nobody knows yet what will be exchanged.</summary>
    public Preparation NotedFirst =>
        new()
        {
            Id = "note-first",
            Title = "Note what is lost with the power",
            How = IsLaptop
                ? "As far as it still starts: backup made, recovery key at hand; storage mode, service tag and asset number as firmware shows them."
                : "As far as it still starts: what is only on the machine is saved elsewhere; service tag and asset number as firmware shows them.",
            Seconds = 60,
            For = [.. Checks.Where(c => c.Id != Memory && c.Id != Care).Select(c => c.Id)],
        };

    /// <summary>What assemblies call for afterwards.</summary>
    public IReadOnlyList<Check> Checks =>
        [
            .. offers.Contains(FirmwareOffers.ServiceTag)
                ? [First(Tag, "Enter service tag and asset number", "In firmware, exactly as on the base.")]
                : Array.Empty<Check>(),
            .. IsLaptop && offers.Contains(FirmwareOffers.StorageMode)
                ?
                [
                    First(
                        Mode,
                        "Storage mode as before",
                        "In firmware, as noted; the wrong mode stops the system with a missing-disk fault."
                    ),
                ]
                : Array.Empty<Check>(),
            .. IsLaptop
                ?
                [
                    First(
                        Clock,
                        "Set clock and firmware settings",
                        "As noted before it was shut down: they were lost with the coin cell."
                    ),
                    First(
                        Key,
                        "Disk encryption accepts the recovery key",
                        "Have the key at hand before the first start."
                    ),
                ]
                : (Check[])
                    [
                        new Check
                        {
                            Id = Enrol,
                            Title = "Re-enrol the managed Chromebook",
                            How = "Until its organisation's sign-in page shows.",
                        },
                    ],
            new()
            {
                Id = Memory,
                Title = "All memory is counted",
                How = "Firmware or the system shows the full amount.",
            },
            new()
            {
                Id = Care,
                Title = "Battery shows its full design energy",
                How = "In firmware or the system; charge limit as the site wants it.",
            },
        ];

    /// <summary>What an exchange of the part in a slot asks for; a slot may be numbered, as "memory-2".</summary>
    public IReadOnlyList<CheckId> After(string slot)
    {
        CheckId[] asked = Component(slot) switch
        {
            "board" => [Tag, Mode, Key, Enrol],
            "drive" => [Key, Enrol],
            "coin-cell" => [Clock, Mode],
            "battery" => [Care],
            "memory" => [Memory],
            _ => [],
        };
        return [.. asked.Where(c => Checks.Any(k => k.Id == c))];
    }

    private static string Component(string slot) =>
        slot.LastIndexOf('-') is var dash and > 0 && (slot.Length - dash == 2 || char.IsAsciiDigit(slot[dash + 1]))
            ? slot[..dash]
            : slot;

    private static Check First(CheckId id, string title, string how) =>
        new()
        {
            Id = id,
            Title = title,
            How = how,
            BeforeStart = true,
        };
}
