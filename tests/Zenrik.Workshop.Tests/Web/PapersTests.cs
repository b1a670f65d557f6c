using System.Net;
using System.Text.Json;
using Ical.Net;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>What leaves the program one by one: a passport, a repair, the days that fall due, somebody's views.</summary>
public sealed class PapersTests(TemplateDatabase template)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_passport_and_a_repair_are_read_as_json()
    {
        await using var program = await RunningProgram.On(template);
        var (book, aled) = (program.Book, await program.Book.Person("aled"));
        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        using var desk = await program.Visit("desk");

        using var unit = JsonDocument.Parse(await desk.Http.GetStringAsync($"/fleet/{Job.Unit}.json", Stop));
        var battery = unit
            .RootElement.GetProperty("inside")
            .EnumerateArray()
            .Single(s => s.GetProperty("slot").GetString() == "battery");
        battery.GetProperty("repair").GetString().ShouldBe(Repair.CodeOf(repair));
        unit.RootElement.GetProperty("state").GetString().ShouldBe("in-use");
        unit.RootElement.GetProperty("timeline").GetArrayLength().ShouldBeGreaterThan(2);

        using var paper = JsonDocument.Parse(
            await desk.Http.GetStringAsync($"/repairs/{Repair.CodeOf(repair)}.json", Stop)
        );
        paper.RootElement.GetProperty("end").GetString().ShouldBe("exchanged");
        paper
            .RootElement.GetProperty("exchanged")[0]
            .GetProperty("numberIn")
            .GetString()
            .ShouldBe(battery.GetProperty("number").GetString());
        paper.RootElement.GetProperty("record").GetArrayLength().ShouldBeGreaterThan(20);
        foreach (var nothing in new[] { "/fleet/XX-1.json", "/repairs/R-999999.json", "/repairs/x.json" })
        {
            using var answer = await desk.Http.GetAsync(nothing, Stop);
            answer.StatusCode.ShouldBe(HttpStatusCode.NotFound, nothing);
        }
    }

    [Fact]
    public async Task A_calendar_reads_what_falls_due_by_its_address_and_nothing_else()
    {
        await using var program = await RunningProgram.On(template);
        var (book, aled) = (program.Book, await program.Book.Person("aled"));
        var day = DateOnly.FromDateTime(DateTime.Today).AddDays(3);
        var repair = await book.Opened(aled, "battery", "battery worn", await book.Idle("sandpiper-14"));
        _ = (
            await book.Do<CorrectRepair, Outcome<string>>(c =>
                c.Run(Guid.NewGuid(), repair, Priority.Normal, day, null, aled)
            )
        ).Value;
        var tag = await book.Idle("thimble-11");
        _ = (
            await book.Do<ChangeUnits, Outcome<string>>(c => c.Mark(Guid.NewGuid(), [tag], "Dust, “before”", aled))
        ).Value;
        _ = (
            await book.Do<KeepCampaigns, Outcome<string>>(c =>
                c.Say("Dust, “before”", RepairPurpose.CheckUp, null, null, day, aled)
            )
        ).Value;
        var token = (await book.Do<ApiTokens, Outcome<string>>(t => t.MakeForCalendar(aled))).Value;
        var other = (await book.Do<ApiTokens, Outcome<string>>(t => t.Make("api", aled))).Value;
        using var nobody = await program.Visit(null);

        // Read by the same library that other programs read calendars with.
        var all = Calendar.Load(await nobody.Http.GetStringAsync($"/calendar/{token}/all.ics", Stop))!;
        var promise = all.Events.Single(e => e.Uid!.StartsWith($"promise-r-{repair}@", StringComparison.Ordinal));
        promise.Start!.Date.ShouldBe(day);
        promise.IsAllDay.ShouldBeTrue();
        promise.Url!.AbsolutePath.ShouldBe($"/repairs/R-{repair}");
        var only = Calendar.Load(await nobody.Http.GetStringAsync($"/calendar/{token}/campaign.ics", Stop))!;
        only.Events.ShouldAllBe(e => e.Categories.Contains("Campaign"));
        only.Events.Count(e => e.Summary == "“Dust, “before”” to be done").ShouldBe(1);
        all.Events.Count(e => e.Categories.Contains("Campaign")).ShouldBe(only.Events.Count);

        foreach (var address in new[] { $"{token}/x", $"{token}/7", $"{other}/all", $"{token[..^1]}/all" })
        {
            using var answer = await nobody.Http.GetAsync($"/calendar/{address}.ics", Stop);
            answer.StatusCode.ShouldBe(HttpStatusCode.NotFound, address);
        }

        nobody.Http.DefaultRequestHeaders.Authorization = new("Bearer", token);
        using var api = await nobody.Http.GetAsync("/api/v1/units", Stop);
        api.StatusCode.ShouldBe(HttpStatusCode.Forbidden, "what reads the calendar reads nothing else");
    }

    [Fact]
    public async Task Views_are_kept_for_oneself_by_their_name()
    {
        await using var book = await template.NewBook();
        var (aled, desk) = (await book.Person("aled"), await book.Person("desk"));
        (await Keep(" ", "?site=x")).Refusal!.Message.ShouldContain("Name the view");
        (await Keep("x", "//evil")).Refusal!.Message.ShouldContain("no view");
        (await Keep("x", "?site=x", "/house")).Refusal!.Message.ShouldContain("no view");
        var many = await Task.WhenAll(
            Enumerable.Range(0, SavedViews.Most + 4).Select(i => Keep($"v{i}", $"?page={i}"))
        );
        many.Count(o => o.Refusal is null).ShouldBe(SavedViews.Most);
        var there = await Of(aled);
        _ = (await Keep(there[0].Name, "?site=Clinic")).Value;
        (await Of(aled)).Single(v => v.Name == there[0].Name).Query.ShouldBe("?site=Clinic");
        (await Of(desk)).ShouldBeEmpty();
        _ = (await book.Do<SavedViews, Outcome<string>>(v => v.Drop(there[0].Id, desk))).Value;
        (await Of(aled)).Count.ShouldBe(SavedViews.Most, "nobody drops another's");
        _ = (await book.Do<SavedViews, Outcome<string>>(v => v.Drop(there[0].Id, aled))).Value;
        (await Of(aled)).Count.ShouldBe(SavedViews.Most - 1);

        Task<Outcome<string>> Keep(string name, string query, string list = "/fleet") =>
            book.Do<SavedViews, Outcome<string>>(v => v.Keep(list, name, query, aled));
        Task<IReadOnlyList<SavedView>> Of(Actor who) =>
            book.Do<SavedViews, IReadOnlyList<SavedView>>(v => v.Of("/fleet", who));
    }
}
