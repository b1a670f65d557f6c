namespace Zenrik.Workshop.Tests;

/// <summary>The system's clock, put forward as a test wishes.</summary>
internal sealed class ShiftedClock : TimeProvider
{
    public TimeSpan Ahead { get; set; }

    public override DateTimeOffset GetUtcNow() => base.GetUtcNow() + Ahead;
}
