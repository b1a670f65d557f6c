using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Importing;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.People;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Workshop.Importing;

/// <summary>What a person looks for among the rows of a file.</summary>
public enum FateFilter
{
    All,
    New,
    Changed,
    Same,
    Refused,
}

/// <summary>A row with what becomes of it.</summary>
/// <param name="Says">What it says, cell by cell, in the order of the headings.</param>
public sealed record JudgedRow(int Line, IReadOnlyList<string> Says, RowFate Fate);

/// <summary>A file as it stands: how its columns are read, and what would become of its rows.</summary>
/// <param name="Columns">By index of the heading the column it is; a heading that is missing is left out.</param>
/// <param name="Sample">The first rows.</param>
/// <param name="AskDays">True when days can be read both ways and nobody has said which.</param>
/// <param name="Stopped">Why no rows could be judged, or not all; null when all were.</param>
/// <param name="Rows">Those asked for, one page.</param>
public sealed record FileView(
    KeptFile File,
    Sheet Sheet,
    IReadOnlyList<string> Headings,
    IReadOnlyDictionary<int, string> Columns,
    IReadOnlyList<string> Notes,
    IReadOnlyList<SourceRow> Sample,
    bool AskDays,
    string? Stopped,
    IReadOnlyDictionary<FateFilter, int> Counts,
    IReadOnlyList<JudgedRow> Rows
);

/// <summary>
/// Takes lists in from files in two steps: a file is kept and everything in it judged, and nothing is written until a
/// person has seen that and takes it in. Then it is judged again, in the transaction that writes it.
/// </summary>
public sealed class TakeInFile(
    WorkshopDb db,
    KeepModel keepModel,
    AddNumber addNumber,
    DescribeNumber describe,
    ServiceMapShelf maps,
    KeepPeople people,
    KeepSuppliers suppliers,
    TimeProvider clock
)
{
    /// <summary>Rows on one page of a view.</summary>
    public const int PageSize = 50;

    /// <summary>Rows judged at once: few enough to be held, many enough that the database is not asked for each.</summary>
    private const int Batch = 2000;

    /// <summary>Rows by whose cells columns and days are told.</summary>
    private const int Sample = 2000;

    private static readonly TimeSpan KeptFor = TimeSpan.FromDays(7);

    /// <summary>Largest file, in bytes.</summary>
    public const int MaxBytes = TableFile.MaxBytes;

    /// <summary>Keeps a file that can be read, with its columns matched as far as can be told.</summary>
    public async Task<Outcome<Guid>> Keep(
        string? sheetId,
        string? name,
        byte[] content,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (await SheetOf(sheetId, stop) is not { } sheet)
        {
            return new Refusal(RefusalReason.Invalid, "Choose what kind of list it is.");
        }

        if (!TableFile.Open(content).Try(out var table, out var unreadable))
        {
            return unreadable;
        }

        var last = await db.Set<KeptFile>()
            .AsNoTracking()
            .Where(f => f.SheetId == sheet.Id && f.TakenAt != null)
            .OrderByDescending(f => f.TakenAt)
            .Select(f => f.Columns)
            .FirstOrDefaultAsync(stop);
        List<SourceRow> sample;
        try
        {
            sample = [.. table.Rows().Take(Sample)];
        }
        catch (InvalidDataException e)
        {
            return new Refusal(RefusalReason.Invalid, e.Message);
        }

        var match = ColumnMatch.Of(sheet, table.Headings, sample, last ?? []);
        var now = clock.GetUtcNow();
        var called = Called(name);
        return await db.Write(by, called, now, Work, stop);

        async Task<Outcome<Guid>> Work()
        {
            var old = now - KeptFor;
            await db.Set<KeptFile>().Where(f => f.TakenAt == null && f.At < old).ExecuteDeleteAsync(stop);
            var file = new KeptFile
            {
                Id = Guid.CreateVersion7(),
                SheetId = sheet.Id,
                Name = called,
                Content = content,
                At = now,
                ById = by.Id,
                Columns = match.Matched.ToDictionary(m => ColumnMatch.Plain(table.Headings[m.Key]), m => m.Value),
            };
            db.Add(file);
            return file.Id;
        }
    }

    /// <summary>Says which heading is which column, and what stands for what is not said.</summary>
    /// <param name="columns">By index of the heading a column's id; empty: left out.</param>
    public async Task<Outcome<string>> Decide(
        Guid id,
        IReadOnlyDictionary<int, string> columns,
        FileSettings settings,
        Actor by,
        CancellationToken stop = default
    )
    {
        return await db.Write(by, $"{id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Open(id, stop)).Try(out var open, out var missing))
            {
                return missing;
            }

            if (columns.Values.Where(c => c.Length > 0).GroupBy(c => c).FirstOrDefault(g => g.Count() > 1) is { } twice)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"Two columns are said to be {open.Sheet.Column(twice.Key)?.Name ?? twice.Key}. Leave one of them out."
                );
            }

            open.File.Columns = columns
                .Where(c =>
                    c.Key < open.Table.Headings.Count && (c.Value.Length == 0 || open.Sheet.Column(c.Value) is not null)
                )
                .GroupBy(c => ColumnMatch.Plain(open.Table.Headings[c.Key]))
                .ToDictionary(g => g.Key, g => g.Select(c => c.Value).FirstOrDefault(v => v.Length > 0) ?? "");
            open.File.Settings = settings with
            {
                Site = string.IsNullOrWhiteSpace(settings.Site) ? null : settings.Site.Trim(),
            };
            return "Read as you said.";
        }
    }

    /// <summary>What would become of a file's rows now; nothing is written.</summary>
    public async Task<Outcome<FileView>> Look(
        Guid id,
        Actor by,
        FateFilter filter = FateFilter.All,
        int page = 1,
        CancellationToken stop = default
    )
    {
        if (!(await Open(id, stop, track: false)).Try(out var open, out var missing))
        {
            return missing;
        }

        var counts = Enum.GetValues<FateFilter>().ToDictionary(f => f, _ => 0);
        var shown = new List<JudgedRow>();
        var stopped = open.Stops;
        if (stopped is null)
        {
            var run = RunOf(open, by);
            try
            {
                foreach (var batch in Batches(open))
                {
                    var values = batch.Select(r => RowValues.Of(r, open.Columns)).ToList();
                    foreach (var (i, fate) in (await run.Judge(values, stop)).Index())
                    {
                        var kind = FilterOf(fate);
                        counts[FateFilter.All]++;
                        counts[kind]++;
                        if (filter is FateFilter.All || filter == kind)
                        {
                            var at = counts[filter] - 1;
                            if (at >= (page - 1) * PageSize && at < page * PageSize)
                            {
                                shown.Add(new JudgedRow(batch[i].Line, batch[i].Cells, fate));
                            }
                        }
                    }
                }
            }
            catch (InvalidDataException e)
            {
                stopped = e.Message;
            }
        }

        return new FileView(
            open.File,
            open.Sheet,
            open.Table.Headings,
            open.Columns,
            open.Notes,
            First(open.Table),
            open.AskDays,
            stopped,
            counts,
            shown
        );
    }

    /// <summary>Rows that cannot be taken, with the reasons, to be put right in the program they come from.</summary>
    public async Task<Outcome<(IReadOnlyList<string> Headings, IReadOnlyList<JudgedRow> Rows)>> Refused(
        Guid id,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await Open(id, stop, track: false)).Try(out var open, out var missing))
        {
            return missing;
        }

        if (open.Stops is { } why)
        {
            return new Refusal(RefusalReason.Conflict, why);
        }

        var rows = new List<JudgedRow>();
        var run = RunOf(open, by);
        foreach (var batch in Batches(open))
        {
            var fates = await run.Judge([.. batch.Select(r => RowValues.Of(r, open.Columns))], stop);
            rows.AddRange(
                fates
                    .Select((f, i) => new JudgedRow(batch[i].Line, batch[i].Cells, f))
                    .Where(r => r.Fate is RowFate.Refused)
            );
        }

        return (open.Table.Headings, rows);
    }

    /// <summary>Takes a file in.</summary>
    /// <param name="goodOnly">True: rows that cannot be taken are left out; false: then nothing is taken.</param>
    public Task<Outcome<string>> Take(Guid request, Guid id, bool goodOnly, Actor by, CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, $"{id}", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            await db.LockLists(stop);
            if (!(await Open(id, stop)).Try(out var open, out var missing))
            {
                return missing;
            }

            if (open.Stops is { } why)
            {
                return new Refusal(RefusalReason.Invalid, why);
            }

            var occasion = new Occasion(by, now);
            var counts = Enum.GetValues<FateFilter>().ToDictionary(f => f, _ => 0);
            try
            {
                var run = RunOf(open, by);
                foreach (var batch in Batches(open))
                {
                    await SayHowFar(id, counts.Values.Sum(), stop);
                    var fates = await run.Judge([.. batch.Select(r => RowValues.Of(r, open.Columns))], stop);
                    foreach (var (i, fate) in fates.Index())
                    {
                        counts[FilterOf(fate)]++;
                        if (!goodOnly && fate is RowFate.Refused refused)
                        {
                            return new Refusal(
                                RefusalReason.Conflict,
                                $"Line {batch[i].Line}: {refused.Reason} Nothing of the file was taken in."
                            );
                        }
                    }

                    List<int> chosen =
                    [
                        .. fates.Index().Where(f => f.Item is RowFate.New or RowFate.Changed).Select(f => f.Index),
                    ];
                    if (chosen.Count > 0)
                    {
                        await run.Take(chosen, occasion, stop);
                    }
                }
            }
            catch (InvalidDataException e)
            {
                return new Refusal(RefusalReason.Invalid, $"{e.Message} Nothing of the file was taken in.");
            }
            catch (RowRefusedException e)
            {
                return e.Refusal with
                {
                    Message = $"{e.Refusal.Message} Nothing of the file was taken in; look at it again.",
                };
            }

            var said = Said(counts);
            var file = await db.Set<KeptFile>().SingleAsync(f => f.Id == id, stop);
            (file.Content, file.TakenAt, file.Said) = (null, now, said);
            return said;
        }
    }

    /// <summary>
    /// Rows gone through by whoever takes the file in now, in this program or another; null: nobody does. What a
    /// transaction has written nobody else sees, so it says how far it is in the name of its connection, which lives no
    /// longer than itself.
    /// </summary>
    public async Task<int?> HowFar(Guid id, CancellationToken stop = default)
    {
        var name = Work(id);
        var said = await db
            .Database.SqlQuery<string>(
                $"SELECT application_name AS \"Value\" FROM pg_stat_activity WHERE application_name LIKE {name + "%"}"
            )
            .FirstOrDefaultAsync(stop);
        return said is not null && int.TryParse(said.AsSpan(name.Length), CultureInfo.InvariantCulture, out var rows)
            ? rows
            : null;
    }

    private Task<int> SayHowFar(Guid id, int rows, CancellationToken stop)
    {
        var name = string.Create(CultureInfo.InvariantCulture, $"{Work(id)}{rows}");
        return db.Database.ExecuteSqlAsync($"SELECT set_config('application_name', {name}, true)", stop);
    }

    // PostgreSQL cuts such a name after 63 bytes.
    private static string Work(Guid id) => $"takes in {id:N} ";

    /// <summary>What kind of list a file is; null where there is none.</summary>
    public Task<string?> KindOf(Guid id, CancellationToken stop = default) =>
        db.Set<KeptFile>().Where(f => f.Id == id).Select(f => (string?)f.SheetId).SingleOrDefaultAsync(stop);

    /// <summary>Files that wait, and those taken in lately, the newest first.</summary>
    public async Task<IReadOnlyList<KeptFile>> Lately(CancellationToken stop = default) =>
        await db.Set<KeptFile>()
            .AsNoTracking()
            .OrderByDescending(f => f.At)
            .Take(12)
            .Select(f => new KeptFile
            {
                Id = f.Id,
                SheetId = f.SheetId,
                Name = f.Name,
                At = f.At,
                ById = f.ById,
                By = f.By,
                TakenAt = f.TakenAt,
                Said = f.Said,
            })
            .ToListAsync(stop);

    /// <summary>A file with its table open.</summary>
    /// <param name="Stops">Why its rows cannot be judged: a column is missing, days are written in two ways; null when they can.</param>
    private sealed record OpenFile(
        KeptFile File,
        Sheet Sheet,
        TableFile Table,
        IReadOnlyDictionary<int, string> Columns,
        IReadOnlyList<string> Notes,
        DayOrder Days,
        bool AskDays,
        string? Stops
    );

    private async Task<Outcome<OpenFile>> Open(Guid id, CancellationToken stop, bool track = true)
    {
        var files = db.Set<KeptFile>().Include(f => f.By).AsQueryable();
        var file = await (track ? files : files.AsNoTracking()).SingleOrDefaultAsync(f => f.Id == id, stop);
        if (file is null)
        {
            return new Refusal(RefusalReason.NotFound, "There is no such file any more. Send it again.");
        }

        if (file.Content is null)
        {
            return new Refusal(RefusalReason.Conflict, $"{file.Name} has been taken in: {file.Said}");
        }

        var sheet = (await SheetOf(file.SheetId, stop))!;
        if (!TableFile.Open(file.Content).Try(out var table, out var unreadable))
        {
            return unreadable;
        }

        var match = ColumnMatch.Of(sheet, table.Headings, [], AllSaid(table.Headings, file.Columns));
        var missing = ColumnMatch.Missing(sheet, match.Matched);
        var stops =
            missing.Count > 0
                ? $"No column is said to be {string.Join(" or ", missing.Select(c => c.Name.ToLowerInvariant()))}. Choose above which it is."
                : null;
        var order = file.Settings.Days;
        var askDays = false;
        if (stops is null)
        {
            try
            {
                var cells = DayCells(table, sheet, match.Matched);
                if (Days.OrderOf(cells).Try(out var told, out var twoWays))
                {
                    order = told ?? order;
                    askDays = told is null && cells.Exists(Days.IsAmbiguous);
                    stops =
                        askDays && order is null
                            ? "Its days can be read both ways. Say below whether the day or the month comes first."
                            : null;
                }
                else
                {
                    stops = twoWays.Message;
                }
            }
            catch (InvalidDataException e)
            {
                stops = e.Message;
            }
        }

        return new OpenFile(file, sheet, table, match.Matched, match.Notes, order ?? DayOrder.DayFirst, askDays, stops);
    }

    /// <summary>Headings nobody has said anything of are left out, not matched anew.</summary>
    private static Dictionary<string, string> AllSaid(
        IReadOnlyList<string> headings,
        Dictionary<string, string> said
    ) => headings.Select(ColumnMatch.Plain).Distinct().ToDictionary(h => h, h => said.GetValueOrDefault(h, ""));

    private static List<string> DayCells(TableFile table, Sheet sheet, IReadOnlyDictionary<int, string> columns)
    {
        var days = columns.Where(c => sheet.Column(c.Value)!.IsDay).Select(c => c.Key).ToList();
        return days.Count == 0
            ? []
            :
            [
                .. table
                    .Rows()
                    .SelectMany(r => days.Where(d => d < r.Cells.Count).Select(d => r.Cells[d]))
                    .Where(c => c.Contains('/', StringComparison.Ordinal) || c.Contains('-', StringComparison.Ordinal))
                    .Distinct()
                    .Take(20_000),
            ];
    }

    private async Task<Sheet?> SheetOf(string? id, CancellationToken stop)
    {
        if (id != Sheets.Inside([]).Id)
        {
            return Sheets.Find(id);
        }

        var slots = new HashSet<string>(StringComparer.Ordinal);
        foreach (var model in await db.Models.AsNoTracking().Select(m => m.Code).ToListAsync(stop))
        {
            if (await maps.Newest(model, stop) is { } map)
            {
                slots.UnionWith(map.Parts.Select(p => p.Slot).OfType<string>());
            }
        }

        return Sheets.Inside(slots);
    }

    private static List<SourceRow> First(TableFile table)
    {
        try
        {
            return [.. table.Rows().Take(3)];
        }
        catch (InvalidDataException)
        {
            return [];
        }
    }

    /// <summary>Rows as many at once as are judged, never cut within those that go together.</summary>
    private static IEnumerable<SourceRow[]> Batches(OpenFile open)
    {
        if (open.Sheet.Together is not { } together)
        {
            return open.Table.Rows().Chunk(Batch);
        }

        return Cut(open.Columns.FirstOrDefault(c => c.Value == together).Key);

        IEnumerable<SourceRow[]> Cut(int column)
        {
            var batch = new List<SourceRow>();
            foreach (var row in open.Table.Rows())
            {
                if (batch.Count >= Batch && At(row) != At(batch[^1]))
                {
                    yield return [.. batch];
                    batch.Clear();
                }

                batch.Add(row);
            }

            if (batch.Count > 0)
            {
                yield return [.. batch];
            }

            string At(SourceRow row) => column < row.Cells.Count ? ColumnMatch.Plain(row.Cells[column]) : "";
        }
    }

    private SheetRun RunOf(OpenFile open, Actor by) =>
        open.Sheet.Id switch
        {
            "models" => new ImportModels(db, keepModel, open.Days),
            "units" => new ImportUnits(db, keepModel, open.File.Settings, open.Days, clock.Today()),
            "inside" => new ImportInside(db, maps, open.File.Name),
            "teardown" => new ImportTeardown(db, by),
            "numbers" => new ImportNumbers(db, addNumber, describe, maps, by),
            "stock" => new ImportStock(db, addNumber, by),
            "prices" => new ImportPrices(db, suppliers),
            "people" => new ImportPeople(db, people, by),
            _ => throw new InvalidOperationException(open.Sheet.Id),
        };

    private static FateFilter FilterOf(RowFate fate) =>
        fate switch
        {
            RowFate.New => FateFilter.New,
            RowFate.Changed => FateFilter.Changed,
            RowFate.Same => FateFilter.Same,
            _ => FateFilter.Refused,
        };

    private static string Said(Dictionary<FateFilter, int> counts)
    {
        string Count(FateFilter of) => counts[of].ToString("N0", CultureInfo.InvariantCulture);
        return $"{Count(FateFilter.New)} entered, {Count(FateFilter.Changed)} changed, {Count(FateFilter.Same)} as before"
            + (counts[FateFilter.Refused] == 0 ? "." : $", {Count(FateFilter.Refused)} left out.");
    }

    private static string Called(string? name)
    {
        var called = string.Concat((name ?? "").Where(c => !char.IsControl(c))).Trim();
        called = called[(called.LastIndexOfAny(['/', '\\']) + 1)..];
        return called.Length == 0 ? "a file"
            : called.Length > KeptFile.MaxName ? called[^KeptFile.MaxName..]
            : called;
    }
}
