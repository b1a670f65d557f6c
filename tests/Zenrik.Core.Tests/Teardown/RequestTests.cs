using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Nodes;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Tests.Teardown.Oracles;

namespace Zenrik.Core.Tests.Teardown;

/// <summary>Maps and sequences that once were answered wrongly or not at all; each file is a request as the API takes it.</summary>
public sealed class RequestTests
{
    [Theory]
    [InlineData("outside-waits-for-touchpad")]
    [InlineData("outside-needs-inside")]
    public void An_outside_part_that_waits_for_something_inside_is_a_finding(string file)
    {
        var request = Request.Read(file);
        request.Findings.ShouldContain(f => f.Reason.Contains("which is inside"));
    }

    [Fact]
    public void A_figure_without_measure_is_a_finding() =>
        ServiceMapReader.Read("map", Request.Text("big-integer")).Findings.ShouldNotBeEmpty();

    [Theory]
    [InlineData("dense-50")]
    [InlineData("dense-100")]
    [InlineData("expo-cover-16-40")]
    [InlineData("expo-chains-5-8")]
    public void Without_time_the_best_found_is_taken_and_says_how_far_it_may_be_off(string file)
    {
        var request = Request.Read(file);
        using var enough = new CancellationTokenSource();
        enough.Cancel();
        var plan = request.Plan(new SearchLimit(enough.Token, default)).Value;
        Simulation.Check(plan.Map, [.. plan.Acts]).ShouldBeNull();
        plan.Gap.ShouldBeInRange(0, 10);
        Should.Throw<OperationCanceledException>(() => request.Plan(new SearchLimit(default, enough.Token)));

        // From the middle on just the same.
        var done = plan.Acts.Take(plan.Steps.Count / 4).ToList();
        var rest = TeardownPlanner
            .Resume(
                plan.Map,
                [.. plan.Goals.Select(g => new StandingGoal(g))],
                done,
                null,
                new SearchLimit(enough.Token, default)
            )
            .Value;
        Simulation.Check(plan.Map, [.. done, .. rest]).ShouldBeNull();
    }

    [Fact]
    public void With_time_enough_there_is_no_gap_and_without_it_never_a_better_plan()
    {
        using var enough = new CancellationTokenSource();
        enough.Cancel();
        foreach (var assembly in Maps.Sandpiper.Assemblies.Where(a => Maps.Sandpiper.Parts.Any(p => p.Id == a.Part)))
        {
            Goal[] goals = [new Goal.Replace(assembly.Id)];
            var proved = TeardownPlanner.Plan(Maps.Sandpiper, goals).Value;
            var quick = TeardownPlanner
                .Plan(Maps.Sandpiper, goals, limit: new SearchLimit(enough.Token, default))
                .Value;
            proved.Gap.ShouldBe(0);
            var (best, taken) = (PlanCost.Of(proved), PlanCost.Of(quick));
            taken.ShouldBeGreaterThanOrEqualTo(best);
            // The gap is proven: the best is no further away than it says.
            ((double)taken).ShouldBeLessThanOrEqualTo((best * (1 + quick.Gap)) + 1, assembly.Name);
        }
    }

    [Theory]
    [InlineData("riders-on-an-outside-deck")]
    [InlineData("rider-two-ways-a")]
    [InlineData("rider-two-ways-b")]
    [InlineData("self-invalid")]
    [InlineData("tool-lost")]
    [InlineData("dear-cover")]
    public void A_plan_is_found_and_the_referee_allows_it(string file)
    {
        var plan = Request.Read(file).Plan(default).Value;
        Simulation.Check(plan.Map, [.. plan.Acts]).ShouldBeNull();
    }

    [Theory]
    [InlineData("screw-before-slot")]
    [InlineData("latch-before-contacts")]
    [InlineData("tears-ribbon-c")]
    [InlineData("tears-ribbon-d")]
    public void A_sequence_that_no_hand_can_do_is_refused(string file)
    {
        var request = Request.Read(file);
        Simulation.Check(request.Unit, request.Acts).ShouldNotBeNull();
    }

    private sealed record Request(JsonNode Json, ServiceMap? Map, IReadOnlyList<Finding> Findings)
    {
        public static Request Read(string file)
        {
            var json = JsonNode.Parse(Text(file))!;
            if (json["model"] is JsonValue model)
            {
                return new Request(json, Maps.Shipped(model.GetValue<string>()), []);
            }

            var reading = ServiceMapReader.Read(file, json["map"]!.ToJsonString());
            return new Request(json, reading.Map, reading.Findings);
        }

        public ServiceMap Unit =>
            Json["fitted"] is JsonArray fitted
                ? Map!.For(fitted.Select(f => PartId.Of(f!.GetValue<string>())).ToHashSet())
                : Map.ShouldNotBeNull(string.Join("; ", Findings.Select(f => f.Reason))).Plain();

        public IReadOnlyList<Act> Acts => [.. Json["acts"]!.AsArray().Select(a => Act.Parse(a!.GetValue<string>()))];

        public Outcome<Plan> Plan(SearchLimit limit)
        {
            var practice = HousePractice.Default;
            foreach (var (rule, school) in Json["houseRules"]?.Deserialize<Dictionary<string, string>>() ?? [])
            {
                practice = practice.With(rule, school).Value;
            }

            return TeardownPlanner.Plan(
                Unit,
                GoalText.Read(Json["goals"]!.Deserialize<string[]>()!).Value,
                Basis.Default with
                {
                    Practice = practice,
                },
                limit
            );
        }

        public static string Text(string file) => File.ReadAllText(Path.Combine(Folder(), "Requests", $"{file}.json"));

        private static string Folder([CallerFilePath] string path = "") => Path.GetDirectoryName(path)!;
    }
}
