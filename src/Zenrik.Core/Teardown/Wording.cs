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
            case ActKind.Open:
                return $"Open {The(map.Joint(act.Joint).Name)}";
            case ActKind.Close:
                return $"Close {The(map.Joint(act.Joint).Name)}";
            case ActKind.Free:
                return $"{(map.Tie(act.Tie).Kind == TieKind.Latch ? "Slide open" : "Free")} {The(map.Tie(act.Tie).Name)}";
            case ActKind.Lay:
                return $"{(map.Tie(act.Tie).Kind == TieKind.Latch ? "Slide home" : "Lay back")} {The(map.Tie(act.Tie).Name)}";
            case ActKind.SetAside:
                return $"Set aside {The(map.Part(act.Part).Name)}, {WayOf(map, act)!.Name}";
            case ActKind.PutBack:
                return $"Put back {The(map.Part(act.Part).Name)}";
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

    /// <summary>Turning over, by the side that then faces up.</summary>
    public static string Turning(Side up) => up == Side.Base ? "Turn the machine base up" : "Turn the machine deck up";

    /// <summary>How the act is done.</summary>
    /// <param name="firmwareFirst">True when something must be put back before the installed system is first started.</param>
    public static string How(ServiceMap map, Act act, HousePractice practice, bool firmwareFirst = false)
    {
        switch (act.Kind)
        {
            case ActKind.Prepare:
                return map.Preparations.First(p => p.Id == act.Target).How ?? "";
            case ActKind.TurnOver:
                return "Lid closed, on the mat, hinge edge away from you.";
            case ActKind.Undo:
                return Undoing(map, map.Fastener(act.Fastener), practice);
            case ActKind.Fasten:
                return Fastening(map.Fastener(act.Fastener));
            case ActKind.Open:
            case ActKind.Isolate:
                var opening = map.Joint(act.Joint);
                return Sentences(opening.Kind.Handling().Opens, Marked(opening), opening.Note);
            case ActKind.Close:
            case ActKind.Reconnect:
                var closing = map.Joint(act.Joint);
                return Sentences(closing.Kind.Handling().Closes, Marked(closing), closing.Note);
            case ActKind.Free:
                var tie = map.Tie(act.Tie);
                return Sentences(
                    tie.Kind switch
                    {
                        TieKind.Tape => "Peel the tape back and keep it clean: it goes on again.",
                        TieKind.Hook => "Unhook the cable.",
                        TieKind.Latch => "Slide the latch open and hold it.",
                        _ => "Lift the cable out of its channel.",
                    },
                    tie.Note
                );
            case ActKind.Lay:
                var laid = map.Tie(act.Tie);
                return Sentences(
                    laid.Kind switch
                    {
                        TieKind.Tape => "Press the tape down over the cable where it was.",
                        TieKind.Hook => "Hook the cable in.",
                        TieKind.Latch => "Slide the latch home until it clicks.",
                        _ => "Press the cable into its channel, nowhere above the edge.",
                    },
                    laid.Note
                );
            case ActKind.SetAside:
            case ActKind.LiftOut:
                return Sentences(WayOf(map, act)?.Lift ?? map.Part(act.Part).Lift);
            case ActKind.PutBack:
            case ActKind.PutIn:
                return Sentences(
                    WayOf(map, act)?.Refit ?? map.Part(act.Part).Refit ?? "The reverse of how it came out."
                );
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
            case ActKind.PowerTest when firmwareFirst:
                return "Charger in, power on straight into the firmware screens: the installed system is not started before what was noted is put back. "
                    + (
                        practice.Of(RuleBook.PowerTest) == PowerTest.BeforeCover
                            ? "The logo shows; then off again and the charger out."
                            : "The logo shows."
                    );
            case ActKind.PowerTest:
                return practice.Of(RuleBook.PowerTest) == PowerTest.BeforeCover
                    ? "Before anything more is closed: charger in, power on, the logo shows. Then off again and the charger out."
                    : "Charger in, power on: the logo shows.";
            case ActKind.Check:
                return map.Check(CheckId.Of(act.Target)).How ?? "";
            default:
                throw new ArgumentOutOfRangeException(nameof(act));
        }
    }

    /// <summary>Numbers to twelve as words, larger ones as figures.</summary>
    public static string Count(int n) =>
        n >= 0 && n < Numerals.Length ? Numerals[n] : n.ToString(CultureInfo.InvariantCulture);

    /// <summary>A name with its article; "drive A" goes without.</summary>
    public static string The(string name) =>
        name.Length > 2 && name[^2] == ' ' && char.IsUpper(name[^1]) ? name : $"the {name}";

    private static string Screws(FastenerGroup f, string verb) =>
        f.Count == 1 ? $"{verb} the {f.Name} screw" : $"{verb} the {Count(f.Count)} {f.Name} screws";

    private static PartWay? WayOf(ServiceMap map, Act act) =>
        act.Way is { } way ? map.Part(act.Part).Ways.First(w => w.Id == way) : null;

    private static string Undoing(ServiceMap map, FastenerGroup f, HousePractice practice) =>
        Sentences(
            f.Numbered
                ? $"In reverse of the printed order: {string.Join(" ", Enumerable.Range(1, f.Count).Reverse())}, half a turn each, then all the way"
                : null,
            f.Captive ? $"Captive: they stay in {The(map.Part(f.Holds).Name)}" : f.Screw.Size,
            f.Recessed ? "The heads sit deep, look into every hole" : null,
            f.Tight && practice.Of(RuleBook.TightCrossHead) == TightCrossHead.SlottedOut
                ? "They sit tight: a slotted driver that fills one slot exactly"
                : null,
            string.Join(
                " ",
                map.Decoys.Where(d => d.Kind == DecoyKind.Screw && d.On == f.Holds)
                    .Select(d => $"{Upper(d.Name)}: {d.Why}.")
            ),
            f.Note
        );

    private static string Upper(string name) => char.ToUpperInvariant(name[0]) + name[1..];

    private static string Fastening(FastenerGroup f) =>
        Sentences(
            f.Numbered ? $"In the printed order: {string.Join(" ", Enumerable.Range(1, f.Count))}, in two passes"
                : f.Count > 2 ? "Start every screw loosely, then tighten; not more than snug"
                : null,
            f.Captive ? null : $"{f.Screw.Size}, {f.Screw.Finish.ToString().ToLowerInvariant()}",
            f.Note
        );

    private static string? Marked(Joint joint) => joint.Mark is { } mark ? $"Marked {mark}" : null;

    private static string Sentences(params string?[] parts) =>
        string.Join(" ", parts.Where(p => !string.IsNullOrEmpty(p)).Select(p => p!.EndsWith('.') ? p : $"{p}."));
}
