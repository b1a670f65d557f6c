using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.HouseRules;

namespace Zenrik.Workshop.Tests.HouseRules;

public sealed class SetHouseRuleTests(TemplateDatabase template)
{
    private static Task<Outcome<string>> Set(Book book, string rule, string school, Actor by) =>
        book.Do<SetHouseRule, Outcome<string>>(s => s.Run(rule, school, by));

    [Fact]
    public async Task Plans_follow_a_new_rule_and_a_session_on_the_bench_keeps_its_own()
    {
        await using var book = await template.NewBook();
        var (mara, aled) = (await book.Person("mara"), await book.Person("aled"));
        var begun = await book.OnBench(aled, "battery", "battery worn");
        var before = (await book.Bench(begun)).Ledger.Plan.Acts.ToList();
        before.ShouldContain(Act.Parse("blow-clean:fan"));

        (await Set(book, "cleaning", "when-asked", mara)).Value.ShouldContain("only when the job asks");
        _ = (await Set(book, "screw-keeping", "taped-beside", mara)).Value;

        (await book.Bench(begun)).Ledger.Plan.Acts.ShouldBe(before);
        var waiting = (await book.View(1006)).Plan!;
        waiting.Acts.ShouldNotContain(a => a.Kind == ActKind.BlowClean);
        waiting.KeptAt(waiting.FastenersOut.First(f => !f.Captive)).ShouldBe("taped beside the hole");

        _ = (await book.Start(aled, 1006)).Value;
        _ = (await Set(book, "cleaning", "while-inside", mara)).Value;
        (await book.Bench(1006)).Ledger.Plan.Acts.ShouldNotContain(a => a.Kind == ActKind.BlowClean);
    }

    [Fact]
    public async Task Leads_who_decide_at_once_leave_one_decision_and_no_error()
    {
        await using var book = await template.NewBook();
        var (mara, aled) = (await book.Person("mara"), await book.Person("aled"));
        var outcomes = await Task.WhenAll(
            Enumerable
                .Range(0, 16)
                .Select(i => Set(book, "paste", i % 2 == 0 ? "small-dot" : "thin-spread", i % 3 == 0 ? mara : aled))
        );
        outcomes.ShouldAllBe(o => o.Refusal == null);
        var (_, decided) = await book.Do<HouseRulesOf, (HousePractice, IReadOnlyList<HouseChoice>)>(r => r.Decided());
        decided.ShouldHaveSingleItem().RuleId.ShouldBe("paste");
        (await Set(book, "paste", "chew", mara)).Refusal!.Message.ShouldContain("small-dot");
        (await Set(book, "tea", "milk", mara)).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
    }

    [Fact]
    public async Task A_rule_this_program_no_longer_knows_counts_as_default()
    {
        await using var book = await template.NewBook();
        var by = (await book.Person("mara")).Id;
        await book.Sql(
            $"INSERT INTO house_choices VALUES ('tea', 'milk', now(), '{by}'), ('paste', 'chew', now(), '{by}')"
        );
        (await book.Do<HouseRulesOf, HousePractice>(r => r.Run())).ShouldBe(HousePractice.Default);
    }
}
