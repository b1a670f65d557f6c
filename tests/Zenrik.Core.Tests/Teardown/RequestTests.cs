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
    public void A_tape_beneath_what_never_leaves_is_a_finding()
    {
        var map = Maps.SandpiperWhole;
        var tape = map.Ties.First(t => t.Of == PartId.Of("speaker-left") || t.On == PartId.Of("battery"));
        var beneath = map with
        {
            Ties =
            [
                .. map.Ties.Select(t =>
                    t == tape ? t with { Under = [.. t.Under, map.Parts.First(p => p.Fixed).Id] } : t
                ),
            ],
        };
        ServiceMapRules.Check("map", beneath).ShouldHaveSingleItem().Reason.ShouldContain(tape.Id.Value);
    }

    [Fact]
    public void Only_the_way_to_isolation_is_touched_under_power_even_where_no_cover_can_be_raised()
    {
        var plan = Request.Read("cover-that-cannot-be-raised").Plan(default).Value;
        var before = plan.Acts.TakeWhile(a => a.Kind != ActKind.Isolate).ToList();
        before.Count.ShouldBeLessThan(plan.Steps.Count, "it is isolated");
        before.ShouldNotContain(a => a.Kind == ActKind.LiftOut && a.Part == PartId.Of("drive-plate"));
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
            .Remaining(
                plan.Map,
                [.. plan.Goals.Select(g => new StandingGoal(g))],
                done,
                null,
                new SearchLimit(enough.Token, default)
            )
            .Value;
        Simulation.Check(plan.Map, [.. done, .. rest.Acts]).ShouldBeNull();
        // Of what is left little may be needed at best, so the share can be large.
        rest.Gap.ShouldBeInRange(0, 50);
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
    [InlineData("raised-deck")]
    [InlineData("contacts-inside")]
    [InlineData("cover-that-cannot-be-raised")]
    public void A_plan_is_found_and_the_referee_allows_it(string file)
    {
        var plan = Request.Read(file).Plan(default).Value;
        Simulation.Check(plan.Map, [.. plan.Acts]).ShouldBeNull();
    }

    [Theory]
    [InlineData("screw-before-slot", "fasten:radio-screw", "goes home before anything holds it")]
    [InlineData("latch-before-contacts", "lay:latch-spring", "goes home before anything holds it")]
    [InlineData("tears-ribbon-c", "lift-out:board", "keyboard ribbon is still closed and would tear")]
    [InlineData("tears-ribbon-d", "lift-out:board", "touchpad ribbon is still closed and would tear")]
    public void A_sequence_that_no_hand_can_do_is_refused_for_what_is_wrong_with_it(string file, string act, string why)
    {
        var request = Request.Read(file);
        var violation = Simulation.Check(request.Unit, request.Acts).ShouldNotBeNull();
        violation.Act.ToString().ShouldBe(act);
        violation.Reason.ShouldContain(why);
    }

    [Fact]
    public void What_is_off_its_place_is_worked_in_the_hand()
    {
        var request = Request.Read("raised-deck-in-the-hand");
        Simulation.Check(request.Unit, request.Acts).ShouldBeNull();
        Goal[] touchpad = [new Goal.LiftOut(PartId.Of("touchpad"))];
        var plan = TeardownPlanner.Plan(request.Unit, touchpad).Value;
        var turns = plan.Acts.Count(a => a.Kind == ActKind.TurnOver);
        turns.ShouldBe(request.Acts.Count(a => a.Kind == ActKind.TurnOver));
        PlanCost
            .Of(plan)
            .ShouldBeLessThanOrEqualTo(PlanCost.Of(TeardownPlanner.Restore(request.Unit, touchpad, request.Acts)));
    }

    internal sealed record Request(JsonNode Json, ServiceMap? Map, IReadOnlyList<Finding> Findings)
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
