using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Scheduling;

namespace Zenrik.Workshop.Tests.Scheduling;

public sealed class WavesTests(TemplateDatabase databases)
{
    private const string Name = "Dust before summer";
    private const string Site = "Tidewell High";

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    /// <summary>The tags of some units of the site that are marked for the campaign.</summary>
    private static async Task<List<string>> Marked(Book book, int count)
    {
        var tags = await book.Do<WorkshopDb, List<string>>(db =>
            db.Units.Where(u => u.Site == Site && u.ModelCode == "thimble-11" && u.State == UnitState.InUse)
                .OrderBy(u => u.Tag)
                .Select(u => u.Tag)
                .Take(count)
                .ToListAsync(Stop)
        );
        _ = (
            await book.Do<ChangeUnits, Outcome<string>>(c => c.Mark(Guid.NewGuid(), tags, Name, book.Lead, Stop))
        ).Value;
        return tags;
    }

    [Fact]
    public async Task Waves_wait_for_parts_that_are_ordered_and_what_has_none_is_said()
    {
        await using var book = await databases.NewBook();
        var day = DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime);
        _ = await Marked(book, 6);
        _ = (
            await book.Do<KeepCampaigns, Outcome<string>>(c =>
                c.Say(Name, RepairPurpose.Fault, "battery", "recalled", day.AddDays(200), book.Lead, Stop)
            )
        ).Value;
        var parts = (await View()).Parts.ShouldHaveSingleItem();
        parts.Wanted.ShouldBe(6);
        var listed = string.Join(',', parts.Numbers.Select(n => $"'{n}'"));

        // Nothing of it on a shelf, nothing on order: nothing travels.
        (
            await book.Sql(
                $"""
                UPDATE items i SET bin_id = q.id, bin_kind = q.kind FROM catalogue_numbers n, (SELECT id, kind FROM bins WHERE kind = 'Quarantine' LIMIT 1) q
                WHERE i.number_id = n.id AND n.number IN ({listed}) AND i.bin_kind = 'Shelf';
                UPDATE part_orders SET state = 'Cancelled' WHERE number IN ({listed}) AND state = 'Ordered'
                """
            )
        ).ShouldBeNull();
        var none = await View();
        (none.Plan.Waves.Count, none.Plan.Without, none.Parts[0].Missing, none.IsLate).ShouldBe((0, 6, 6, true));
        none.Ways.ShouldBeEmpty();
        none.DoneWithParts!.Value.ShouldBeLessThan(none.Line.Campaign.EndsOn!.Value);

        // Four come in a week, and are fitted from the day after on.
        (
            await book.Sql(
                $"""
                INSERT INTO part_orders SELECT (jsonb_populate_record(o, jsonb_build_object('id', gen_random_uuid(),
                    'request_id', gen_random_uuid(), 'number', '{parts.Numbers[
                    0
                ]}', 'quantity', 4, 'arrived', 0, 'landed', 1,
                    'expected', '{day.AddDays(
                    7
                ):yyyy-MM-dd}', 'state', 'Ordered', 'repair_id', null, 'line_id', null))).*
                FROM part_orders o LIMIT 1
                """
            )
        ).ShouldBeNull();
        var some = await View();
        (some.Plan.Without, some.Parts[0].Missing).ShouldBe((2, 2));
        some.Parts[0].Coming.ShouldBe([(day.AddDays(7), 4)]);
        var wave = some.Plan.Waves.ShouldHaveSingleItem();
        wave.Units.ShouldBe(4);
        wave.Begins.ShouldBeGreaterThan(day.AddDays(7));

        // Whoever takes more in than there are parts for gets those there are parts for.
        _ = (
            await book.Do<PlanWaves, Outcome<string>>(w =>
                w.TakeIn(Guid.NewGuid(), Name, Site, 6, null, book.Lead, Stop)
            )
        ).Value;
        (await View())
            .Plan.Waves.ShouldHaveSingleItem()
            .ShouldSatisfyAllConditions(w => w.Here.ShouldBeTrue(), w => w.Units.ShouldBe(4));

        async Task<WavesView> View() => (await book.Do<PlanWaves, WavesView?>(w => w.Of(Name, Stop)))!;
    }

    [Fact]
    public async Task A_campaign_travels_in_waves_that_a_site_can_spare()
    {
        await using var book = await databases.NewBook();
        var day = DateOnly.FromDateTime(book.Clock.GetLocalNow().DateTime);
        var tags = await Marked(book, 12);

        // One is lost since: it is told apart, and in no wave.
        (await book.Sql($"UPDATE units SET state = 'Lost' WHERE tag = '{tags[11]}'")).ShouldBeNull();
        var all = (await View())!;
        all.Plan.Waves.ShouldHaveSingleItem().Units.ShouldBe(11);
        (all.Sites.Single().Gone, all.Unplanned).ShouldBe((1, 11));

        // Refused with a sentence, and nothing kept.
        (await Agree(new WaveTerms(null, 0, 1, Spare(4)))).Refusal!.Message.ShouldContain("1 to 100");
        (await Agree(new WaveTerms(null, 50, 15, Spare(4)))).Refusal!.Message.ShouldContain("0 to 14 days");
        (await Agree(new WaveTerms(null, 50, 1, Spare(0)))).Refusal!.Message.ShouldContain($"{Site} must spare");
        (await Agree(new WaveTerms(day.AddDays(500), 50, 1, Spare(4)))).Refusal!.Message.ShouldContain("within a year");
        (await View())!.Line.Campaign.Waves.ShouldBeNull();

        _ = (await Agree(new WaveTerms(day.AddDays(3), 50, 1, Spare(4)))).Value;
        var waves = (await View())!.Plan.Waves;
        waves.Select(w => w.Units).ShouldBe([4, 4, 3]);
        waves[0].Leaves.ShouldBeGreaterThanOrEqualTo(day.AddDays(3));
        waves.Zip(waves.Skip(1)).ShouldAllBe(w => w.First.Back <= w.Second.Leaves);

        // Taken in once, however often it is sent; they are here then, and the next leave when these are back.
        (await TakeIn(Guid.NewGuid(), 4)).Refusal!.Message.ShouldContain("what is done in it");
        _ = (
            await book.Do<KeepCampaigns, Outcome<string>>(c =>
                c.Say(Name, RepairPurpose.Cleaning, null, null, day, book.Lead, Stop)
            )
        ).Value;
        var request = Guid.NewGuid();
        var said = (await TakeIn(request, 4)).Value;
        (await TakeIn(request, 4)).Value.ShouldBe(said);
        var taken = await book.Do<WorkshopDb, List<string>>(db =>
            db.Repairs.Where(r => r.Campaign == Name).Select(r => r.Unit.Tag).ToListAsync(Stop)
        );
        taken.ShouldBe(tags.Take(4), ignoreOrder: true);
        var after = (await View())!;
        after.Plan.Waves.Select(w => (w.Units, w.Here)).ShouldBe([(4, true), (4, false), (3, false)]);
        after.Plan.Waves[1].Leaves.ShouldBeGreaterThanOrEqualTo(after.Plan.Waves[0].Back);

        // It is late for today, and what would keep the day is nothing there is.
        after.IsLate.ShouldBeTrue();
        after.Ways.ShouldBeEmpty();
        (await book.Do<PlanWaves, WavesView?>(w => w.Of("no such", Stop))).ShouldBeNull();

        Task<WavesView?> View() => book.Do<PlanWaves, WavesView?>(w => w.Of(Name, Stop));
        Task<Outcome<string>> Agree(WaveTerms terms) =>
            book.Do<PlanWaves, Outcome<string>>(w => w.Agree(Name, terms, book.Lead, Stop));
        Task<Outcome<string>> TakeIn(Guid id, int units) =>
            book.Do<PlanWaves, Outcome<string>>(w => w.TakeIn(id, Name, Site, units, day, book.Lead, Stop));
        static Dictionary<string, int> Spare(int units) => new() { [Site] = units };
    }
}
