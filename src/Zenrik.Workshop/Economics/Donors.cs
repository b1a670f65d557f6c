using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Triage;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Economics;

/// <summary>The repair in which a donor was given up.</summary>
/// <param name="Code">Of the repair.</param>
/// <param name="Slots">
/// Of what was to be exchanged in it, and of what triage ended with or, still open, held for likely: what is in them is why it was
/// given up, as far as is known.
/// </param>
/// <param name="WithoutPower">True when the machine must not get power: liquid went in, and nobody has cleaned and dried it.</param>
public sealed record GivenUp(string Code, IReadOnlySet<string> Slots, bool WithoutPower);

/// <summary>What strips, harvests and the end of a donor ask of it.</summary>
internal static class Donors
{
    /// <summary>What may have failed with this chance is not counted on. Common practice, no published source.</summary>
    private const double Likely = 0.1;

    /// <summary>A unit that may be stripped, held until the write ends.</summary>
    public static async Task<Outcome<Unit>> LockDonor(this WorkshopDb db, string tag, CancellationToken stop) =>
        await db.LockUnit(tag, stop) is not { } unit ? UnitTag.Unknown(tag)
        : unit.State != UnitState.Donor
            ? new Refusal(
                RefusalReason.Conflict,
                $"{unit.Tag} is {UnitLife.Name(unit.State)}, not a donor. Parts come out of it by a repair."
            )
        : unit;

    /// <summary>By donor the repair in which it was given up, the last where there are several; a donor from elsewhere has none.</summary>
    public static async Task<IReadOnlyDictionary<UnitId, GivenUp>> GivenUp(
        this WorkshopDb db,
        ServiceMapShelf maps,
        IReadOnlyCollection<UnitId> donors,
        CancellationToken stop
    )
    {
        var last = (
            await db
                .Repairs.AsNoTracking()
                .Include(r => r.Unit.Model)
                .Include(r => r.Lines)
                .Where(r => donors.Contains(r.UnitId) && r.End == RepairEnd.Retired)
                .ToListAsync(stop)
        )
            .GroupBy(r => r.UnitId)
            .Select(g => g.MaxBy(r => r.ClosedAt)!)
            .ToList();
        var steps = (await db.StepsOf(last.ConvertAll(r => r.Id)).AsNoTracking().ToListAsync(stop)).ToLookup(s =>
            s.RepairId
        );
        var givenUp = new Dictionary<UnitId, GivenUp>();
        foreach (var repair in last)
        {
            givenUp[repair.UnitId] = new GivenUp(
                repair.Code,
                repair.Lines.Select(l => l.Slot).Concat(await Suspected(repair)).ToHashSet(),
                ShippedTriage.IsWithoutPower(repair, steps[repair.Id])
            );
        }

        return givenUp;

        // Given up straight from triage, it has no line: what was to be exchanged is what the fault found is one of.
        async Task<IEnumerable<string>> Suspected(Repair repair)
        {
            if (await maps.Newest(repair.Unit.ModelCode, stop) is not { } map)
            {
                return [];
            }

            var knowledge = ShippedTriage.Knowledge;
            var carriers = knowledge.ComponentsOf(map);
            var faults = repair.FaultId is { } found ? [knowledge.Fault(found)] : Open(repair, map, carriers);
            var parts = faults
                .Select(f => f?.Component)
                .OfType<string>()
                .SelectMany(c => knowledge.Component(carriers.GetValueOrDefault(c) ?? c)?.Parts ?? [])
                .ToHashSet();
            return map.Parts.Where(p => parts.Contains(p.Id.Value)).Select(p => p.Slot).OfType<string>();
        }

        // Given up before triage came to an end: what is likely after what was asked and tried.
        IEnumerable<Fault?> Open(Repair repair, ServiceMap map, IReadOnlyDictionary<string, string?> carriers) =>
            repair.Symptoms.Count > 0
            && TriageNetwork
                .Of(
                    ShippedTriage.Knowledge,
                    new TriageCase
                    {
                        Class = repair.Unit.Model.Class,
                        Components = carriers,
                        Features = MachineFeatures.Of(map),
                        MadeSafe = true,
                        Symptoms = repair.Symptoms,
                        Circumstances = repair.Circumstances,
                    }
                )
                .Try(out var network, out _)
            && TriageAdvisor.Next(network, [.. steps[repair.Id].Select(s => s.Step)]).Try(out var advice, out _)
                ? advice.Faults.Where(f => f.Chance >= Likely).Select(f => f.Fault)
                : [];
    }
}
