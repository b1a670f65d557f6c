using MailKit.Security;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Mailing;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Tests.Web;

namespace Zenrik.Workshop.Tests.Mailing;

/// <summary>Letters go out once and are noted; what could not be sent leaves the book as it was.</summary>
public sealed class MailTests(TemplateDatabase databases)
{
    private static readonly Letter Hello = new("nell.gill@example.net", "SK-00003 is ready", "It can be fetched.");

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private static SmtpPost To(int port) =>
        new(new MailServer("127.0.0.1", port, "workshop@example.net", null, null, SecureSocketOptions.None));

    [Fact]
    public async Task A_letter_is_taken_by_a_server_with_whom_from_and_what()
    {
        await using var server = MailServerStandIn.Start();
        (await To(server.Port).Send(Hello, Stop)).ShouldBeNull();
        var letter = server.Letters.ShouldHaveSingleItem();
        letter.ShouldContain("From: workshop@example.net");
        letter.ShouldContain("To: nell.gill@example.net");
        letter.ShouldContain("Subject: SK-00003 is ready");
        letter.ShouldContain("It can be fetched.");
    }

    [Fact]
    public async Task A_server_that_refuses_is_away_or_is_none_says_so()
    {
        await using var strict = MailServerStandIn.Start(refuses: "nell");
        (await To(strict.Port).Send(Hello, Stop))!.Message.ShouldContain("does not take that address");
        (await To(1).Send(Hello, Stop))!.Message.ShouldContain("does not answer");
        (await new NoPost().Send(Hello, Stop))!.Message.ShouldContain("No mail server is named");
        (await new FolderPost("/proc/nowhere", "w@example.net").Send(Hello, Stop))!.Message.ShouldContain(
            "cannot be written"
        );
        strict.Letters.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("")]
    [InlineData("nobody")]
    [InlineData("a@b, c@d")]
    [InlineData("Nell <nell@example.net>")]
    [InlineData("a@b\r\nBcc: c@d")]
    public async Task What_is_no_single_address_is_refused(string to)
    {
        await using var server = MailServerStandIn.Start();
        (await To(server.Port).Send(Hello with { To = to }, Stop))!.Message.ShouldContain("no e-mail address");
        server.Letters.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_user_is_told_once_and_the_book_says_how()
    {
        await using var server = MailServerStandIn.Start();
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.OnBench(aled, "battery", "battery worn");
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        var request = Guid.NewGuid();

        (await Tell(To(1), Guid.NewGuid(), "nell@example.net")).Refusal!.Message.ShouldContain("Nothing was sent");
        (await Notes()).ShouldBeEmpty();
        (await Tell(To(server.Port), request, "nell@example.net")).Value.ShouldContain("has been told");
        // The same press again, as after a lost answer: said again, not sent again.
        (await Tell(To(server.Port), request, "nell@example.net")).Value.ShouldContain("has been told");
        server.Letters.Count.ShouldBe(1);
        (await Notes()).ShouldHaveSingleItem().Text.ShouldBe("by mail to nell@example.net");

        Task<Outcome<string>> Tell(Post post, Guid id, string to) =>
            book.Do<WorkshopDb, Outcome<string>>(db =>
                new NoteRepair(db, post, TimeProvider.System).TellByMail(id, repair, to, aled)
            );
        async Task<List<RepairNote>> Notes() =>
            [.. (await book.View(repair)).Repair.Notes.Where(n => n.Kind == RepairNoteKind.Told)];
    }

    [Fact]
    public async Task An_order_is_mailed_from_its_page_into_the_folder_and_is_sent_then()
    {
        var folder = Directory.CreateTempSubdirectory("zenrik-mail").FullName;
        try
        {
            await using var program = await RunningProgram.On(
                databases,
                ("Mail:Folder", folder),
                ("Mail:From", "workshop@example.net")
            );
            var book = program.Book;
            using var odd = await program.Visit("odd");
            var terms = new KeptTerms
            {
                Currency = "GBP",
                Freight = [new KeptFreight("post", 5, 0, [DayOfWeek.Monday], 2)],
            };
            var supplier = (
                await book.Do<KeepSuppliers, Outcome<Guid>>(k =>
                    k.Add("Quayside Spares", "orders@example.net", terms, book.Lead)
                )
            ).Value;
            var order = Guid.NewGuid();
            (
                await book.Sql(
                    $"""
                    INSERT INTO part_orders (id, request_id, supplier_id, number, grade, quantity, arrived, freight, landed, currency, expected, state, at, by_id)
                    SELECT '{order}', '{Guid.NewGuid()}', '{supplier}', 'TW-5R0Q-22011', 'Brand', 2, 0, 'post', 90, 'GBP', current_date + 5, 'Ordered', now(), id
                    FROM technicians WHERE user_name = 'odd' LIMIT 1
                    """
                )
            ).ShouldBeNull();
            (await odd.Http.GetStringAsync($"/stores/orders/{order}", Stop)).ShouldContain(
                "Send it to orders@example.net"
            );
            using var sent = await odd.Post($"/stores/orders/{order}?handler=Mail", []);
            ((int)sent.StatusCode).ShouldBe(302);
            using var again = await odd.Post($"/stores/orders/{order}?handler=Mail", []);
            var letter = await File.ReadAllTextAsync(Directory.GetFiles(folder).ShouldHaveSingleItem(), Stop);
            letter.ShouldContain("To: orders@example.net");
            letter.ShouldContain("TW-5R0Q-22011");
            (await book.Ask(db => db.PartOrders.SingleAsync(o => o.Id == order, Stop))).Acknowledged.ShouldBe("sent");
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }
}
