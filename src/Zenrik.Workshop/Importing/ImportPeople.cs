using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Importing;
using Zenrik.Core.People;
using Zenrik.Workshop.People;

namespace Zenrik.Workshop.Importing;

/// <summary>Lets people in from a list; each gets an invitation. Who is known gets the name and the role the list says.</summary>
internal sealed class ImportPeople(WorkshopDb db, KeepPeople people, Actor by) : SheetRun<ImportPeople.Wanted>
{
    private readonly Dictionary<string, int> seen = new(StringComparer.Ordinal);

    /// <param name="Id">Null for somebody new.</param>
    internal sealed record Wanted(Guid? Id, string SignIn, string Name, string Role);

    protected override async Task<IReadOnlyList<(RowFate Fate, Wanted? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        var known = (await people.List(stop)).ToDictionary(p => p.SignIn, StringComparer.OrdinalIgnoreCase);
        return [.. batch.Select(Judge)];

        (RowFate, Wanted?) Judge(RowValues row)
        {
            if (
                !SignInName.Read(row["signIn"]).Try(out var login, out var wrong)
                || !PersonName.Read(row["name"]).Try(out var name, out wrong)
            )
            {
                return Refused(wrong.Message);
            }

            var role = row["role"]?.ToLowerInvariant();
            if (role is null || !Roles.All.Contains(role))
            {
                return Refused($"“{row["role"]}” is no role. Roles: {string.Join(", ", Roles.All)}.");
            }

            if (!seen.TryAdd(login.Text, row.Line))
            {
                return Refused($"{login} stands in line {seen[login.Text]} already.");
            }

            if (known.GetValueOrDefault(login.Text) is not { } person)
            {
                return (new RowFate.New("gets an invitation"), new Wanted(null, login.Text, name.Text, role));
            }

            if (person.Id == by.Id && role != person.Role)
            {
                return Refused("Nobody changes their own role.");
            }

            FactChange[] changes = [new("name", person.Name, name.Text), new("role", person.Role, role)];
            return (
                RowFate.Of([.. changes.Where(c => c.Before != c.After)]),
                new Wanted(person.Id, login.Text, name.Text, role)
            );
        }
    }

    protected override async Task Write(
        IReadOnlyList<(RowFate Fate, Wanted Plan)> rows,
        Occasion occasion,
        CancellationToken stop
    )
    {
        foreach (var (_, wanted) in rows)
        {
            if (wanted.Id is null)
            {
                Require(await people.AddIn(wanted.SignIn, wanted.Name, wanted.Role, stop));
                continue;
            }

            (await db.Users.SingleAsync(u => u.Id == wanted.Id, stop)).Name = wanted.Name;
            await db.SaveChangesAsync(stop);
            Require(await people.SetRoleIn(wanted.Id.Value, wanted.Role, stop));
        }

        static void Require<T>(Outcome<T> outcome)
        {
            if (outcome.Refusal is { } refusal)
            {
                throw new RowRefusedException(refusal);
            }
        }
    }
}
