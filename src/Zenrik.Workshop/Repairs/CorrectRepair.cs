using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Repairs;

/// <summary>Puts right what was said of a repair at intake: when it is promised for, how urgent it is, who is to do it.</summary>
public sealed class CorrectRepair(WorkshopDb db, KeepPeople people, TimeProvider clock)
{
    /// <summary>Promises further ahead are slips of the keyboard.</summary>
    private const int FarthestDays = 366;

    /// <param name="promised">Null: promised for no day.</param>
    /// <param name="assignedTo">Who is to do it; null: whoever takes it.</param>
    public Task<Outcome<string>> Run(
        Guid request,
        long repairNumber,
        Priority priority,
        DateOnly? promised,
        Guid? assignedTo,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, Repair.CodeOf(repairNumber), now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            if (!repair.IsUnderway)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{repair.Code} has ended; add a correction to its record instead."
                );
            }

            if (!Enum.IsDefined(priority))
            {
                return new Refusal(RefusalReason.Invalid, "Choose how urgent it is.");
            }

            var today = clock.Today();
            if (promised != repair.PromisedOn && (promised < today || promised > today.AddDays(FarthestDays)))
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    "It is promised for today or a day within a year, or for none."
                );
            }

            var who = (await people.AtBench(stop)).FirstOrDefault(p => p.Id == assignedTo);
            if (assignedTo is not null && who is null && assignedTo != repair.AssignedToId)
            {
                return new Refusal(RefusalReason.Invalid, "Choose somebody who works at the bench.");
            }

            (repair.Priority, repair.PromisedOn, repair.AssignedToId) = (priority, promised, assignedTo);
            return string.Concat(
                promised is { } day
                    ? $"{repair.Code} is promised for {day.ToString("ddd d MMM", CultureInfo.InvariantCulture)}"
                    : $"{repair.Code} is promised for no day",
                priority == Priority.High ? ", high priority" : "",
                who is null ? "" : $", {who.Name} is to do it",
                "."
            );
        }
    }
}
