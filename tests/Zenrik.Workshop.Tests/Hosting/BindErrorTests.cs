using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Zenrik.Workshop.Tests.Hosting;

/// <summary>What PostgreSQL refuses while values are bound must not be felt by whoever gets the connection next.</summary>
public sealed class BindErrorTests(TemplateDatabase databases)
{
    [Fact]
    public async Task After_four_hundred_refused_values_every_good_statement_answers()
    {
        await using var book = await databases.NewBook();
        var refused = await Task.WhenAll(
            Enumerable
                .Range(0, 400)
                .Select(async i =>
                {
                    try
                    {
                        await book.Ask(db => Known(db, $"a\0{i}"));
                        return false;
                    }
                    catch (Exception e) when (e.GetBaseException() is PostgresException { SqlState: "22021" })
                    {
                        return true;
                    }
                })
        );
        refused.ShouldAllBe(r => r);
        var good = await Task.WhenAll(Enumerable.Range(0, 200).Select(_ => book.Ask(db => Known(db, Job.Unit))));
        good.ShouldAllBe(known => known);

        static Task<bool> Known(WorkshopDb db, string tag) => db.Units.AnyAsync(u => u.Tag == tag);
    }
}
