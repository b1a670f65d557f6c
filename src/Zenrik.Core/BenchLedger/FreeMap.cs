using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>
/// The map of a machine that has none: bare at first, it grows by what a technician names as it comes off. It knows what
/// is open and out, but not what has to come before what; the way back is the way out reversed.
/// </summary>
public static class FreeMap
{
    /// <summary>The part that stays.</summary>
    internal static PartId Machine { get; } = PartId.Of("machine");

    /// <summary>The plug that makes the machine dead.</summary>
    internal static JointId Plug { get; } = JointId.Of("isolation");

    /// <summary>What that plug is on, until somebody has named it.</summary>
    internal static Part Lead { get; } = new() { Id = PartId.Of("power"), Name = "battery lead" };

    /// <summary>Stands in a draft for what something holds that nobody has taken out yet.</summary>
    internal static PartId NotNamed { get; } = PartId.Of("not-named");

    /// <summary>Stands in a draft for the card of a slot of which nobody knows whose it is.</summary>
    internal static PartId LooseEnd { get; } = PartId.Of("loose-end");

    internal static Joint Isolation { get; } =
        new()
        {
            Id = Plug,
            Name = "battery plug",
            Kind = JointKind.WirePlug,
            Between = [Lead.Id, Machine],
            At = new Point(0, 0),
            Check = CheckId.Of("charge"),
        };

    /// <summary>What can be tried afterwards; starting and charging always are.</summary>
    public static IReadOnlyList<Check> Checks { get; } =
    [
        Try("start", "It starts"),
        Try("charge", "The charger shows"),
        Try("picture", "Picture, corner to corner"),
        Try("keys", "Every key"),
        Try("pointer", "Touchpad and its buttons"),
        Try("sound", "Sound left and right"),
        Try("wireless", "Wireless finds the network"),
        Try("camera", "Camera and microphone"),
        Try("ports", "Every small port"),
    ];

    /// <summary>True for a map that came from here.</summary>
    public static bool IsFree(this ServiceMap map) => map.Revision == 0;

    /// <summary>The map before anything is named.</summary>
    public static ServiceMap Bare(Model model) =>
        new()
        {
            Format = ServiceMap.CurrentFormat,
            Model = model,
            Revision = 0,
            Drawing = new Drawing { WidthMm = 320, HeightMm = 220 },
            Isolation = Plug,
            Preparations =
            [
                Usual(model).NotedFirst,
                ShutDown,
                new Preparation
                {
                    Id = "photo",
                    Title = "Strap on, mat down, photograph the closed machine",
                    How =
                        "There is no map of this model: name each thing as it comes off, and isolate the battery before any other joint.",
                    Seconds = 60,
                },
            ],
            Parts =
            [
                new Part
                {
                    Id = Machine,
                    Name = "machine",
                    Fixed = true,
                    // Somewhere in it, until the part that holds it has a name.
                    Glass = true,
                },
                Lead,
            ],
            Fasteners = [],
            Joints = [Isolation],
            Ties = [],
            Assemblies = [],
            Checks = [.. Checks, .. Usual(model).Checks],
        };

    /// <summary>What ends every machine's running.</summary>
    internal static Preparation ShutDown { get; } =
        new()
        {
            Id = "shut-down",
            Title = "Shut down and unplug the charger",
            How = "Take out what tears if forgotten: SIM tray, memory cards, an external battery.",
            Seconds = 60,
        };

    private static UsualPractice Usual(Model model) => new(model.Class, FirmwareOffers.UsualOf(model.Class));

    /// <summary>The acts of a session before anything is named.</summary>
    public static IReadOnlyList<Act> BareActs(ServiceMap map) =>
        [.. map.Preparations.Select(Act.Prepare), .. Checks.Take(2).Select(c => Act.Check(c.Id))];

    /// <summary>The map with one thing more.</summary>
    /// <returns>The map, the act that takes the thing off, and what the way back owes for it, next first.</returns>
    internal static (ServiceMap Map, Act Off, IReadOnlyList<Act> Back) With(this ServiceMap map, NamedThing thing)
    {
        var name = thing.Name.Trim();
        switch (thing.Kind)
        {
            case NamedKind.Isolation:
                return (map, Act.Isolate(Plug), [Act.Isolate(Plug).Reverse!.Value]);
            case NamedKind.Screws:
                var screws = new FastenerGroup
                {
                    Id = FastenerId.Of(IdFor(thing, map.Fasteners.Select(f => f.Id.Value))),
                    Name = name,
                    Count = thing.Count,
                    Screw = new Screw
                    {
                        Drive = thing.Drive ?? Drive.PH0,
                        Thread = MetricThread.M2,
                        LengthMm = thing.LengthMm ?? 0,
                    },
                    Holds = Machine,
                    Into = Machine,
                    Positions = [],
                };
                return (
                    map with
                    {
                        Fasteners = [.. map.Fasteners, screws],
                    },
                    Act.Undo(screws.Id),
                    BackOf(Act.Undo(screws.Id))
                );
            case NamedKind.Joint:
                var joint = new Joint
                {
                    Id = JointId.Of(IdFor(thing, map.Joints.Select(j => j.Id.Value))),
                    Name = name,
                    Kind = thing.Joint ?? JointKind.WirePlug,
                    Between = [Lead.Id, Machine],
                    At = new Point(0, 0),
                    Check = thing.Check is null ? null : CheckId.Of(thing.Check),
                };
                return (map with { Joints = [.. map.Joints, joint] }, Act.Open(joint.Id), BackOf(Act.Open(joint.Id)));
            case NamedKind.Tie:
                var tie = new Tie
                {
                    Id = TieId.Of(IdFor(thing, map.Ties.Select(t => t.Id.Value))),
                    Name = name,
                    Kind = thing.Tie ?? TieKind.Tape,
                    Of = Lead.Id,
                    On = Machine,
                    At = new Point(0, 0),
                };
                return (map with { Ties = [.. map.Ties, tie] }, Act.Free(tie.Id), BackOf(Act.Free(tie.Id)));
            default:
                var id = IdFor(thing, map.Parts.Select(p => p.Id.Value).Concat(Reserved));
                var part = new Part
                {
                    Id = PartId.Of(id),
                    Name = name,
                    Slot = thing.Exchanged ? id : null,
                    Side = thing.Side ?? Side.Base,
                    Cells = PartNames.HoldsCells(name),
                    Glass = PartNames.HoldsGlass(name),
                };
                var grown = map with { Parts = [.. map.Parts, part] };
                var off = Act.LiftOut(part.Id);
                return thing.Exchanged
                    ? (
                        grown with
                        {
                            Assemblies =
                            [
                                .. map.Assemblies,
                                new Assembly
                                {
                                    Id = AssemblyId.Of(part.Id.Value),
                                    Name = name,
                                    Part = part.Id,
                                    Faults = [],
                                    After = Usual(map.Model).After(id),
                                },
                            ],
                        },
                        off,
                        [Act.ReadRemoved(part.Id), Act.ReadFitted(part.Id), .. BackOf(off)]
                    )
                    : (grown, off, BackOf(off));
        }
    }

    private static IReadOnlyList<Act> BackOf(Act act) => [act.Reverse!.Value];

    /// <summary>True for what can name a thing in a map: lower case words joined by hyphens.</summary>
    internal static bool IsId(string text) => text.Length is > 0 and <= MaxId && text == Words(text);

    /// <summary>
    /// The identity of a thing: the one it has in the model's draft, or its name in lower case words, told apart where that
    /// is taken in this machine.
    /// </summary>
    private static string IdFor(NamedThing thing, IEnumerable<string> taken)
    {
        var id = thing.Identity ?? Words(thing.Name);
        id = id.Length == 0 ? thing.Kind.ToString().ToLowerInvariant() : id;
        var all = taken.ToHashSet();
        for (var n = 2; ; n++)
        {
            if (!all.Contains(id))
            {
                return id;
            }

            id = $"{id[..Math.Min(id.Length, MaxId - 4)].TrimEnd('-')}-{n}";
        }
    }

    /// <summary>Ids of parts that stand for what nobody has named.</summary>
    private static readonly string[] Reserved = [NotNamed.Value, LooseEnd.Value];

    private const int MaxId = 40;

    /// <summary>A text in lower case words joined by hyphens, as far as it has letters and digits without accents.</summary>
    internal static string Words(string text)
    {
        var words = string.Join(
            '-',
            new string([.. text.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : ' ')]).Split(
                ' ',
                StringSplitOptions.RemoveEmptyEntries
            )
        );
        return words[..Math.Min(words.Length, MaxId)].TrimEnd('-');
    }

    private static Check Try(string id, string title) => new() { Id = CheckId.Of(id), Title = title };
}
