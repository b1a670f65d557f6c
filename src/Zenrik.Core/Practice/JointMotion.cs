using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Practice;

/// <summary>Where a hand moves, in the drawing of a joint; towards whoever looks is up.</summary>
public enum Direction
{
    Up,
    Down,
    Left,
    Right,
}

/// <summary>One movement by which a joint opens.</summary>
/// <param name="Ways">The directions that do it.</param>
/// <param name="Moment">Which of the joint's three moments is reached by it, from 0.</param>
public sealed record Stroke(IReadOnlyList<Direction> Ways, int Moment);

/// <summary>How each kind of joint is opened by hand, as drawn with its lead to the left. Common practice, no published source.</summary>
public static class JointMotion
{
    /// <summary>The movements of a joint's opening, in order: a lock before what it holds.</summary>
    public static IReadOnlyList<Stroke> Of(JointKind kind) =>
        kind switch
        {
            JointKind.FlipLockRibbon => [To(1, Direction.Up), To(2, Direction.Left)],
            JointKind.SlideLockRibbon => [To(1, Direction.Right), To(2, Direction.Left)],
            JointKind.LeverLockDisplay => [To(1, Direction.Right, Direction.Up), To(2, Direction.Left)],
            JointKind.PullTabPlug or JointKind.CoaxSnap => [To(2, Direction.Up)],
            JointKind.WirePlug => [To(2, Direction.Left)],
            JointKind.EdgeSlotMemory => [To(1, Direction.Right), To(2, Direction.Right, Direction.Up)],
            JointKind.EdgeSlotM2 => [To(1, Direction.Up), To(2, Direction.Right, Direction.Up)],
            JointKind.BarrelPowerPort => [To(1, Direction.Left, Direction.Right), To(2, Direction.Up)],
            JointKind.SocketedProcessor => [To(1, Direction.Left, Direction.Right), To(2, Direction.Up)],
            JointKind.SlideContacts => [To(2, Direction.Right)],
            JointKind.CoinCellHolder => [To(1, Direction.Right), To(2, Direction.Up)],
            _ => throw new ArgumentOutOfRangeException(nameof(kind)),
        };

    /// <summary>The same direction in a drawing turned left to right.</summary>
    public static Direction Mirrored(this Direction direction) =>
        direction switch
        {
            Direction.Left => Direction.Right,
            Direction.Right => Direction.Left,
            _ => direction,
        };

    private static Stroke To(int moment, params Direction[] ways) => new(ways, moment);
}
