using Zenrik.Core.ServiceMaps;

namespace Zenrik.Web.Drawing;

/// <summary>One moment of a joint being opened, as closed and open paths in a frame of 96 by 54.</summary>
/// <param name="Body">What stays: board, socket.</param>
/// <param name="Moving">What leaves: plug, card, module; null when it is drawn by its lead alone.</param>
/// <param name="Lead">Ribbon or wires, as lines.</param>
/// <param name="Lock">Bar, lever, arm, screw, tape.</param>
/// <param name="Arrow">Where the hand moves.</param>
/// <param name="Opens">What is done here on the way out.</param>
/// <param name="Closes">What is done here on the way back, which goes through the frames in reverse.</param>
public sealed record JointFrame(
    string Body,
    string? Moving,
    string? Lead,
    string? Lock,
    string? Arrow,
    string Opens,
    string Closes
);

/// <summary>How each kind of joint opens and closes, in three moments. Our own drawings of common practice.</summary>
public static class JointSteps
{
    private const string Board = "M4,44H92V49H4Z";

    public static IReadOnlyList<JointFrame> Of(JointKind kind) =>
        kind switch
        {
            JointKind.FlipLockRibbon =>
            [
                new(
                    $"{Board}M36,34H60V44H36Z",
                    null,
                    "M4,39H46",
                    "M44,30H62V34H44Z",
                    "M40,22L44,30",
                    "Find the bar's free edge",
                    "Bar down, flat"
                ),
                new(
                    $"{Board}M36,34H60V44H36Z",
                    null,
                    "M4,39H46",
                    "M58,14H62V34H58Z",
                    "M44,28Q46,14 55,11",
                    "Lift it till it stands",
                    "Fully in, ears behind the posts"
                ),
                new(
                    $"{Board}M36,34H60V44H36Z",
                    null,
                    "M2,39H28",
                    "M58,14H62V34H58Z",
                    "M26,30H8",
                    "Draw straight out",
                    "Ribbon square before the mouth"
                ),
            ],
            JointKind.SlideLockRibbon =>
            [
                new(
                    "M34,12H64V42H34Z",
                    "M4,18H40V36H4Z",
                    null,
                    "M64,9H69V45H64Z",
                    null,
                    "The bar's two ends stick out",
                    "Push home at both ends"
                ),
                new(
                    "M34,12H64V42H34Z",
                    "M4,18H40V36H4Z",
                    null,
                    "M72,9H77V45H72Z",
                    "M66,6H76M66,49H76",
                    "Push both ends outwards",
                    "Fully in, square"
                ),
                new(
                    "M34,12H64V42H34Z",
                    "M0,18H24V36H0Z",
                    null,
                    "M72,9H77V45H72Z",
                    "M28,6H10",
                    "Draw the ribbon out",
                    "Ribbon before the mouth"
                ),
            ],
            JointKind.LeverLockDisplay =>
            [
                new(
                    "M44,6H60V48H44Z",
                    "M30,9H44V45H30Z",
                    "M4,20H30M4,27H30M4,34H30",
                    "M60,6H64V48H60ZM40,22H70V32H40Z",
                    "M72,18Q80,14 84,20",
                    "Fold back the tape",
                    "Tape back over it"
                ),
                new(
                    "M44,6H60V48H44Z",
                    "M30,9H44V45H30Z",
                    "M4,20H30M4,27H30M4,34H30",
                    "M70,6H74V48H70Z",
                    "M62,27H82",
                    "Lever up, both ends",
                    "Right across both ends, lever down"
                ),
                new(
                    "M44,6H60V48H44Z",
                    "M14,9H28V45H14Z",
                    "M2,20H14M2,27H14M2,34H14",
                    "M70,6H74V48H70Z",
                    "M40,27H31",
                    "Slide straight out",
                    "Line up both ends"
                ),
            ],
            JointKind.PullTabPlug =>
            [
                new(
                    $"{Board}M40,38H58V44H40Z",
                    "M38,32H60V38H38Z",
                    "M60,34Q72,30 78,22",
                    null,
                    "M84,46L64,39",
                    "Pry under the plug, not by the tab",
                    "Press flat, listen"
                ),
                new(
                    $"{Board}M40,38H58V44H40Z",
                    "M38,24H60V30H38Z",
                    "M60,26Q72,22 78,14",
                    null,
                    "M30,36V22",
                    "Straight up",
                    "Line it up over the socket"
                ),
                new(
                    $"{Board}M40,38H58V44H40Z",
                    "M38,12H60V18H38Z",
                    "M60,14Q72,10 78,4",
                    null,
                    "M30,28V10",
                    "Off, lay it aside",
                    "Lay it over, not askew"
                ),
            ],
            JointKind.WirePlug =>
            [
                new(
                    "M56,12H72V42H56Z",
                    "M38,16H56V38H38ZM42,12H48V16H42ZM42,38H48V42H42Z",
                    "M4,22H38M4,27H38M4,32H38",
                    null,
                    "M36,6L43,11M36,48L43,43",
                    "Nails or pry tool on both lugs",
                    "Press home on both lugs"
                ),
                new(
                    "M56,12H72V42H56Z",
                    "M30,16H48V38H30ZM34,12H40V16H34ZM34,38H40V42H34Z",
                    "M2,22H30M2,27H30M2,32H30",
                    null,
                    "M48,6H36M48,48H36",
                    "A little each side in turn",
                    "Mark up, straight in"
                ),
                new(
                    "M56,12H72V42H56Z",
                    "M18,16H36V38H18ZM22,12H28V16H22ZM22,38H28V42H22Z",
                    "M2,22H18M2,27H18M2,32H18",
                    null,
                    "M50,27H40",
                    "Out; never by the wires",
                    "No wire under the plug"
                ),
            ],
            JointKind.CoaxSnap =>
            [
                new(
                    $"{Board}M45,38H51V44H45Z",
                    "M39,34H57V41H39Z",
                    "M4,37H39",
                    null,
                    "M66,46L58,41",
                    "Pry beside the lead",
                    "Press till it snaps"
                ),
                new(
                    $"{Board}M45,38H51V44H45Z",
                    "M39,25H57V32H39Z",
                    "M4,34Q30,30 39,28",
                    null,
                    "M68,36V24",
                    "Straight up, no twist",
                    "Exactly square over the post"
                ),
                new(
                    $"{Board}M45,38H51V44H45Z",
                    "M39,12H57V19H39Z",
                    "M4,32Q26,26 39,15",
                    null,
                    "M68,26V10",
                    "Off; mind which lead it is",
                    "If it refuses, lift off, begin again"
                ),
            ],
            JointKind.EdgeSlotMemory =>
            [
                new(
                    $"{Board}M22,36H34V44H22Z",
                    "M30,38H78V41H30Z",
                    null,
                    "M70,33H75V44H70Z",
                    "M77,30H86",
                    "Spread both arms",
                    "Press flat till both arms click"
                ),
                new(
                    $"{Board}M22,36H34V44H22Z",
                    "M30,38L73,16L75,19L32,41Z",
                    null,
                    "M76,33H81V44H76Z",
                    "M80,30Q82,18 78,12",
                    "It stands up by itself",
                    "Fully in, at its angle"
                ),
                new(
                    $"{Board}M22,36H34V44H22Z",
                    "M42,31L85,9L87,12L44,34Z",
                    null,
                    "M76,33H81V44H76Z",
                    "M52,14L66,6",
                    "Draw it out at that angle",
                    "Notch to key"
                ),
            ],
            JointKind.EdgeSlotM2 =>
            [
                new(
                    $"{Board}M16,36H28V44H16Z",
                    "M24,38H80V41H24Z",
                    null,
                    "M76,32H86V37H76Z",
                    "M81,28V14",
                    "Its screw out",
                    "Hold down, screw in"
                ),
                new(
                    $"{Board}M16,36H28V44H16Z",
                    "M24,38L76,18L77,21L26,41Z",
                    null,
                    null,
                    "M82,36Q86,26 80,18",
                    "It stands up",
                    "Press down, flat"
                ),
                new(
                    $"{Board}M16,36H28V44H16Z",
                    "M36,32L88,12L89,15L38,35Z",
                    null,
                    null,
                    "M44,18L58,12",
                    "Draw it out at that angle",
                    "Notch to key, fully in"
                ),
            ],
            JointKind.BarrelPowerPort =>
            [
                new(
                    "M28,14H74V42H28V36H34V20H28Z",
                    "M38,20H68V36H38Z",
                    "M4,26H38M4,30H38",
                    null,
                    "M46,10H60",
                    "Wiggle left and right",
                    "Down into its cradle"
                ),
                new(
                    "M28,14H74V42H28V36H34V20H28Z",
                    "M38,16L68,20L66,36L36,32Z",
                    "M4,24L37,24M4,28L37,28",
                    null,
                    "M46,8H60M60,48H46",
                    "It comes loose",
                    "One end first"
                ),
                new(
                    "M28,18H74V46H28V40H34V24H28Z",
                    "M36,4H66V18H36Z",
                    "M4,10H36M4,14H36",
                    null,
                    "M84,34V12",
                    "Out of its cradle",
                    "Wires in their channel"
                ),
            ],
            JointKind.SocketedProcessor =>
            [
                new(
                    "M22,3H74V51H22Z",
                    "M30,10H62V42H30ZM30,16L36,10H30Z",
                    null,
                    "M64,42H72V50H64ZM65,46H71",
                    "M80,50Q90,44 84,34",
                    "Half a turn, till it stops",
                    "Half a turn back, till it stops"
                ),
                new(
                    "M22,3H74V51H22Z",
                    "M30,10H62V42H30ZM30,16L36,10H30Z",
                    null,
                    "M64,42H72V50H64ZM68,43V49",
                    null,
                    "The slot stands across: it is open",
                    "Lay in, no pressure"
                ),
                new(
                    "M22,3H74V51H22Z",
                    "M34,2H66V34H34ZM34,8L40,2H34Z",
                    null,
                    "M64,42H72V50H64ZM68,43V49",
                    "M12,34V14",
                    "Lift straight up",
                    "Match the corner marks"
                ),
            ],
            JointKind.CoinCellHolder =>
            [
                new(
                    $"{Board}M20,36H24V44H20ZM20,34H30V36H24Z",
                    "M26,37H66V43H26Z",
                    null,
                    "M67,44V33Q67,30 63,31L65,34V44Z",
                    "M60,24H74",
                    "Spring back, with plastic",
                    "Down past the spring"
                ),
                new(
                    $"{Board}M20,36H24V44H20ZM20,34H30V36H24Z",
                    "M26,38L65,26L67,31L28,43Z",
                    null,
                    "M72,44V33Q72,30 68,31L70,34V44Z",
                    "M50,30V14",
                    "Its free edge comes up",
                    "Under the edge first"
                ),
                new(
                    $"{Board}M20,36H24V44H20ZM20,34H30V36H24Z",
                    "M32,22L69,6L72,11L35,27Z",
                    null,
                    "M67,44V33Q67,30 63,31L65,34V44Z",
                    "M48,34V24",
                    "Out; nothing of metal across both faces",
                    "Marked side as it was"
                ),
            ],
            _ =>
            [
                new(
                    "M8,14H26V40H8Z",
                    "M26,12H84V42H26Z",
                    null,
                    null,
                    null,
                    "Contacts meet end to end",
                    "Home: no step to be felt"
                ),
                new(
                    "M8,14H26V40H8Z",
                    "M34,12H92V42H34Z",
                    null,
                    null,
                    "M44,6H62",
                    "Slide straight apart",
                    "Slide straight together"
                ),
                new(
                    "M4,14H22V40H4Z",
                    "M44,12H94V42H44Z",
                    null,
                    null,
                    "M26,6H42",
                    "Off; do not tilt",
                    "Lay both in one line"
                ),
            ],
        };
}
