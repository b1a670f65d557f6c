using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Practice;

/// <summary>Begins a run of questions about this workshop's own machines and parts.</summary>
public sealed class AskQuestions(
    WorkshopDb db,
    ServiceMapShelf maps,
    PassportOf passports,
    FitOf fits,
    StartPractice start,
    TimeProvider clock
)
{
    /// <summary>Slots asked for in a run.</summary>
    private const int Slots = 6;

    /// <summary>Units looked at for slots that can be asked for.</summary>
    private const int Units = 24;

    /// <summary>Of three numbers, which goes into a slot of a unit of the fleet?</summary>
    /// <param name="request">Made once by the page; it becomes the run's id.</param>
    public async Task<Outcome<Guid>> Fit(Guid request, string? guest, Actor by, CancellationToken stop = default)
    {
        var random = new Random(request.GetHashCode());
        var units = await db
            .Units.AsNoTracking()
            .Include(u => u.Model)
            .Include(u => u.Looks)
            .Where(Unit.Serving)
            .OrderBy(_ => EF.Functions.Random())
            .Take(Units)
            .ToListAsync(stop);
        var asked = new Dictionary<(string Model, string Slot), PracticeQuestion>();
        foreach (var unit in units)
        {
            // Enough to choose from; slots of one model alone would be dull.
            if (asked.Count >= 3 * Slots)
            {
                break;
            }

            if ((await passports.Of(unit, stop)) is { Model: { } model } passport)
            {
                await AskOf(random, passport, model, asked, stop);
            }
        }

        return asked.Count == 0
            ? new Refusal(
                RefusalReason.Conflict,
                "There is no slot here of which one number on file fits and two do not. Enter part numbers with what is known of them in Stores."
            )
            : await start.Begin(
                request,
                PracticeKind.Fit,
                [.. Questions.Shuffled(random, asked.Values).Take(Slots)],
                guest,
                by,
                stop
            );
    }

    /// <summary>Adds a question for each slot of a unit that can be asked for and was not yet.</summary>
    private async Task AskOf(
        Random random,
        Passport passport,
        ServiceMap model,
        Dictionary<(string Model, string Slot), PracticeQuestion> asked,
        CancellationToken stop
    )
    {
        var specified = model
            .Specifications.Where(s =>
                FitOf.KindOf(model, s.Slot) is not null && !asked.ContainsKey((model.Model.Code, s.Slot))
            )
            .ToList();
        if (
            !(await fits.Considered(passport, [.. specified.Select(s => s.Slot)], stop: stop)).Try(
                out var considered,
                out _
            )
        )
        {
            return;
        }

        foreach (var slot in specified)
        {
            var question = Questions.Fit(
                random,
                $"{(slot.IsOutside ? "the charging port" : $"the {slot.Slot.Replace('-', ' ')} slot")} of {passport.Unit.Tag}, {Core.Teardown.Wording.A(passport.Unit.Model.Name)}",
                [
                    .. SlotFacts.Lines(slot),
                    .. passport
                        .Slots.Where(s =>
                            s.Item?.Number.Specification is not null
                            && FitOf.KindOf(model, s.Slot) == FitOf.KindOf(model, slot.Slot)
                        )
                        .Select(s =>
                            $"Now in {s.Slot.Replace('-', ' ')}: {UpgradePaths.Describe(s.Item!.Number.Specification!)}"
                        ),
                ],
                considered[slot.Slot]
                    .Where(n => n.Number.Specification is not null)
                    .Select(n => new NumberToJudge(
                        n.Number.Number,
                        // Its name would say which machine it is bought for.
                        string.Join("; ", SpecificationForm.Lines(n.Number.Specification!)),
                        n.Answer
                    ))
            );
            if (question is not null)
            {
                asked[(model.Model.Code, slot.Slot)] = question;
            }
        }
    }

    /// <summary>How the joints of this workshop's machines open, the least sure first, and where hidden screws are.</summary>
    /// <param name="request">As in <see cref="Fit"/>.</param>
    public async Task<Outcome<Guid>> Opening(Guid request, string? guest, Actor by, CancellationToken stop = default)
    {
        var random = new Random(request.GetHashCode());
        var known = (await db.PracticeModels(maps, stop)).Select(m => m.Map).ToList();
        var joints = Questions.Joints(random, known).ToDictionary(q => q.Topic);
        var mine = guest is null ? await db.Trainings().Where(t => t.PersonId == by.Id).ToListAsync(stop) : [];
        var questions = Training
            .Of(joints.Keys.ToDictionary(topic => topic, _ => 1.0), mine.Learner(), Days.Of(clock.GetUtcNow()))
            .Select(standing => joints[standing.Topic])
            .Concat(known.SelectMany(m => Questions.HiddenScrews(random, m)))
            .ToList();
        return questions.Count == 0
            ? new Refusal(
                RefusalReason.Conflict,
                "No model here has a published map with a joint yet. The first repair of one makes it."
            )
            : await start.Begin(request, PracticeKind.Opening, questions, guest, by, stop);
    }
}
