using Zenrik.Core.Stock;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Fleet;

/// <summary>Whether a unit is in use.</summary>
public enum UnitState
{
    InUse,

    /// <summary>Out of use, kept for its parts.</summary>
    Donor,

    /// <summary>Out of use and out of the house, or about to be.</summary>
    Retired,
}

/// <summary>One laptop or Chromebook.</summary>
public sealed class Unit
{
    public required UnitId Id { get; init; }

    /// <summary>Asset tag: "SK-00417".</summary>
    public required string Tag { get; set; }

    public required string Serial { get; set; }

    public required string ModelCode { get; init; }

    public Model Model { get; init; } = null!;

    public required string Site { get; set; }

    /// <summary>Who uses it, as they are known; null for a shared machine.</summary>
    public string? UserName { get; set; }

    public required DateOnly BoughtOn { get; init; }

    public UnitState State { get; set; }

    /// <summary>What was seen of it, by trait; see <see cref="Core.Fit.ByEye"/>.</summary>
    public List<UnitLook> Looks { get; init; } = [];
}

/// <summary>A variant somebody has looked at once: "enter-key" is "tall".</summary>
public sealed class UnitLook
{
    public required UnitId UnitId { get; init; }

    public required string Trait { get; init; }

    public required string Look { get; set; }

    public required DateTimeOffset At { get; set; }

    public required Guid ById { get; set; }

    public People.Technician By { get; init; } = null!;
}
