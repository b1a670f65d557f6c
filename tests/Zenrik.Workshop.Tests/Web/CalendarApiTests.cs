using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>A planning program lays a strip on the calendar and gives it to somebody, over HTTP with a token.</summary>
public sealed class CalendarApiTests(TemplateDatabase template)
{
    private const string Calendar = "/api/v1/outlook/calendar";
    private const string Strips = "/api/v1/outlook/strips";

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_donor_is_laid_on_the_calendar_given_to_somebody_and_called_off_by_those_who_may()
    {
        await using var program = await RunningProgram.On(template);
        var book = program.Book;
        using var reader = await program.VisitWith("stores");
        using var planner = await program.VisitWith("counter");
        var donor = await book.Ask(db =>
            db.Items.Where(i => i.Unit!.State == UnitState.Donor && i.Unit.ModelCode == "thimble-11" && i.Slot != null)
                .OrderBy(i => i.Unit!.Tag)
                .Select(i => i.Unit!.Tag)
                .FirstAsync(Stop)
        );
        var slot = await book.Ask(db =>
            db.Items.Where(i => i.Unit!.Tag == donor && i.Slot == "battery").Select(i => i.Slot!).SingleAsync(Stop)
        );
        var request = Guid.NewGuid();
        (await Asked(reader, slot)).ShouldBe(HttpStatusCode.Forbidden);
        (await Asked(planner, "sails")).ShouldBe(HttpStatusCode.NotFound);
        (await Asked(planner)).ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Asked(planner, slot)).ShouldBe(HttpStatusCode.OK);
        (await Asked(planner, slot)).ShouldBe(HttpStatusCode.OK, "the same request again is answered as it was");

        var job = await Job();
        job["repair"].ShouldBeNull();
        var pin = new JsonObject
        {
            ["code"] = job["code"]!.GetValue<string>(),
            ["who"] = job["handId"]!.GetValue<Guid>(),
        };
        (await planner.Http.PostAsJsonAsync($"{Calendar}/pins", pin, Stop)).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await Job())["pinned"]!.GetValue<bool>().ShouldBeTrue();
        pin["who"] = Guid.NewGuid();
        (await planner.Http.PostAsJsonAsync($"{Calendar}/pins", pin, Stop)).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        var address = $"{Calendar}/pins/{Uri.EscapeDataString($"strip {donor}")}";
        (await planner.Http.DeleteAsync(address, Stop)).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await Job())["pinned"]!.GetValue<bool>().ShouldBeFalse();

        (await planner.Http.DeleteAsync($"{Strips}/{donor}?request={Guid.NewGuid()}", Stop)).StatusCode.ShouldBe(
            HttpStatusCode.OK
        );
        (await planner.Http.DeleteAsync($"{Strips}/{donor}?request={Guid.NewGuid()}", Stop)).StatusCode.ShouldBe(
            HttpStatusCode.NotFound
        );
        (await book.Ask(db => db.StripJobs.CountAsync(Stop))).ShouldBe(0);

        async Task<HttpStatusCode> Asked(Visitor by, params string[] slots)
        {
            using var answer = await by.Http.PostAsJsonAsync(
                Strips,
                new
                {
                    request,
                    tag = donor,
                    slots,
                },
                Stop
            );
            return answer.StatusCode;
        }

        async Task<JsonObject> Job() =>
            (await reader.Http.GetFromJsonAsync<JsonObject>(Calendar, Stop))!["jobs"]!
                .AsArray()
                .Single(j => j!["tag"]!.GetValue<string>() == donor)!
                .AsObject();
    }
}
