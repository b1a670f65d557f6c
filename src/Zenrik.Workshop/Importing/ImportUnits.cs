using Microsoft.EntityFrameworkCore;
using Npgsql;
using NpgsqlTypes;
using Zenrik.Core.Fleet;
using Zenrik.Core.Importing;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Workshop.Importing;

/// <summary>Enters machines from a list, and brings those that are known up to what it says. Rules: <see cref="UnitRows"/>.</summary>
internal sealed class ImportUnits(
    WorkshopDb db,
    KeepModel keepModel,
    FileSettings settings,
    DayOrder days,
    DateOnly today
) : SheetRun<ListedUnit>
{
    private readonly UnitRows rows = new(today);
    private ModelNames? models;
    private TagPattern? pattern;
    private Dictionary<string, (bool Retired, int? WarrantyMonths)> facts = [];

    protected override async Task<IReadOnlyList<(RowFate Fate, ListedUnit? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        if (models is null)
        {
            models = await db.ModelNames(stop);
            facts = await FactsOfModels(stop);
            pattern = await db.TagPattern(stop);
        }

        var read = batch.Select(r => ListedUnit.Read(r, days)).ToList();
        var said = read.Where(r => r.Refusal is null).Select(r => r.Value).ToList();
        var words = said.SelectMany(r => new[] { r.Tag, r.Serial }).Distinct().ToArray();
        // Joined, not compared with each word in turn: a batch has thousands.
        var found = await db
            .Units.FromSql(
                $"""
                SELECT u.* FROM units u JOIN unnest({words}) AS w(word) ON u.tag = w.word
                UNION
                SELECT u.* FROM units u JOIN unnest({words}) AS w(word) ON u.serial = w.word
                """
            )
            .AsNoTracking()
            .Select(u => new KnownUnit(
                u.Tag,
                u.ModelCode,
                u.Model.Name,
                new UnitFacts(u.Serial, u.Site, u.UserName, u.BoughtOn, u.WarrantyUntil, u.InLoanPool),
                u.State == UnitState.Loaned
            ))
            .ToListAsync(stop);
        var known = found.ToDictionary(f => f.Tag);
        var bySerial = found.ToDictionary(f => f.Facts.Serial);
        return
        [
            .. batch.Select(
                (row, i) => read[i].Try(out var unit, out var wrong) ? Judge(row.Line, unit) : Refused(wrong.Message)
            ),
        ];

        (RowFate, ListedUnit?) Judge(int line, ListedUnit unit)
        {
            var byTag = known.GetValueOrDefault(unit.Tag);
            if (!models.Find(unit.Model, unit.Maker).Try(out var code, out var several))
            {
                return Refused(several.Message);
            }

            if (byTag is null)
            {
                if (pattern?.Strange(UnitTag.Read(unit.Tag).Value) is { } strange)
                {
                    return Refused(strange.Message);
                }

                if (code is null && (unit.Class ?? settings.UnknownModels) is null)
                {
                    return Refused(
                        $"No model is called {unit.Model}. Enter it among the maps, or say under “How it is read” what unknown models are."
                    );
                }

                if (code is null && unit.Maker is null)
                {
                    return Refused(
                        $"No model is called {unit.Model}, and its maker is not said, so it cannot be entered."
                    );
                }

                if (code is not null && facts[code].Retired)
                {
                    return Refused($"The {unit.Model} is retired: none is entered any more.");
                }

                unit = unit with { Site = unit.Site ?? settings.Site, Bought = unit.Bought ?? settings.Bought };
            }

            var fate = rows.Judge(
                line,
                unit,
                code,
                byTag,
                bySerial.GetValueOrDefault(unit.Serial),
                bySerial.GetValueOrDefault(unit.Tag) ?? known.GetValueOrDefault(unit.Serial)
            );
            return (fate, unit);
        }
    }

    protected override async Task Write(
        IReadOnlyList<(RowFate Fate, ListedUnit Plan)> chosen,
        Occasion occasion,
        CancellationToken stop
    )
    {
        var fresh = chosen.Where(r => r.Fate is RowFate.New).Select(r => r.Plan).ToList();
        await MakeModels(fresh, stop);
        await Enter(fresh, occasion, stop);
        await Change([.. chosen.Where(r => r.Fate is RowFate.Changed).Select(r => r.Plan)], occasion, stop);
    }

    private Task<Dictionary<string, (bool Retired, int? Warranty)>> FactsOfModels(CancellationToken stop) =>
        db
            .Models.AsNoTracking()
            .Where(m => m.MergedInto == null)
            .ToDictionaryAsync(m => m.Code, m => (m.IsRetired, m.WarrantyMonths), stop);

    private async Task MakeModels(List<ListedUnit> fresh, CancellationToken stop)
    {
        var unknown = fresh
            .Where(r => models!.Find(r.Model, r.Maker).Value is null)
            .DistinctBy(r => (ColumnMatch.Plain(r.Maker!), ColumnMatch.Plain(r.Model)))
            .ToList();
        foreach (var row in unknown)
        {
            var made = await keepModel.AddIn(
                new ModelFacts(row.Maker, row.Model, row.Class ?? settings.UnknownModels, null, null, null),
                stop
            );
            // Judged by the same rules a moment ago.
            _ = made.Value;
            await db.SaveChangesAsync(stop);
        }

        if (unknown.Count > 0)
        {
            models = await db.ModelNames(stop);
            facts = await FactsOfModels(stop);
        }
    }

    /// <summary>New machines by COPY: a list of a whole fleet is one stream, not a statement a row.</summary>
    private async Task Enter(List<ListedUnit> fresh, Occasion occasion, CancellationToken stop)
    {
        if (fresh.Count == 0)
        {
            return;
        }

        var connection = (NpgsqlConnection)db.Database.GetDbConnection();
        var ids = fresh.ConvertAll(_ => Guid.CreateVersion7());
        await using (
            var units = await connection.BeginBinaryImportAsync(
                "COPY units (id, tag, serial, model_code, site, user_name, bought_on, state, in_loan_pool, warranty_until) FROM STDIN (FORMAT BINARY)",
                stop
            )
        )
        {
            foreach (var (i, row) in fresh.Index())
            {
                var code = models!.Find(row.Model, row.Maker).Value!;
                var warranty =
                    row.Warranty
                    ?? (
                        facts[code].WarrantyMonths is { } months
                            ? row.Bought!.Value.AddMonths(months).AddDays(-1)
                            : null
                    );
                await units.StartRowAsync(stop);
                await units.WriteAsync(ids[i], NpgsqlDbType.Uuid, stop);
                await units.WriteAsync(row.Tag, NpgsqlDbType.Varchar, stop);
                await units.WriteAsync(row.Serial, NpgsqlDbType.Varchar, stop);
                await units.WriteAsync(code, NpgsqlDbType.Varchar, stop);
                await units.WriteAsync(row.Site!, NpgsqlDbType.Varchar, stop);
                await WriteOrNull(units, row.User, NpgsqlDbType.Varchar);
                await units.WriteAsync(row.Bought!.Value, NpgsqlDbType.Date, stop);
                await units.WriteAsync(nameof(UnitState.InUse), NpgsqlDbType.Varchar, stop);
                await units.WriteAsync(row.Loan ?? false, NpgsqlDbType.Boolean, stop);
                await WriteOrNull(units, warranty, NpgsqlDbType.Date);
            }

            await units.CompleteAsync(stop);
        }

        await using var events = await connection.BeginBinaryImportAsync(
            "COPY unit_events (unit_id, at, by_id, kind, text) FROM STDIN (FORMAT BINARY)",
            stop
        );
        foreach (var (i, row) in fresh.Index())
        {
            await events.StartRowAsync(stop);
            await events.WriteAsync(ids[i], NpgsqlDbType.Uuid, stop);
            await events.WriteAsync(occasion.At.UtcDateTime, NpgsqlDbType.TimestampTz, stop);
            await events.WriteAsync(occasion.By.Id, NpgsqlDbType.Uuid, stop);
            await events.WriteAsync(nameof(UnitEventKind.Registered), NpgsqlDbType.Varchar, stop);
            await events.WriteAsync($"Entered the book from a list, for {row.Site}", NpgsqlDbType.Varchar, stop);
        }

        await events.CompleteAsync(stop);
        db.NoteChange(
            nameof(Unit),
            fresh.Count == 1 ? fresh[0].Tag : $"{fresh.Count} units, from {fresh[0].Tag} to {fresh[^1].Tag}"
        );

        async Task WriteOrNull<T>(NpgsqlBinaryImporter to, T? value, NpgsqlDbType type)
        {
            if (value is null)
            {
                await to.WriteNullAsync(stop);
            }
            else
            {
                await to.WriteAsync(value, type, stop);
            }
        }
    }

    private async Task Change(List<ListedUnit> changed, Occasion occasion, CancellationToken stop)
    {
        if (changed.Count == 0)
        {
            return;
        }

        var units = (await db.LockUnits([.. changed.Select(c => c.Tag)], stop)).ToDictionary(u => u.Tag);
        foreach (var row in changed)
        {
            var unit = units[row.Tag];
            db.Correct(unit, row.Over(unit.Facts), occasion);
        }

        await db.SaveChangesAsync(stop);
        // Thousands of rows that are not looked at again would be compared at every save.
        db.ChangeTracker.Clear();
    }
}
