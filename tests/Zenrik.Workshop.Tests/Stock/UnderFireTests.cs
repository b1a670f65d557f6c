using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Demo.World;
using Zenrik.Workshop.Sourcing;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests.Stock;

/// <summary>Many at the stores at once, and the database killed under them.</summary>
public sealed class UnderFireTests(TemplateDatabase databases)
{
    private const string Number = "TW-5R0Q-22011";
    private const int Reserve = 5;

    [Fact]
    public async Task Of_sixty_four_who_want_one_of_five_spares_exactly_five_get_one()
    {
        await using var book = await databases.NewBook();
        var odd = await book.Person("odd");
        var free = await book.Ask(db =>
            db.Items.CountAsync(i => i.Number.Number == Number && i.BinKind == BinKind.Shelf && i.Reservation == null)
        );
        var order = await StoresTests.Ordered(book, odd, 8 - free);
        _ = (
            await book.Do<ReceiveOrder, Outcome<string>>(r =>
                r.Run(Guid.NewGuid(), order, new Delivery(Number, Quantity: 8 - free), odd)
            )
        ).Value;
        // Three of the eight are promised: they are not anybody's to take.
        var repairs = new List<long>();
        foreach (
            var tag in await book.Ask(db =>
                db.Units.Where(u => u.ModelCode == "sandpiper-14" && u.State == Core.Fleet.UnitState.InUse)
                    .OrderByDescending(u => u.Tag)
                    .Take(3)
                    .Select(u => u.Tag)
                    .ToListAsync()
            )
        )
        {
            repairs.Add(await book.Opened(odd, "battery", "battery worn", tag));
            var item = (await book.View(repairs[^1]))
                .Lines.Single()
                .Candidates.First(c => c.MayBeTaken && c.Number == Number);
            _ = (await book.Choose(odd, repairs[^1], "battery", item.Code)).Value;
        }

        var answers = await Task.WhenAll(
            Enumerable
                .Range(0, 64)
                .Select(i =>
                    Task.Run(() =>
                        book.Do<IssueItem, Outcome<string>>(s => s.Spare(Guid.NewGuid(), Number, $"Desk {i:00}", odd))
                    )
                )
        );
        answers.Count(a => a.Refusal is null).ShouldBe(5);
        answers
            .Where(a => a.Refusal is not null)
            .ShouldAllBe(a => a.Refusal!.Message.Contains("No TW-5R0Q-22011 is free any more"));
        answers.Where(a => a.Refusal is null).Select(a => a.Value[..8]).ShouldBeUnique();
        foreach (var repair in repairs)
        {
            (await book.View(repair)).Lines.Single().Chosen.ShouldNotBeNull();
        }

        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));
    }

    [Fact]
    public async Task Whatever_was_acknowledged_is_there_after_the_database_was_killed_three_times()
    {
        await using var cluster = await OwnCluster.Make();
        await using var book = Book.Open(cluster.Connection);
        _ = await book.Do<MakeWorld, IReadOnlyList<string>>(p => p.Run(withDemo: true));
        var odd = await book.Person("odd");
        var order = await StoresTests.Ordered(book, odd, 5000);
        var tags = await book.Ask(db =>
            db.Units.Where(u => u.ModelCode == "sandpiper-14" && u.State == Core.Fleet.UnitState.InUse)
                .OrderByDescending(u => u.Tag)
                .Take(3)
                .Select(u => u.Tag)
                .ToListAsync()
        );
        var repairs = new List<long>();
        foreach (var tag in tags)
        {
            repairs.Add(await book.Opened(odd, "battery", "battery worn", tag));
        }

        var acknowledged = new ConcurrentDictionary<Guid, string>();
        using var over = new CancellationTokenSource();
        var clients = Enumerable.Range(0, 16).Select(i => Task.Run(() => Client(i))).ToList();
        for (var kill = 0; kill < 3; kill++)
        {
            await More(50);
            await cluster.KillAndRestart();
        }

        await More(50);
        await over.CancelAsync();
        await Task.WhenAll(clients);

        acknowledged.Count.ShouldBeGreaterThanOrEqualTo(200);
        (await book.Do<ProveStock, (long, long)>(p => p.Whole())).ShouldBe((0, 0));
        var kept = await book.Ask(db => db.DoneRequests.ToDictionaryAsync(r => r.Id, r => r.Said));
        acknowledged.Where(a => kept.GetValueOrDefault(a.Key) != a.Value).ShouldBeEmpty();
        (
            await book.Ask(db =>
                db.Reservations.Where(r => r.ItemId != null)
                    .Select(r => r.Item!.Bin!.Kind)
                    .Where(k => k != BinKind.Shelf && k != BinKind.Bench)
                    .ToListAsync()
            )
        ).ShouldBeEmpty("what is promised can be fitted");
        // What was received and handed out, counted from the requests, is what the book has.
        var received = kept.Values.Count(s => s.Contains("is in bin") && s.Contains("still to come"));
        (await book.Ask(db => db.PartOrders.Where(o => o.Id == order).Select(o => o.Arrived).SingleAsync())).ShouldBe(
            received
        );
        var issued = kept.Values.Count(s => s.Contains("goes to"));
        (
            await book.Ask(db =>
                db.Movements.CountAsync(m => m.Reason == MovementReason.Issued && m.Note!.StartsWith("Desk"))
            )
        ).ShouldBe(issued);

        // However fast the machine is: so many more changes before the next thing happens.
        async Task More(int changes)
        {
            using var enough = CancellationTokenSource.CreateLinkedTokenSource(TestContext.Current.CancellationToken);
            enough.CancelAfter(TimeSpan.FromMinutes(2));
            for (var goal = acknowledged.Count + changes; acknowledged.Count < goal; )
            {
                await Task.Delay(20, enough.Token);
            }
        }

        async Task Client(int seed)
        {
            var random = new Random(seed);
            while (!over.IsCancellationRequested)
            {
                // Made up once: whatever happens to the answer, the same request is sent until there is one.
                var (request, what, pick) = (Guid.NewGuid(), random.Next(9), random.Next(1000));
                while (true)
                {
                    try
                    {
                        var outcome = await Act(request, what, pick, odd);
                        // A promise has no request of its own: it is the repair's, and choosing again is no fault.
                        if (outcome.Refusal is null && what != Reserve)
                        {
                            acknowledged[request] = outcome.Value;
                        }

                        break;
                    }
                    catch (Exception e) when (Away.Tells(e))
                    {
                        await Task.Delay(100);
                    }
                }
            }
        }

        async Task<Outcome<string>> Act(Guid request, int what, int pick, Actor by)
        {
            var items = await book.Ask(db =>
                db.Items.Where(i => i.Number.Number == Number && i.BinKind != BinKind.Outside && i.BinKind != null)
                    .OrderBy(i => i.Code)
                    .Select(i => i.Code)
                    .ToListAsync()
            );
            var item = items.Count == 0 ? "IT-0" : items[pick % items.Count];
            return what switch
            {
                0 or 1 => await book.Do<ReceiveOrder, Outcome<string>>(r =>
                    r.Run(request, order, new Delivery(Number, "A-01"), by)
                ),
                2 => await book.Do<IssueItem, Outcome<string>>(s => s.Spare(request, Number, $"Desk {pick}", by)),
                3 => await book.Do<MoveItem, Outcome<string>>(m => m.SetApart(request, item, "bent", by)),
                4 => await book.Do<MoveItem, Outcome<string>>(m => m.Release(request, item, "B-01", "straight", by)),
                Reserve => await book.Choose(by, repairs[pick % 3], "battery", item),
                6 => await book.Do<IssueItem, Outcome<string>>(s => s.ForRepair(request, repairs[pick % 3], item, by)),
                7 => await book.Do<MoveItem, Outcome<string>>(m => m.Return(request, item, "A-01", by)),
                _ => await Count(request, by),
            };
        }

        async Task<Outcome<string>> Count(Guid request, Actor by)
        {
            _ = await book.Do<CountBin, Outcome<string>>(c => c.Start("B-01", by));
            var view = await book.Do<CountBin, CountView?>(c => c.Find("B-01"));
            foreach (var (expected, _) in view?.Expected.Take(3) ?? [])
            {
                _ = await book.Do<CountBin, Outcome<string>>(c => c.Scan("B-01", expected.Code, book.Lead));
            }

            _ = await book.Do<CountBin, Outcome<string>>(c => c.LookAgain("B-01", book.Lead));
            view = await book.Do<CountBin, CountView?>(c => c.Find("B-01"));
            var why = (view?.Variances ?? []).ToDictionary(v => v.Key, _ => (string?)"not known");
            return await book.Do<CountBin, Outcome<string>>(c => c.Post(request, "B-01", why, by));
        }
    }
}
