using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core;
using Zenrik.Core.Economics;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Economics;

/// <summary>How one piece of storage was erased.</summary>
/// <param name="Answers">False when the storage does not answer any more.</param>
/// <param name="Reused">False when nobody is to use it again.</param>
/// <param name="Absent">True when somebody has looked and nothing is in the slot.</param>
public sealed record Erased(
    string Slot,
    DataHeld Held,
    ErasureMethod Method,
    bool Answers,
    bool Reused = true,
    bool Absent = false
);

internal static class Erasing
{
    /// <summary>The records of a unit's storage, each erased by a method that is enough for what it held; else what is lacking.</summary>
    /// <param name="reachable">As in <see cref="Erasure.Advise"/>.</param>
    public static Outcome<IReadOnlyList<ErasureRecord>> Of(
        Passport passport,
        IReadOnlyList<Erased> erased,
        bool leavesHouse,
        Occasion occasion,
        bool reachable = true
    )
    {
        var records = new List<ErasureRecord>();
        foreach (var storage in DecideFor.StorageOf(passport))
        {
            if (erased.FirstOrDefault(e => e.Slot == storage.Slot) is not { } how)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"Say how the {storage.Name} was erased and what it held; without that the unit is not retired."
                );
            }

            if (how.Absent)
            {
                if (storage.ItemCode is not null)
                {
                    return new Refusal(
                        RefusalReason.Conflict,
                        $"The book has {storage.ItemCode} in the {storage.Name} slot. Put the passport right first, if it is not there."
                    );
                }

                continue;
            }

            var advice = Erasure.Advise(storage.Kind, how.Held, leavesHouse, how.Answers, how.Reused, reachable);
            if (!Erasure.Suffices(how.Method, advice))
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{how.Method} is not enough for the {storage.Name}: {advice.Reason} At least {advice.Least}."
                );
            }

            records.Add(
                new ErasureRecord
                {
                    Id = Guid.CreateVersion7(),
                    UnitId = passport.Unit.Id,
                    RepairId = occasion.Repair,
                    Slot = storage.Slot,
                    ItemCode = storage.ItemCode,
                    Kind = storage.Kind,
                    Held = how.Held,
                    Method = how.Method,
                    At = occasion.At,
                    ById = occasion.By.Id,
                }
            );
        }

        return records;
    }
}
