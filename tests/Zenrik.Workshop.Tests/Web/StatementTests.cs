using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>A page asks the book as many questions with fifty rows as with five: none of them asks for a row at a time.</summary>
public sealed class StatementTests(TemplateDatabase template)
{
    private const string Battery = "TW-5R0Q-22011";

    /// <summary>How many statements a page may take at most, the one that asks whether the session holds among them.</summary>
    private static readonly Dictionary<string, int> Most = new()
    {
        ["/"] = 23,
        ["/bench"] = 12,
        ["/fleet"] = 10,
        ["/fleet?search=sandpiper"] = 18,
        [$"/fleet/{Job.Unit}"] = 10,
        ["/history"] = 3,
        ["/counter/due"] = 5,
        ["/fleet/campaigns"] = 4,
        ["/house"] = 4,
        ["/house/audit"] = 2,
        ["/house/people"] = 2,
        ["/house/running"] = 7,
        ["/labels"] = 2,
        ["/outlook"] = 8,
        ["/outlook/calendar"] = 19,
        ["/outlook/watch"] = 4,
        ["/outlook/money"] = 13,
        ["/outlook/spares"] = 6,
        ["/outlook/replace?model=sandpiper-14"] = 12,
        ["/practice"] = 9,
        ["/maps"] = 4,
        ["/maps/sandpiper-14/findings"] = 3,
        ["/stores"] = 11,
        [$"/stores/numbers/{Battery}"] = 21,
        ["/stores/bins/A-91"] = 6,
        ["/stores/bins/A-91/count"] = 6,
        ["/stores/proposal"] = 28,
        ["/stores/receive"] = 2,
        ["repair"] = 16,
        ["repair/fit"] = 21,
    };

    private static int next = 70000;

    [Fact]
    public async Task No_page_asks_a_question_for_every_row()
    {
        await using var program = await RunningProgram.On(template);
        var (book, lead) = (program.Book, program.Book.Lead);
        using var mara = await program.Visit("mara");
        var repair = await book.Opened(lead, "battery", "battery worn", await book.Idle("sandpiper-14"));
        await Grow(book, lead, 5, repair);
        var few = await Counts(mara, repair);
        await Grow(book, lead, 45, repair);
        var many = await Counts(mara, repair);

        many.Where(p => p.Value != few[p.Key]).ShouldBeEmpty();
        many.Where(p => p.Value > Most[p.Key]).ShouldBeEmpty();
    }

    private static async Task<Dictionary<string, int>> Counts(Visitor visitor, long repair)
    {
        var counts = new Dictionary<string, int>();
        foreach (var page in Most.Keys)
        {
            var address = page.Replace("repair", $"/repairs/{Repair.CodeOf(repair)}", StringComparison.Ordinal);
            // The first look fills what the program keeps in memory.
            _ = await visitor.Statements(address);
            counts[page] = (await visitor.Statements(address)).Count;
        }

        return counts;
    }

    /// <summary>More of everything that the pages list.</summary>
    private static async Task Grow(Book book, Actor by, int more, long repair)
    {
        _ = await book.Do<AddBin, Outcome<string>>(b => b.Shelf("A-91", by));
        _ = await book.Do<CountBin, Outcome<string>>(c => c.Start("A-91", by));
        var items = await book.Ask(db =>
            db.Items.Where(i => i.BinKind == BinKind.Shelf && i.Bin!.Code != "A-91")
                .OrderByDescending(i => i.Number.Number == Battery)
                .ThenBy(i => i.Code)
                .Select(i => i.Code)
                .Take(more)
                .ToListAsync()
        );
        foreach (var item in items)
        {
            _ = (await book.Do<MoveItem, Outcome<string>>(m => m.ToBin(Guid.NewGuid(), item, "A-91", by))).Value;
            _ = (await book.Do<CountBin, Outcome<string>>(c => c.Scan("A-91", item, by))).Value;
        }

        var without = await book.Ask(db =>
            db.Models.Where(m => !db.ServiceMapRevisions.Any(r => r.ModelCode == m.Code))
                .Select(m => m.Code)
                .FirstAsync()
        );
        for (var i = 0; i < more; i++)
        {
            var (known, model) = (i % 3) switch
            {
                0 => (true, "sandpiper-14"),
                1 => (false, "thimble-11"),
                _ => (false, without),
            };
            var unit = (
                await book.Ask(db =>
                    db.Units.Where(u =>
                            u.ModelCode == model && u.State == UnitState.InUse && !db.Repairs.Any(r => r.UnitId == u.Id)
                        )
                        .OrderBy(u => u.Tag)
                        .Select(u => u.Tag)
                        .FirstOrDefaultAsync()
                )
            );
            if (unit is null)
            {
                continue;
            }

            var opened = known
                ? await book.Opened(by, "battery", "battery worn", unit)
                : await book.TakeIn(by, unit, "will-not-charge");
            if (model == without)
            {
                _ = (await book.Do<StartSession, Outcome<string>>(s => s.Run(opened, by))).Value;
            }
        }

        if (more > 5)
        {
            foreach (var assembly in new[] { "keyboard", "display", "fan" })
            {
                _ = (await book.Do<ChooseAssembly, Outcome<string>>(c => c.Run(repair, assembly, by))).Value;
            }
        }

        await book.Ask(async db =>
        {
            var unit = await db.Units.SingleAsync(u => u.Tag == Job.Unit);
            var repairs = await db.Repairs.OrderBy(r => r.Number).Select(r => r.Id).ToListAsync();
            var supplier = await db.Suppliers.Select(s => s.Id).FirstAsync();
            for (var i = 0; i < more; i++)
            {
                db.UnitEvents.Add(
                    UnitEvent.Of(unit.Id, UnitEventKind.Moved, $"to room {i}", new Occasion(by, DateTimeOffset.UtcNow))
                );
                db.MapFindings.Add(
                    new MapFinding
                    {
                        Id = Guid.NewGuid(),
                        ModelCode = "sandpiper-14",
                        MapRevision = 1,
                        Kind = FindingKind.Count,
                        Target = "base-screws",
                        Found = 3 + (i % 4),
                        RepairId = repairs[next - 70000],
                        At = DateTimeOffset.UtcNow,
                        ById = by.Id,
                    }
                );
                db.PartOrders.Add(
                    new PartOrder
                    {
                        Id = Guid.NewGuid(),
                        RequestId = Guid.NewGuid(),
                        SupplierId = supplier,
                        Number = Battery,
                        Grade = PartGrade.Brand,
                        Quantity = 1,
                        Freight = "ferry",
                        Landed = 40,
                        Currency = "EUR",
                        Expected = new DateOnly(2026, 12, 1),
                        At = DateTimeOffset.UtcNow,
                        ById = by.Id,
                    }
                );
                var number = CatalogueNumber.Of(PartNumber.Read($"TW-9R0Q-{next++}").Value, "a spare");
                (number.MinimumLevel, number.OrderUpTo) = (2, 4);
                db.CatalogueNumbers.Add(number);
            }

            await db.SaveChangesAsync();
            return true;
        });
    }
}
