using Zenrik.Core.Teardown;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.Tests.Teardown;

public sealed class LearnedTimesTests(TemplateDatabase template)
{
    [Fact]
    public async Task A_closed_repair_teaches_its_model_and_no_other()
    {
        await using var book = await template.NewBook();
        var aled = await book.Person("aled");
        Task<ActTimes> Times(string model) => book.Do<LearnedTimes, ActTimes>(t => t.Of(model));
        var cover = Act.Parse("lift-out:base-cover");
        var before = (await Times("sandpiper-14")).Of(cover)!.Sessions;
        before.ShouldBe(3, "the demo closed three repairs of this model");

        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair, seconds: 20);
        (await Times("sandpiper-14")).Of(cover)!.Sessions.ShouldBe(before, "not closed yet");
        _ = (await book.Close(aled, repair)).Value;
        (await Times("sandpiper-14")).Of(cover)!.Sessions.ShouldBe(before + 1);

        var ticked = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, ticked);
        _ = (await book.Close(aled, ticked)).Value;
        (await Times("sandpiper-14")).Of(cover)!.Sessions.ShouldBe(before + 1, "ticked off afterwards");
        (await Times("plover-12")).Of(cover).ShouldBeNull();
    }

    [Fact]
    public async Task A_models_editions_say_what_each_changed()
    {
        await using var book = await template.NewBook();
        var editions = await book.Do<ViewMaps, IReadOnlyList<MapEdition>>(m => m.Editions("sandpiper-14"));
        editions.Select(e => e.Revision).ShouldBe([2, 1]);
        editions[0].Changes.ShouldHaveSingleItem().Name.ShouldContain("hidden board");
        editions[1].Changes.ShouldBeEmpty();
        (
            await book.Do<ViewMaps, Core.Outcome<Core.ServiceMaps.ServiceMap>>(m => m.Newest("wren-12"))
        ).Refusal!.Message.ShouldContain("wren-12");
    }
}
