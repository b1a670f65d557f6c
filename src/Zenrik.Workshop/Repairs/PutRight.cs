using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.Repairs;

/// <summary>Says that a stop-gap is no longer one.</summary>
public sealed class PutRight(WorkshopDb db, TimeProvider clock)
{
    /// <returns>What was put right. Saying it twice changes nothing the second time.</returns>
    public async Task<Outcome<string>> Run(Guid id, string? how, Actor by, CancellationToken stop = default)
    {
        var said = how?.Trim() ?? "";
        if (said.Length is < 3 or > 200)
        {
            return new Refusal(RefusalReason.Invalid, "Say in 3 to 200 characters how it was put right.");
        }

        return await db.Write(by, $"follow-up {id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.FollowUps.Include(f => f.Unit).SingleOrDefaultAsync(f => f.Id == id, stop) is not { } open)
            {
                return new Refusal(RefusalReason.NotFound, "There is no such follow-up.");
            }

            // Two at once: the second finds it put right.
            await db.Entry(open).ReloadAsync(stop);
            if (open.PutRightAt is null)
            {
                (open.PutRightAt, open.PutRightById, open.PutRight) = (clock.GetUtcNow(), by.Id, said);
            }

            return $"{open.Unit.Tag}: {open.What} is put right.";
        }
    }
}
