using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.BenchLedger;

/// <summary>The ledger's state as a drawing shows it.</summary>
public static class LedgerView
{
    /// <summary>The machine as it lies on the bench now.</summary>
    /// <param name="model">The model's whole map; parts this unit lacks are drawn as absent.</param>
    public static MachineView Drawing(this Ledger ledger, ServiceMap model)
    {
        var plan = ledger.Brief.Plan;
        var back = plan
            .Steps.Take(ledger.DoneSteps)
            .Where(s =>
                s.Act.Kind
                    is ActKind.PutIn
                        or ActKind.PutBack
                        or ActKind.Close
                        or ActKind.Fasten
                        or ActKind.Lay
                        or ActKind.Reconnect
            )
            .Select(s => s.Act.Target)
            .ToHashSet();
        return MachineView.Of(
            model,
            plan.Map,
            new MachineMoment
            {
                PartsOut = ledger.PartsOut,
                PartsAside = ledger.PartsAside,
                ScrewsOut = ledger.Screws.Select(s => s.Group.Id).ToHashSet(),
                JointsOpen = ledger.JointsOpen.ToHashSet(),
                TiesFree = ledger.TiesFree.ToHashSet(),
                Back = back,
                Next = ledger.Current is { Act.Kind: not (ActKind.Prepare or ActKind.Check) } step
                    ? step.Act.Target
                    : null,
                Trouble = ledger.MixUps.SelectMany(m => new[] { m.Longer.Id, m.Shorter.Id }).ToHashSet(),
            }
        );
    }
}
