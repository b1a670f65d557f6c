using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fit;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;
using Zenrik.Workshop.Tests.Stock;

namespace Zenrik.Workshop.Tests.BenchLedger;

public sealed class RecordEntryTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_double_tap_is_answered_and_stored_once()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.OnBench(aled, "battery", "battery worn");
        var id = Guid.NewGuid();
        var taps = await Task.WhenAll(
            Enumerable.Range(0, 5).Select(_ => Task.Run(() => book.Record(aled, repair, 0, new Entry.Done(1), id)))
        );
        taps.ShouldAllBe(t => t.Refusal == null && t.Value.Ledger.DoneSteps == 1);
        (await book.Bench(repair)).Sequence.ShouldBe(1);
    }

    [Fact]
    public async Task A_stale_page_is_told_and_changes_nothing()
    {
        await using var book = await databases.NewBook();
        var (aled, ines) = (await book.Person("aled"), await book.Person("ines"));
        var repair = await book.OnBench(aled, "battery", "battery worn");
        _ = (await book.Record(ines, repair, 0, new Entry.Done(1))).Value;
        var refusal = (await book.Record(aled, repair, 0, new Entry.Done(1))).Refusal!;
        refusal.Reason.ShouldBe(RefusalReason.Stale);
        refusal.Message.ShouldContain(ines.Name);
        (await book.Bench(repair)).Sequence.ShouldBe(1);
    }

    [Fact]
    public async Task An_act_for_another_session_or_out_of_order_changes_nothing()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.OnBench(aled, "battery", "battery worn");
        (await book.Record(aled, repair, 0, new Entry.Done(7))).Refusal!.Message.ShouldContain("the bench is at act 1");
        (await book.Record(aled, 999_999, 0, new Entry.Done(1))).Refusal!.Reason.ShouldBe(RefusalReason.NotFound);
        var waiting = await book.Ask(db => db.Repairs.Where(r => r.State == RepairState.Open).MinAsync(r => r.Number));
        (await book.Record(aled, waiting, 0, new Entry.Done(1))).Refusal!.Message.ShouldContain("not on the bench");
        (await book.Bench(repair)).Sequence.ShouldBe(0);
    }

    [Fact]
    public async Task The_label_of_a_part_says_its_number_and_which_of_two_alike_goes_in()
    {
        await using var book = await databases.NewBook();
        var (aled, odd) = (await book.Person("aled"), await book.Person("odd"));
        var repair = await book.OnBench(aled, "battery", "battery worn");
        var bench = await book.Work(aled, repair, until: "read-removed:battery");
        var line = bench.Repair.Lines.Single();
        var inside = await Item(i => i.Unit!.Tag == Job.Unit && i.Slot == "battery");
        var promised = await Item(i => i.Reservation!.LineId == line.Id);
        var twin = await Item(i =>
            i.Number.Number == line.ExpectedIn && i.BinKind == BinKind.Shelf && i.Reservation == null
        );
        var memory = await Item(i => i.BinKind == BinKind.Shelf && i.Number.Kind == ItemKind.Memory);

        (await Read(twin.Code)).Refusal!.Message.ShouldContain($"By the book {twin.Code} is in bin");
        bench = (await Read($" {inside.Code.ToLowerInvariant()} ")).Value;
        bench.Ledger.Numbers.Single().Number.Text.ShouldBe(line.ExpectedOut);

        bench = await book.Work(aled, repair, until: "read-fitted:battery");
        (await Read(memory.Code)).Refusal!.Message.ShouldContain("is not the battery promised to this repair");
        (await Read("IT-99999")).Refusal!.Message.ShouldContain("There is no item IT-99999");
        _ = (
            await book.Do<IssueItem, Outcome<string>>(i => i.ForRepair(Guid.NewGuid(), repair, promised.Code, odd))
        ).Value;
        (await Read(twin.Code)).Refusal!.Message.ShouldContain($"than {promised.Code}, which was handed out");
        _ = (await book.Do<MoveItem, Outcome<string>>(m => m.Return(Guid.NewGuid(), promised.Code, null, odd))).Value;
        var request = Guid.NewGuid();
        var after = (await Read(twin.Code, request)).Value;
        (await Read(twin.Code, request)).Value.Sequence.ShouldBe(after.Sequence, "sent twice");
        after.Ledger.Numbers[^1].Number.Text.ShouldBe(line.ExpectedIn);

        await book.Work(aled, repair);
        (await book.Close(aled, repair)).Refusal.ShouldBeNull();
        (await Item(i => i.Unit!.Tag == Job.Unit && i.Slot == "battery")).Code.ShouldBe(twin.Code);
        (await Item(i => i.Id == promised.Id)).BinKind.ShouldBe(BinKind.Shelf);
        await StoresTests.Proved(book);

        Task<Outcome<BenchView>> Read(string label, Guid? id = null) =>
            book.Do<ReadLabel, Outcome<BenchView>>(r =>
                r.Run(
                    repair,
                    id ?? Guid.NewGuid(),
                    bench.Sequence,
                    new Entry.NumberRead(bench.Ledger.Current!.Number, label, false),
                    aled
                )
            );

        Task<Item> Item(Expression<Func<Item, bool>> wanted) =>
            book.Ask(db => db.Items.Where(wanted).OrderBy(i => i.Code).FirstAsync());
    }

    [Fact]
    public async Task Sixteen_clients_on_one_session_never_corrupt_it()
    {
        await using var book = await databases.NewBook();
        var people = new[] { await book.Person("aled"), await book.Person("ines") };
        var repair = await book.OnBench(people[0], "battery", "battery worn");
        var accepted = 0;
        await Task.WhenAll(
            Enumerable
                .Range(0, 16)
                .Select(client =>
                    Task.Run(async () =>
                    {
                        var random = new Random(client);
                        for (var i = 0; i < 12; i++)
                        {
                            var bench = await book.Bench(repair);
                            Entry entry =
                                bench.Ledger.Current is null || random.Next(5) == 0
                                    ? new Entry.TakenBack()
                                    : bench.Proper();
                            var outcome = await book.Record(people[client % 2], repair, bench.Sequence, entry);
                            if (outcome.Refusal is null)
                            {
                                Interlocked.Increment(ref accepted);
                            }
                        }
                    })
                )
        );
        var entries = await book.Ask(db =>
            db.BenchEntries.Where(e =>
                    db.BenchSessions.Any(s => s.Id == e.SessionId && s.StartedAt > DateTimeOffset.UtcNow.AddMinutes(-5))
                )
                .OrderBy(e => e.Sequence)
                .Select(e => e.Sequence)
                .ToListAsync()
        );
        entries.ShouldBe(Enumerable.Range(1, accepted));
        (await book.Bench(repair)).Sequence.ShouldBe(
            accepted,
            "replaying the stored lines must succeed and count them all"
        );
        accepted.ShouldBeGreaterThan(12);
    }

    [Fact]
    public async Task The_item_in_hand_may_be_chosen_at_the_bench_until_its_number_is_read()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.OnBench(aled, "keyboard", "keys dead");
        var line = (await book.View(repair)).Lines.Single();
        var other = line.Candidates.First(c => c.MayBeTaken).Code;
        (await book.Choose(aled, repair, "keyboard", other)).Value.ShouldBe(other);
        await book.Work(aled, repair, until: "put-in:keyboard");
        (await book.Choose(aled, repair, "keyboard", line.Chosen!.Code)).Refusal!.Message.ShouldContain(
            "Take that act back"
        );
    }
}
