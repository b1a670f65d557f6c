using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Practice;

/// <summary>Begins a run.</summary>
public sealed class StartPractice(
    WorkshopDb db,
    ServiceMapShelf maps,
    PlanFor plans,
    RepairOf repairs,
    TimeProvider clock
)
{
    /// <summary>A machine of a model is to be taken apart for a goal.</summary>
    /// <param name="request">Made once by the page; it becomes the run's id.</param>
    /// <param name="goal">As "replace:battery".</param>
    /// <param name="guest">Who learns, where it is not whoever is signed in.</param>
    public async Task<Outcome<Guid>> Apart(
        Guid request,
        string? modelCode,
        string? goal,
        PracticeLevel level,
        string? guest,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await MapOf(modelCode, stop)).Try(out var map, out var without))
        {
            return without;
        }

        if (!GoalText.Read([goal ?? ""]).Try(out var goals, out var unread))
        {
            return unread;
        }

        var unit = map.Plain();
        // What an optional part is wanted out of has it.
        if (!(await plans.Of(unit, goals, stop)).Try(out var plan, out _))
        {
            unit = map.For(map.FittedWhen(map.Parts.Select(p => p.Slot).OfType<string>().ToHashSet()));
            if (!(await plans.Of(unit, goals, stop)).Try(out plan, out var impossible))
            {
                return impossible;
            }
        }

        return await Begin(request, plan, level, guest, by, stop);
    }

    /// <summary>The job of a repair is run through before it is done.</summary>
    public async Task<Outcome<Guid>> Before(
        Guid request,
        long repairNumber,
        PracticeLevel level,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await repairs.Run(repairNumber, stop)).Try(out var view, out var missing))
        {
            return missing;
        }

        if (!(await MapOf(view.Repair.Unit.ModelCode, stop)).Try(out var map, out var without))
        {
            return without;
        }

        if (view.Plan is null)
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{view.Repair.Code} has no plan to run through yet: choose what to fit first."
            );
        }

        // A run is on the newest edition, with what this unit has.
        var unit = map.For(view.Plan.Map.Parts.Where(p => p.Optional).Select(p => p.Id).ToHashSet());
        return (await plans.Of(unit, view.Plan.Goals, stop)).Try(out var plan, out var impossible)
            ? await Begin(request, plan, level, null, by, stop)
            : impossible;
    }

    /// <summary>A machine of a model comes in with a complaint.</summary>
    public async Task<Outcome<Guid>> Diagnosis(
        Guid request,
        string? modelCode,
        string? symptom,
        string? guest,
        Actor by,
        CancellationToken stop = default
    )
    {
        var code = modelCode?.Trim() ?? "";
        if (await db.Models.AsNoTracking().SingleOrDefaultAsync(m => m.Code == code, stop) is not { } model)
        {
            return NoModel;
        }

        var known = ShippedTriage.Knowledge.Symptoms.FirstOrDefault(s => s.Id == symptom && s.Stop is null);
        return known is null
            ? new Refusal(RefusalReason.Invalid, "Choose what the machine is brought in for.")
            : await Begin(
                request,
                guest,
                by,
                who => new PracticeRun
                {
                    Id = request,
                    Kind = PracticeKind.Diagnosis,
                    StartedById = by.Id,
                    Guest = who,
                    StartedAt = clock.GetUtcNow(),
                    ModelCode = model.Code,
                    Symptom = known.Id,
                    Seed = Random.Shared.Next(),
                },
                stop
            );
    }

    /// <summary>Ten labels are to be read.</summary>
    public Task<Outcome<Guid>> Labels(Guid request, string? guest, Actor by, CancellationToken stop = default) =>
        Begin(request, PracticeKind.Labels, [], guest, by, stop);

    /// <summary>What needs no machine begins.</summary>
    internal Task<Outcome<Guid>> Begin(
        Guid request,
        PracticeKind kind,
        IReadOnlyList<PracticeQuestion> questions,
        string? guest,
        Actor by,
        CancellationToken stop
    ) =>
        Begin(
            request,
            guest,
            by,
            who => new PracticeRun
            {
                Id = request,
                Kind = kind,
                StartedById = by.Id,
                Guest = who,
                StartedAt = clock.GetUtcNow(),
                Questions = questions,
                Seed = Random.Shared.Next(),
            },
            stop
        );

    private static readonly Refusal NoModel = new(
        RefusalReason.NotFound,
        "Choose one of the models this workshop has."
    );

    private async Task<Outcome<ServiceMap>> MapOf(string? modelCode, CancellationToken stop)
    {
        var code = modelCode?.Trim() ?? "";
        return await db.Models.AsNoTracking().SingleOrDefaultAsync(m => m.Code == code, stop) is not { } model ? NoModel
            : await maps.IsDraft(code, stop)
                ? new Refusal(
                    RefusalReason.Conflict,
                    $"Of the {model.Name} there is a draft that nobody has published: what is learned from it may be wrong. A lead publishes it in Maps."
                )
            : await maps.Newest(code, stop) is { } map ? map
            : new Refusal(
                RefusalReason.Conflict,
                $"Of the {model.Name} there is no map. The first repair of one makes it; then it can be practised."
            );
    }

    private Task<Outcome<Guid>> Begin(
        Guid request,
        Plan plan,
        PracticeLevel level,
        string? guest,
        Actor by,
        CancellationToken stop
    ) =>
        Begin(
            request,
            guest,
            by,
            who => new PracticeRun
            {
                Id = request,
                Kind = PracticeKind.Apart,
                StartedById = by.Id,
                Guest = who,
                StartedAt = clock.GetUtcNow(),
                ModelCode = plan.Map.Model.Code,
                MapRevision = plan.Map.Revision,
                Level = level,
                FittedParts = [.. plan.Map.Parts.Where(p => p.Optional).Select(p => p.Id.Value)],
                Goals = [.. plan.Goals.Select(GoalText.Of)],
                House = [.. plan.Basis.Practice.Departures],
                Acts = [.. plan.Acts.Select(a => a.ToString())],
                Seed = Random.Shared.Next(),
            },
            stop
        );

    private Task<Outcome<Guid>> Begin(
        Guid request,
        string? guest,
        Actor by,
        Func<string?, PracticeRun> run,
        CancellationToken stop
    )
    {
        return Writing.Missing(request) is { } nameless
            ? Task.FromResult<Outcome<Guid>>(nameless)
            : db.Write(by, "practice", clock.GetUtcNow(), Work, stop, nameof(Begin));

        async Task<Outcome<Guid>> Work()
        {
            var who = string.IsNullOrWhiteSpace(guest) ? null : guest.Trim();
            if (who?.Length > PracticeRun.MaxGuest)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"A guest's name has at most {PracticeRun.MaxGuest} characters."
                );
            }

            // Sent twice, it is begun once.
            if (await db.PracticeRuns.AsNoTracking().SingleOrDefaultAsync(r => r.Id == request, stop) is { } begun)
            {
                return begun.StartedById == by.Id ? begun.Id : Writing.UsedElsewhere;
            }

            db.PracticeRuns.Add(run(who));
            return request;
        }
    }
}
