using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Preparing;

/// <summary>
/// Takes the name of somebody who used or borrowed a unit out of the book when they ask for it, out of what is history too.
/// The program that serves cannot change history, whoever asks; this runs by hand, as the owner of the tables, in the name
/// of a lead, and leaves a line in the audit trail that says by whom and in how many rows, not which name.
/// </summary>
public sealed class EraseName(WorkshopDb db, UserManager<Technician> people, TimeProvider clock)
{
    /// <summary>What stands where a name stood within other words.</summary>
    public const string Instead = "(erased)";

    private const int Shortest = 3;

    /// <summary>Wherever a user's name is stored, or somebody may have typed it.</summary>
    private static readonly IReadOnlyList<(string Table, string Column, string Type)> Places =
    [
        ("units", "user_name", "text"),
        ("loans", "\"to\"", "text"),
        ("unit_events", "text", "text"),
        ("repairs", "note", "text"),
        ("repair_notes", "text", "text"),
        ("movements", "note", "text"),
        ("follow_ups", "what", "text"),
        ("follow_ups", "reason", "text"),
        ("follow_ups", "put_right", "text"),
        ("audit_lines", "target", "text"),
        ("audit_lines", "words", "text[]"),
        ("audit_lines", "changes", "jsonb"),
        ("done_requests", "act", "text"),
        ("done_requests", "said", "text"),
        ("saved_views", "name", "text"),
        ("saved_views", "query", "text"),
    ];

    /// <param name="name">As it stands on units and loans; upper and lower case are the same.</param>
    /// <param name="lead">The sign-in name of the lead who answers for it.</param>
    /// <param name="really">False: it is only counted.</param>
    /// <returns>Where it stood, as a sentence.</returns>
    public async Task<Outcome<string>> Run(string? name, string? lead, bool really, CancellationToken stop = default)
    {
        var wanted = name?.Trim() ?? "";
        if (
            wanted.Length < Shortest
            || wanted.Length > UnitUser.MaxLength
            || !wanted.Any(char.IsLetter)
            || wanted.Any(c => char.IsControl(c) || c is '"' or '\\')
        )
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"A name has {Shortest} to {UnitUser.MaxLength} characters, a letter among them, and no quotation mark or backslash."
            );
        }

        if (
            await people.FindByNameAsync(lead?.Trim() ?? "") is not { DisabledAt: null } by
            || !await people.IsInRoleAsync(by, Roles.Lead)
        )
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"“{lead}” is no lead who signs in here. Say who answers for it: --by=NAME."
            );
        }

        if (await people.Users.AnyAsync(p => EF.Functions.ILike(p.Name, Escaped(wanted)), stop))
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{wanted} works here or did: who did what stays, since it proves the stock. Disable the sign-in instead."
            );
        }

        if (
            await db
                .Loans.Where(l => l.BackAt == null && EF.Functions.ILike(l.To, Escaped(wanted)))
                .Select(l => l.Unit.Tag)
                .FirstOrDefaultAsync(stop) is
            { } lent
        )
        {
            return new Refusal(RefusalReason.Conflict, $"{wanted} still has {lent}: take it back first.");
        }

        return really
            ? await db.Write(new Actor(by.Id, by.Name), "a user's name", clock.GetUtcNow(), Work, stop)
            : await Told();

        async Task<Outcome<string>> Told()
        {
            var found = new List<(string Table, int Rows)>();
            foreach (var (table, column, _) in Places)
            {
                var count = $"SELECT count(*)::int AS \"Value\" FROM {table} WHERE {column}::text ~* {{0}}";
                found.Add((table, await db.Database.SqlQueryRaw<int>(count, Pattern(wanted)).SingleAsync(stop)));
            }

            return $"{Said(found, "stands in", wanted)} Nothing was changed; with --yes it is erased.";
        }

        async Task<Outcome<string>> Work()
        {
            var erased = new List<(string Table, int Rows)>();
            foreach (var of in Places.GroupBy(p => p.Table))
            {
                // History refuses every change by a trigger, which only the owner may put aside, for this transaction.
                var (aside, back) = (
                    $"ALTER TABLE {of.Key} DISABLE TRIGGER USER",
                    $"ALTER TABLE {of.Key} ENABLE TRIGGER USER"
                );
                await db.Database.ExecuteSqlRawAsync(aside, stop);
                foreach (var (table, column, type) in of)
                {
                    var without = $"regexp_replace({column}::text, {{0}}, '{Instead}', 'gi')";
                    var value = column == "user_name" ? $"nullif({without}, '{Instead}')" : $"{without}::{type}";
                    var update = $"UPDATE {table} SET {column} = {value} WHERE {column}::text ~* {{0}}";
                    erased.Add((table, await db.Database.ExecuteSqlRawAsync(update, [Pattern(wanted)], stop)));
                }

                await db.Database.ExecuteSqlRawAsync(back, stop);
            }

            var rows = erased.Sum(e => e.Rows);
            if (rows > 0)
            {
                db.NoteChange(
                    "names",
                    "erased",
                    after: string.Create(CultureInfo.InvariantCulture, $"in {rows} places")
                );
            }

            return $"{Said(erased, "is erased from", wanted)} Backups made before still have it.";
        }
    }

    private static string Said(List<(string Table, int Rows)> found, string what, string name)
    {
        var tables = found.GroupBy(f => f.Table).Select(g => (g.Key, Rows: g.Sum(f => f.Rows))).Where(t => t.Rows > 0);
        var places = string.Join(
            ", ",
            tables.Select(t => string.Create(CultureInfo.InvariantCulture, $"{t.Rows} in {t.Key}"))
        );
        return places.Length == 0 ? $"“{name}” stands nowhere in the book." : $"“{name}” {what} {places}.";
    }

    /// <summary>The name as whole words, in PostgreSQL's regular expressions: a backslash before what is no letter or digit means itself.</summary>
    private static string Pattern(string name)
    {
        var pattern = new StringBuilder();
        foreach (var c in name)
        {
            pattern.Append(char.IsLetterOrDigit(c) || c == ' ' || c > 127 ? "" : "\\").Append(c);
        }

        return $"{(char.IsLetterOrDigit(name[0]) ? "\\m" : "")}{pattern}{(char.IsLetterOrDigit(name[^1]) ? "\\M" : "")}";
    }

    private static string Escaped(string name) =>
        name.Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("%", "\\%", StringComparison.Ordinal)
            .Replace("_", "\\_", StringComparison.Ordinal);
}
