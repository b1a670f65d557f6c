using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Stock;

/// <summary>Makes bins: the shelves somebody puts up, and the three the book cannot do without.</summary>
public sealed class AddBin(WorkshopDb db, TimeProvider clock)
{
    /// <summary>A new shelf bin.</summary>
    public async Task<Outcome<string>> Shelf(string? label, Actor by, CancellationToken stop = default)
    {
        if (!BinCode.Read(label).Try(out var read, out var wrong))
        {
            return wrong;
        }

        var code = read.Text;
        return await db.Write(by, code, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            return await EnsureShelf(db, code, stop)
                ? $"Bin {code} is ready. Print its label and stick it on."
                : new Refusal(RefusalReason.Conflict, $"There is a bin {code} already. Give this one another code.");
        }
    }

    /// <returns>False when there is one of that code already, whatever it is for.</returns>
    internal static async Task<bool> EnsureShelf(WorkshopDb db, string code, CancellationToken stop)
    {
        var made = await db.Database.ExecuteSqlAsync(
            $"INSERT INTO bins (id, code, kind) VALUES ({Guid.CreateVersion7()}, {code}, 'Shelf') ON CONFLICT (code) DO NOTHING",
            stop
        );
        if (made == 1)
        {
            db.NoteChange(nameof(Bin), code);
        }

        return made == 1;
    }

    /// <summary>Quarantine, the bench, and the world outside: made once, in every workshop.</summary>
    internal static async Task EnsureStanding(WorkshopDb db, CancellationToken stop)
    {
        foreach (
            var (code, kind) in new[]
            {
                ("QUARANTINE", nameof(BinKind.Quarantine)),
                ("BENCH", nameof(BinKind.Bench)),
                ("OUTSIDE", nameof(BinKind.Outside)),
            }
        )
        {
            await db.Database.ExecuteSqlAsync(
                $"INSERT INTO bins (id, code, kind) VALUES ({Guid.CreateVersion7()}, {code}, {kind}) ON CONFLICT (code) DO NOTHING",
                stop
            );
        }
    }
}
