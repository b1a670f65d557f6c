using System.Linq.Expressions;
using Zenrik.Core.Fleet;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>One laptop or Chromebook.</summary>
public sealed class Unit
{
    /// <summary>The generated column that is searched as one types.</summary>
    internal const string SearchText = "SearchText";

    /// <summary>Units that serve somebody, as a query: <see cref="UnitLife.Serves"/>.</summary>
    public static readonly Expression<Func<Unit, bool>> Serving = u =>
        u.State != UnitState.Donor && u.State != UnitState.Retired && u.State != UnitState.Lost;

    public required UnitId Id { get; init; }

    /// <summary>Asset tag: "SK-00417".</summary>
    public required string Tag { get; set; }

    public required string Serial { get; set; }

    /// <summary>Changed only where the same machine was entered as two models.</summary>
    public required string ModelCode { get; set; }

    public Model Model { get; init; } = null!;

    public required string Site { get; set; }

    /// <summary>Who uses it, as they are known; null for a shared machine.</summary>
    public string? UserName { get; set; }

    public required DateOnly BoughtOn { get; set; }

    /// <summary>Changed only by a <see cref="UnitSteps.Step"/>, which leaves its line in the timeline.</summary>
    public UnitState State { get; set; }

    /// <summary>True when it is lent out while others' machines are repaired.</summary>
    public bool InLoanPool { get; set; }

    /// <summary>The last day of the maker's warranty; null when not known.</summary>
    public DateOnly? WarrantyUntil { get; set; }

    public List<CampaignMark> Campaigns { get; init; } = [];

    /// <summary>What is said of it and may be put right.</summary>
    internal UnitFacts Facts => new(Serial, Site, UserName, BoughtOn, WarrantyUntil, InLoanPool);

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

    public Technician By { get; init; } = null!;
}
