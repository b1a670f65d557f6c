using System.Globalization;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>What an act is called and how it is done, in words.</summary>
public static class Wording
{
    private static readonly string[] Numerals =
    [
        "no",
        "one",
        "two",
        "three",
        "four",
        "five",
        "six",
        "seven",
        "eight",
        "nine",
        "ten",
        "eleven",
        "twelve",
    ];

    /// <summary>The act in the imperative: "Undo the four heatsink screws".</summary>
    public static string Title(ServiceMap map, Act act, bool exchanged = false, HousePractice? practice = null)
    {
        switch (act.Kind)
        {
            case ActKind.Prepare:
                return map.Preparations.First(p => p.Id == act.Target).Title;
            case ActKind.TurnOver:
                return "Turn the machine over";
            case ActKind.Isolate:
                return map.Joint(act.Joint).Kind == JointKind.SlideContacts
                    ? $"Isolate: slide apart {The(map.Joint(act.Joint).Name)}"
                    : $"Isolate: open {The(map.Joint(act.Joint).Name)}";
            case ActKind.Reconnect:
                return $"Reconnect: close {The(map.Joint(act.Joint).Name)}";
            case ActKind.Undo:
                return Screws(map.Fastener(act.Fastener), map.Fastener(act.Fastener).Captive ? "Loosen" : "Undo");
            case ActKind.Fasten:
                return Screws(map.Fastener(act.Fastener), "Fasten");
            case ActKind.Open when map.IsVacant(map.Joint(act.Joint)):
                var unplugged = map.Joint(act.Joint);
                return unplugged.Kind.IsSlot()
                    ? $"See that {The(unplugged.Name)} is empty"
                    : $"Find {The(unplugged.Name)}: it was laid away unplugged";
            case ActKind.Open:
                return $"Open {The(map.Joint(act.Joint).Name)}";
            case ActKind.Close:
                return $"Close {The(map.Joint(act.Joint).Name)}";
            case ActKind.Free:
                return map.Tie(act.Tie).Kind switch
                {
                    TieKind.Latch => $"Slide open {The(map.Tie(act.Tie).Name)}",
                    TieKind.Hook => $"Unhook {The(Hooked(map.Tie(act.Tie).Name))}",
                    TieKind.StretchStrip => $"Draw out {The(map.Tie(act.Tie).Name)}",
                    TieKind.Glue or TieKind.TapeFrame => $"Loosen {The(map.Tie(act.Tie).Name)}",
                    _ => $"Free {The(map.Tie(act.Tie).Name)}",
                };
            case ActKind.Lay:
                return map.Tie(act.Tie).Kind switch
                {
                    TieKind.Latch => $"Slide home {The(map.Tie(act.Tie).Name)}",
                    TieKind.Hook => $"Hook in {The(Hooked(map.Tie(act.Tie).Name))} again",
                    TieKind.Tape => $"Press {The(map.Tie(act.Tie).Name)} down again",
                    TieKind.StretchStrip or TieKind.Glue or TieKind.TapeFrame => $"Renew {The(map.Tie(act.Tie).Name)}",
                    _ => $"Lay back {The(map.Tie(act.Tie).Name)}",
                };
            case ActKind.SetAside:
                return $"Set aside {The(map.Part(act.Part).Name)}, {WayOf(map, act)!.Name}";
            case ActKind.PutBack:
                return $"Put back {The(map.Part(act.Part).Name)}";
            case ActKind.LiftOut when map.Vacant.Contains(act.Part):
                return $"Clear the place for the new {map.Part(act.Part).Name}";
            case ActKind.LiftOut:
                return $"Lift out {The(map.Part(act.Part).Name)}" + (WayOf(map, act) is { } way ? $", {way.Name}" : "");
            case ActKind.PutIn:
                return exchanged
                    ? $"Put in the new {map.Part(act.Part).Name}"
                    : $"Put in {The(map.Part(act.Part).Name)}";
            case ActKind.ReadRemoved:
                return $"Read the number of the old {map.Part(act.Part).Name}";
            case ActKind.ReadFitted:
                return $"Read the number of the new {map.Part(act.Part).Name}";
            case ActKind.CleanAndPaste:
                return $"Clean and paste {The(map.Part(act.Part).Name)}";
            case ActKind.BlowClean:
                return $"Blow {The(map.Part(act.Part).Name)} clean";
            case ActKind.FillDrive:
                var drive = map.Part(act.Part).Name;
                return (practice ?? HousePractice.Default).Of(RuleBook.DriveContent) switch
                {
                    DriveContent.Copy => $"Copy the old {drive} onto the new one",
                    DriveContent.Restore => $"Restore the backup onto the new {drive}",
                    _ when map.Model.Class == DeviceClass.Chromebook => $"Recover the system onto the new {drive}",
                    _ => $"Install the system onto the new {drive}",
                };
            case ActKind.PowerTest:
                return "Power on";
            case ActKind.Check:
                return map.Check(CheckId.Of(act.Target)).Title;
            default:
                throw new ArgumentOutOfRangeException(nameof(act));
        }
    }

    /// <summary>What is done, without what it is done to: "lift out, with the heatsink".</summary>
    public static string Verb(ServiceMap map, Act act)
    {
        var verb = act.Kind switch
        {
            ActKind.Undo => "undo",
            ActKind.Fasten => "fasten",
            ActKind.Open or ActKind.Isolate => "open",
            ActKind.Close or ActKind.Reconnect => "close",
            ActKind.Free => "free",
            ActKind.Lay => "lay back",
            ActKind.LiftOut => "lift out",
            ActKind.SetAside => "set aside",
            ActKind.PutIn => "put in",
            ActKind.PutBack => "put back",
            ActKind.ReadRemoved => "read the old number",
            ActKind.ReadFitted => "read the new number",
            ActKind.CleanAndPaste => "new paste",
            ActKind.BlowClean => "blow clean",
            ActKind.FillDrive => "fill the drive",
            _ => throw new ArgumentOutOfRangeException(nameof(act)),
        };
        return WayOf(map, act) is { } way ? $"{verb}, {way.Name}" : verb;
    }

    /// <summary>Acts done in one go: "Open the memory A slot and lift out memory A"; a row of plugs by their number.</summary>
    public static string Together(IReadOnlyList<PlanStep> steps)
    {
        if (steps.Count == 1)
        {
            return steps[0].Title;
        }

        if (IsRow(steps))
        {
            var (verb, ties) = steps.Any(s => s.Act.Kind is ActKind.Open or ActKind.Free)
                ? ("Open", " and free")
                : ("Close", " and lay back");
            var both = steps.Any(s => s.Act.Kind is ActKind.Free or ActKind.Lay) ? ties : "";
            return $"{verb}{both} these {Count(steps.Count)}";
        }

        var titles = steps.Select((s, i) => i == 0 ? s.Title : Sentence.Uncapital(s.Title)).ToList();
        return $"{string.Join(", ", titles[..^1])} and {titles[^1]}";
    }

    /// <summary>What a joint or tie is called.</summary>
    public static string Thing(ServiceMap map, Act act) =>
        act.Kind is ActKind.Free or ActKind.Lay ? map.Tie(act.Tie).Name : map.Joint(act.Joint).Name;

    /// <summary>How each of some acts done in one go is done; what was said for one before is not said again.</summary>
    public static IReadOnlyList<string> HowTogether(IReadOnlyList<PlanStep> steps)
    {
        var said = new HashSet<string>();
        return
        [
            .. steps.Select(step =>
            {
                List<string> sentences = [.. step.How.Split(". ").Select(s => s.EndsWith('.') ? s : $"{s}.")];
                var left = sentences.Where(said.Add).ToList();
                return left.Count == sentences.Count ? step.How : string.Join(" ", left.Prepend("Likewise."));
            }),
        ];
    }

    /// <summary>True for a row of plugs and wires, false for one movement.</summary>
    public static bool IsRow(IReadOnlyList<PlanStep> steps) =>
        steps.Count > 1
        && (
            steps.All(s => s.Act.Kind is ActKind.Open or ActKind.Free)
            || steps.All(s => s.Act.Kind is ActKind.Close or ActKind.Lay)
        );

    /// <summary>Turning over, by the side that then faces up.</summary>
    public static string Turning(Side up) => up == Side.Base ? "Turn the machine base up" : "Turn the machine deck up";

    /// <summary>How the act is done.</summary>
    /// <param name="firmwareFirst">True when something must be put back before the installed system is first started.</param>
    /// <param name="place">How the machine lies during the act.</param>
    public static string How(
        ServiceMap map,
        Act act,
        HousePractice practice,
        bool firmwareFirst = false,
        Lie place = default
    )
    {
        switch (act.Kind)
        {
            case ActKind.Prepare:
                return map.Preparations.First(p => p.Id == act.Target).How ?? "";
            case ActKind.TurnOver:
                return place is { HasLid: true, Up: Side.Base }
                    ? "Lid closed, on the mat, hinge edge away from you."
                    : "On the mat, hinge edge away from you.";
            case ActKind.Undo when map.Vacant.Contains(map.Fastener(act.Fastener).Holds):
                return Sentences(
                    "It may stand in the empty place, lie in the new one's bag, or be missing: count what is there, and have the right one at hand before the machine is closed"
                );
            case ActKind.Undo:
                return Undoing(map, map.Fastener(act.Fastener), practice);
            case ActKind.Fasten:
                return Fastening(map.Fastener(act.Fastener));
            case ActKind.Open when map.IsVacant(map.Joint(act.Joint)):
                return map.Joint(act.Joint).Kind.IsSlot()
                    ? "Nothing is plugged in: contacts clean and straight, latches whole. Something in it after all: stop and say so on the unit's page."
                    : "Its end is whole, not crushed, and reaches the place.";
            case ActKind.Open:
            case ActKind.Isolate:
                var opening = map.Joint(act.Joint);
                return Sentences(opening.Kind.Handling().Opens, Marked(opening), EitherEnd(map, opening), opening.Note);
            case ActKind.Close:
            case ActKind.Reconnect:
                var closing = map.Joint(act.Joint);
                return Sentences(closing.Kind.Handling().Closes, Marked(closing), closing.Note);
            case ActKind.Free:
                var tie = map.Tie(act.Tie);
                return Sentences(
                    tie.Count > 1 ? $"There are {tie.Count} of it" : null,
                    tie.Kind.Handling().Frees,
                    tie.Note
                );
            case ActKind.Lay:
                var laid = map.Tie(act.Tie);
                return Sentences(laid.Kind.Handling().Lays, laid.Note);
            case ActKind.LiftOut when place.IsAside:
                return "It lies aside already: take it away altogether.";
            case ActKind.PutIn when place.IsAside:
                return "Lay it aside again where it lay, close enough for its leads.";
            case ActKind.LiftOut when map.Vacant.Contains(act.Part):
                return "A blank, a cover or tape over the place comes off; there may be none.";
            case ActKind.SetAside:
            case ActKind.LiftOut:
                return Sentences(
                    WayOf(map, act)?.Lift ?? map.Part(act.Part).Lift,
                    act.Kind == ActKind.SetAside && WayOf(map, act)?.Lift is null
                        ? "It stays on its leads: lay it beside its place, none of them under strain"
                        : null
                );
            case ActKind.PutBack:
            case ActKind.PutIn:
                return Sentences(WayOf(map, act)?.Refit ?? map.Part(act.Part).Refit ?? Seating(map, act));
            case ActKind.ReadRemoved:
                return Sentences(
                    $"Printed {map.Part(act.Part).Label?.Where ?? "on its label"}. Type or scan exactly what is printed"
                );
            case ActKind.ReadFitted:
                return "On the part itself, not on its bag. Type or scan exactly what is printed.";
            case ActKind.CleanAndPaste:
                return Sentences(
                    "Wipe both faces with isopropyl alcohol, then no fingers on them",
                    practice.Of(RuleBook.Paste) == PasteSpread.Thin
                        ? "A thin even layer of new paste on each die"
                        : "A small dot of new paste in the middle of each die",
                    map.Part(act.Part).Thermal?.Pads != true ? null
                        : practice.Of(RuleBook.Pads) == HeatsinkPads.Leave ? "Leave the pads undisturbed"
                        : "New pads of the right thickness where the old ones lay"
                );
            case ActKind.BlowClean:
                return "Short bursts, from the blades outwards; the heatsink's edge too.";
            case ActKind.FillDrive:
                return practice.Of(RuleBook.DriveContent) switch
                {
                    DriveContent.Copy =>
                        "Both in the copying dock, the old one as the source: look twice which is which, and that the new one is no smaller. Compare afterwards. If the old one does not read, leave this and restore or install.",
                    DriveContent.Restore =>
                        "From the start stick; look at the day of the backup before anything is overwritten. Ask the user for what is newer.",
                    _ when map.Model.Class == DeviceClass.Chromebook =>
                        "From the workshop's stick. It enrols itself again.",
                    _ =>
                        "From the start stick or the network, to the fleet's own pattern; then its encryption, and the recovery key is kept.",
                };
            case ActKind.PowerTest:
                return Sentences(
                    place.ClosesMore ? "Before anything more is closed" : "Everything is closed",
                    place switch
                    {
                        { HasLid: false } => "The display is not on yet: the power light is what shows",
                        { Up: Side.Base } =>
                            "Stand it on its hinge edge with the lid a hand open, and hold it: face down nothing is seen",
                        _ => "Lid open",
                    },
                    firmwareFirst
                        ? "Charger in, power on straight into the firmware screens: the installed system is not started before what was noted is put back"
                        : "Charger in, power on",
                    place.HasLid ? "The logo shows" : "The light comes on and the fan starts, if there is one",
                    place.ClosesMore ? "Then off again and the charger out" : null
                );
            case ActKind.Check:
                return map.Check(CheckId.Of(act.Target)).How ?? "";
            default:
                throw new ArgumentOutOfRangeException(nameof(act));
        }
    }

    /// <summary>How a machine lies during an act.</summary>
    /// <param name="Up">The side that is up.</param>
    /// <param name="HasLid">Whether its display is on it.</param>
    /// <param name="ClosesMore">Whether something is still to be closed after the act.</param>
    /// <param name="IsAside">Whether the part the act moves lies aside before or after it.</param>
    public readonly record struct Lie(Side Up, bool HasLid, bool ClosesMore, bool IsAside = false);

    /// <summary>How a part goes to its place, from what holds it there and what hangs on it.</summary>
    private static string Seating(ServiceMap map, Act act)
    {
        var part = map.Part(act.Part);
        var joints = map.Joints.Where(j => j.Between.Contains(part.Id)).ToList();
        if (act.Kind == ActKind.PutBack)
        {
            return "Lower it back on the leads it hung on: none beneath it, none under strain.";
        }

        if (joints.Exists(j => j.Kind.IsSlot() && j.Card(map) == part.Id))
        {
            return "Hold it in front of its slot at its angle, notch to key.";
        }

        if (joints.Exists(j => j.Kind == JointKind.SlideContacts))
        {
            return "Lay it in line with its contacts, a finger's breadth away from them.";
        }

        var screws = map.Fasteners.Where(f => f.Holds == part.Id).Sum(f => f.Count);
        var wires = joints.Count > 0 || map.Ties.Any(t => t.Of == part.Id);
        var (it, its) = IsSeveral(part.Name) ? ("them", "their") : ("it", "its");
        return Sentences(
            part.Tool is Tool.PryTool && IsCover(map, part.Id)
                    ? "Hook the far edge in, then press along the edges until every clip is home"
                : screws > 0
                    ? $"Lower {it} flat into place until {(screws == 1 ? $"{its} screw hole lies" : $"{its} {Count(screws)} screw holes lie")} over the thread"
                : $"Press {it} flat into place",
            wires ? $"{Sentence.Capital(its)} leads out to their plugs, none beneath {it}" : null
        );
    }

    private static bool IsCover(ServiceMap map, PartId part) =>
        map.Parts.Any(p => p.BlockedBy.Contains(part))
        || map.Fasteners.Any(f => f.Under.Contains(part))
        || map.Joints.Any(j => j.Under.Contains(part));

    private static string Hooked(string name) =>
        name.EndsWith(" hook", StringComparison.Ordinal) ? name[..^5]
        : name.EndsWith(" hooks", StringComparison.Ordinal) ? name[..^6]
        : name;

    /// <summary>A name with its indefinite article: "a drive", "an M.2 slot", "an I/O board", "a USB board".</summary>
    public static string A(string name)
    {
        // Initials are spelled: M as "em", U as "you".
        var spelled = char.IsUpper(name[0]) && (name.Length == 1 || !char.IsLower(name[1])) && !IsSpokenAsWord(name);
        return spelled && "AEFHILMNORSX".Contains(name[0], StringComparison.Ordinal) ? $"an {name}"
            : !spelled && "aeioAEIO".Contains(name[0], StringComparison.Ordinal) ? $"an {name}"
            : $"a {name}";
    }

    private static bool IsSpokenAsWord(string name) => name.StartsWith("SIM", StringComparison.Ordinal);

    /// <summary>Numbers to twelve as words, larger ones as figures.</summary>
    public static string Count(int n) =>
        n >= 0 && n < Numerals.Length ? Numerals[n] : n.ToString(CultureInfo.InvariantCulture);

    /// <summary>A name with its article; "drive A" goes without.</summary>
    public static string The(string name) =>
        name.Length > 2 && name[^2] == ' ' && char.IsUpper(name[^1]) ? name : $"the {name}";

    private static bool IsSeveral(string name) => name.EndsWith('s') && !name.EndsWith("ss", StringComparison.Ordinal);

    private static readonly string[] Prepositions =
    [
        "under ",
        "beneath ",
        "behind ",
        "beside ",
        "inside ",
        "from ",
        "on ",
        "in ",
        "at ",
    ];

    private static string Screws(FastenerGroup f, string verb) => $"{verb} {ScrewsOf(f)}";

    /// <summary>
    /// The group with its article and count: "the four heatsink screws", "the two screws under the foot strip", "the palm
    /// rest screw under the drive", "the four screws of the speakers".
    /// </summary>
    public static string ScrewsOf(FastenerGroup f)
    {
        var (the, screws) = f.Count == 1 ? ("the", "screw") : ($"the {Count(f.Count)}", "screws");
        // People name a group as they see it: "base screws".
        if (
            f.Name.EndsWith("screws", StringComparison.OrdinalIgnoreCase)
            || f.Name.EndsWith("screw", StringComparison.OrdinalIgnoreCase)
        )
        {
            var kind = f.Name[..f.Name.LastIndexOf("screw", StringComparison.OrdinalIgnoreCase)].TrimEnd();
            return kind.Length == 0 ? $"{the} {screws}" : ScrewsOf(f with { Name = kind });
        }

        if (Array.Exists(Prepositions, p => f.Name.StartsWith(p, StringComparison.Ordinal)))
        {
            return $"{the} {screws} {f.Name}";
        }

        if (f.Name.Split(", ", 2) is [var what, var where])
        {
            return Array.Exists(Prepositions, p => where.StartsWith(p, StringComparison.Ordinal))
                ? $"{the} {what} {screws} {where}"
                : $"{the} {what} {screws}, {where}";
        }

        return IsSeveral(f.Name) || Array.Exists(Prepositions, p => f.Name.Contains($" {p}", StringComparison.Ordinal))
            ? $"{the} {screws} of {The(f.Name)}"
            : $"{the} {f.Name} {screws}";
    }

    private static PartWay? WayOf(ServiceMap map, Act act) =>
        act.Way is { } way ? map.Part(act.Part).Ways.First(w => w.Id == way) : null;

    private static string Undoing(ServiceMap map, FastenerGroup f, HousePractice practice) =>
        Sentences(
            f.Numbered
                ? $"In reverse of the printed order: {string.Join(" ", Enumerable.Range(1, f.Count).Reverse())}, half a turn each, then all the way"
                : null,
            f.Captive
                ? $"Captive: {(f.Count == 1 ? "it stays" : "they stay")} in {The(map.Part(f.Holds).Name)}"
                : f.Screw.Size,
            !f.Recessed ? null
                : f.Count == 1 ? "Its head sits deep, look into the hole"
                : "The heads sit deep, look into every hole",
            f.Tight && practice.Of(RuleBook.TightCrossHead) == TightCrossHead.SlottedOut
                ? $"{(f.Count == 1 ? "It sits" : "They sit")} tight: a slotted driver that fills one slot exactly"
                : null,
            string.Join(
                " ",
                map.Decoys.Where(d =>
                        d.Kind == DecoyKind.Screw && (d.MistakenFor is { } these ? these == f.Id : d.On == f.Holds)
                    )
                    .Select(d => $"{Sentence.Capital(d.Name)}: {d.Why}.")
            ),
            f.Note
        );

    private static string Fastening(FastenerGroup f) =>
        Sentences(
            f.Numbered ? $"In the printed order: {string.Join(" ", Enumerable.Range(1, f.Count))}, in two passes"
                : f.Count > 2 ? "Start every screw loosely, then tighten; not more than snug"
                : null,
            f.Captive || !f.Screw.IsMeasured ? null : $"{f.Screw.Size}, {f.Screw.Finish.ToString().ToLowerInvariant()}",
            f.Note
        );

    private static string? Marked(Joint joint) => joint.Mark is { } mark ? $"Marked {mark}" : null;

    private static string? EitherEnd(ServiceMap map, Joint joint) =>
        map.OtherEnd(joint.Id) is { } other
            ? $"One end is enough, this or {Wording.The(other.Name)}: the lead goes with the end that stays in"
            : null;

    private static string Sentences(params string?[] parts) =>
        string.Join(" ", parts.Where(p => !string.IsNullOrEmpty(p)).Select(p => p!.EndsWith('.') ? p : $"{p}."));
}
