using System.ComponentModel;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.ServiceMaps;
using static Zenrik.Web.Api.Answers;

namespace Zenrik.Web.Api;

/// <summary>What remains of a job from where it stands, on a stored model.</summary>
public sealed record ContinueRequest(
    string Model,
    [property: Description("Optional parts the unit has; leave out for none.")] IReadOnlyList<string>? Fitted,
    IReadOnlyList<string> Goals,
    [property: Description("Acts done so far, in their order.")] IReadOnlyList<string> Done
);

public sealed record ContinueAnswer(
    IReadOnlyList<string> Acts,
    double Minutes,
    [property: Description("By how many per cent it may take longer than the quickest; 0: proved to be the quickest.")]
        double GapPercent
);

public sealed record RecordLineAnswer(
    int Line,
    DateTimeOffset At,
    string By,
    string Kind,
    string? Act,
    string Title,
    string? Said,
    double? Seconds,
    bool TakenBack
);

public sealed record CountAnswer(string Screws, bool Back, int Expected, int Count, string Why, string? Note);

public sealed record NumberAnswer(string Slot, bool Fitted, string Number, string? Why);

/// <summary>What was done in a repair at the bench.</summary>
public sealed record RepairRecordAnswer(
    string Repair,
    string Unit,
    string Model,
    int? MapRevision,
    string State,
    DateTimeOffset StartedAt,
    DateTimeOffset? ClosedAt,
    double? MinutesPlanned,
    double MinutesTaken,
    [property: Description("What still keeps it from being closed; empty when nothing does.")]
        IReadOnlyList<string> Open,
    IReadOnlyList<NumberAnswer> Numbers,
    IReadOnlyList<CountAnswer> Counts,
    IReadOnlyList<string> StopGaps,
    IReadOnlyList<RecordLineAnswer> Lines
);

/// <summary>Bench sessions for programs.</summary>
internal static class BenchApi
{
    private const int MaxActs = 5000;

    public static void MapBench(this RouteGroupBuilder api)
    {
        api.MapGet("/repairs/{code}/record", Record)
            .WithSummary("What was done in a repair at the bench: every line, numbers, counts, stop-gaps, minutes");
        api.MapPost("/plans/continue", Continue)
            .WithSummary("The quickest way on and back from wherever a job stands")
            .WithExample("""{"model": "thimble-11-r", "goals": ["replace:battery"], "done": ["prepare:shut-down"]}""");
    }

    private static async Task<Results<Ok<RepairRecordAnswer>, ProblemHttpResult>> Record(
        string code,
        BenchOf benches,
        RecordOf record,
        CancellationToken stop
    )
    {
        if (Repair.NumberOf(code) is not { } number)
        {
            return Problem(new Refusal(RefusalReason.NotFound, $"There is no repair {code}."));
        }

        if (!(await benches.Run(number, stop)).Try(out var bench, out var refusal))
        {
            return Problem(refusal);
        }

        var (repair, ledger) = (bench.Repair, bench.Ledger);
        return TypedResults.Ok(
            new RepairRecordAnswer(
                repair.Code,
                repair.Unit.Tag,
                repair.Unit.ModelCode,
                bench.Session.MapRevision,
                repair.State.ToString(),
                bench.Session.StartedAt,
                repair.ClosedAt,
                repair.MinutesPlanned,
                bench.Worked.TotalMinutes,
                ledger.Open,
                [.. ledger.Numbers.Select(n => new NumberAnswer(n.Slot, n.Fitted, n.Number.Text, n.Why?.Said()))],
                [
                    .. ledger.Counts.Select(c => new CountAnswer(
                        c.Group.Name,
                        c.Back,
                        c.Expected,
                        c.Count,
                        c.Why.Said(),
                        c.Note
                    )),
                ],
                [.. ledger.StopGaps.Select(g => $"{g.What}: {g.Reason}")],
                [
                    .. (await record.Run(bench, stop)).Select(l => new RecordLineAnswer(
                        l.Sequence,
                        l.At,
                        l.By,
                        l.Kind.ToString(),
                        l.Act?.ToString(),
                        l.Title,
                        l.Said.Length == 0 ? null : l.Said,
                        l.Seconds,
                        l.TakenBack
                    )),
                ]
            )
        );
    }

    private static async Task<Results<Ok<ContinueAnswer>, ProblemHttpResult>> Continue(
        ContinueRequest request,
        ViewMaps maps,
        Workshop.Teardown.PlanFor plans,
        CancellationToken stop
    )
    {
        if (
            !(await TeardownApi.UnitMap(request.Model, null, request.Fitted, maps, stop)).Try(
                out var unit,
                out var noMap
            )
        )
        {
            return Problem(noMap);
        }

        if (!GoalText.Read(request.Goals ?? []).Try(out var goals, out var noGoal))
        {
            return Problem(noGoal);
        }

        var done = new List<Act>();
        foreach (var text in (request.Done ?? []).Take(MaxActs + 1))
        {
            if (!Act.TryParse(text, out var act))
            {
                return Problem(
                    new Refusal(RefusalReason.Invalid, $"\"{text}\" is no act. Acts are written kind:target.")
                );
            }

            done.Add(act);
        }

        if (done.Count > MaxActs)
        {
            return Problem(new Refusal(RefusalReason.Invalid, $"Give at most {MaxActs} acts."));
        }

        var basis = await plans.Basis(unit.Model.Code, stop);
        if (Simulate(TeardownPlanner.Under(unit, basis.Practice), done) is { } wrong)
        {
            return Problem(wrong);
        }

        if (!plans.Remaining(unit, goals, done, basis, stop).Try(out var rest, out var refusal))
        {
            return Problem(refusal);
        }

        var plan = TeardownPlanner.Restore(unit, goals, [.. done, .. rest.Acts], basis);
        return TypedResults.Ok(
            new ContinueAnswer(
                [.. rest.Acts.Select(a => a.ToString())],
                plan.Steps.Skip(done.Count).Sum(s => s.Seconds) / 60,
                rest.Gap * 100
            )
        );
    }

    private static Refusal? Simulate(Core.ServiceMaps.ServiceMap map, List<Act> done)
    {
        var machine = new Simulation(map);
        foreach (var (i, act) in done.Index())
        {
            if (machine.Do(act) is { } reason)
            {
                return new Refusal(RefusalReason.Conflict, $"Act {i + 1}, {act}, was not possible. {reason}");
            }
        }

        return null;
    }
}
