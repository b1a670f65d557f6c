using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests.Repairs;

/// <summary>From the symptom to the history, and everything that can be asked for wrongly on the way.</summary>
public sealed class RoadTests(TemplateDatabase databases)
{
    [Theory]
    [InlineData("battery", "battery worn")]
    [InlineData("board", "no sign of life")]
    [InlineData("keyboard", "keys dead")]
    public async Task The_whole_road(string assembly, string fault)
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var before = await book.Do<PassportOf, Passport>(async p => (await p.Run(Job.Unit)).Value);
        var old = before.Slots.Single(s => s.Slot == assembly).Item!;
        var paste = await book.Ask(db => db.Lots.SumAsync(l => l.OnHand));

        var repair = await book.OnBench(aled, assembly, fault);
        var chosen = (await book.View(repair)).Lines.Single().Chosen!;
        (await book.Close(aled, repair)).Refusal!.Message.ShouldContain("cannot be closed yet");
        var bench = await book.Work(aled, repair);
        (await book.Close(aled, repair)).Value.ShouldBe(Repair.CodeOf(repair));

        var after = await book.Do<PassportOf, Passport>(async p => (await p.Run(Job.Unit)).Value);
        var slot = after.Slots.Single(s => s.Slot == assembly);
        (slot.Item!.Code, slot.By, slot.RepairCode).ShouldBe((chosen.Code, aled.Name, Repair.CodeOf(repair)));
        var stored = await book.Ask(db => db.Items.Include(i => i.Bin).SingleAsync(i => i.Id == old.Id));
        stored.Bin!.Kind.ShouldBe(BinKind.Quarantine);
        (await book.Ask(db => db.Reservations.AnyAsync(r => r.Repair.Number == repair))).ShouldBeFalse();
        (await book.Ask(db => db.Lots.SumAsync(l => l.OnHand))).ShouldBe(paste - (assembly == "board" ? 1 : 0));

        var closed = (await Find(book, new HistoryQuery()))[0];
        var line = closed.Lines.Single();
        (closed.Number, line.NumberOut, line.NumberIn).ShouldBe((repair, old.Number.Number, chosen.Number));
        closed.MinutesPlanned!.Value.ShouldBe(bench.Ledger.Plan.Minutes.Expected, 1e-9);
        closed.MinutesTaken!.Value.ShouldBeGreaterThan(0);

        // It is found by whatever somebody remembers of it.
        foreach (
            var word in new[]
            {
                $"r-{repair}",
                Job.Unit.ToLowerInvariant(),
                aled.Name,
                chosen.Number[..6],
                $"{assembly} sandpiper",
            }
        )
        {
            (await Find(book, new HistoryQuery(word))).ShouldContain(r => r.Number == repair, word);
        }

        var today = DateOnly.FromDateTime(DateTime.Today);
        (await Find(book, new HistoryQuery(Job.Unit, today, today))).ShouldHaveSingleItem().Number.ShouldBe(repair);
        (await Find(book, new HistoryQuery(Job.Unit, today.AddDays(1)))).ShouldBeEmpty();
        (await Find(book, new HistoryQuery("100%_"))).ShouldBeEmpty();

        (await book.Close(aled, repair)).Refusal.ShouldBeNull("closing twice is no fault");
        (await book.Ask(db => db.Movements.CountAsync(m => m.Repair!.Number == repair && m.ItemId != null))).ShouldBe(
            2
        );
    }

    private static async Task<IReadOnlyList<Repair>> Find(Book book, HistoryQuery query) =>
        (await book.Do<ListHistory, (IReadOnlyList<Repair> Repairs, bool)>(h => h.Run(query))).Repairs;

    [Fact]
    public async Task Two_technicians_take_the_last_battery_and_one_gets_it()
    {
        await using var book = await databases.NewBook();
        var (aled, ines) = (await book.Person("aled"), await book.Person("ines"));
        var tags = await book.Ask(db =>
            db.Units.Where(u => u.ModelCode == "sandpiper-14" && !db.Repairs.Any(r => r.UnitId == u.Id))
                .OrderBy(u => u.Tag)
                .Select(u => u.Tag)
                .Take(2)
                .ToListAsync()
        );
        var first = await book.Opened(aled, "battery", "battery worn", tags[0]);
        var second = await book.Opened(ines, "battery", "battery worn", tags[1]);
        var last = (await book.View(first)).Lines.Single().Candidates.First(c => c.MayBeTaken).Code;

        var outcomes = await Task.WhenAll(
            Task.Run(() => book.Choose(aled, first, "battery", last)),
            Task.Run(() => book.Choose(ines, second, "battery", last))
        );

        outcomes.Count(o => o.Refusal is null).ShouldBe(1);
        outcomes
            .Single(o => o.Refusal is not null)
            .Refusal!.Message.ShouldContain("just been promised to another repair");
        (await book.Ask(db => db.Reservations.CountAsync(r => r.Item!.Code == last))).ShouldBe(1);
    }

    [Fact]
    public async Task What_does_not_fit_or_is_not_free_is_refused_and_nothing_changes()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.Opened(aled, "battery", "battery worn");
        var items = await book.Ask(db =>
            db.Items.Where(i => i.BinId != null || i.Slot == "battery")
                .Select(i => new
                {
                    i.Code,
                    Maker = i.Number.Number.Substring(0, 2),
                    Kind = (BinKind?)i.Bin!.Kind,
                    i.Slot,
                    Battery = i.Number.Fits.Any(f => f.Slot == "battery"),
                })
                .Where(i => i.Battery)
                .ToListAsync()
        );

        async Task Refused(string item, string says) =>
            (await book.Choose(aled, repair, "battery", item)).Refusal!.Message.ShouldContain(says);

        await Refused(
            items.First(i => i.Maker == "MB" && i.Kind == BinKind.Shelf).Code,
            "does not fit the battery slot"
        );
        await Refused(items.First(i => i.Maker == "TW" && i.Slot != null).Code, "fitted in another unit");
        await Refused(items.First(i => i.Maker == "TW" && i.Kind == BinKind.Quarantine).Code, "quarantine");
        await Refused("IT-99999", "No item carries the label");
        (await book.Start(aled, repair)).Refusal!.Message.ShouldContain("Choose one from the shelf");
        (await book.View(repair)).Lines.Single().Chosen.ShouldBeNull();
    }

    [Fact]
    public async Task A_unit_is_in_one_repair_at_a_time_even_when_asked_twice_at_once()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var outcomes = await Task.WhenAll(
            Enumerable.Range(0, 4).Select(_ => Task.Run(() => book.Open(aled, "battery", "battery worn")))
        );
        outcomes.Count(o => o.Refusal is null).ShouldBe(1);
        outcomes.Where(o => o.Refusal is not null).ShouldAllBe(o => o.Refusal!.Message.Contains("already in repair"));
    }

    [Theory]
    [InlineData("SK-99999", "battery", "battery worn", "No unit carries the tag")]
    [InlineData(Job.Unit, "battery", "battery sad", "Choose from the list")]
    [InlineData(Job.Unit, "engine", "stalls", "Choose from the list")]
    [InlineData(Job.Unit, "cellular", "no cellular", "no cellular card fitted")]
    public async Task A_repair_that_cannot_be_is_refused(string tag, string assembly, string fault, string says)
    {
        await using var book = await databases.NewBook();
        (await book.Open(await book.Person("aled"), assembly, fault, tag)).Refusal!.Message.ShouldContain(says);
    }

    [Fact]
    public async Task Withdrawing_frees_what_was_promised()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.Opened(aled, "fan", "fan noisy");
        var fan = (await book.View(repair)).Lines.Single().Candidates.First(c => c.MayBeTaken).Code;
        _ = (await book.Choose(aled, repair, "fan", fan)).Value;
        _ = (await book.Do<WithdrawRepair, Outcome<string>>(w => w.Run(repair, null, aled))).Value;
        (await book.Ask(db => db.Reservations.AnyAsync(r => r.Item!.Code == fan))).ShouldBeFalse();
        (await book.Choose(aled, repair, "fan", fan)).Refusal!.Message.ShouldContain("closed");
    }

    [Fact]
    public async Task Without_paste_the_machine_is_not_opened_unless_somebody_has_their_own()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        await book.Sql("UPDATE lots SET on_hand = promised");
        var repair = await book.Opened(aled, "heatsink", "heatsink bent");
        var item = (await book.View(repair)).Lines.Single().Candidates.First(c => c.MayBeTaken).Code;
        _ = (await book.Choose(aled, repair, "heatsink", item)).Value;
        (await book.View(repair)).Blocks.ShouldContain("thermal paste: 1 needed, 0 free");
        (await book.Start(aled, repair)).Refusal!.Message.ShouldContain("thermal paste");
        (
            await book.Ask(db =>
                db.BenchSessions.AnyAsync(s => db.Repairs.Any(r => r.Number == repair && r.Id == s.RepairId))
            )
        ).ShouldBeFalse();

        (await Own("Toothpaste", "a tube")).Refusal!.Message.ShouldContain("no such consumable");
        (await Own("ThermalPaste", " x ")).Refusal!.Message.ShouldContain("3 to 120");
        (await Own("ThermalPaste", "a tube of mine, opened in May")).Value.ShouldContain("of your own");
        (await book.View(repair)).Blocks.ShouldBeEmpty();
        (await book.Start(aled, repair)).Refusal.ShouldBeNull();
        (await book.Ask(db => db.Lots.AllAsync(l => l.OnHand == l.Promised))).ShouldBeTrue("the stores gave none");
        (await book.View(repair))
            .Repair.OwnConsumables["ThermalPaste"]
            .ShouldStartWith($"a tube of mine, opened in May ({aled.Name}");

        Task<Outcome<string>> Own(string kind, string note) =>
            book.Do<BringOwn, Outcome<string>>(b => b.Run(repair, kind, note, aled));
    }

    [Fact]
    public async Task A_part_the_passport_did_not_know_enters_the_book_when_it_comes_out()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var old = await book.Ask(db => db.Items.SingleAsync(i => i.Unit!.Tag == Job.Unit && i.Slot == "battery"));
        await book.Sql(
            $"UPDATE items SET unit_id = NULL, slot = NULL, bin_kind = 'Outside', bin_id = (SELECT id FROM bins WHERE kind = 'Outside') WHERE id = '{old.Id}'"
        );
        var repair = await book.OnBench(aled, "battery", "battery worn");
        var bench = await book.Work(aled, repair, until: "read-removed:battery");
        var read = new Core.BenchLedger.Entry.NumberRead(bench.Ledger.Current!.Number, "NB-77-unknown", false);
        _ = (await book.Record(aled, repair, bench.Sequence, read)).Value;
        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        var entered = await book.Ask(db =>
            db.Items.Include(i => i.Bin).SingleAsync(i => i.Number.Number == "NB-77-unknown")
        );
        entered.Bin!.Kind.ShouldBe(BinKind.Quarantine);
        (
            await book.Ask(db =>
                db.Movements.Where(m => m.ItemId == entered.Id).OrderBy(m => m.Id).Select(m => m.Reason).ToListAsync()
            )
        ).ShouldBe([MovementReason.AsBuilt, MovementReason.Removed]);
    }
}
