using System.Globalization;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>Notes that whoever works on a repair has a consumable of their own, so that the stores need not have it.</summary>
public sealed class BringOwn(WorkshopDb db, TimeProvider clock)
{
    public const int MaxNote = 120;

    /// <returns>What was noted, as a sentence. Saying it again puts the note right.</returns>
    public async Task<Outcome<string>> Run(
        long repairNumber,
        string? kind,
        string? note,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!Enum.TryParse<Consumable>(kind, out var consumable) || !Enum.IsDefined(consumable))
        {
            return new Refusal(RefusalReason.NotFound, "There is no such consumable.");
        }

        var said = note?.Trim() ?? "";
        if (said.Length is < 3 or > MaxNote || said.Any(char.IsControl))
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"Say in 3 to {MaxNote} characters which it is: a tube of my own, opened in May."
            );
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (repair.State is not (RepairState.Open or RepairState.OnBench))
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} needs none any more.");
            }

            repair.OwnConsumables[consumable.ToString()] =
                $"{said} ({by.Name}, {clock.GetLocalNow().ToString("d MMM yyyy", CultureInfo.InvariantCulture)})";
            return $"{repair.Code} goes ahead with {consumable.Name()} of your own.";
        }
    }
}
