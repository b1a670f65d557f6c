using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.HouseRules;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Tests.Fit;

public sealed class FitTests(TemplateDatabase databases)
{
    private const string DoubleSided = "TW-8S5T-71024";

    [Fact]
    public async Task A_second_side_is_taken_only_after_somebody_has_signed()
    {
        await using var book = await databases.NewBook();
        var (aled, mara) = (await book.Person("aled"), await book.Person("mara"));
        var repair = await book.Opened(aled, "drive-a", "drive too small");
        var item = (await book.View(repair)).Lines.Single().Candidates.First(c => c.Number == DoubleSided);
        (await book.Choose(aled, repair, "drive-a", item.Code)).Refusal!.Message.ShouldContain("1 mm of height");
        (await Sign("")).Refusal!.Message.ShouldContain("5 to 300");
        (await Sign("needs a terabyte, none other to be had")).Value.ShouldContain(aled.Name);
        (await Sign("needs a terabyte, none other to be had")).Value.ShouldContain("signed for");
        (await book.Choose(aled, repair, "drive-a", item.Code)).Value.ShouldBe(item.Code);
        var waiver = await book.Ask(db => db.Waivers.SingleAsync());
        (waiver.Rule, waiver.ById, waiver.Number).ShouldBe((RuleBook.DoubleSidedDrive.Id, aled.Id, DoubleSided));

        // Another house refuses whoever signs.
        await book.Do<SetHouseRule, Outcome<string>>(r => r.Run("double-sided-drive", "refuse", mara));
        (await book.View(repair))
            .Lines.Single()
            .Numbers.First(n => n.Number.Number == DoubleSided)
            .Answer.Waivable.ShouldBeEmpty();

        Task<Outcome<string>> Sign(string why) =>
            book.Do<SignWaiver, Outcome<string>>(s => s.Run(repair, "drive-a", DoubleSided, why, aled));
    }

    [Fact]
    public async Task A_number_nobody_knew_is_described_listed_by_name_and_then_fits()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        const string number = "TW-9B3K-40011";
        _ = (
            await book.Do<AddNumber, Outcome<string>>(a =>
                a.Run(number, "fan of another maker", ItemKind.Fan, [], null, sure: true, aled)
            )
        ).Value;
        (await Verdict("fan")).ShouldBe(FitVerdict.NotKnown);
        (await List("coot-14", "hinges")).Refusal!.Message.ShouldContain("has no slot");
        (await List("sandpiper-15", "fan")).Refusal!.Message.ShouldContain("no model");
        (await List("sandpiper-14", "fan")).Value.ShouldContain("Sandpiper 14");
        (await List("sandpiper-14", "fan")).Refusal.ShouldBeNull("listed twice is listed");
        (await Verdict("fan")).ShouldBe(FitVerdict.Fits);
        var repair = await book.Opened(aled, "fan", "fan noisy");
        (await book.View(repair)).Lines.Single().Numbers.ShouldContain(n => n.Number.Number == number);

        (await Specify("volts", "12 volts")).Refusal!.Message.ShouldContain("Voltage, V");
        (await Specify("volts", "7.6")).Value.ShouldContain(number);
        (await Verdict("battery")).ShouldBe(FitVerdict.DoesNotFit, "another voltage");
        _ = (
            await book.Do<DescribeNumber, Outcome<string>>(d => d.Unlist(number, "sandpiper-14", "fan", book.Lead))
        ).Value;
        (
            await book.Do<DescribeNumber, Outcome<string>>(d =>
                d.Unlist("TW-3F0A-50711", "sandpiper-14", "fan", book.Lead)
            )
        ).Refusal!.Message.ShouldContain("Nobody here", Case.Sensitive, "a maker's list stays");

        Task<Outcome<string>> List(string model, string slot) =>
            book.Do<DescribeNumber, Outcome<string>>(d => d.List(number, model, slot, aled));
        Task<Outcome<string>> Specify(string field, string value) =>
            book.Do<DescribeNumber, Outcome<string>>(d =>
                d.Specify(number, ItemKind.Battery, new Dictionary<string, string?> { [field] = value }, book.Lead)
            );
        async Task<FitVerdict> Verdict(string slot)
        {
            var passport = await book.Do<PassportOf, Passport>(async p => (await p.Run(Job.Unit)).Value);
            var known = await book.Do<KnownNumbers, CatalogueNumber>(async k => (await k.Find(number))!);
            var all = await book.Do<FitOf, Outcome<IReadOnlyList<(string Slot, FitAnswer Answer)>>>(f =>
                f.InUnit(passport, known, default)
            );
            return all
                .Value.Where(a => a.Slot == slot)
                .Select(a => a.Answer.Verdict)
                .FirstOrDefault(FitVerdict.NotKnown);
        }
    }

    [Fact]
    public async Task A_number_that_comes_out_again_soon_counts_as_failed_and_the_count_is_what_the_movements_say()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var before = await Tally();
        foreach (var fault in new[] { "battery worn", "does not charge" })
        {
            var repair = await book.OnBench(aled, "battery", fault);
            _ = await book.Work(aled, repair);
            (await book.Close(aled, repair)).Refusal.ShouldBeNull();
            (await book.Close(aled, repair)).Refusal.ShouldBeNull("closed twice, counted once");
        }

        // The first battery was as built and says nothing; the second came out of the unit it had just been fitted into.
        var counted = await Tally();
        (counted.Values.Sum(t => t.Fitted) - before.Values.Sum(t => t.Fitted)).ShouldBe(2);
        (counted.Values.Sum(t => t.Failed) - before.Values.Sum(t => t.Failed)).ShouldBe(1);
        await book.Do<WorkshopDb, bool>(async db =>
        {
            await db.RecountFits(CancellationToken.None);
            return true;
        });
        (await Tally()).ShouldBe(counted, ignoreOrder: true);
        before.Count.ShouldBeGreaterThan(10, "the demo's three years count too");

        Task<Dictionary<(Guid, string), (int Fitted, int Failed)>> Tally() =>
            book.Ask(async db =>
                (await db.FitTallies.AsNoTracking().ToListAsync()).ToDictionary(
                    t => (t.NumberId, t.ModelCode),
                    t => (t.Fitted, t.Failed)
                )
            );
    }

    [Theory]
    [InlineData(59, 1)]
    [InlineData(61, 0)]
    public async Task Only_what_comes_out_within_two_months_counts_as_failed(int days, int failed)
    {
        await using var book = await databases.NewBook();
        var before = await Counts();
        (
            await book.Sql(
                $"""
                INSERT INTO movements (at, by_id, reason, item_id, quantity, from_bin_id, to_unit_id, to_slot)
                SELECT timestamptz '2026-03-01', t.id, 'Fitted', i.id, 1, i.bin_id, u.id, 'battery'
                FROM technicians t, items i, units u WHERE t.user_name = 'aled' AND i.code = 'IT-00003' AND u.tag = '{Job.Unit}';
                INSERT INTO movements (at, by_id, reason, item_id, quantity, from_unit_id, from_slot, to_bin_id)
                SELECT timestamptz '2026-03-01' + interval '{days} days', t.id, 'Removed', i.id, 1, u.id, 'battery', i.bin_id
                FROM technicians t, items i, units u WHERE t.user_name = 'aled' AND i.code = 'IT-00003' AND u.tag = '{Job.Unit}'
                """
            )
        ).ShouldBeNull();
        var after = await Counts();
        (after.Fitted - before.Fitted, after.Failed - before.Failed).ShouldBe((1, failed));

        Task<(int Fitted, int Failed)> Counts() =>
            book.Ask(async db =>
            {
                await db.RecountFits(CancellationToken.None);
                return (await db.FitTallies.SumAsync(t => t.Fitted), await db.FitTallies.SumAsync(t => t.Failed));
            });
    }

    [Fact]
    public async Task What_was_seen_once_is_remembered_and_decides()
    {
        await using var book = await databases.NewBook();
        var bo = await book.Person("bo");
        var tag = await book.Idle("sandpiper-13-turn");
        var passport = await book.Do<PassportOf, Passport>(async p => (await p.Run(tag)).Value);
        (await Verdicts()).ShouldAllBe(v => v == FitVerdict.NotKnown);
        (await Look("card-opening", "round")).Refusal!.Message.ShouldContain("is no answer");
        (await Look("smell", "strong")).Refusal.ShouldNotBeNull();
        (await Look("card-opening", "closed")).Refusal.ShouldBeNull();
        (await Look("card-opening", "open")).Refusal.ShouldBeNull("looked again: the later look holds");
        (await Look("fingerprint", "reader")).Refusal.ShouldBeNull();
        (await Verdicts()).Order().ShouldBe([FitVerdict.Fits, FitVerdict.DoesNotFit]);

        Task<Outcome<string>> Look(string trait, string look) =>
            book.Do<NoteLook, Outcome<string>>(n => n.Run(tag, trait, look, bo));

        async Task<IEnumerable<FitVerdict>> Verdicts()
        {
            passport = await book.Do<PassportOf, Passport>(async p => (await p.Run(tag)).Value);
            return (
                await book.Do<FitOf, Outcome<IReadOnlyList<JudgedNumber>>>(f => f.Slot(passport, "deck"))
            ).Value.Select(n => n.Answer.Verdict);
        }
    }

    [Fact]
    public async Task Three_questions_about_one_drive_agree()
    {
        await using var book = await databases.NewBook();
        var number = (await book.Do<KnownNumbers, CatalogueNumber?>(k => k.Find("tw 8s5t 71024")))!;
        var serves = await book.Do<FitOf, IReadOnlyList<ServedUnit>>(f => f.Serves(number));
        serves.ShouldAllBe(s => s.ModelName == "Cormorant 15");
        var unit = serves.First(s => s.Slot == "drive-a");
        var passport = await book.Do<PassportOf, Passport>(async p => (await p.Run(unit.Tag)).Value);
        (await book.Do<FitOf, Outcome<FitAnswer>>(f => f.One(passport, "drive-a", number))).Value.Verdict.ShouldBe(
            FitVerdict.Fits
        );
        var fits = (await book.Do<FitOf, Outcome<IReadOnlyList<JudgedNumber>>>(f => f.Slot(passport, "drive-a"))).Value;
        fits.First(n => n.Number.Number == DoubleSided).Free.ShouldBe(2);
        var upgrades = await book.Do<FitOf, IReadOnlyList<Upgrade>>(f => f.Upgrades(passport));
        upgrades.First(u => u.Path.Slot == "memory-a").OnShelf.ShouldContain(n => n.Number.Number == "TW-6M5R-80048");
    }

    [Fact]
    public async Task A_number_of_which_nothing_is_known_is_not_taken_on_trust()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        await book.Sql("UPDATE catalogue_numbers SET specification = NULL WHERE number = 'TW-5R0Q-22011'");
        var repair = await book.Opened(aled, "battery", "battery worn");
        var item = (await book.View(repair)).Lines.Single().Candidates.First(c => c.Number == "TW-5R0Q-22011");
        item.Fit.Verdict.ShouldBe(FitVerdict.NotKnown);
        (await book.Choose(aled, repair, "battery", item.Code)).Refusal!.Message.ShouldContain("is not known to fit");
    }
}
