using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Teardown;
using static Zenrik.Web.Api.Answers;

namespace Zenrik.Web.Api;

/// <summary>Models, maps and plans for programs.</summary>
internal static class TeardownApi
{
    /// <summary>Acts in the longest sequence judged; the longest plan of a map within the format's limits is shorter.</summary>
    private const int MaxActs = 5000;

    public static void MapTeardown(this RouteGroupBuilder api)
    {
        api.MapGet("/models", Models)
            .WithSummary("The models the organisation owns, and the revision of each one's map");
        api.MapGet("/models/{code}/map", Map).WithSummary("The newest service map of a model");
        api.MapPost("/service-maps/check", Check)
            .Accepts<JsonElement>("application/json")
            .WithSummary("Checks a service map and stores nothing: every finding with its path and reason")
            .WithExample(
                """{"format": 1, "model": {"code": "wren-12", "name": "Wren 12", "maker": "Tarnwell", "class": "laptop"}}"""
            );
        api.MapPost("/plans", Plan)
            .WithSummary("The quickest safe way to some goals and back, on a stored model or a map sent along")
            .WithExample(
                """{"model": "sandpiper-14", "goals": ["replace:board"], "houseRules": {"antenna-leads": "unsnap-always"}}"""
            );
        api.MapPost("/plans/validate", Validate)
            .WithSummary("Judges a sequence of acts against a map: the first violation and why")
            .WithExample(
                """{"model": "sandpiper-14", "acts": ["prepare:shut-down", "prepare:photo", "turn-over:", "lift-out:base-cover"]}"""
            );
    }

    private static async Task<IReadOnlyList<ModelAnswer>> Models(ViewMaps maps, CancellationToken stop) =>
        [.. (await maps.Models(stop)).Select(m => new ModelAnswer(m.Code, m.Name, m.Maker, m.Units, m.Map?.Revision))];

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> Map(
        string code,
        ViewMaps maps,
        CancellationToken stop
    ) =>
        (await maps.Newest(code, stop)).Try(out var map, out var refusal)
            ? TypedResults.Text(ServiceMapReader.Write(map), "application/json")
            : Problem(refusal);

    private static async Task<CheckAnswer> Check(HttpRequest request, CancellationToken stop)
    {
        // Read as text, since what is not JSON at all is a finding too; one byte too many is enough to know.
        var buffer = new byte[ServiceMapReader.MaxBytes + 1];
        var length = await request.Body.ReadAtLeastAsync(buffer, buffer.Length, throwOnEndOfStream: false, stop);
        var reading = ServiceMapReader.Read("map", System.Text.Encoding.UTF8.GetString(buffer, 0, length));
        return new CheckAnswer(reading.Map is not null, reading.Findings);
    }

    private static async Task<Results<Ok<PlanAnswer>, ProblemHttpResult>> Plan(
        PlanRequest request,
        ViewMaps maps,
        PlanFor plans,
        CancellationToken stop
    )
    {
        if (!(await UnitMap(request.Model, request.Map, request.Fitted, maps, stop)).Try(out var unit, out var noMap))
        {
            return Problem(noMap);
        }

        if (!GoalText.Read(request.Goals ?? []).Try(out var goals, out var noGoal))
        {
            return Problem(noGoal);
        }

        var basis = await plans.Basis(unit.Model.Code, stop);
        foreach (var (rule, school) in request.HouseRules ?? new Dictionary<string, string>())
        {
            if (!basis.Practice.With(rule, school).Try(out var practice, out var noRule))
            {
                return Problem(noRule);
            }

            basis = basis with { Practice = practice };
        }

        return plans.Search(unit, goals, basis, stop).Try(out var plan, out var refusal)
            ? TypedResults.Ok(Answer(plan))
            : Problem(refusal);
    }

    private static async Task<Results<Ok<ValidateAnswer>, ProblemHttpResult>> Validate(
        ValidateRequest request,
        ViewMaps maps,
        CancellationToken stop
    )
    {
        if (!(await UnitMap(request.Model, request.Map, request.Fitted, maps, stop)).Try(out var unit, out var noMap))
        {
            return Problem(noMap);
        }

        if (request.Acts is not { Count: > 0 and <= MaxActs } texts)
        {
            return Problem(new Refusal(RefusalReason.Invalid, $"Give between 1 and {MaxActs} acts."));
        }

        var acts = new List<Act>();
        foreach (var text in texts)
        {
            if (!Act.TryParse(text, out var act))
            {
                return Problem(
                    new Refusal(RefusalReason.Invalid, $"\"{text}\" is no act. Acts are written kind:target.")
                );
            }

            acts.Add(act);
        }

        var violation = Simulation.Check(unit, acts);
        return TypedResults.Ok(
            new ValidateAnswer(
                violation is null,
                violation is null
                    ? null
                    : new ViolationAnswer(violation.Position, violation.Act?.ToString(), violation.Reason)
            )
        );
    }

    /// <summary>The map of the unit a request is about.</summary>
    internal static async Task<Outcome<ServiceMap>> UnitMap(
        string? model,
        JsonElement? inline,
        IReadOnlyList<string>? fitted,
        ViewMaps maps,
        CancellationToken stop
    )
    {
        if (model is null == inline is null)
        {
            return new Refusal(RefusalReason.Invalid, "Give either \"model\", a stored model's code, or \"map\".");
        }

        ServiceMap map;
        if (model is not null)
        {
            if (!(await maps.Newest(model, stop)).Try(out var stored, out var unknown))
            {
                return unknown;
            }

            map = stored;
        }
        else
        {
            var reading = ServiceMapReader.Read("map", inline!.Value.GetRawText());
            if (reading.Map is null)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"The map cannot be used: {string.Join("; ", reading.Findings.Take(5).Select(f => $"{f.Path}: {f.Reason}"))}. "
                        + "POST it to /api/v1/service-maps/check for all findings."
                );
            }

            map = reading.Map;
        }

        if (fitted is null)
        {
            return map.Plain();
        }

        return fitted.FirstOrDefault(id => !map.Parts.Any(p => p.Optional && p.Id.Value == id)) is { } stranger
            ? new Refusal(RefusalReason.NotFound, $"The {map.Model.Name} has no optional part \"{stranger}\".")
            : map.For(fitted.Select(PartId.Of).ToHashSet());
    }

    private static PlanAnswer Answer(Plan plan) =>
        new(
            plan.Map.Model.Code,
            plan.Map.Revision,
            [.. plan.Goals.Select(GoalText.Of)],
            new MinutesAnswer(plan.Minutes.Expected, plan.Minutes.Low, plan.Minutes.High),
            plan.Gap * 100,
            [.. plan.Tools.Select(t => t.Name())],
            plan.Consumables.ToDictionary(c => c.Key.Name(), c => c.Value),
            [
                .. plan.FastenersOut.Select(f => new ScrewsAnswer(
                    f.Id.Value,
                    f.Name,
                    f.Count,
                    f.Screw.Drive.Name(),
                    f.Screw.Size,
                    f.Captive
                )),
            ],
            [.. plan.TransferList.Select(p => p.Id.Value)],
            [
                .. plan.Steps.Select(s => new StepAnswer(
                    s.Number,
                    s.Stage.ToString().ToLowerInvariant(),
                    s.Act.ToString(),
                    s.Title,
                    s.How,
                    s.Tool.Name(),
                    s.SideUp?.ToString().ToLowerInvariant(),
                    s.Seconds,
                    [.. s.Cautions.Select(c => new CautionAnswer(c.Severity.ToString().ToLowerInvariant(), c.Text))],
                    [.. s.Why.Select(a => a.ToString())],
                    s.Here
                )),
            ]
        );
}
