using System.Net;
using System.Net.Http.Json;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Demo.World;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>
/// Who may do what: every endpoint the running program lists, tried by every role. What is needed stands in access.txt, a
/// line each; an endpoint without a line there, or a line without an endpoint, fails.
/// </summary>
public sealed class AccessTests(TemplateDatabase template)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private const string Anybody = "anybody";

    private static readonly Dictionary<string, string> SignIns = new()
    {
        [Roles.Technician] = "aled",
        [Roles.Storekeeper] = "odd",
        [Roles.Lead] = "mara",
        [Roles.Reader] = "desk",
    };

    [Fact]
    public async Task Every_endpoint_has_a_rule_and_keeps_it_for_every_role()
    {
        await using var program = await RunningProgram.On(template);
        var rules = File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Web", "access.txt"))
            .Where(l => l.Length > 0 && l[0] != '#')
            .Select(l => l.Split(' ', 2))
            .ToDictionary(l => l[1], l => l[0]);
        var everything = program.Everything();
        everything.Select(e => e.ToString()).ShouldBe(rules.Keys.Order(StringComparer.Ordinal));

        var wrong = new List<string>();
        using (var nobody = await program.Visit(null))
        {
            await Walk(nobody, "nobody", _ => false);
        }

        foreach (var (role, signIn) in SignIns)
        {
            using var visitor = await program.Visit(signIn);
            var person = await program.Book.Person(signIn);
            var token = await program.Book.Do<ApiTokens, Outcome<string>>(t => t.Make("all", person, TokenScopes.All));
            visitor.Http.DefaultRequestHeaders.Authorization = new("Bearer", token.Value);
            await Walk(visitor, role, rule => Policies.Allowed[rule].Contains(role));
        }

        wrong.ShouldBeEmpty();

        async Task Walk(Visitor visitor, string who, Func<string, bool> may)
        {
            foreach (var endpoint in everything.Where(e => e.Route is not ("/sign-out" or "/not-allowed")))
            {
                var rule = rules[endpoint.ToString()];
                var (expected, outcome) = (rule == Anybody || may(rule), await Try(visitor, endpoint));
                if (outcome != expected)
                {
                    wrong.Add($"{endpoint}: {who} {(outcome ? "is let through" : "is refused")}, the rule is {rule}");
                }
            }
        }
    }

    [Fact]
    public async Task A_token_opens_only_what_it_was_made_for()
    {
        await using var program = await RunningProgram.On(template);
        var mara = await program.Book.Person("mara");
        using var client = await program.Visit(null);
        foreach (var (scopes, status) in new[] { (new[] { "bench", "stores", "house" }, 403), (["counter"], 422) })
        {
            var token = await program.Book.Do<ApiTokens, Outcome<string>>(t => t.Make("x", mara, scopes));
            client.Http.DefaultRequestHeaders.Authorization = new("Bearer", token.Value);
            using var write = await client.Http.PostAsync("/api/v1/units/SK-00417/power", new StringContent("x"), Stop);
            ((int)write.StatusCode).ShouldBe(status);
            using var read = await client.Http.GetAsync("/api/v1/units", Stop);
            read.StatusCode.ShouldBe(HttpStatusCode.OK);
        }
    }

    [Fact]
    public async Task Nothing_opens_before_a_password_somebody_else_made_up_is_changed()
    {
        await using var program = await RunningProgram.On(template);
        await program.Book.Sql("UPDATE technicians SET must_change_password = true WHERE user_name = 'mara'");
        using var mara = await program.Visit("mara");
        foreach (var page in new[] { "/", "/house/people", "/fleet", "/photos/00000000-0000-0000-0000-000000000000" })
        {
            using var answer = await mara.Http.GetAsync(page, Stop);
            answer.Headers.Location?.OriginalString.ShouldBe("/account", page);
        }

        using var changed = await mara.Post(
            "/account?handler=Password",
            new Dictionary<string, string>
            {
                ["current"] = LoadDemo.Password,
                ["wanted"] = "ferry lamp onion drum",
                ["again"] = "ferry lamp onion drum",
            }
        );
        using var counter = await mara.Http.GetAsync("/", Stop);
        counter.StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task After_four_hundred_characters_no_text_has_everybody_signs_in_as_before()
    {
        await using var program = await RunningProgram.On(template);
        using var visitor = await program.Visit(null);
        var refused = await Task.WhenAll(
            Enumerable.Range(0, 400).Select(i => visitor.PostParts("/sign-in", ("name", $"a\0{i}"), ("password", "b")))
        );
        refused.ShouldAllBe(status => status == 422);
        foreach (var some in Enumerable.Range(0, 200).Chunk(20))
        {
            await Task.WhenAll(some.Select(async _ => (await program.Visit("ines")).Dispose()));
        }
    }

    [Fact]
    public async Task Guesses_sent_all_at_once_are_looked_at_no_more_than_one_by_one_and_shut_out_nobody_elsewhere()
    {
        await using var program = await RunningProgram.On(template);
        var looked = 0;
        var tries = await Task.WhenAll(Enumerable.Range(0, 40).Select(_ => From("10.0.0.1", right: false)));
        tries.ShouldAllBe(t => !t.In);
        looked.ShouldBe(6);
        tries.Max(t => t.Delay).ShouldBeGreaterThan(tries.Min(t => t.Delay) * 8, "each answer is later than the last");
        (await From("10.0.0.1", right: true)).In.ShouldBeFalse("whoever guessed is shut out");
        (await From("10.0.0.2", right: true)).In.ShouldBeTrue("the right person is not");
        // In the book, for every instance; and no longer than its time.
        var counted = await program.Book.Ask(db => db.WrongTries.CountAsync());
        counted.ShouldBe(6, "what was not looked at is not counted, nor who was right");
        _ = await program.Book.Sql("UPDATE wrong_tries SET at = at - interval '5 minutes'");
        (await From("10.0.0.1", right: true)).In.ShouldBeTrue("after five minutes the address is heard again");

        Task<(bool In, TimeSpan Delay)> From(string address, bool right) =>
            program.Book.Do<WrongTries, (bool, TimeSpan)>(t =>
                t.Try(
                    address,
                    "mara",
                    async () =>
                    {
                        Interlocked.Increment(ref looked);
                        await Task.Delay(5, Stop);
                        return right;
                    },
                    Stop
                )
            );
    }

    [Fact]
    public async Task Without_its_database_the_api_says_so_in_its_own_language()
    {
        await using var program = await RunningProgram.On(
            template,
            ("ConnectionStrings:Workshop", "Host=127.0.0.1;Port=9;Username=x;Password=x;Database=x;Timeout=2")
        );
        using var client = program.Client();
        client.DefaultRequestHeaders.Authorization = new("Bearer", "zk_0");
        using var answer = await client.GetAsync("/api/v1/models", Stop);
        answer.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
        using var page = await client.GetAsync("/sign-in", Stop);
        page.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
        page.Content.Headers.ContentType!.MediaType.ShouldBe("text/html");
    }

    [Fact]
    public async Task What_fails_is_logged_under_its_own_address_and_says_nothing_of_the_inside()
    {
        await using var program = await RunningProgram.On(template);
        using var mara = await program.Visit("mara");
        _ = await program.Book.Sql("ALTER TABLE bins RENAME TO bins_gone");
        using var answer = await mara.Http.GetAsync("/stores?kind=board", Stop);
        answer.StatusCode.ShouldBe(HttpStatusCode.InternalServerError);
        answer.Headers.Contains("Server").ShouldBeFalse();
        (await answer.Content.ReadAsStringAsync(Stop)).ShouldNotContain("bins");
        program.LastFault.ShouldStartWith("GET /stores failed");
    }

    [Fact]
    public async Task What_a_proxy_says_is_believed_of_named_ones_only()
    {
        await using var behind = await RunningProgram.On(template, ("Proxies:0", "127.0.0.7"), ("AllowedHosts", "*"));
        (await Ask(behind, "127.0.0.7")).ShouldBe((true, true), "TLS ends at the proxy: cookies are secure");
        (await Ask(behind, "127.0.0.8")).ShouldBe((false, false));
        await using var alone = await RunningProgram.On(template, ("AllowedHosts", "*"));
        (await Ask(alone, "127.0.0.7")).ShouldBe((false, false));

        static async Task<(bool Strict, bool Secure)> Ask(RunningProgram program, string from)
        {
            var answer = await program.Ask(
                "/sign-in",
                context =>
                {
                    context.Request.Host = new("zenrik.example.org");
                    context.Connection.RemoteIpAddress = IPAddress.Parse(from);
                    context.Request.Headers["X-Forwarded-For"] = "10.1.1.1";
                    context.Request.Headers["X-Forwarded-Proto"] = "https";
                }
            );
            return (
                answer.Headers.ContainsKey("Strict-Transport-Security"),
                answer.Headers.SetCookie.ToString().Contains("; secure", StringComparison.Ordinal)
            );
        }
    }

    /// <summary>Whether the endpoint lets it through, whatever it then says of a request without sense.</summary>
    private static async Task<bool> Try(Visitor visitor, Answered endpoint)
    {
        var address = endpoint.Address(kind => kind is "guid" ? Guid.Empty.ToString() : "9999");
        using var answer =
            endpoint.Model is not null && endpoint.Verb == "POST" ? await visitor.Post(address, [])
            : endpoint.Verb == "GET"
                ? await visitor.Http.GetAsync(address, HttpCompletionOption.ResponseHeadersRead, Stop)
            : endpoint.Verb == "DELETE" ? await visitor.Http.DeleteAsync($"{address}?request={Guid.Empty}", Stop)
            : await visitor.Http.PostAsync(
                address,
                endpoint.Route.EndsWith("/power", StringComparison.Ordinal)
                    ? new StringContent("x")
                    : JsonContent.Create(new { }),
                Stop
            );
        return answer.StatusCode switch
        {
            HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden => false,
            HttpStatusCode.Redirect => answer.Headers.Location!.OriginalString is var to
                && !to.Contains("/sign-in?", StringComparison.Ordinal)
                && !to.Contains("/not-allowed", StringComparison.Ordinal),
            _ => true,
        };
    }
}
