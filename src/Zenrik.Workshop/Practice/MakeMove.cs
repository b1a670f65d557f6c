using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Core;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Practice;

/// <summary>Adds one move to a run by one statement; the last one ends it, with what was learned.</summary>
public sealed class MakeMove(WorkshopDb db, PracticeOf runs, PlanFor plans, TimeProvider clock)
{
    /// <param name="request">Made once by the page for the move.</param>
    /// <param name="seen">How many moves the sender had seen; fewer than there are is refused as stale.</param>
    /// <param name="text">The move.</param>
    /// <returns>The run after the move.</returns>
    public async Task<Outcome<PracticeView>> Run(
        Guid id,
        Guid request,
        int seen,
        string? text,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (Writing.Missing(request) is { } nameless)
        {
            return nameless;
        }

        // What this instance remembers is enough where it is what the page has seen: PostgreSQL lets only the next move in.
        if (
            runs.Kept(id) is { } kept
            && kept.Sequence == seen
            && kept.Run.StartedById == by.Id
            && (await Next(kept, request, text, by, stop)) is { Refusal: null } next
        )
        {
            return next;
        }

        if (!(await runs.Run(id, stop)).Try(out var view, out var missing))
        {
            return missing;
        }

        if (view.Run.StartedById != by.Id)
        {
            return new Refusal(RefusalReason.Conflict, $"This run is {view.Learner}'s. Begin one of your own.");
        }

        return view.Moves.Any(m => m.RequestId == request) ? view
            : view.IsOver ? new Refusal(RefusalReason.Conflict, "This run is over. Begin another.")
            : seen != view.Sequence ? Stale
            : await Next(view, request, text, by, stop);
    }

    private async Task<Outcome<PracticeView>> Next(
        PracticeView view,
        Guid request,
        string? text,
        Actor by,
        CancellationToken stop
    )
    {
        if (view.IsOver)
        {
            return Stale;
        }

        if (!Read(view, text).Try(out var move, out var unread))
        {
            return unread;
        }

        var row = new PracticeMove
        {
            RunId = view.Run.Id,
            Sequence = view.Sequence + 1,
            RequestId = request,
            Text = move,
            At = clock.GetUtcNow(),
        };
        var after = await Priced(await runs.After(view, row, stop), stop);
        row.InTheWay = after.Referee?.Moves[^1].Slip is null ? null : InTheWay(view, move);
        return after.IsOver ? await End(PracticeOf.Scored(after), row, by, stop)
            : await Add(row, stop) ? runs.Keep(after)
            : Stale;
    }

    private static readonly Refusal Stale = new(
        RefusalReason.Stale,
        "This page had not seen the last move, which was made in another window. It shows the present state now; nothing was changed."
    );

    /// <summary>Before the id of a thing: whatever is done with it as it is.</summary>
    public const string At = "at:";

    /// <summary>A move in the form it is kept in; what cannot be one is refused and changes nothing.</summary>
    private static Outcome<string> Read(PracticeView view, string? text)
    {
        var typed = text?.Trim() ?? "";
        if (typed.Length > Move.MaxLength)
        {
            return new Refusal(RefusalReason.Invalid, $"That is longer than {Move.MaxLength} characters.");
        }

        if (view.Referee is { } referee)
        {
            // A hand that goes for a thing in the drawing: what it does with it follows from how that stands.
            var at = typed.StartsWith(At, StringComparison.Ordinal) ? typed.Split(' ', 2) : null;
            var meant =
                at is null ? typed
                : Sight.At(referee, at[0][At.Length..]) is { } act ? string.Join(' ', [act.ToString(), .. at[1..]])
                : null;
            return Move.Parse(meant) is { } move
                ? move.ToString()
                : new Refusal(RefusalReason.Invalid, "That is no move. Choose something in the machine.");
        }

        if (view.Diagnosis is { } diagnosis && !diagnosis.Choices.Any(c => c.Id == typed))
        {
            return new Refusal(RefusalReason.Invalid, "That cannot be done now. Choose a test or a remedy.");
        }

        if (view.Quiz is { } quiz && !quiz.Takes(typed))
        {
            return new Refusal(
                RefusalReason.Invalid,
                quiz.Asked is PracticeQuestion.Open
                    ? "Say where the hand moves: up, down, left or right."
                    : "Choose one of the answers."
            );
        }

        return view.Labels is not null && typed.Length == 0
            ? new Refusal(RefusalReason.Invalid, "Type what you can read on the label.")
            : typed;
    }

    /// <summary>What of the map stood in the way: where many try the same first, the map may be wrong.</summary>
    private static string? InTheWay(PracticeView view, string text) =>
        view.Referee is { } referee && Move.Parse(text)?.Act is { } act
            ? referee.Machine.Attempt(act) switch
            {
                { Kind: Against.InTheWay or Against.Hidden or Against.SeenToWait, Thing: { } thing } => thing,
                _ => null,
            }
            : null;

    /// <summary>
    /// Nobody waits for the disk: a database that loses its power loses a learner's last moves of less than a second, and the
    /// page is told at the next. A program that is killed loses nothing.
    /// </summary>
    /// <returns>False when another window was quicker.</returns>
    private async Task<bool> Add(PracticeMove row, CancellationToken stop)
    {
        try
        {
            return await db.Database.ExecuteSqlAsync(
                    $"""
                    INSERT INTO practice_moves (run_id, sequence, request_id, text, in_the_way, at)
                    SELECT {row.RunId}, {row.Sequence}, {row.RequestId}, {row.Text}, {row.InTheWay}, {row.At}
                    FROM (SELECT set_config('synchronous_commit', 'off', true)) AS unhurried
                    WHERE {row.Sequence} = 1 + coalesce(
                        (SELECT max(m.sequence) FROM practice_moves m WHERE m.run_id = {row.RunId}), 0)
                    """,
                    stop
                ) == 1;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            return false;
        }
    }

    private async Task<Outcome<PracticeView>> End(PracticeView view, PracticeMove row, Actor by, CancellationToken stop)
    {
        var now = clock.GetUtcNow();
        return await db.Write(by, "practice", now, Work, stop, nameof(End));

        async Task<Outcome<PracticeView>> Work()
        {
            if (!await Add(row, stop))
            {
                return Stale;
            }

            await db
                .PracticeRuns.Where(r => r.Id == row.RunId)
                .ExecuteUpdateAsync(
                    r => r.SetProperty(x => x.EndedAt, now).SetProperty(x => x.Points, view.Points),
                    stop
                );
            foreach (var (topic, right) in Trained(view))
            {
                db.PracticeTopics.Add(
                    new PracticeTopic
                    {
                        RunId = row.RunId,
                        Topic = topic,
                        Right = right,
                    }
                );
            }

            return runs.Keep(view);
        }
    }

    private static IReadOnlyDictionary<string, bool> Trained(PracticeView view) =>
        view.Referee is { } referee ? Training.Of(referee, view.Score!)
        : view.Quiz is { } quiz ? quiz.Trained
        : new Dictionary<string, bool>
        {
            [view.Diagnosis is null ? Topics.Labels : Topics.Diagnosis] = view.Points >= Training.RightFrom,
        };

    /// <summary>What was broken and has no price yet gets one: by this workshop's plan for it and what it paid for it last.</summary>
    private async Task<PracticeView> Priced(PracticeView view, CancellationToken stop)
    {
        if (view.Referee?.Moves[^1].Slip is not { Breaks: { } part } || view.Harm.ContainsKey(part.Value))
        {
            return view;
        }

        var map = view.Referee.Task.Map;
        if (
            map.WithCarriers(part)
                .Select(p =>
                    map.Assemblies.FirstOrDefault(a => a.Part == p || a.Brings.Contains(p))
                    ?? (map.Part(p).Slot is { } own ? map.AssemblyIn(own) : null)
                )
                .OfType<Assembly>()
                .FirstOrDefault()
                is not { } assembly
            || !(await plans.Of(map, [new Goal.Replace(assembly.Id)], stop)).Try(out var plan, out _)
        )
        {
            return view;
        }

        var slot = map.Part(assembly.Part).Slot;
        var price =
            slot is null ? null
            : (await db.LastPrices(map.Model.Code, [slot], stop)).TryGetValue(slot, out var paid) ? paid
            : (decimal?)null;
        var harm = new Dictionary<string, HarmFigure>(view.Harm)
        {
            [part.Value] = new(assembly.Name, plan.Minutes.Expected, price),
        };
        var (run, json) = (view.Run.Id, StoredJson.Write(harm));
        await db.Database.ExecuteSqlAsync($"UPDATE practice_runs SET harm = {json}::jsonb WHERE id = {run}", stop);
        return view with { Harm = harm };
    }
}
