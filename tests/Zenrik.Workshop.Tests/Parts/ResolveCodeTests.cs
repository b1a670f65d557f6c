using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Tests.Parts;

public sealed class ResolveCodeTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_code_leads_to_what_carries_it_and_an_unknown_one_to_the_nearest()
    {
        await using var book = await databases.NewBook();
        Task<Resolved> Scan(string? code) => book.Do<ResolveCode, Resolved>(r => r.Run(code));

        (await Scan(" sk-00417 ")).ShouldBe(new Resolved.Unit("SK-00417"));
        (await Scan("r-1002")).ShouldBe(new Resolved.Repair("R-1002"));
        (await Scan("it-00001")).ShouldBe(new Resolved.Item("IT-00001"));
        (await Scan("tw 5r0q 22011")).ShouldBe(new Resolved.Number("TW-5R0Q-22011"));
        (await Scan("a-03")).ShouldBe(new Resolved.Bin("A-03"));

        // A part's own label: its number's bar code, its whole code, its serial's, with what scanners put before them.
        await book.Sql("UPDATE items SET serial = 'B07-4412' WHERE code = 'IT-00001'");
        (await Scan("1PTW-5R0Q-22011")).ShouldBe(new Resolved.Number("TW-5R0Q-22011"));
        (await Scan("]C0PTW-5R0Q-22011")).ShouldBe(new Resolved.Number("TW-5R0Q-22011"));
        (await Scan("SB07-4412")).ShouldBe(new Resolved.Item("IT-00001"));
        (await Scan("[)>\u001E06\u001D1PTW-5R0Q-22011\u001DQ1\u001E\u0004")).ShouldBe(
            new Resolved.Number("TW-5R0Q-22011")
        );
        (await Scan("[)>\u001E06\u001D1PTW-5R0Q-22011\u001DSB07-4412\u001E\u0004")).ShouldBe(
            new Resolved.Item("IT-00001")
        );
        var serial = await book.Ask(db => db.Units.Where(u => u.Tag == "SK-00417").Select(u => u.Serial).SingleAsync());
        (await Scan($"[)>\u001E06\u001DS{serial}\u001E\u0004")).ShouldBe(new Resolved.Unit("SK-00417"));
        (await Scan("[)>061PTW-5R0Q-22011SB07-4412")).ShouldBeOfType<Resolved.Unknown>();

        (await Scan("SK-OO4I7")).ShouldBeOfType<Resolved.Unknown>().Nearest[0].ShouldBe("SK-00417");
        (await Scan("TW-5ROQ-22O11")).ShouldBeOfType<Resolved.Unknown>().Nearest[0].ShouldBe("TW-5R0Q-22011");
        (await Scan("")).ShouldBeOfType<Resolved.Unknown>().Nearest.ShouldBeEmpty();
        (await Scan(new string('9', 5000))).ShouldBeOfType<Resolved.Unknown>().Code.Length.ShouldBeLessThan(50);
        (await Scan("'; DROP TABLE units; --")).ShouldBeOfType<Resolved.Unknown>().Nearest.Count.ShouldBe(3);
    }

    [Fact]
    public async Task A_misread_tag_is_found_among_many_that_look_like_it()
    {
        await using var book = await databases.NewBook();
        await book.Sql(
            """
            INSERT INTO units (id, tag, serial, model_code, site, bought_on, state, in_loan_pool)
            SELECT gen_random_uuid(), 'SK-' || lpad(n::text, 5, '0'), 'ZZ' || n, 'coot-14', 'Library and Archive', '2024-01-01', 'InUse', false
            FROM generate_series(10000, 12000) n
            """
        );
        var resolved = await book.Do<ResolveCode, Resolved>(r => r.Run("SK-OO4I7"));
        resolved.ShouldBeOfType<Resolved.Unknown>().Nearest.ShouldContain("SK-00417");
    }
}
