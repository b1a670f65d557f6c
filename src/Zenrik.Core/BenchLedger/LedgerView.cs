using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>The ledger's state as a drawing shows it.</summary>
public static class LedgerView
{
    /// <summary>The machine as it lies on the bench now.</summary>
    /// <param name="model">The model's whole map; parts this unit lacks are drawn as absent.</param>
    public static MachineView Drawing(this Ledger ledger, ServiceMap model) =>
        MachineView.Of(
            model,
            ledger.Plan.Map,
            PlanMoment.After(ledger.Plan, ledger.DoneSteps, ledger.Together.Count) with
            {
                Trouble = ledger.MixUps.SelectMany(m => new[] { m.Longer.Id, m.Shorter.Id }).ToHashSet(),
            }
        );
}
