using Microsoft.EntityFrameworkCore;
using Zenrik.Workshop.Triage;

namespace Zenrik.Workshop.Tests.Triage;

public sealed class KitForSiteTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_site_gets_the_parts_its_repairs_are_known_or_likely_to_want()
    {
        await using var book = await databases.NewBook();
        var stop = TestContext.Current.CancellationToken;
        var bo = await book.Person("bo");
        var tag = await book.Idle("sandpiper-14");
        var site = await book.Ask(db => db.Units.Where(u => u.Tag == tag).Select(u => u.Site).SingleAsync(stop));
        var before = await Kit(site, 1);
        _ = await book.Opened(bo, "battery", "battery worn", tag);
        var after = await Kit(site, 1);

        (await book.Do<KitForSite, IReadOnlyList<(string Site, int Repairs)>>(k => k.Sites(stop))).ShouldContain(s =>
            s.Site == site && s.Repairs == after.Units.Count + after.LeftOut.Count
        );
        after.Units.Count.ShouldBe(before.Units.Count + 1);
        Batteries(after).ShouldBe(Batteries(before) + 1);
        var battery = after.Parts.Single(p => (p.Name, p.For) == ("battery", "Sandpiper 14"));
        battery.Number.ShouldNotBeNull();
        battery.Here.ShouldBe(
            await book.Ask(db =>
                db.Items.CountAsync(
                    i =>
                        i.Number.Number == battery.Number
                        && i.BinKind == Core.Stock.BinKind.Shelf
                        && (i.Reservation == null || i.Reservation.Repair.Unit.Site == site),
                    stop
                )
            )
        );
        after.Kit.Cured.ShouldBe(before.Kit.Cured + 1, 1e-9);
        after
            .Units.Single(u => u.Repair.Unit.Tag == tag)
            .ShouldSatisfyAllConditions(u => u.Likeliest.ShouldBe("battery"), u => u.Chance.ShouldBe(1));

        // A smaller share never wants more; where nobody is, nothing is taken.
        (await Kit(site, 0.5))
            .Kit.Lines.Sum(l => l.Count)
            .ShouldBeLessThanOrEqualTo(after.Kit.Lines.Sum(l => l.Count));
        (await Kit("nowhere", 0.9)).ShouldSatisfyAllConditions(
            k => k.Units.ShouldBeEmpty(),
            k => k.Parts.ShouldBeEmpty()
        );

        static int Batteries(SiteKit kit) =>
            kit.Parts.Where(p => (p.Name, p.For) == ("battery", "Sandpiper 14")).Sum(p => p.Line.Count);
        Task<SiteKit> Kit(string where, double share) => book.Do<KitForSite, SiteKit>(k => k.Run(where, share, stop));
    }
}
