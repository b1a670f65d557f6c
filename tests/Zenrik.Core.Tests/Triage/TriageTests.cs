using CsCheck;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Tests.Triage.Oracles;
using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Triage;

public sealed class TriageTests
{
    [Fact]
    public void A_positive_screening_answer_moves_one_in_a_hundred_to_one_in_thirteen()
    {
        // The breast-cancer screening example of Eddy (1982), in Kahneman, Slovic and Tversky, "Judgment under
        // uncertainty": 1 % ill, test right in 80 % of the ill, false alarm in 9.6 % of the well: 7.8 %. From memory.
        var network = TwoFaults(0.01, 0.99, [0.8, 0.2], [0.096, 0.904]);
        var belief = TriageBeliefs.After(network, [new TriageStep.Tested("t0", "a")]).Value;
        belief.Chances[0].ShouldBe(0.0776, 0.0001);
    }

    [Fact]
    public void Beliefs_do_not_depend_on_the_order_of_answers()
    {
        Knowledge
            .Small.Where(n => n.Tests.Count >= 2)
            .Sample(network =>
            {
                TriageStep first = new TriageStep.Tested(network.Tests[0].Id, "a");
                TriageStep second = new TriageStep.Tested(network.Tests[1].Id, "b");
                TriageStep third = new TriageStep.Tried(network.Remedies[0].Id, false);
                if (!TriageBeliefs.After(network, [first, second, third]).Try(out var one, out _))
                {
                    return;
                }

                var other = TriageBeliefs.After(network, [third, first, second]).Value;
                one.Chances.Zip(other.Chances).ShouldAllBe(p => Math.Abs(p.First - p.Second) < 1e-12);
                one.Chances.Sum().ShouldBe(1, 1e-12);
            });
    }

    [Fact]
    public void Remedies_alone_are_tried_in_the_cheapest_order_there_is() =>
        // Heckerman, Breese and Rommelse 1995: with one fault and independent costs the ratio rule is optimal.
        Knowledge.RemediesOnly.Sample(
            network =>
            {
                var ours = OptimalPolicy.CostOfAdvice(network);
                ours.ShouldBe(OptimalPolicy.CheapestOrder(network), 1e-6);
            },
            iter: 300
        );

    [Fact]
    public void What_costs_more_when_done_in_vain_is_tried_in_the_cheapest_order_too() =>
        Knowledge.RemediesInVain.Sample(
            network =>
            {
                var first = TriageAdvisor.All(network, []).Value.Min(a => a.Total);
                Math.Min(first, network.Case.Costs.GivingUpMinutes)
                    .ShouldBe(OptimalPolicy.CheapestOrder(network), 1e-6);
            },
            iter: 300
        );

    [Fact]
    public void The_best_and_the_runner_up_are_those_of_the_whole_list_whatever_was_answered()
    {
        // The bounds that spare work must not change the answer.
        var random = new Random(5217);
        foreach (var network in ShippedNetworks())
        {
            var steps = new List<TriageStep>();
            for (var i = 0; i < 6; i++)
            {
                if (!TriageAdvisor.Next(network, steps).Try(out var advice, out _) || advice.Best is null)
                {
                    break;
                }

                var all = TriageAdvisor.All(network, steps).Value;
                advice.Best.Total.ShouldBe(all[0].Total, 1e-9);
                advice.RunnerUp?.Total.ShouldBe(all[1].Total, 1e-9);
                // What goes first for opening or exchanging nothing is worth half its minutes itself.
                advice.Best.Total.ShouldBeLessThanOrEqualTo(all.Min(a => a.Total) + (advice.Best.Minutes / 2) + 1e-9);
                var act = all[random.Next(all.Count)];
                steps.Add(
                    act.IsTest
                        ? new TriageStep.Tested(act.Id, network.Tests.First(t => t.Id == act.Id).Outcomes[0].Id)
                        : new TriageStep.Tried(act.Id, false)
                );
            }
        }
    }

    /// <summary>On every shipped network, dry and wet, with some remedies tried and the machine as it may stand in each branch.</summary>
    [Fact]
    public void Branches_worked_through_side_by_side_cost_what_each_costs_alone()
    {
        var random = new Random(417);
        var (weighed, banned) = (0, 0);
        foreach (var device in Enum.GetValues<DeviceClass>())
        {
            foreach (
                var symptoms in Knowledge
                    .Shipped.Symptoms.Where(s => s.Stop is null && s.Id != "liquid")
                    .SelectMany(s => new string[][] { [s.Id], [s.Id, "liquid"] })
            )
            {
                var network = Knowledge.Of(device, symptoms);
                var tried = network.Remedies.Where(r => r.Ends is null && random.Next(5) == 0).Select(r => r.Id);
                if (
                    !TriageBeliefs
                        .After(network, [.. tried.Select(r => new TriageStep.Tried(r, false))])
                        .Try(out var belief, out _)
                )
                {
                    continue;
                }

                int[] untried =
                [
                    .. Enumerable
                        .Range(0, network.Remedies.Count)
                        .Where(r => !belief.RemediesTried.Contains(network.Remedies[r].Id)),
                ];
                double[] now = [.. belief.Chances];
                var prices = new RemedyPrices(network, belief, untried);
                Branch[] branches =
                [
                    .. network.Chances.SelectMany(t => t).Select(answer => new Branch(answer, -1, State())),
                    .. untried.Select(r => new Branch([.. now.Select(_ => random.NextDouble())], r, State())),
                ];

                var costs = new Rollout(network, now, untried, prices).Costs(branches);
                for (var b = 0; b < branches.Length; b++)
                {
                    costs[b]
                        .ShouldBe(
                            PlainRollout.Cost(network, now, untried, prices, branches[b]),
                            1e-9,
                            $"{device}, {string.Join(" and ", symptoms)}, branch {b}"
                        );
                }

                weighed += branches.Length;
                banned += belief.Forbidden.Count > 0 ? 1 : 0;

                int State() =>
                    RemedyPrices.State(random.Next(2) == 0, belief.Forbidden.Count > 0 && random.Next(2) == 0);
            }
        }

        (weighed > 2000, banned > 20).ShouldBe((true, true), $"{weighed} branches, {banned} networks under a ban");
    }

    [Fact]
    public void One_step_of_look_ahead_costs_within_a_tenth_of_the_optimal_policy_on_average()
    {
        var (ours, best) = (0.0, 0.0);
        for (var seed = 1; seed <= 120; seed++)
        {
            var network = Knowledge.Generate(new Random(seed), 2 + (seed % 3), 1 + (seed % 3));
            var optimal = OptimalPolicy.Cost(network);
            var advised = OptimalPolicy.CostOfAdvice(network);
            advised.ShouldBeGreaterThan(optimal - 1e-6);
            (ours, best) = (ours + (advised / optimal), best + 1);
        }

        (ours / best).ShouldBeLessThan(1.1);
    }

    [Fact]
    public void Broken_machines_drawn_from_the_shipped_files_are_judged_right_and_cheaper_than_by_the_list()
    {
        var (right, runs, advised, listed) = (0, 0, 0.0, 0.0);
        foreach (var network in ShippedNetworks())
        {
            var random = new Random(417);
            for (var i = 0; i < 40; i++)
            {
                var run = TriageTrial.Advised(network, random);
                (right, runs) = (right + (run.Right ? 1 : 0), runs + 1);
                (advised, listed) = (advised + run.Minutes, listed + TriageTrial.ByList(network, random));
            }
        }

        (right / (double)runs).ShouldBeGreaterThan(0.94);
        (advised / listed).ShouldBeLessThan(0.5);
    }

    /// <summary>Every complaint on every class.</summary>
    internal static IEnumerable<TriageNetwork> ShippedNetworks() =>
        from device in Enum.GetValues<DeviceClass>()
        from symptom in Knowledge.Shipped.Symptoms
        where symptom.Stop is null
        select Knowledge.Of(device, symptom.Id);

    // What trade practice says comes first. Common practice, no published source.
    [Theory]
    [InlineData(DeviceClass.Laptop, "pointer-dead", "firmware-input")]
    [InlineData(DeviceClass.Chromebook, "pointer-dead", "firmware-input")]
    [InlineData(DeviceClass.Laptop, "touch-dead", "firmware-input")]
    [InlineData(DeviceClass.Laptop, "fan-noisy", "fan-air")]
    [InlineData(DeviceClass.Laptop, "will-not-charge", "other-charger")]
    [InlineData(DeviceClass.Laptop, "wireless-weak", "other-unit")]
    public void The_test_of_the_trade_comes_first(DeviceClass device, string symptom, string test) =>
        TriageAdvisor.Next(Knowledge.Of(device, symptom), []).Value.Best!.Id.ShouldBe(test);

    // A dead ribbon after a repair is first a question of its seat. Common practice, no published source.
    [Theory]
    [InlineData("picture-artefacts", "after-repair", "display-joint")]
    [InlineData("keys-dead", "after-repair", "keyboard-ribbon")]
    [InlineData("pointer-dead", "after-repair", "touchpad-ribbon")]
    [InlineData("stops-at-start", "after-power-loss", "storage-mode")]
    [InlineData("keys-missing", "after-repair", "keyboard-unclipped")]
    [InlineData("pointer-dead", "after-update", "pointer-driver")]
    public void The_circumstance_decides_what_is_suspected_first(string symptom, string circumstance, string fault)
    {
        var network = TriageNetwork
            .Of(
                Knowledge.Shipped,
                new TriageCase
                {
                    Class = DeviceClass.Laptop,
                    Symptoms = [symptom],
                    Circumstances = [circumstance],
                }
            )
            .Value;
        TriageAdvisor.Next(network, []).Value.Faults[0].Fault.Id.ShouldBe(fault);
    }

    [Fact]
    public void Alive_in_the_firmware_screens_means_software_and_dead_there_means_hardware()
    {
        var network = Knowledge.Of(DeviceClass.Laptop, "pointer-dead");
        // Some set-up screens take no touchpad, so dead there is no proof.
        Hardware("works").ShouldBeLessThan(0.1);
        Hardware("dead").ShouldBeInRange(0.7, 0.95);

        double Hardware(string answer) =>
            TriageAdvisor
                .Next(network, [new TriageStep.Tested("firmware-input", answer)])
                .Value.Faults.Where(f => f.Fault.Nature is FaultNature.Part or FaultNature.Seating)
                .Sum(f => f.Chance);
    }

    [Fact]
    public void A_chromebook_s_radio_is_tried_without_opening_before_it_is_suspected()
    {
        var network = Knowledge.Of(DeviceClass.Chromebook, "no-wireless");
        var steps = new List<TriageStep>();
        while (TriageAdvisor.Next(network, steps).Value.Best is { } best)
        {
            if (!best.IsTest && network.Remedies.First(r => r.Id == best.Id).Opens)
            {
                break;
            }

            steps.Add(best.IsTest ? new TriageStep.Tested(best.Id, null) : new TriageStep.Tried(best.Id, false));
        }

        steps.OfType<TriageStep.Tried>().Select(t => t.Remedy).ShouldContain("factory-reset");
    }

    [Fact]
    public void Could_not_tell_changes_no_chance_and_is_not_asked_again()
    {
        var network = Knowledge.Of(DeviceClass.Laptop, "pointer-dead");
        var before = TriageAdvisor.Next(network, []).Value;
        var after = TriageAdvisor.Next(network, [new TriageStep.Tested(before.Best!.Id, null)]).Value;
        after.Faults.Select(f => f.Chance).ShouldBe(before.Faults.Select(f => f.Chance));
        after.Best!.Id.ShouldNotBe(before.Best.Id);
    }

    [Fact]
    public void Answers_that_contradict_each_other_are_named_and_only_they()
    {
        var network = TwoFaults(0.5, 0.5, [1, 0], [0, 1], [1, 0], [0, 1]);
        var refusal = TriageBeliefs
            .After(network, [new TriageStep.Tested("t0", "a"), new TriageStep.Tested("t1", "b")])
            .Refusal!;
        refusal.Message.ShouldContain("“t0” a together with “t1” b");
        refusal.Message.ShouldContain("could not tell");
    }

    [Fact]
    public void What_is_dangerous_is_not_tested()
    {
        var swollen = TriageNetwork.Of(
            Knowledge.Shipped,
            new TriageCase { Class = DeviceClass.Laptop, Symptoms = ["pointer-jumps", "swollen"] }
        );
        swollen.Refusal!.Message.ShouldContain("do not charge");
    }

    [Fact]
    public void A_part_the_machine_does_not_have_is_not_suspected()
    {
        var fanless = Maps.Shipped("thimble-11-r").Plain();
        var components = Knowledge.Shipped.ComponentsOf(fanless);
        components.Keys.ShouldNotContain("fan");
        components["keyboard"].ShouldBe("case"); // riveted to the deck
        var network = TriageNetwork
            .Of(
                Knowledge.Shipped,
                new TriageCase
                {
                    Class = DeviceClass.Chromebook,
                    Symptoms = ["runs-hot"],
                    Components = components,
                }
            )
            .Value;
        network.Faults.ShouldNotContain(f => f.Component == "fan");
    }

    [Fact]
    public void Records_move_a_model_towards_itself_and_leave_its_class_behind_it()
    {
        var none = LearnedWeights.Of(Knowledge.Shipped, "thimble-11", DeviceClass.Chromebook, []);
        none.ShouldAllBe(w => Math.Abs(w.ForModel - w.Shipped) < 1e-12);
        none.Sum(w => w.ForModel).ShouldBe(1, 1e-9);

        FaultCount[] counts =
        [
            new("thimble-11", DeviceClass.Chromebook, "keyboard-broken", 40),
            new("thimble-11-r", DeviceClass.Chromebook, "charger-dead", 10),
        ];
        var own = LearnedWeights.Of(Knowledge.Shipped, "thimble-11", DeviceClass.Chromebook, counts);
        var other = LearnedWeights.Of(Knowledge.Shipped, "thimble-10-k", DeviceClass.Chromebook, counts);
        double Share(IReadOnlyList<LearnedWeight> of, string fault) => of.First(w => w.Fault.Id == fault).ForModel;
        Share(own, "keyboard-broken").ShouldBeGreaterThan(Share(other, "keyboard-broken"));
        Share(other, "keyboard-broken").ShouldBeGreaterThan(Share(none, "keyboard-broken"));

        // By hand: shipped share s; class ((200 s + 10 of others) …), then (60 class + 40) / 100.
        var s = none.First(w => w.Fault.Id == "keyboard-broken").Shipped;
        Share(own, "keyboard-broken").ShouldBe(((60 * (200 * s / 210)) + 40) / 100, 1e-12);
    }

    private static TriageNetwork TwoFaults(double first, double second, params double[][] rows)
    {
        var file = new TriageFile
        {
            Format = 1,
            Name = "two",
            Symptoms =
            [
                new Symptom
                {
                    Id = "s",
                    Group = "g",
                    Name = "s",
                },
            ],
            Faults =
            [
                .. new[] { first, second }.Select(
                    (w, i) =>
                        new Fault
                        {
                            Id = $"f{i}",
                            Name = $"f{i}",
                            Nature = FaultNature.Part,
                            Weight = new ClassWeights { Laptop = w, Chromebook = w },
                            Shows = new Dictionary<string, double> { ["s"] = 1 },
                        }
                ),
            ],
            Tests =
            [
                .. rows.Chunk(2)
                    .Select(
                        (pair, t) =>
                            new TriageTest
                            {
                                Id = $"t{t}",
                                Title = $"t{t}",
                                Minutes = 1,
                                Symptoms = ["s"],
                                Outcomes =
                                [
                                    new TestOutcome { Id = "a", Name = "a" },
                                    new TestOutcome { Id = "b", Name = "b" },
                                ],
                                Given = [new GivenFaults { Faults = ["f0"], Chances = pair[0] }],
                                Otherwise = pair[1],
                            }
                    ),
            ],
        };
        return TriageNetwork
            .Of(new TriageKnowledge([file]), new TriageCase { Class = DeviceClass.Laptop, Symptoms = ["s"] })
            .Value;
    }
}
