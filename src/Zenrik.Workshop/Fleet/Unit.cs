using Zenrik.Core.Stock;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Fleet;

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
}
