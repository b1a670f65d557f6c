using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Preparing;

namespace Zenrik.Workshop.Tests.Preparing;

public sealed class EraseNameTests(TemplateDatabase databases)
{
    private const string Name = "E. O'Hallan (guest)";

    [Fact]
    public async Task A_users_name_leaves_the_book_and_its_history_by_the_owner_alone()
    {
        await using var book = await databases.NewBook();
        var unit = await book.Ask(db => db.Units.Where(u => u.UserName != null).OrderBy(u => u.Tag).FirstAsync());
        (
            await book.Sql($"UPDATE units SET user_name = '{Name.Replace("'", "''")}' WHERE tag = '{unit.Tag}'")
        ).ShouldBeNull();
        _ = (
            await book.Do<CorrectUnit, Outcome<string>>(c =>
                c.Run(
                    Guid.NewGuid(),
                    unit.Tag,
                    new SaidOfUnit(unit.Serial, unit.Site, $"{Name}, room 4", unit.BoughtOn, unit.WarrantyUntil),
                    book.Lead
                )
            )
        ).Value;
        (await Rows()).ShouldBeGreaterThan(1);

        (await Erase("Al", "mara")).Refusal!.Message.ShouldContain("3 to");
        (await Erase("a \"name\"", "mara")).Refusal!.Message.ShouldContain("no quotation mark");
        (await Erase(Name, "bo")).Refusal!.Message.ShouldContain("no lead");
        (await Erase(Name, null)).Refusal!.Message.ShouldContain("Say who answers");
        var person = await book.Ask(db => db.Users.OrderBy(p => p.Name).Select(p => p.Name).FirstAsync());
        (await Erase(person.ToUpperInvariant(), "mara")).Refusal!.Message.ShouldContain("works here");

        var before = await Rows();
        (await Erase(Name, "mara", really: false)).Value.ShouldContain("Nothing was changed");
        (await Rows()).ShouldBe(before);
        (await Erase(Name.ToLowerInvariant(), "mara")).Value.ShouldContain("is erased from");
        (await Rows()).ShouldBe(0);
        (await book.Ask(db => db.Units.SingleAsync(u => u.Id == unit.Id))).UserName.ShouldBe("(erased), room 4");
        (await Erase(Name, "mara")).Value.ShouldContain("nowhere");

        // History refuses changes as before, and the trail says who erased in how many places, not what.
        (await book.Sql("UPDATE audit_lines SET target = 'x'"))
            .ShouldNotBeNull()
            .ShouldContain("never changed");
        (await book.Sql("DELETE FROM unit_events")).ShouldNotBeNull().ShouldContain("never changed");
        var line = await book.Ask(db => db.AuditLines.OrderByDescending(l => l.Id).FirstAsync());
        (line.Act, line.Target).ShouldBe(("EraseName.Run", "a user's name"));

        Task<Outcome<string>> Erase(string? name, string? lead, bool really = true) =>
            book.Do<EraseName, Outcome<string>>(e => e.Run(name, lead, really));

        Task<int> Rows() =>
            book.Ask(db =>
                db.Database.SqlQuery<int>(
                        $"""
                        SELECT ((SELECT count(*) FROM units WHERE user_name ILIKE '%hallan%')
                            + (SELECT count(*) FROM audit_lines WHERE changes::text ILIKE '%hallan%' OR target ILIKE '%hallan%')
                            + (SELECT count(*) FROM unit_events WHERE text ILIKE '%hallan%'))::int AS "Value"
                        """
                    )
                    .SingleAsync()
            );
    }
}
