using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Workshop.Economics;

/// <summary>Writes down which way out was taken and with which figures; sending away closes the repair.</summary>
public sealed class RecordDecision(WorkshopDb db, DecideFor decide, TimeProvider clock)
{
    public async Task<Outcome<string>> Run(long repairNumber, string way, Actor by, CancellationToken stop = default)
    {
        if (!(await decide.Run(repairNumber, stop)).Try(out var view, out var missing))
        {
            return missing;
        }

        if (view.Decision.Ways.FirstOrDefault(w => w.Option.Name == way) is not { } chosen)
        {
            return new Refusal(RefusalReason.NotFound, "That way is no longer open. Look at the ways as they are now.");
        }

        return await db.Write(by, Repair.CodeOf(repairNumber), clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out missing))
            {
                return missing;
            }

            if (repair.State != RepairState.Open)
            {
                return new Refusal(RefusalReason.Conflict, $"{repair.Code} is past deciding.");
            }

            var best = view.Decision.Best;
            repair.Decided = FormattableString.Invariant(
                $"{Sentence.Capital(chosen.Option.Name)}: {view.Figures.Currency} {chosen.Cost:0.00} expected, {chosen.PerMonth:0.00} a month of use. {(chosen == best ? "The cheapest a month" : $"Against the cheapest, “{best.Option.Name}” at {best.PerMonth:0.00}")}; decided by {by.Name}."
            );
            if (chosen.Option.Way == Core.Economics.Way.SendAway)
            {
                var occasion = new Occasion(by, clock.GetUtcNow());
                repair.EndAs(RepairEnd.SentAway, occasion);
                await db.Follow(repair, occasion, stop);
            }

            return repair.Decided;
        }
    }
}
