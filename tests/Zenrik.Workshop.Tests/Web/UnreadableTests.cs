using System.Net;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Repairs;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>What a page cannot take as what it is is said, and is not taken for nothing.</summary>
public sealed class UnreadableTests(TemplateDatabase template)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_field_that_cannot_be_read_is_not_taken_for_an_empty_one()
    {
        await using var program = await RunningProgram.On(template);
        using var mara = await program.Visit("mara");
        var (number, promised) = await program.Book.Ask(async db =>
        {
            var repair = await db.Repairs.FirstAsync(r => r.State == RepairState.Open && r.PromisedOn != null);
            return (repair.Number, repair.PromisedOn);
        });
        var page = $"/repairs/{Repair.CodeOf(number)}";
        foreach (
            var (typed, said) in new[]
            {
                ("12026-03-04", "“12026-03-04” could not be read"),
                ("in March", "“in March” could not be read"),
                ("9999-12-31", "The year 9999 is out of reach"),
                ("0026-03-04", "The year 26 is out of reach"),
            }
        )
        {
            using var answer = await Correct(typed);
            answer.StatusCode.ShouldBe(HttpStatusCode.Redirect);
            answer.Headers.Location!.ToString().ShouldBe(page);
            WebUtility.HtmlDecode(await mara.Http.GetStringAsync(page, Stop)).ShouldContain(said);
        }

        (await Promised()).ShouldBe(promised, "nothing was changed");
        using var cleared = await Correct("");
        (await Promised()).ShouldBeNull("an empty field is an answer");

        using var history = await mara.Http.GetAsync("/history?from=2026-12-06&until=9999-12-31", Stop);
        history.StatusCode.ShouldBe(HttpStatusCode.OK);
        (await history.Content.ReadAsStringAsync(Stop)).ShouldContain(
            "The year 9999 is out of reach. It is left out here."
        );

        // A part of an open page is told where that page says what went wrong.
        using var asked = new HttpRequestMessage(HttpMethod.Post, $"{page}?handler=Correct");
        asked.Headers.Add("HX-Request", "true");
        asked.Content = mara.Form(Fields("<b>"));
        using var told = await mara.Http.SendAsync(asked, Stop);
        told.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        told.Headers.GetValues("HX-Retarget").ShouldBe(["#notice"]);
        (await told.Content.ReadAsStringAsync(Stop)).ShouldContain("&lt;b&gt;");

        Task<DateOnly?> Promised() =>
            program.Book.Ask(db => db.Repairs.Where(r => r.Number == number).Select(r => r.PromisedOn).SingleAsync());

        Task<HttpResponseMessage> Correct(string day) => mara.Post($"{page}?handler=Correct", Fields(day));

        static Dictionary<string, string> Fields(string day) =>
            new()
            {
                ["request"] = Guid.NewGuid().ToString(),
                ["priority"] = "Normal",
                ["promised"] = day,
            };
    }

    [Fact]
    public async Task What_is_not_there_is_said_at_the_bench_it_was_given_to()
    {
        await using var program = await RunningProgram.On(template);
        using var mara = await program.Visit("mara");
        using var answer = await mara.Post(
            "/bench/R-1004",
            new Dictionary<string, string>
            {
                ["Request"] = Guid.NewGuid().ToString(),
                ["Do"] = "number",
                ["Step"] = "1",
                ["Text"] = "IT-99999",
            }
        );
        // A part of a page is shown with this status, and not with that of a page that is not there.
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync(Stop)).ShouldContain("There is no item IT-99999");
    }

    [Fact]
    public async Task Of_an_empty_form_nothing_is_said_to_be_unreadable()
    {
        await using var program = await RunningProgram.On(template);
        using var mara = await program.Visit("mara");
        var forms = program
            .Everything()
            .Where(e => e is { Verb: "POST", Method: not null, Route: not ("/sign-out" or "/sign-in" or "/account") })
            .ToList();
        forms.Count.ShouldBeGreaterThan(100);
        foreach (var form in forms)
        {
            var address = form.Address(kind => kind is "guid" ? $"{Guid.Empty}" : "1");
            using var answer = await mara.Post(address, []);
            var next = answer.Headers.Location is { } to
                ? await mara.Http.GetAsync(to.ToString().Split('#')[0], Stop)
                : answer;
            (await next.Content.ReadAsStringAsync(Stop)).ShouldNotContain("could not be read", customMessage: address);
        }
    }

    [Fact]
    public async Task A_page_that_takes_no_form_is_not_shown_without_its_model()
    {
        await using var program = await RunningProgram.On(template);
        using var mara = await program.Visit("mara");
        var everything = program.Everything();
        var takes = everything.Where(e => e is { Verb: "POST", Handler: "" }).Select(e => e.Route).ToHashSet();
        var pages = everything.Where(e =>
            e is { Verb: "GET", Method: not null, Handler: "" } && !e.Route.Contains('{')
        );
        var others = pages.Where(e => !takes.Contains(e.Route)).ToList();
        others.Count.ShouldBeGreaterThan(20);
        foreach (var page in others)
        {
            using var answer = await mara.Post($"{page.Route}?handler=made-up", []);
            answer.StatusCode.ShouldBe(HttpStatusCode.MethodNotAllowed, page.Route);
            (await answer.Content.ReadAsStringAsync(Stop)).ShouldContain("There is no such form");
        }
    }
}
