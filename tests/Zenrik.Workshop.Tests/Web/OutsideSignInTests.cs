using System.Net;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Configuration;
using Zenrik.Core;
using Zenrik.Demo.People;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>Sign-in by the organisation's own identity provider.</summary>
public sealed class OutsideSignInTests(TemplateDatabase template)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Who_the_provider_vouches_for_is_let_in_with_the_role_it_says_and_known_again()
    {
        await using var provider = await IdentityProvider.Start();
        await using var program = await RunningProgram.On(template, Settings(provider.Address));
        using var there = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false, UseCookies = false });

        provider.Who =
        [
            ("sub", "7b3"),
            ("preferred_username", "Sol.Reed@skerry.example"),
            ("name", "Sol <Reed>"),
            ("roles", "it-bench"),
            ("roles", "everybody"),
        ];
        using (var browser = program.Client())
        {
            (await browser.GetStringAsync("/sign-in", Stop)).ShouldContain("Sign in with Skerry&#x27;s account");
            (await Go(browser, "/fleet")).ShouldBe("/fleet");
            using var fleet = await browser.GetAsync("/fleet", Stop);
            fleet.StatusCode.ShouldBe(HttpStatusCode.OK);
            (await fleet.Content.ReadAsStringAsync(Stop)).ShouldContain("Sol Reed");
        }

        (await Person()).ShouldBe(("sol.reed", "Sol Reed", "technician", false));

        // Elsewhere than here nobody is sent, whatever the address says.
        using (var browser = program.Client())
        {
            (await Go(browser, "https://elsewhere.example/")).ShouldBe("/");
        }

        // Made a reader there, a reader here; the session of before is over.
        provider.Who = [("sub", "7b3"), ("roles", "it-look")];
        using (var browser = program.Client())
        {
            (await Go(browser, "/")).ShouldBe("/");
        }

        (await Person()).ShouldBe(("sol.reed", "Sol Reed", "reader", false));

        // Without a role nobody is let in; nor who has left, whatever the provider says; nor under another's name.
        provider.Who = [("sub", "7b3"), ("roles", "everybody")];
        (await Refusal()).ShouldContain("no role in this workshop");
        provider.Who = [("sub", "9c1"), ("preferred_username", "mara"), ("roles", "it-leads")];
        (await Refusal()).ShouldContain("Somebody signs in as mara here already");
        var sol = await program.Book.Person("sol.reed");
        _ = (
            await program.Book.Do<KeepPeople, Outcome<string>>(p => p.SetDisabled(sol.Id, true, program.Book.Lead))
        ).Value;
        provider.Who = [("sub", "7b3"), ("roles", "it-bench")];
        (await Refusal()).ShouldContain("not let in here any more");

        // An answer that was made for another browser is worth nothing.
        provider.Who = [("sub", "7b4"), ("preferred_username", "eve"), ("roles", "it-leads")];
        using (var browser = program.Client())
        using (var victim = program.Client())
        {
            using var asked = await browser.GetAsync("/sign-in/with", Stop);
            using var answered = await there.GetAsync(asked.Headers.Location, Stop);
            using var forged = await victim.GetAsync(answered.Headers.Location!.PathAndQuery, Stop);
            forged.Headers.Location!.OriginalString.ShouldBe("/sign-in?outside=failed");
        }

        // Away, it is said in a sentence.
        await provider.DisposeAsync();
        await using var later = await RunningProgram.On(template, Settings(provider: "http://127.0.0.1:9"));
        using (var browser = later.Client())
        {
            using var away = await browser.GetAsync("/sign-in/with", Stop);
            (await browser.GetStringAsync(away.Headers.Location, Stop)).ShouldContain("does not answer");
        }

        async Task<string> Go(HttpClient browser, string returnUrl)
        {
            using var asked = await browser.GetAsync(
                $"/sign-in/with?returnUrl={Uri.EscapeDataString(returnUrl)}",
                Stop
            );
            using var answered = await there.GetAsync(asked.Headers.Location, Stop);
            using var back = await browser.GetAsync(answered.Headers.Location!.PathAndQuery, Stop);
            using var done = await browser.GetAsync(back.Headers.Location, Stop);
            return done.Headers.Location!.OriginalString;
        }

        async Task<string> Refusal()
        {
            using var browser = program.Client();
            (await Go(browser, "/")).ShouldBe("/sign-in");
            return await browser.GetStringAsync("/sign-in", Stop);
        }

        async Task<(string, string, string, bool)> Person()
        {
            var known = (await program.Book.Do<KeepPeople, IReadOnlyList<KnownPerson>>(p => p.List(Stop))).Single(p =>
                p.SignIn == "sol.reed"
            );
            return (known.SignIn, known.Name, known.Role, known.Invited);
        }
    }

    [Fact]
    public async Task An_account_with_a_password_is_joined_with_the_providers_by_whoever_holds_both()
    {
        await using var provider = await IdentityProvider.Start();
        await using var program = await RunningProgram.On(template, Settings(provider.Address));
        using var there = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false, UseCookies = false });
        using var ines = await program.Visit("ines");
        using var bo = await program.Visit("bo");

        // What ines began comes back in bo's browser: nothing is joined with his account.
        provider.Who = [("sub", "of ines"), ("preferred_username", "i.rook"), ("roles", "it-stores")];
        var forged = await Come(await Answer(ines), bo);
        forged.ShouldNotBe("/account?handler=Joined");
        (await Login("bo")).ShouldBe(0);

        (await Come(await Answer(ines), ines)).ShouldBe("/account?handler=Joined");
        (await Said(ines, "/account?handler=Joined")).ShouldContain("sign in either way");
        (await Login("ines")).ShouldBe(1);

        // The same account there is nobody else's here; and ines is herself whichever way she comes.
        (await Come(await Answer(bo), bo)).ShouldBe("/account?handler=Joined");
        (await Said(bo, "/account?handler=Joined")).ShouldContain("I. Rook&#x27;s here already");
        provider.Who = [("sub", "of ines"), ("preferred_username", "i.rook"), ("roles", "it-bench")];
        using (var browser = program.Client())
        {
            using var asked = await browser.GetAsync("/sign-in/with?returnUrl=%2Faccount", Stop);
            using var answered = await there.GetAsync(asked.Headers.Location, Stop);
            using var back = await browser.GetAsync(answered.Headers.Location!.PathAndQuery, Stop);
            (await browser.GetAsync(back.Headers.Location, Stop)).Dispose();
            (await browser.GetStringAsync("/account", Stop)).ShouldContain("I. Rook");
        }

        using (var parted = await ines.Post("/account?handler=Part", []))
        {
            parted.StatusCode.ShouldBe(HttpStatusCode.Redirect);
        }

        (await Login("ines")).ShouldBe(0);

        async Task<string> Answer(Visitor of)
        {
            using var asked = await of.Post("/account?handler=Join", []);
            using var answered = await there.GetAsync(
                asked.Headers.GetValues("Refresh").Single()["0; url=".Length..],
                Stop
            );
            return answered.Headers.Location!.PathAndQuery;
        }

        static async Task<string> Come(string answer, Visitor to)
        {
            using var back = await to.Http.GetAsync(answer, Stop);
            return back.Headers.Location!.OriginalString;
        }

        static async Task<string> Said(Visitor to, string address)
        {
            (await to.Http.GetAsync(address, Stop)).Dispose();
            return await to.Http.GetStringAsync("/account", Stop);
        }

        async Task<int> Login(string name)
        {
            var person = await program.Book.Person(name);
            return await program.Book.Ask(db => db.UserLogins.CountAsync(l => l.UserId == person.Id, Stop));
        }
    }

    [Theory]
    [InlineData("http://id.example.org", "zenrik", "it", "beginning with https://")]
    [InlineData("id", "zenrik", "it", "beginning with https://")]
    [InlineData("https://id.example.org", "", "it", "ClientId is missing")]
    [InlineData("https://id.example.org", "zenrik", "", "names no group")]
    public void What_is_set_wrongly_is_said_at_start(string authority, string client, string lead, string says)
    {
        var configuration = new ConfigurationBuilder()
            .AddInMemoryCollection(
                new Dictionary<string, string?>
                {
                    ["OpenId:Authority"] = authority,
                    ["OpenId:ClientId"] = client,
                    ["OpenId:Roles:lead"] = lead,
                }
            )
            .Build();
        Should.Throw<InvalidOperationException>(() => OutsideSignIn.Read(configuration)).Message.ShouldContain(says);
    }

    private static (string, string)[] Settings(string provider) =>
        [
            ("OpenId:Authority", provider),
            ("OpenId:ClientId", IdentityProvider.Client),
            ("OpenId:Title", "Skerry's account"),
            ("OpenId:Roles:lead", "it-leads"),
            ("OpenId:Roles:technician", "it-bench"),
            ("OpenId:Roles:reader", "it-look"),
        ];
}
