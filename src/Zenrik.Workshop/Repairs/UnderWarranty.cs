using Zenrik.Core.Economics;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Repairs;

/// <summary>A maker's warranty that runs, and what the house does with it.</summary>
/// <param name="Until">Its last day.</param>
public sealed record RunningWarranty(DateOnly Until, WarrantyRepairs Rule);

/// <summary>Tells where the maker may have to mend a unit.</summary>
public sealed class UnderWarranty(HouseRulesOf rules, TimeProvider clock)
{
    /// <returns>Null where no warranty runs.</returns>
    public Task<RunningWarranty?> Of(Unit unit, CancellationToken stop = default) =>
        Running(unit.WarrantyUntil is { } until && until >= clock.Today() ? until : null, stop);

    /// <param name="repair">With its unit and lines.</param>
    /// <returns>Null where no warranty runs, where it would not cover what is wrong, or where the machine has been opened.</returns>
    public Task<RunningWarranty?> Of(Repair repair, CancellationToken stop = default) =>
        Running(MayCover(repair) ? repair.Unit.WarrantyUntil : null, stop);

    /// <remarks>What was dangerous once is not sent about.</remarks>
    internal bool MayCover(Repair repair) =>
        repair.State == RepairState.Open
        && !repair.Symptoms.Exists(s => ShippedTriage.Knowledge.Symptom(s)?.Stop is not null)
        && MakersWarranty.MayCover(
            repair.Unit.WarrantyUntil,
            clock.DayOf(repair.OpenedAt),
            repair.Purpose,
            repair.Symptoms,
            repair.Circumstances,
            [.. repair.Lines.Select(l => l.Fault)]
        );

    private async Task<RunningWarranty?> Running(DateOnly? until, CancellationToken stop) =>
        until is { } day ? new RunningWarranty(day, (await rules.Run(stop)).Of(RuleBook.WarrantyRepairs)) : null;
}
