namespace Zenrik.Core.HouseRules;

public enum ScrewKeeping
{
    Mat,
    WithPart,
    TapedBeside,
    Photograph,
}

public enum PartsLaid
{
    InTrays,
    InShape,
}

public enum AntennaLeads
{
    LeaveOnCard,
    UnsnapAlways,
}

public enum PryTool
{
    PlasticOnly,
    ThinMetal,
}

public enum MagneticDriver
{
    Wanted,
    Forbidden,
}

public enum TightCrossHead
{
    SlottedOut,
    RightCrossHeadOnly,
}

public enum BatteryOut
{
    WhenInTheWay,
    Always,
}

public enum FirmwareBatteryOff
{
    WhereOffered,
    NotNeeded,
}

public enum PasteSpread
{
    Thin,
    SmallDot,
}

public enum HeatsinkPads
{
    Leave,
    Renew,
}

public enum PowerTest
{
    BeforeCover,
    AfterCover,
}

public enum DriveContent
{
    Install,
    Restore,
    Copy,
}

public enum Cleaning
{
    WhileInside,
    WhenAsked,
}

public enum MemoryAboveMaximum
{
    ToController,
    Refuse,
}

public enum DoubleSidedDrive
{
    Waiver,
    Refuse,
}

public enum UnbrandedBatteries
{
    ByExpectedCost,
    BrandOnly,
}

public enum WarrantyRepairs
{
    MakerFirst,
    MendHere,
}

public enum Readiness
{
    NotAsked,
    Asked,
}

/// <summary>Every question a workshop decides, with its schools, the default first and each with its reason.</summary>
public static class RuleBook
{
    public static readonly HouseRule<ScrewKeeping> ScrewKeeping = new(
        "screw-keeping",
        "Where do screws go that come out?",
        "Where the ledger and the mat say a group lies. Captive screws always stay in their part.",
        new("mat", "sorted tray or printed mat", "Each group has a field, in plan order; lengths cannot be mixed up."),
        new("with-part", "with the removed part", "The part and its screws go back together."),
        new("taped-beside", "taped beside the hole", "Nothing leaves the machine; slow where there are many."),
        new("photograph", "photographed and in one dish", "Quick out; the picture must be found again on the way back.")
    );

    public static readonly HouseRule<PartsLaid> PartsLaid = new(
        "parts-laid",
        "How are parts laid out on the bench?",
        "Where the drawing shows what is out, and how the fields of the screw mat lie.",
        new(
            "in-trays",
            "in trays, in the order they come out",
            "The last one out is the first one back; it takes little room."
        ),
        new(
            "in-shape",
            "in the machine's shape and angle",
            "Each lies as it sits: which side is up and what was beside it is seen."
        )
    );

    public static readonly HouseRule<AntennaLeads> AntennaLeads = new(
        "antenna-leads",
        "A radio card is in the way, and its antennas hold it. What then?",
        "Whether a card is set aside on its leads or its antennas are unsnapped.",
        new("leave-on-card", "leave the leads on and set the card aside", "It saves the fiddliest joint there is."),
        new("unsnap-always", "unsnap always", "Nothing dangles; the leads are never strained.")
    );

    public static readonly HouseRule<PryTool> PryTool = new(
        "pry-tool",
        "What may be used to pry?",
        "The tool of every act that pries.",
        new("plastic-only", "plastic only", "Metal scratches, and bridges contacts."),
        new("thin-metal", "thin metal allowed", "It reaches into seams where plastic bends.")
    );

    public static readonly HouseRule<MagneticDriver> MagneticDriver = new(
        "magnetic-driver",
        "Are drivers magnetic?",
        "How screws are undone and how one beside a magnet is started.",
        new("wanted", "wanted", "A dropped screw costs more than the worry; today's parts do not mind."),
        new("forbidden", "forbidden", "Some do not want magnets near a drive or a chip.")
    );

    public static readonly HouseRule<TightCrossHead> TightCrossHead = new(
        "tight-cross-head",
        "A cross-head sits tight. Which driver?",
        "The driver that undoes groups the map marks as tight; they go in with the cross-head either way.",
        new(
            "slotted-out",
            "matched slotted driver out, cross-head in",
            "A blade that fills one slot bites where a cross-head climbs out."
        ),
        new("right-cross-head-only", "the right cross-head only", "The recess was made for it; a blade may burr it.")
    );

    public static readonly HouseRule<BatteryOut> Battery = new(
        "battery",
        "The battery is unplugged and not in the way. Take it out?",
        "Whether every plan that isolates also lifts the battery.",
        new("when-in-the-way", "leave it in", "Unplugged, the machine is off; each lift is a chance to bend a cell."),
        new("always-out", "always out", "No cell lies under tools.")
    );

    public static readonly HouseRule<FirmwareBatteryOff> FirmwareBatteryOff = new(
        "firmware-battery-off",
        "Switch the battery off in firmware before opening?",
        "An act before opening, on models that offer it.",
        new("where-offered", "where it is offered", "The machine is off before anything metal comes near it."),
        new("not-needed", "not needed", "Unplugging comes first inside and does the same.")
    );

    public static readonly HouseRule<PasteSpread> Paste = new(
        "paste",
        "How does paste go on?",
        "How the paste act is done.",
        new("thin-spread", "a thin even layer", "Every corner of the die is covered."),
        new("small-dot", "a small dot", "No air is spread in; the heatsink presses it out.")
    );

    public static readonly HouseRule<HeatsinkPads> Pads = new(
        "heatsink-pads",
        "A heatsink with pads was off. What about the pads?",
        "Pads among the consumables, and the paste act of heatsinks that have them.",
        new("leave", "leave them undisturbed", "A pad that lies as it lay still fits."),
        new("renew", "always renew, in the right thickness", "A pressed pad does not come back.")
    );

    public static readonly HouseRule<PowerTest> PowerTest = new(
        "power-test",
        "Power on before the cover goes on, or after?",
        "Where the power test stands on the way back.",
        new(
            "before-cover",
            "before the cover goes on",
            "A joint that is not seated is then two minutes' work, not twenty."
        ),
        new("after-cover", "after", "Nothing is live while the machine is open.")
    );

    public static readonly HouseRule<Cleaning> Cleaning = new(
        "cleaning",
        "Dust is seen while inside for something else. Clean?",
        "Whether a fan that is reached is blown clean although nobody asked.",
        new("while-inside", "always while inside", "A minute now, a whole opening later."),
        new("when-asked", "only when the job asks for it", "The unit goes back with what was ordered, no more.")
    );

    public static readonly HouseRule<DriveContent> DriveContent = new(
        "drive-content",
        "A new drive goes in. What comes onto it?",
        "An act of its own: before the new drive goes in, or before the installed system is first started.",
        new(
            "install",
            "the organisation's system, installed anew",
            "What users keep lies elsewhere; nothing broken is carried over, and no old drive has to read."
        ),
        new("restore", "the last backup, restored", "The unit comes back as it was on the day of the backup."),
        new(
            "copy",
            "the old drive, copied side by side",
            "Nothing is lost where the old one still reads; faults of its system come along."
        )
    );

    public static readonly HouseRule<MemoryAboveMaximum> MemoryAboveMaximum = new(
        "memory-above-maximum",
        "More memory than the maker states, within what the processor's controller takes?",
        "Whether such memory is said to fit, with a mark.",
        new("to-controller", "up to the controller's limit, marked", "It usually works; the mark tells whoever asks."),
        new("refuse", "refuse", "What the maker does not support, the house does not either.")
    );

    public static readonly HouseRule<DoubleSidedDrive> DoubleSidedDrive = new(
        "double-sided-drive",
        "A double-sided drive for a slot with room for one side?",
        "Whether somebody may sign for such a drive.",
        new(
            "waiver",
            "with a recorded waiver",
            "It can be made to fit, tight and hotter; who decides so signs for it."
        ),
        new("refuse", "refuse", "A bent board costs more than the right drive.")
    );

    public static readonly HouseRule<UnbrandedBatteries> UnbrandedBatteries = new(
        "unbranded-batteries",
        "Unbranded batteries?",
        "Whether their offers are counted in.",
        new(
            "by-expected-cost",
            "allow, by expected cost",
            "Seven in ten work; the arithmetic says when that is cheaper."
        ),
        new("brand-only", "brand only", "A cell is the one part that burns.")
    );

    public static readonly HouseRule<WarrantyRepairs> WarrantyRepairs = new(
        "warranty-repairs",
        "A unit under the maker's warranty fails by itself. Who mends it?",
        "What taking in and the repair's page say of it; sending it there is weighed either way. Never a lock.",
        new(
            "maker-first",
            "the maker first",
            "It costs nothing there, and a machine that was opened may be mended for nothing no more."
        ),
        new(
            "mend-here",
            "here, with a part from the maker",
            "Back on its desk the same day; for houses whose contract lets them open it."
        )
    );

    public static readonly HouseRule<Readiness> Readiness = new(
        "readiness",
        "Somebody is about to open a model they have not practised. Say so?",
        "A caution on the repair's page before the bench, and more minutes for it on the calendar; never a lock.",
        new(
            "not-asked",
            "no",
            "Most learn at the bench beside somebody who knows it; a caution on every page is soon not read."
        ),
        new("asked", "yes, with a way to run through it", "Two minutes in the drawing; a torn cable is a day.")
    );

    /// <summary>All of them, in the order a page shows them.</summary>
    public static IReadOnlyList<HouseRule> All { get; } =
    [
        FirmwareBatteryOff,
        Battery,
        AntennaLeads,
        ScrewKeeping,
        PartsLaid,
        PryTool,
        MagneticDriver,
        TightCrossHead,
        Paste,
        Pads,
        Cleaning,
        PowerTest,
        DriveContent,
        MemoryAboveMaximum,
        DoubleSidedDrive,
        UnbrandedBatteries,
        WarrantyRepairs,
        Readiness,
    ];

    public static HouseRule? Find(string ruleId) => All.FirstOrDefault(r => r.Id == ruleId);
}
