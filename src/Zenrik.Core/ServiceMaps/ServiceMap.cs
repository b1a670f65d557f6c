using System.Collections.Frozen;
using System.Text.Json.Serialization;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.ServiceMaps;

/// <summary>
/// How one model comes apart: its parts, what holds them, what connects them, and where each thing lies on the
/// drawing. A map states facts about the machine only; every order of work is computed from it.
/// </summary>
/// <remarks>
/// Lists keep the order of the file; that order is the last tie-break of every computation, so the same file always
/// gives the same plan. Instances come from <see cref="ServiceMapReader"/>, which lets only consistent maps through.
/// </remarks>
public sealed record ServiceMap
{
    /// <summary>The version of the file format this program reads and writes.</summary>
    public const int CurrentFormat = 4;

    /// <summary>The oldest version that is read: 1 has no <see cref="Waits"/>, 2 no adhesives and fewer drives, 3 no <see cref="Joint.OtherEnd"/>.</summary>
    public const int OldestFormat = 1;

    /// <summary>Where editors find the schema; kept when a map is written back.</summary>
    [JsonPropertyName("$schema")]
    public string? SchemaAddress { get; init; }

    public required int Format { get; init; }

    public required Model Model { get; init; }

    /// <summary>1 for the first edition; one higher with every accepted change.</summary>
    public required int Revision { get; init; }

    /// <summary>What this revision changed, one sentence.</summary>
    public string? Changed { get; init; }

    public required Drawing Drawing { get; init; }

    /// <summary>The joint that makes the machine electrically dead; opened before any other joint.</summary>
    public required JointId Isolation { get; init; }

    /// <summary>What is done before the machine is opened, in this order.</summary>
    public required IReadOnlyList<Preparation> Preparations { get; init; }

    public required IReadOnlyList<Part> Parts { get; init; }

    public required IReadOnlyList<FastenerGroup> Fasteners { get; init; }

    public required IReadOnlyList<Joint> Joints { get; init; }

    public required IReadOnlyList<Tie> Ties { get; init; }

    public required IReadOnlyList<Assembly> Assemblies { get; init; }

    /// <summary>Functional checks and settings that acts of a plan call for afterwards.</summary>
    public required IReadOnlyList<Check> Checks { get; init; }

    /// <summary>Choices between sets of optional parts of which a unit has one: large battery, or small one and bay.</summary>
    public IReadOnlyList<Variant> Variants { get; init; } = [];

    /// <summary>What looks like a screw to undo and must stay.</summary>
    public IReadOnlyList<Decoy> Decoys { get; init; } = [];

    /// <summary>What may go into a slot.</summary>
    public IReadOnlyList<Specification> Specifications { get; init; } = [];

    /// <summary>
    /// What machines of this class usually have and this model has not, by the ids of triage's components: "fan",
    /// "coin-cell". What is named neither here nor among the parts is taken for a piece of something larger.
    /// </summary>
    public IReadOnlyList<string> Without { get; init; } = [];

    /// <summary>
    /// What was seen of the order in which things come off, and is not known to be a must. A wait for a part stands among
    /// what it lies under or is blocked by too; one for screws, a joint or a tie holds by itself.
    /// </summary>
    public IReadOnlyList<SeenWait> Waits { get; init; } = [];

    /// <summary>
    /// Parts of one unit's map whose places are empty until a job fits them (<see cref="Filling"/>). Never in a file.
    /// </summary>
    [JsonIgnore]
    public IReadOnlySet<PartId> Vacant { get; init; } = FrozenSet<PartId>.Empty;

    /// <summary>True when something inside is worked on from the deck side, so that the drawing has two faces.</summary>
    [JsonIgnore]
    public bool IsTwoSided => Parts.Any(p => p.Side == Side.Deck) || Fasteners.Any(f => f.Side == Side.Deck);

    public Part Part(PartId id) => MapIndex.Of(this).Parts[id];

    public FastenerGroup Fastener(FastenerId id) => MapIndex.Of(this).Fasteners[id];

    public Joint Joint(JointId id) => MapIndex.Of(this).Joints[id];

    /// <summary>The other end of the same loose lead, whichever of the two names it; null where a joint has none.</summary>
    public Joint? OtherEnd(JointId joint) =>
        MapIndex.Of(this).OtherEnds.TryGetValue(joint, out var other) ? Joint(other) : null;

    public Tie Tie(TieId id) => MapIndex.Of(this).Ties[id];

    public Assembly Assembly(AssemblyId id) => Assemblies.First(a => a.Id == id);

    public Check Check(CheckId id) => Checks.First(c => c.Id == id);

    /// <summary>Slots that numbers are listed for and judged by: those of its parts, and what it takes from outside.</summary>
    public IEnumerable<string> Slots() =>
        Parts.Select(p => p.Slot).OfType<string>().Union(Specifications.Where(s => s.IsOutside).Select(s => s.Slot));

    /// <summary>What its charger must be; null where nobody has said.</summary>
    public Specification.Charger? Charger() =>
        Specifications.OfType<Specification.Charger>().FirstOrDefault(c => c.IsOutside);

    /// <summary>True for a part whose slot is said to take what is of a kind.</summary>
    public bool Takes(PartId part, SpecificationKind kind) =>
        Part(part).Slot is { } slot && Specifications.Any(s => s.Slot == slot && s.Kind == kind);

    /// <summary>The part whose number is recorded under this slot, or null.</summary>
    public Part? PartInSlot(string slot) => Parts.FirstOrDefault(p => p.Slot == slot);

    /// <summary>The optional parts of a unit whose slots hold something.</summary>
    /// <remarks>
    /// Of each variant the choice with something in its slots, or else the first, with all its parts; every other
    /// optional part when its own slot holds something.
    /// </remarks>
    public IReadOnlySet<PartId> FittedWhen(IReadOnlySet<string> filledSlots)
    {
        bool Filled(PartId id) => Part(id).Slot is { } slot && filledSlots.Contains(slot);
        var inVariants = Variants.SelectMany(v => v.Choices).SelectMany(c => c.Parts).ToHashSet();
        return Variants
            .SelectMany(v => (v.Choices.FirstOrDefault(c => c.Parts.Any(Filled)) ?? v.Choices[0]).Parts)
            .Concat(Parts.Where(p => p.Optional && !inVariants.Contains(p.Id) && Filled(p.Id)).Select(p => p.Id))
            .ToHashSet();
    }

    /// <summary>
    /// What a unit is without and could be given: optional parts with an empty slot of their own. Which choice of a variant
    /// a unit is built as is no such matter.
    /// </summary>
    public IReadOnlyList<Part> Fillable(IReadOnlySet<string> filledSlots)
    {
        var inVariants = Variants.SelectMany(v => v.Choices).SelectMany(c => c.Parts).ToHashSet();
        return
        [
            .. Parts.Where(p =>
                p is { Optional: true, Fixed: false, Slot: { } slot }
                && !inVariants.Contains(p.Id)
                && !filledSlots.Contains(slot)
            ),
        ];
    }

    /// <summary>What is ordered to fill or exchange a slot: the map's own assembly, or the part by itself; null: nothing comes out of it.</summary>
    public Assembly? AssemblyIn(string slot)
    {
        if (PartInSlot(slot) is not { Fixed: false } part)
        {
            return null;
        }

        var alone = new Assembly
        {
            Id = AssemblyId.Of(part.Id.Value),
            Name = part.Name,
            Part = part.Id,
            Faults = [],
        };
        return Assemblies.FirstOrDefault(a => a.Part == part.Id)
            ?? (Assemblies.Any(a => a.Id == alone.Id) ? null : alone);
    }

    /// <summary>
    /// The map of one unit, as <see cref="For"/> makes it, with some slots that are to hold something else or something at
    /// all: what is not fitted yet is on the map and <see cref="Vacant"/>, and each slot has an assembly to ask for.
    /// </summary>
    /// <param name="filledSlots">Slots that hold something now.</param>
    /// <param name="wanted">Slots to fill; those this map does not know, or a unit cannot be without, change nothing.</param>
    public ServiceMap Filling(IReadOnlySet<string> filledSlots, IReadOnlyCollection<string> wanted)
    {
        var vacant = Fillable(filledSlots).Where(p => wanted.Contains(p.Slot!)).ToList();
        return Filled(
            FittedWhen(filledSlots).Concat(vacant.Select(p => p.Id)).ToHashSet(),
            [.. vacant.Select(p => p.Slot!)],
            wanted
        );
    }

    /// <summary>The same where it is known what was fitted and what was empty when a job began.</summary>
    /// <param name="fitted">The optional parts of the unit, those to be fitted among them.</param>
    /// <param name="vacantSlots">The slots of those to be fitted.</param>
    /// <param name="wanted">Slots that are to hold something else.</param>
    public ServiceMap Filled(
        IReadOnlySet<PartId> fitted,
        IReadOnlyCollection<string> vacantSlots,
        IReadOnlyCollection<string> wanted
    )
    {
        var own = wanted.Select(AssemblyIn).OfType<Assembly>().Where(a => Assemblies.All(b => b.Id != a.Id)).ToList();
        var unit = (own.Count == 0 ? this : this with { Assemblies = [.. Assemblies, .. own] }).For(fitted);
        return vacantSlots.Count == 0
            ? unit
            : unit with
            {
                Vacant = vacantSlots.Select(PartInSlot).OfType<Part>().Select(p => p.Id).ToFrozenSet(),
            };
    }

    /// <summary>True for a joint of a part that is yet to be fitted: nothing is plugged in.</summary>
    public bool IsVacant(Joint joint) => Vacant.Count > 0 && joint.Between.Any(Vacant.Contains);

    /// <summary>The map of a unit with nothing optional but the first choice of each variant.</summary>
    public ServiceMap Plain() => For(FittedWhen(new HashSet<string>()));

    /// <summary>
    /// The map of one unit: optional parts that are not fitted are gone, with everything that holds or connects them.
    /// </summary>
    /// <param name="fitted">The optional parts this unit has. Parts that are not optional are always kept.</param>
    public ServiceMap For(IReadOnlySet<PartId> fitted)
    {
        var absent = Parts.Where(p => p.Optional && !fitted.Contains(p.Id)).Select(p => p.Id).ToHashSet();
        if (absent.Count == 0)
        {
            return this;
        }

        PartId[] Present(IReadOnlyList<PartId> ids) => [.. ids.Where(id => !absent.Contains(id))];
        bool Connects(JointId joint) => !Joint(joint).Between.Any(absent.Contains);
        PartWay[] WaysWithin(Part p) =>
            [
                .. p
                    .Ways.Select(w =>
                        w with
                        {
                            Clears = Present(w.Clears),
                            Over = Present(w.Over),
                            Keeps = [.. w.Keeps.Where(Connects)],
                        }
                    )
                    .Where((w, i) => w.SetsAside == p.Ways[i].SetsAside),
            ];
        return this with
        {
            Parts =
            [
                .. Parts
                    .Where(p => !absent.Contains(p.Id))
                    .Select(p =>
                        p with
                        {
                            BlockedBy = Present(p.BlockedBy),
                            MountedOn = p.MountedOn is { } on && !absent.Contains(on) ? on : null,
                            Ways = WaysWithin(p),
                        }
                    ),
            ],
            Fasteners =
            [
                .. Fasteners
                    .Where(f => !absent.Contains(f.Holds) && !absent.Contains(f.Into))
                    .Select(f =>
                        f with
                        {
                            Under = Present(f.Under),
                            NearMagnet = f.NearMagnet && !(f.Magnet is { } magnet && absent.Contains(magnet)),
                            Magnet = f.Magnet is { } there && !absent.Contains(there) ? there : null,
                        }
                    ),
            ],
            Joints =
            [
                .. Joints.Where(j => !j.Between.Any(absent.Contains)).Select(j => j with { Under = Present(j.Under) }),
            ],
            Ties =
            [
                .. Ties.Where(t => !absent.Contains(t.Of) && !absent.Contains(t.On))
                    .Select(t => t with { Under = Present(t.Under) }),
            ],
            Waits = [.. Waits.Where(w => !w.Names(absent, this))],
            Assemblies =
            [
                .. Assemblies.Select(a => a with { Brings = Present(a.Brings), MovesOver = Present(a.MovesOver) }),
            ],
        };
    }

    /// <summary>A part, what it is mounted on, what that is mounted on, and so on.</summary>
    public IEnumerable<PartId> WithCarriers(PartId part)
    {
        for (PartId? at = part; at is { } id; at = Part(id).MountedOn)
        {
            yield return id;
        }
    }

    /// <summary>A part and everything still mounted on it: what moves when the part is lifted.</summary>
    /// <param name="carrier">The part that is lifted.</param>
    /// <param name="off">Parts that have already come off and stay where they are.</param>
    public IReadOnlySet<PartId> MovingWith(PartId carrier, IReadOnlySet<PartId>? off = null) =>
        WithRiders([carrier], off);

    /// <summary>Parts that are off and everything still mounted on any of them: what is gone from its place.</summary>
    public IReadOnlySet<PartId> GoneWith(IReadOnlySet<PartId> off) => WithRiders([.. off], off);

    private HashSet<PartId> WithRiders(HashSet<PartId> group, IReadOnlySet<PartId>? off)
    {
        for (var grown = true; grown; )
        {
            grown = false;
            foreach (var p in Parts)
            {
                if (p.MountedOn is { } on && group.Contains(on) && off?.Contains(p.Id) != true)
                {
                    grown |= group.Add(p.Id);
                }
            }
        }

        return group;
    }
}

/// <summary>What a unit is one of.</summary>
public sealed record Model
{
    /// <summary>Short stable code used in addresses: "sandpiper-14".</summary>
    public required string Code { get; init; }

    public required string Name { get; init; }

    public required string Maker { get; init; }

    public required DeviceClass Class { get; init; }
}

public enum DeviceClass
{
    Laptop,
    Chromebook,
}

/// <summary>The outer faces one can work from.</summary>
public enum Side
{
    /// <summary>Base up, hinge edge away from the technician. The drawing's view.</summary>
    Base,

    /// <summary>Lid or keyboard deck up.</summary>
    Deck,

    /// <summary>From the edge, whichever side is up; only what is outside (a tray, a plug).</summary>
    Edge,
}

/// <summary>The extent of the drawing in millimetres, seen from the base side, hinge edge at the top, origin top left.</summary>
public sealed record Drawing
{
    public required double WidthMm { get; init; }

    public required double HeightMm { get; init; }
}

/// <summary>An act before the machine is opened: shut down, unplug, switch the battery off in firmware.</summary>
public sealed record Preparation
{
    public required string Id { get; init; }

    public required string Title { get; init; }

    public string? How { get; init; }

    public required double Seconds { get; init; }

    /// <summary>True for switching the battery off in firmware, which a house rule may leave out.</summary>
    public bool FirmwareBatteryOff { get; init; }

    /// <summary>
    /// Set for what is saved or noted while the machine still runs because these checks put it back afterwards; it is done
    /// only where a plan calls for one of them. Empty: always.
    /// </summary>
    public IReadOnlyList<CheckId> For { get; init; } = [];
}

/// <summary>A thing that can be lifted out or, when <see cref="Fixed"/>, that everything else is held to.</summary>
public sealed record Part
{
    public required PartId Id { get; init; }

    public required string Name { get; init; }

    /// <summary>The slot under which the passport records the number of this part, or null when none is kept.</summary>
    public string? Slot { get; init; }

    /// <summary>True for the part that stays on the bench whatever comes out (the deck, the chassis).</summary>
    public bool Fixed { get; init; }

    /// <summary>True when it comes out before the machine is opened, from outside (a SIM tray).</summary>
    public bool Outside { get; init; }

    /// <summary>True when a unit of this model may be without it.</summary>
    public bool Optional { get; init; }

    /// <summary>The part this one rides on: lifting that one lifts this one too.</summary>
    public PartId? MountedOn { get; init; }

    /// <summary>Parts that must be out before this one can come out: what lies over it or is threaded through it.</summary>
    public IReadOnlyList<PartId> BlockedBy { get; init; } = [];

    /// <summary>
    /// Several ways to take it out or aside, where there is a choice; empty when there is one. Ways that keep joints set
    /// it aside; if all do, lifting it out plainly remains possible too.
    /// </summary>
    public IReadOnlyList<PartWay> Ways { get; init; } = [];

    /// <summary>True when it holds lithium cells of the size that burns; coin cells are not meant.</summary>
    public bool Cells { get; init; }

    /// <summary>True when it holds glass that splinters when cracked.</summary>
    public bool Glass { get; init; }

    /// <summary>True when dust gathers in it and it is blown clean once reached.</summary>
    public bool Dusty { get; init; }

    /// <summary>Components that cannot be had apart from it: soldered, riveted, glued.</summary>
    public IReadOnlyList<string> Contains { get; init; } = [];

    public Side Side { get; init; } = Side.Base;

    /// <summary>Drawing order: higher lies nearer to the eye on the side it is worked on from.</summary>
    public int Layer { get; init; }

    public Shape? Shape { get; init; }

    /// <summary>Centre of its name on the drawing, where the middle of the shape is covered.</summary>
    public Point? LabelAt { get; init; }

    /// <summary>Tool that prises it from its place, out or aside; null: fingers.</summary>
    public Tool? Tool { get; init; }

    /// <summary>How it comes out, one or two sentences.</summary>
    public string? Lift { get; init; }

    /// <summary>How it goes back in, where that is more than the reverse.</summary>
    public string? Refit { get; init; }

    /// <summary>Seconds to lift it out; null: the standard time.</summary>
    public double? Seconds { get; init; }

    public Label? Label { get; init; }

    /// <summary>The check that shows that it works, made once it was blown clean or its paste was renewed.</summary>
    public CheckId? Check { get; init; }

    /// <summary>Set when the part carries heat away through paste; its removal then asks for new paste.</summary>
    public Thermal? Thermal { get; init; }

    public IReadOnlyList<Caution> Cautions { get; init; } = [];
}

/// <summary>Where a part's number is printed and when it can be read.</summary>
public sealed record Label
{
    public required string Where { get; init; }

    public required Readable Readable { get; init; }

    /// <summary>Where on the drawing, for labels on the side the drawing shows.</summary>
    public Point? At { get; init; }
}

public enum Readable
{
    /// <summary>As soon as nothing lies over the part.</summary>
    Reached,

    /// <summary>Only when the part is out.</summary>
    Out,
}

/// <summary>One of several ways to take a part out or aside.</summary>
public sealed record PartWay
{
    /// <summary>Unique within the part.</summary>
    public required string Id { get; init; }

    /// <summary>What tells this way apart: "leads kept on", "with the heatsink".</summary>
    public required string Name { get; init; }

    /// <summary>Parts that must be out of the way in this way only, besides what always blocks.</summary>
    public IReadOnlyList<PartId> Clears { get; init; } = [];

    /// <summary>Joints that stay closed: the part is then set aside, still on its leads, not lifted out.</summary>
    public IReadOnlyList<JointId> Keeps { get; init; } = [];

    /// <summary>Parts it lies on while it is aside: for these it is still in the way.</summary>
    public IReadOnlyList<PartId> Over { get; init; } = [];

    public required double Seconds { get; init; }

    /// <summary>How it is done, where that differs.</summary>
    public string? Lift { get; init; }

    public string? Refit { get; init; }

    [JsonIgnore]
    public bool SetsAside => Keeps.Count > 0;
}

/// <summary>A heat path through paste.</summary>
public sealed record Thermal
{
    /// <summary>How many dies get paste.</summary>
    public required int Faces { get; init; }

    /// <summary>True when pads lie beside the paste and are best left undisturbed.</summary>
    public bool Pads { get; init; }
}

public sealed record Caution
{
    public required Severity Severity { get; init; }

    public required string Text { get; init; }
}

public enum Severity
{
    /// <summary>Good to know.</summary>
    Note,

    /// <summary>Damages the machine if missed.</summary>
    Warning,

    /// <summary>Injures or burns if missed; must be acknowledged before the act is done.</summary>
    Severe,
}

/// <summary>Like screws doing one job.</summary>
public sealed record FastenerGroup
{
    public required FastenerId Id { get; init; }

    public required string Name { get; init; }

    public required int Count { get; init; }

    public required Screw Screw { get; init; }

    /// <summary>True when the screws stay in the part they hold once loosened.</summary>
    public bool Captive { get; init; }

    /// <summary>True when the heads sit deep and are easily missed.</summary>
    public bool Recessed { get; init; }

    /// <summary>The part that comes free when they are out.</summary>
    public required PartId Holds { get; init; }

    /// <summary>What they are driven into.</summary>
    public required PartId Into { get; init; }

    /// <summary>Parts that hide the heads.</summary>
    public IReadOnlyList<PartId> Under { get; init; } = [];

    public Side Side { get; init; } = Side.Base;

    /// <summary>One point a screw, in mm.</summary>
    public required IReadOnlyList<Point> Positions { get; init; }

    /// <summary>True when the heads sit so tight that some take them out with a slotted driver.</summary>
    public bool Tight { get; init; }

    /// <summary>True when a magnet beside the hole steals the screw on its way in.</summary>
    public bool NearMagnet { get; init; }

    /// <summary>The part that magnet sits in: once it is out, it steals nothing. Null: in what stays.</summary>
    public PartId? Magnet { get; init; }

    /// <summary>True when the part is printed with tightening numbers; position i then carries number i + 1.</summary>
    public bool Numbered { get; init; }

    public string? Note { get; init; }

    public IReadOnlyList<Caution> Cautions { get; init; } = [];
}

/// <summary>An electrical connection between two parts.</summary>
public sealed record Joint
{
    public required JointId Id { get; init; }

    public required string Name { get; init; }

    public required JointKind Kind { get; init; }

    /// <summary>The two parts it connects.</summary>
    public required JointEnds Between { get; init; }

    /// <summary>The part whose plug, ribbon or card it is.</summary>
    [JsonIgnore]
    public PartId Plug => Between.Plug;

    /// <summary>The part that carries the socket: where the joint is reached.</summary>
    [JsonIgnore]
    public PartId Socket => Between.Socket;

    /// <summary>
    /// The joint at the other end of a loose ribbon or cable, with a plug at each: one of the two is opened, whichever is
    /// nearer, and the lead goes with the end that stays closed. Named by one of them or by both.
    /// </summary>
    public JointId? OtherEnd { get; init; }

    public IReadOnlyList<PartId> Under { get; init; } = [];

    public Side Side { get; init; } = Side.Base;

    public required Point At { get; init; }

    /// <summary>Clockwise turn of its glyph, degrees.</summary>
    public double Angle { get; init; }

    /// <summary>Where its cable runs, in mm, ending at <see cref="At"/>; empty when there is none to draw.</summary>
    public IReadOnlyList<Point> Route { get; init; } = [];

    /// <summary>What tells it apart: "1, white arrow".</summary>
    public string? Mark { get; init; }

    public string? Note { get; init; }

    /// <summary>The functional check its opening calls for afterwards.</summary>
    public CheckId? Check { get; init; }

    public IReadOnlyList<Caution> Cautions { get; init; } = [];
}

/// <summary>Tape, hook or channel that holds a cable of one part on another, or a latch that holds the part itself.</summary>
public sealed record Tie
{
    public required TieId Id { get; init; }

    public required string Name { get; init; }

    public required TieKind Kind { get; init; }

    /// <summary>The part whose cable is held.</summary>
    public required PartId Of { get; init; }

    /// <summary>The part it is held on.</summary>
    public required PartId On { get; init; }

    public IReadOnlyList<PartId> Under { get; init; } = [];

    public Side Side { get; init; } = Side.Base;

    public required Point At { get; init; }

    /// <summary>How many there are of it, freed in one act.</summary>
    public int Count { get; init; } = 1;

    /// <summary>Seconds to free all of it; null: the standard time of its kind.</summary>
    public double? Seconds { get; init; }

    /// <summary>What frees it; null: as its kind.</summary>
    public Tool? Tool { get; init; }

    public string? Note { get; init; }
}

/// <summary>What one can order as one piece.</summary>
public sealed record Assembly
{
    public required AssemblyId Id { get; init; }

    public required string Name { get; init; }

    /// <summary>The part whose slot records the assembly's number.</summary>
    public required PartId Part { get; init; }

    /// <summary>Further parts that come with it, already mounted.</summary>
    public IReadOnlyList<PartId> Brings { get; init; } = [];

    /// <summary>Parts the new one does not bring although they do not ride on the old one: a cable, gaskets.</summary>
    public IReadOnlyList<PartId> MovesOver { get; init; } = [];

    /// <summary>What must be at hand besides, in words: "thermal pad 0.5 mm", "screws M2 × 3, two".</summary>
    public IReadOnlyList<string> Needs { get; init; } = [];

    /// <summary>Variants to tell apart by eye before ordering: ids of <see cref="Fit.ByEye"/>.</summary>
    public IReadOnlyList<string> ByEye { get; init; } = [];

    /// <summary>What users and technicians say when it has failed: "battery worn".</summary>
    public required IReadOnlyList<string> Faults { get; init; }

    /// <summary>Settings to make after a swap.</summary>
    public IReadOnlyList<CheckId> After { get; init; } = [];
}

/// <summary>Something to try or to set once the machine runs again.</summary>
public sealed record Check
{
    public required CheckId Id { get; init; }

    public required string Title { get; init; }

    public string? How { get; init; }

    /// <summary>True for what is put back in firmware before the installed system is first started: it comes before other checks.</summary>
    public bool BeforeStart { get; init; }
}

/// <summary>A choice between sets of optional parts; a unit has exactly one of them.</summary>
public sealed record Variant
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    /// <summary>At least two; the first is the usual one.</summary>
    public required IReadOnlyList<VariantChoice> Choices { get; init; }
}

public sealed record VariantChoice
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    public required IReadOnlyList<PartId> Parts { get; init; }
}

/// <summary>One thing came off only after another in every session that took both off.</summary>
public sealed record SeenWait
{
    /// <summary>The act that waits, as "kind:target".</summary>
    public required string What { get; init; }

    /// <summary>The act it came after, as "kind:target".</summary>
    public required string After { get; init; }

    /// <summary>
    /// Acts that did instead of that one in some of the sessions, as "kind:target": what lay over it left on something else.
    /// Empty: none.
    /// </summary>
    public IReadOnlyList<string> Or { get; init; } = [];

    /// <summary>In how many sessions it was seen, 1 or more.</summary>
    public required int Sessions { get; init; }

    /// <summary>How many people worked them: one person's habit is little evidence.</summary>
    public required int People { get; init; }

    [JsonIgnore]
    public Act Waiting => Act.Parse(What);

    [JsonIgnore]
    public Act First => Act.Parse(After);

    /// <summary>Any one of these is enough.</summary>
    [JsonIgnore]
    public IEnumerable<Act> AnyOf => Or.Select(Act.Parse).Prepend(First);

    /// <summary>True for what the map says by its covers already: a wait for one part and for nothing instead of it.</summary>
    [JsonIgnore]
    public bool IsCover => First.Kind == ActKind.LiftOut && Or.Count == 0;

    /// <summary>True when one of its acts is on a part among these, or on what holds or connects one.</summary>
    internal bool Names(IReadOnlySet<PartId> parts, ServiceMap map)
    {
        return AnyOf.Prepend(Waiting).SelectMany(EndsOf).Any(parts.Contains);

        IEnumerable<PartId> EndsOf(Act act) =>
            act.Kind switch
            {
                ActKind.Undo => [map.Fastener(act.Fastener).Holds, map.Fastener(act.Fastener).Into],
                ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Between,
                ActKind.Free => [map.Tie(act.Tie).Of, map.Tie(act.Tie).On],
                _ => [act.Part],
            };
    }
}

/// <summary>A screw that holds something else and stays in, or a mark that is no screw at all.</summary>
public sealed record Decoy
{
    public required string Id { get; init; }

    public required string Name { get; init; }

    public required DecoyKind Kind { get; init; }

    public Side Side { get; init; } = Side.Base;

    /// <summary>What it lies on: it is out of sight once that is out.</summary>
    public required PartId On { get; init; }

    public required IReadOnlyList<Point> Positions { get; init; }

    /// <summary>The screws it is mistaken for: said where they are undone. Null: those of what it lies on.</summary>
    public FastenerId? MistakenFor { get; init; }

    /// <summary>Why it stays.</summary>
    public required string Why { get; init; }
}

public enum DecoyKind
{
    /// <summary>A real screw that holds something else.</summary>
    Screw,

    /// <summary>A drain hole under a drop icon.</summary>
    Drain,
}
