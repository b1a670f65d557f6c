using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Web.Hosting;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>
/// Reads that may be a moment old. The follower is a copy of the book that is far behind: its Sandpiper 14 has another name.
/// </summary>
public sealed class FollowerTests(TemplateDatabase template)
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Lists_come_from_the_follower_and_what_a_write_depends_on_never_does()
    {
        await using var follower = await template.NewBook();
        (await follower.Sql("UPDATE models SET name = 'Follower 14' WHERE code = 'sandpiper-14'")).ShouldBeNull();
        await using var program = await RunningProgram.On(template, ("ConnectionStrings:Follower", ReadOnly(follower)));
        using var visitor = await program.Visit("mara");
        using var other = await program.Visit("ines");
        // Signing in is a change like any other.
        (await Read("/fleet?text=sandpiper-14")).ShouldNotContain("Follower 14");
        program.Clock.Ahead = TimeSpan.FromSeconds(11);
        (await Read("/fleet?text=sandpiper-14")).ShouldContain("Follower 14");
        // A passport is where people act: it is the book's.
        var tag = await program.Book.Idle("sandpiper-14");
        (await Read($"/fleet/{tag}")).ShouldNotContain("Follower 14");

        // Whoever has changed something sees the book for a moment, and others the follower.
        (await visitor.Post("/outlook/calendar/hours?handler=Set", [])).Dispose();
        (await Read("/fleet?text=sandpiper-14")).ShouldNotContain("Follower 14");
        (await other.Http.GetStringAsync("/fleet?text=sandpiper-14", Stop)).ShouldContain("Follower 14");

        async Task<string> Read(string address) => await visitor.Http.GetStringAsync(address, Stop);
    }

    /// <summary>A follower takes no write: a page that made one would fail here.</summary>
    [Fact]
    public async Task Every_page_that_may_be_old_only_reads()
    {
        await using var follower = await template.NewBook();
        await using var program = await RunningProgram.On(template, ("ConnectionStrings:Follower", ReadOnly(follower)));
        using var visitor = await program.Visit("mara");
        program.Clock.Ahead = TimeSpan.FromSeconds(11);
        var pages = program
            .Everything()
            .Where(a => a.Verb == "GET" && a.Model?.IsDefined(typeof(MayBeOldAttribute), false) == true)
            .ToList();
        pages.Count.ShouldBeGreaterThan(8);
        foreach (var page in pages)
        {
            var address = page.Address(name => name == "slot" ? "battery" : "sandpiper-14");
            using var answer = await visitor.Http.GetAsync(address, Stop);
            ((int)answer.StatusCode).ShouldBe(200, address);
        }
    }

    [Fact]
    public async Task A_follower_that_does_not_answer_leaves_everything_to_the_book()
    {
        await using var book = await template.NewBook();
        var nobody = new NpgsqlConnectionStringBuilder(book.Connection) { Host = "127.0.0.1", Port = 1 };
        await using var program = await RunningProgram.On(
            template,
            ("ConnectionStrings:Follower", nobody.ConnectionString)
        );
        using var visitor = await program.Visit("mara");
        program.Clock.Ahead = TimeSpan.FromSeconds(11);
        for (var i = 0; i < 3; i++)
        {
            (await visitor.Http.GetStringAsync("/fleet", Stop)).ShouldContain("Sandpiper 14");
        }
    }

    private static string ReadOnly(Book book) =>
        new NpgsqlConnectionStringBuilder(book.Connection)
        {
            Options = "-c default_transaction_read_only=on",
        }.ConnectionString;
}
