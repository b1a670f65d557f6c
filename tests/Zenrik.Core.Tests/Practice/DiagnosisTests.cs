using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Tests.Triage;
using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Practice;

public sealed class DiagnosisTests
{
    private static readonly TriageNetwork Dead = Knowledge.Of(DeviceClass.Laptop, "will-not-start");

    [Fact]
    public void Whoever_follows_the_adviser_loses_nothing_whatever_the_fault()
    {
        for (var seed = 0; seed < 200; seed++)
        {
            var diagnosis = new Diagnosis(Dead, seed);
            while (!diagnosis.Finished)
            {
                diagnosis.Do(diagnosis.Advice.Best!.Id).Refusal.ShouldBeNull();
            }

            diagnosis.Lost.ShouldBe(0);
            diagnosis.Points.ShouldBe(100);
            diagnosis.Steps.ShouldNotBeEmpty();
        }
    }

    [Fact]
    public void Faults_are_drawn_and_tests_answered_by_the_chances_in_the_knowledge()
    {
        const int Machines = 6000;
        var machines = Enumerable.Range(0, Machines).Select(seed => new Diagnosis(Dead, seed)).ToList();
        var commonest = Dead.Prior.Index().MaxBy(p => p.Item).Index;
        var hit = machines.Where(m => m.Fault == Dead.Faults[commonest]).ToList();
        // Four standard errors of a proportion.
        Near(hit.Count, Machines, Dead.Prior[commonest]);

        var test = Dead.Tests.Index().First(t => Dead.Chances[t.Index].All(o => o[commonest] is > 0.02 and < 0.98));
        var answers = hit.CountBy(m => m.Do(test.Item.Id).Value.Answer).ToDictionary();
        foreach (var (o, outcome) in test.Item.Outcomes.Index())
        {
            Near(answers.GetValueOrDefault(outcome.Name), hit.Count, Dead.Chances[test.Index][o][commonest]);
        }

        static void Near(int seen, int of, double chance) =>
            ((double)seen / of).ShouldBe(chance, 4 * Math.Sqrt(chance * (1 - chance) / of));
    }

    [Fact]
    public void The_dearest_act_first_costs_minutes_and_says_why()
    {
        var diagnosis = new Diagnosis(Dead, 3);
        var dearest = TriageAdvisor.All(Dead, []).Value.MaxBy(a => a.Total)!;

        var step = diagnosis.Do(dearest.Id).Value;

        step.Lost.ShouldBeGreaterThan(10);
        step.Why.ShouldContain("first would have come to");
        diagnosis.Points.ShouldBeLessThan(100);
        diagnosis
            .Do(dearest.Id)
            .Refusal!.Message.ShouldBe(
                diagnosis.Finished ? "It is over: see what it was." : "That cannot be done now."
            );
    }

    [Fact]
    public void A_cheap_test_that_is_not_the_best_costs_little_more_than_its_minutes()
    {
        var all = TriageAdvisor.All(Dead, []).Value;
        var best = new Diagnosis(Dead, 0).Advice.Best!;
        foreach (var test in all.Where(a => a.IsTest && a.Id != best.Id && a.Minutes <= 3))
        {
            new Diagnosis(Dead, 5)
                .Do(test.Id)
                .Value.Lost.ShouldBeLessThan(test.Minutes + (0.15 * new Diagnosis(Dead, 5).Expected), test.Title);
        }
    }

    [Fact]
    public void The_same_number_hides_the_same_fault_and_gives_the_same_answers()
    {
        var one = new Diagnosis(Dead, 11);
        while (!one.Finished)
        {
            one.Do(one.Choices[0].Id);
        }

        var other = Diagnosis.After(Dead, 11, one.Steps.Select(s => s.Act.Id));
        other.Fault.ShouldBe(one.Fault);
        other.Steps.Select(s => s.Answer).ShouldBe(one.Steps.Select(s => s.Answer));
        other.Finished.ShouldBeTrue();
    }
}
