using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests;

/// <summary>The one way to change the book: who changed what, in the same transaction, and again after a deadlock.</summary>
public sealed class WritingTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_change_leaves_one_line_that_says_who_what_and_from_what_to_what()
    {
        await using var book = await databases.NewBook();
        var (odd, request) = (await book.Person("odd"), Guid.CreateVersion7());
        var tag = await book.Idle("sandpiper-14");
        var from = await book.Ask(db => db.Units.Where(u => u.Tag == tag).Select(u => u.Site).SingleAsync());
        for (var i = 0; i < 2; i++)
        {
            _ = (await book.Do<ChangeUnits, Outcome<string>>(c => c.Move(request, [tag], "Clinic Desk", odd))).Value;
        }

        var line = await book.Ask(db => db.AuditLines.OrderByDescending(l => l.Id).FirstAsync());
        (line.ById, line.Act).ShouldBe((odd.Id, "ChangeUnits.Move"));
        var changed = line.Changes.Single(c => c.What == nameof(Unit));
        changed.Before![nameof(Unit.Site)].ShouldBe(from);
        changed.After![nameof(Unit.Site)].ShouldBe("Clinic Desk");
        line.Changes.ShouldContain(c => c.What == nameof(UnitEvent) && c.Key == null);
        line.Words.ShouldBe([tag]);
        (await book.Do<ListAudit, AuditView>(a => a.Run(tag.ToLowerInvariant(), "odd"))).Lines[0].Id.ShouldBe(line.Id);
        (await book.Do<ListAudit, AuditView>(a => a.Run(tag, "aled"))).Lines.ShouldBeEmpty();
        // Sent twice, done once, written down once.
        (await book.Ask(db => db.AuditLines.CountAsync(l => l.Act == line.Act && l.ById == odd.Id))).ShouldBe(1);
    }

    [Fact]
    public async Task What_is_refused_or_changes_nothing_leaves_no_line_and_no_line_is_ever_changed()
    {
        await using var book = await databases.NewBook();
        var before = await book.Ask(db => db.AuditLines.CountAsync());
        (await book.Do<AddBin, Outcome<string>>(b => b.Shelf("A-01", book.Lead))).Refusal.ShouldNotBeNull();
        (await book.Ask(db => db.AuditLines.CountAsync())).ShouldBe(before);

        _ = (await book.Do<AddBin, Outcome<string>>(b => b.Shelf("Z-77", book.Lead))).Value;
        (await book.Ask(db => db.AuditLines.CountAsync())).ShouldBeGreaterThan(before);
        (await book.Sql("UPDATE audit_lines SET act = 'x'"))!.ShouldContain("never changed");
        (await book.Sql("DELETE FROM audit_lines"))!.ShouldContain("never changed");
    }

    [Fact]
    public async Task A_password_is_said_to_have_changed_and_never_what_it_was()
    {
        await using var book = await databases.NewBook();
        var ines = await book.Person("ines");
        _ = (await book.Do<KeepPeople, Outcome<string>>(p => p.ResetPassword(ines.Id, book.Lead))).Value;
        var line = await book.Ask(db => db.AuditLines.OrderByDescending(l => l.Id).FirstAsync());
        var changed = line.Changes.Single(c => c.What == nameof(Technician));
        changed.Key.ShouldBe("ines");
        (await book.Do<ListAudit, AuditView>(a => a.Run("ines"))).Lines[0].Id.ShouldBe(line.Id);
        changed.After![nameof(Technician.PasswordHash)].ShouldBe("…");
        changed.Before![nameof(Technician.PasswordHash)].ShouldBe("…");
        var stored = await book.Ask(db =>
            db.Database.SqlQuery<string>($"SELECT changes::text AS \"Value\" FROM audit_lines").ToListAsync()
        );
        stored.ShouldAllBe(text => !text.Contains("AQAAAA"));
    }

    [Fact]
    public async Task A_write_that_a_deadlock_has_undone_is_done_again()
    {
        await using var book = await databases.NewBook();
        var tries = new int[2];
        using var both = new Barrier(2);
        async Task<Outcome<string>> Meet(int me, string first, string then) =>
            await book.Ask(db =>
                db.Write(
                    book.Lead,
                    "meet",
                    DateTimeOffset.UtcNow,
                    async () =>
                    {
                        (await db.LockUnit(first, default)).ShouldNotBeNull();
                        if (++tries[me] == 1)
                        {
                            both.SignalAndWait(TimeSpan.FromSeconds(10)).ShouldBeTrue();
                        }

                        (await db.LockUnit(then, default))!.UserName = $"met {me}";
                        return (Outcome<string>)"met";
                    },
                    default
                )
            );

        _ = book.Lead;
        var done = await Task.WhenAll(
            Task.Run(() => Meet(0, "SK-00012", "SK-00417")),
            Task.Run(() => Meet(1, "SK-00417", "SK-00012"))
        );
        done.ShouldAllBe(o => o.Refusal == null);
        // PostgreSQL may choose one of the two, or both.
        tries.Sum().ShouldBeGreaterThan(2);
        (await book.Ask(db => db.AuditLines.CountAsync(l => l.Target == "meet"))).ShouldBe(2);
    }
}
