using System.Data;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Zenrik.Workshop.Photographs;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Exporting;

/// <summary>One file of what was given out.</summary>
/// <param name="Rows">Lines of a list; null for what is no list.</param>
/// <param name="Sha256">Of its bytes, in hexadecimal.</param>
public sealed record GivenFile(string Name, long? Rows, string Sha256);

/// <summary>
/// Everything in the book as one zip: the lists as CSV, each table as JSON lines, the newest map of each model as it can be
/// taken in again, and a manifest that names every file with its lines and its checksum. All of it as it was at one moment.
/// What lets people in is left out: passwords, tokens, keys.
/// </summary>
public sealed class GiveOutEverything(
    WorkshopDb db,
    GiveOutLists lists,
    ServiceMapShelf maps,
    ReadPhoto pictures,
    TimeProvider clock
)
{
    /// <summary>Tables that say nothing outside: what lets people in, what only repeats, files that wait.</summary>
    private static readonly HashSet<string> LeftOut =
    [
        "api_tokens",
        "sign_in_sessions",
        "wrong_tries",
        "data_protection_keys",
        "technician_tokens",
        "technician_logins",
        "technician_claims",
        "role_claims",
        "done_requests",
        "kept_files",
        "fit_tallies",
        "instances",
        "mishaps",
        "chores",
        "__EFMigrationsHistory",
    ];

    /// <summary>Columns left out of the tables that are given.</summary>
    private static readonly HashSet<string> Secret =
    [
        "password_hash",
        "badge_hash",
        "pin_hash",
        "security_stamp",
        "concurrency_stamp",
        "hash",
        // Photographs are files of their own.
        "jpeg",
        "search_text",
    ];

    /// <summary>Writes the zip; nothing of it is held in memory as a whole.</summary>
    /// <param name="version">Of the program, for the manifest.</param>
    public async Task Write(Stream to, string version, CancellationToken stop = default)
    {
        await using var snapshot = await db.Database.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
        var given = new List<GivenFile>();
        await using var zip = await ZipArchive.CreateAsync(
            to,
            ZipArchiveMode.Create,
            leaveOpen: true,
            Encoding.UTF8,
            stop
        );
        foreach (var (id, _, _) in GiveOutLists.Known)
        {
            var list = lists.Find(id)!;
            await Add($"lists/{id}.csv", async s => await CsvOut.Write(s, list.Headings, list.Rows, stop));
        }

        foreach (var table in Tables())
        {
            await Add($"tables/{table.Name}.jsonl", s => Lines(table, s, stop));
        }

        foreach (var code in await db.Models.AsNoTracking().OrderBy(m => m.Code).Select(m => m.Code).ToListAsync(stop))
        {
            if (await maps.Newest(code, stop) is { } map)
            {
                await Add(
                    $"maps/{code}.map.json",
                    async s =>
                    {
                        await s.WriteAsync(Encoding.UTF8.GetBytes(Core.ServiceMaps.ServiceMapReader.Write(map)), stop);
                        return null;
                    }
                );
            }
        }

        foreach (var id in await pictures.Ids(stop))
        {
            await Add(
                $"photographs/{id}.jpg",
                async s =>
                {
                    await s.WriteAsync(await pictures.Run(id, stop), stop);
                    return null;
                }
            );
        }

        var manifest = new
        {
            program = "Zenrik",
            version,
            at = clock.GetUtcNow(),
            files = given,
            leftOut = LeftOut.Concat(Secret).Order(StringComparer.Ordinal),
        };
        await using var last = await zip.CreateEntry("manifest.json").OpenAsync(stop);
        await last.WriteAsync(Encoding.UTF8.GetBytes(StoredJson.Write(manifest)), stop);

        async Task Add(string name, Func<Stream, Task<long?>> write)
        {
            await using var entry = await zip.CreateEntry(name, CompressionLevel.Fastest).OpenAsync(stop);
            using var hash = SHA256.Create();
            long? rows;
            await using (var hashed = new CryptoStream(entry, hash, CryptoStreamMode.Write, leaveOpen: true))
            {
                rows = await write(hashed);
            }

            given.Add(new GivenFile(name, rows, Convert.ToHexStringLower(hash.Hash!)));
        }
    }

    private IEnumerable<(string Name, IReadOnlyList<string> Columns)> Tables() =>
        db
            .Model.GetRelationalModel()
            .Tables.Where(t => !LeftOut.Contains(t.Name))
            .OrderBy(t => t.Name, StringComparer.Ordinal)
            .Select(t =>
                (
                    t.Name,
                    (IReadOnlyList<string>)
                        [.. t.Columns.Select(c => c.Name).Where(c => !Secret.Contains(c) && c != "xmin")]
                )
            );

    /// <summary>A JSON object a row, as PostgreSQL writes it.</summary>
    private async Task<long?> Lines(
        (string Name, IReadOnlyList<string> Columns) table,
        Stream to,
        CancellationToken stop
    )
    {
        // Names of the model, not of a person.
        var columns = string.Join(", ", table.Columns.Select(c => $"\"{c}\""));
        await using var command = new NpgsqlCommand(
            $"SELECT row_to_json(r)::text FROM (SELECT {columns} FROM \"{table.Name}\") r",
            (NpgsqlConnection)db.Database.GetDbConnection()
        );
        await using var reader = await command.ExecuteReaderAsync(stop);
        long rows = 0;
        await using var text = new StreamWriter(to, new UTF8Encoding(false), leaveOpen: true);
        while (await reader.ReadAsync(stop))
        {
            await text.WriteAsync(reader.GetString(0));
            await text.WriteAsync('\n');
            rows++;
        }

        return rows;
    }
}
