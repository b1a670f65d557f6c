namespace Zenrik.Core.Teardown;

/// <summary>What of a machine stands against an act. Said together with the id of the thing that does.</summary>
public enum Against
{
    /// <summary>The map has no such thing, or it never comes off.</summary>
    NoSuchThing,

    /// <summary>It is so already.</summary>
    DoneAlready,

    /// <summary>A preparation was left out.</summary>
    NotPrepared,

    /// <summary>It has been switched on since.</summary>
    Running,

    /// <summary>The isolation joint is closed: what is touched may be under power.</summary>
    UnderPower,

    /// <summary>Screws still hold it.</summary>
    Screws,

    /// <summary>A joint is still closed.</summary>
    Joint,

    /// <summary>Tape, a hook, glue or a latch still holds it.</summary>
    Tie,

    /// <summary>A part is in the way of what moves.</summary>
    InTheWay,

    /// <summary>A part hides it.</summary>
    Hidden,

    /// <summary>It is reached from the other side.</summary>
    OtherSide,

    /// <summary>It was only ever seen to come after something else.</summary>
    SeenToWait,

    /// <summary>A part is not in its place.</summary>
    NotInPlace,

    /// <summary>What belongs beneath, or goes home first, is not back yet.</summary>
    NotBackYet,

    /// <summary>The new paste is missing.</summary>
    NoPaste,

    /// <summary>Power would reach a joint that is open, or close one.</summary>
    OpenUnderPower,
}

/// <summary>Why a machine does not allow an act.</summary>
/// <param name="Kind">What stands against it.</param>
/// <param name="Thing">The id, within the map, of what does: a preparation, part, screw group, joint or tie; null: the act's own target.</param>
/// <param name="Sentence">The same as a technician would say it.</param>
public sealed record Objection(Against Kind, string? Thing, string Sentence);
