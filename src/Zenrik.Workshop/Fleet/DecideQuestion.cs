using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.Fleet;

/// <summary>Decides what a machine's own words had raised: the passport follows the machine, or stays.</summary>
public sealed class DecideQuestion(WorkshopDb db, CorrectPassport correct, TimeProvider clock)
{
    /// <param name="accept">True: the machine is right.</param>
    public Task<Outcome<string>> Run(Guid id, bool accept, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, $"question {id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockQuestion(id, stop)).Try(out var question, out var unknown))
            {
                return unknown;
            }

            if (question.DecidedAt is not null)
            {
                return question.Accepted == accept
                    ? "It is decided so already."
                    : new Refusal(RefusalReason.Conflict, "Somebody has just decided it the other way. Look again.");
            }

            var occasion = new Occasion(by, clock.GetUtcNow(), Note: "the machine said so, and somebody agreed");
            var said = "The passport stays as it was.";
            if (accept)
            {
                if (!question.Writable)
                {
                    return new Refusal(
                        RefusalReason.Conflict,
                        "This cannot be written by itself. Look at the machine, put its passport right by hand, then set the question aside."
                    );
                }

                if (
                    !(
                        await correct.Change(
                            question.Unit.Tag,
                            question.Slot!,
                            question.Number,
                            question.Serial,
                            occasion,
                            stop
                        )
                    ).Try(out said, out var refusal)
                )
                {
                    return refusal;
                }
            }

            (question.DecidedAt, question.DecidedById, question.Accepted) = (occasion.At, by.Id, accept);
            db.UnitEvents.Add(
                UnitEvent.Of(
                    question.UnitId,
                    UnitEventKind.Decided,
                    $"{(accept ? "The machine was right" : "Set aside")}: {question.Text}",
                    occasion
                )
            );
            return said;
        }
    }
}
