using System.Net;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Demo.World;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>Who is signed in where, and when that is over.</summary>
public sealed class SessionTests(TemplateDatabase template)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData("role")]
    [InlineData("reset")]
    [InlineData("end")]
    [InlineData("disable")]
    [InlineData("end others")]
    [InlineData("idle")]
    public async Task A_session_ends_at_once_with(string act)
    {
        await using var program = await RunningProgram.On(template);
        using var visitor = await program.Visit("ines");
        using var other = await program.Visit("ines");
        var (ines, lead) = (await program.Book.Person("ines"), program.Book.Lead);
        (await Status(other)).ShouldBe(HttpStatusCode.OK);
        switch (act)
        {
            case "role":
                _ = (await People(p => p.SetRole(ines.Id, Roles.Reader, lead))).Value;
                break;
            case "reset":
                _ = (await People(p => p.ResetPassword(ines.Id, lead))).Value;
                break;
            case "end":
                _ = (await People(p => p.EndEverything(ines.Id, lead))).Value;
                break;
            case "disable":
                _ = (await People(p => p.SetDisabled(ines.Id, true, lead))).Value;
                break;
            case "end others":
                (await visitor.Post("/account?handler=EndOthers", [])).Dispose();
                (await Status(visitor)).ShouldBe(HttpStatusCode.OK, "the one it was said from stays");
                break;
            default:
                program.Clock.Ahead = SignInSessions.Idle + TimeSpan.FromMinutes(1);
                break;
        }

        using var answer = await other.Http.GetAsync("/fleet", Stop);
        answer.Headers.Location?.OriginalString.ShouldContain("/sign-in");

        Task<Outcome<string>> People(Func<KeepPeople, Task<Outcome<string>>> ask) => program.Book.Do(ask);
    }

    [Fact]
    public async Task A_copied_cookie_is_worth_nothing_after_signing_out_and_other_devices_stay()
    {
        await using var program = await RunningProgram.On(template);
        using var other = await program.Visit("ines");
        using var visitor = new Visitor(program.Client());
        await visitor.SignIn(null);
        using var signedIn = await visitor.Post(
            "/sign-in",
            new Dictionary<string, string> { ["name"] = "ines", ["password"] = LoadDemo.Password }
        );
        var cookie = signedIn
            .Headers.GetValues("Set-Cookie")
            .First(c => c.StartsWith("zenrik=", StringComparison.Ordinal));
        (await Copy()).ShouldBe(200);
        await visitor.ReadToken("/account");
        (await visitor.Post("/sign-out", [])).Dispose();
        (await Copy()).ShouldBe(302);
        (await Status(other)).ShouldBe(HttpStatusCode.OK);

        async Task<int> Copy() =>
            (
                await program.Ask(
                    "/fleet",
                    context =>
                    {
                        context.Request.Host = new("localhost");
                        context.Request.Headers.Cookie = cookie.Split(';')[0];
                    }
                )
            ).StatusCode;
    }

    [Fact]
    public async Task By_badge_and_PIN_somebody_works_for_a_while_on_a_device_where_another_is_signed_in()
    {
        await using var program = await RunningProgram.On(template);
        var ines = await program.Book.Person("ines");
        foreach (var weak in new[] { "", "123", "1111", "1234", "8765", "12a4", "123456789" })
        {
            (await Make(weak)).Refusal!.Message.ShouldContain("digits");
        }

        var badge = (await Make("4821")).Value;
        (
            await program.Book.Do<WorkshopDb, List<AuditedChange>>(async db =>
                [.. (await db.AuditLines.OrderByDescending(l => l.Id).FirstAsync(Stop)).Changes]
            )
        )
            .SelectMany(c => c.After?.Values ?? [])
            .ShouldAllBe(v => v == "…", "neither badge nor PIN is written down");

        // Nobody is let in by a badge where nobody has signed in.
        using (var nobody = await program.Visit(null))
        {
            using var refused = await Take(nobody, badge, "4821");
            refused.Headers.Location?.OriginalString.ShouldContain("/sign-in");
        }

        using var device = await program.Visit("desk");
        (await Who(device)).ShouldBe("desk");
        (await Take(device, badge, "4822")).Dispose();
        (await Who(device)).ShouldBe("desk");
        (await Take(device, badge.ToLowerInvariant(), "4821")).Dispose();
        (await Who(device)).ShouldBe("ines");

        // Given back, the device is its own again; left alone, too, but nothing is done in the other's name.
        (await device.Post("/sign-out", [])).Dispose();
        (await Who(device)).ShouldBe("desk");
        (await Take(device, badge, "4821")).Dispose();
        (await Who(device)).ShouldBe("ines");
        program.Clock.Ahead = SignInSessions.ByBadge + TimeSpan.FromMinutes(1);
        using (var late = await device.Post("/account?handler=NoBadge", []))
        {
            late.Headers.Location?.OriginalString.ShouldBe("/");
        }

        (await device.Http.GetStringAsync("/account", Stop)).ShouldContain("The time by badge was over");
        (await Who(device)).ShouldBe("desk");
        _ = (await program.Book.Do<Badges, Outcome<string>>(b => b.Drop(ines))).Value;
        (await Take(device, badge, "4821")).Dispose();
        (await Who(device)).ShouldBe("desk");

        // When the device's own session has ended, so has what stands on it.
        badge = (await Make("4821")).Value;
        (await Take(device, badge, "4821")).Dispose();
        var desk = await program.Book.Person("desk");
        _ = (
            await program.Book.Do<KeepPeople, Outcome<string>>(p => p.EndEverything(desk.Id, program.Book.Lead))
        ).Value;
        using var ended = await device.Http.GetAsync("/fleet", Stop);
        ended.Headers.Location?.OriginalString.ShouldContain("/sign-in");

        Task<Outcome<string>> Make(string pin) => program.Book.Do<Badges, Outcome<string>>(b => b.Make(pin, ines));
        static async Task<HttpResponseMessage> Take(Visitor device, string badge, string pin)
        {
            await device.ReadToken("/sign-in");
            return await device.Post("/badge", new Dictionary<string, string> { ["badge"] = badge, ["pin"] = pin });
        }

        static async Task<string> Who(Visitor device)
        {
            await device.ReadToken("/account");
            var page = await device.Http.GetStringAsync("/account", Stop);
            return Regex.Match(page, "name=\"username\" value=\"([^\"]+)\"").Groups[1].Value;
        }
    }

    private static async Task<HttpStatusCode> Status(Visitor visitor)
    {
        using var answer = await visitor.Http.GetAsync("/fleet", Stop);
        return answer.StatusCode;
    }
}
