namespace Zenrik.Core.ServiceMaps;

/// <summary>How a joint is made, and so how it opens and closes.</summary>
public enum JointKind
{
    FlipLockRibbon,
    SlideLockRibbon,
    LeverLockDisplay,
    PullTabPlug,
    WirePlug,
    CoaxSnap,
    EdgeSlotMemory,
    EdgeSlotM2,
    BarrelPowerPort,
    SocketedProcessor,
    SlideContacts,

    /// <summary>A coin cell in a holder on the board.</summary>
    CoinCellHolder,
}

/// <summary>The handling of one kind of joint. Common practice, no published source.</summary>
/// <param name="Name">What a technician calls it.</param>
/// <param name="Opens">How it opens, in the imperative.</param>
/// <param name="Closes">How it closes, in the imperative.</param>
/// <param name="GoesWrong">What usually goes wrong.</param>
/// <param name="Tool">What opens it.</param>
/// <param name="OpenSeconds">Standard time to open it.</param>
/// <param name="CloseSeconds">Standard time to close it.</param>
public sealed record JointHandling(
    string Name,
    string Opens,
    string Closes,
    string GoesWrong,
    Tool Tool,
    double OpenSeconds,
    double CloseSeconds
);

public static class JointKinds
{
    /// <summary>True when one of the two parts is a card that stands in the joint itself.</summary>
    public static bool IsSlot(this JointKind kind) => kind is JointKind.EdgeSlotMemory or JointKind.EdgeSlotM2;

    /// <summary>The card of a slot joint: the end that rides on the other.</summary>
    public static PartId Card(this Joint slot, ServiceMap map) =>
        map.Part(slot.Socket).MountedOn == slot.Plug ? slot.Socket : slot.Plug;

    /// <summary>How a joint of this kind is handled.</summary>
    public static JointHandling Handling(this JointKind kind) =>
        kind switch
        {
            JointKind.FlipLockRibbon => new(
                "flip-lock ribbon",
                "Lift the bar's free edge with a thin plastic tool until it stands, then draw the ribbon straight out.",
                "Ribbon square and fully in, its ears behind the posts, then the bar down.",
                "The bar snaps: there is no spare and the ribbon never holds again. Close an empty bar so it does not catch.",
                Tool.PryTool,
                15,
                20
            ),
            JointKind.SlideLockRibbon => new(
                "slide-lock ribbon",
                "Push the bar outwards at both ends, then draw the ribbon out.",
                "Ribbon square and fully in, then push the bar home at both ends.",
                "One end of the bar is left open.",
                Tool.Tweezers,
                15,
                20
            ),
            JointKind.LeverLockDisplay => new(
                "lever-lock display joint",
                "Fold back the tape, lift the lever, slide the plug straight out.",
                "Seat it right across both ends, lever down, tape back.",
                "Half seated at one end: the picture shows artefacts.",
                Tool.PryTool,
                20,
                30
            ),
            JointKind.PullTabPlug => new(
                "pull-tab plug",
                "Pry under the plug and lift it straight up; the tab only guides it.",
                "Press flat.",
                "The tab comes unstuck or tears off.",
                Tool.PryTool,
                10,
                10
            ),
            JointKind.WirePlug => new(
                "wire plug",
                "Both lugs with nails or a pry tool, straight out. Do not pull the wires.",
                "Mark up, press home on both lugs.",
                "Wires come out of the shell.",
                Tool.PryTool,
                12,
                12
            ),
            JointKind.CoaxSnap => new(
                "coax snap",
                "Pry straight up beside the lead, no twist.",
                "Exactly square over the post, press till it snaps. If it refuses, lift off and start again.",
                "The centre pin bends when pressed askew.",
                Tool.PryTool,
                10,
                35
            ),
            JointKind.EdgeSlotMemory => new(
                "memory slot",
                "Spread both arms; the module pops up. Draw it out at its angle.",
                "Notch to key, in at an angle, press flat until both arms click.",
                "Not fully in: the machine does not start.",
                Tool.Fingers,
                10,
                15
            ),
            JointKind.EdgeSlotM2 => new(
                "M.2 slot",
                "It stands up by itself once its screw is out; draw it out at that angle.",
                "Notch to key, in at an angle, press down and hold for the screw.",
                "Mounted flat and not home, or its screw dropped.",
                Tool.Fingers,
                8,
                12
            ),
            JointKind.BarrelPowerPort => new(
                "barrel power port",
                "Wiggle left and right, out of its cradle.",
                "Seat it in the cradle.",
                "Not seated: the charger's plug pushes it in.",
                Tool.Fingers,
                12,
                12
            ),
            JointKind.SocketedProcessor => new(
                "processor socket",
                "Half a turn of the slotted lock until it stops, then lift straight up.",
                "Match the corner marks, lay in, half a turn back.",
                "Sticks midway and is taken for locked.",
                Tool.SlottedDriver,
                25,
                30
            ),
            JointKind.SlideContacts => new(
                "sliding contacts",
                "Slide straight apart along its length.",
                "Slide straight together until it stops; no step to be felt.",
                "Tilted while sliding: blades bend.",
                Tool.Fingers,
                6,
                8
            ),
            JointKind.CoinCellHolder => new(
                "coin-cell holder",
                "Press the spring back with a plastic tool and tilt the cell out; nothing of metal across both faces.",
                "Marked side as it was, under the edge, then down past the spring.",
                "The spring bends, or the cell goes in the wrong way up.",
                Tool.PryTool,
                10,
                10
            ),
            _ => throw new ArgumentOutOfRangeException(nameof(kind)),
        };
}
