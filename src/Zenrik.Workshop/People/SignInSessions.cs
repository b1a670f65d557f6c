using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.People;

/// <summary>An open session, as its owner sees it.</summary>
public sealed record OpenSession(
    Guid Id,
    DateTimeOffset StartedAt,
    DateTimeOffset SeenAt,
    DateTimeOffset? EndsAt,
    string Device,
    string Address
);

/// <summary>
/// Who is signed in where. A session is asked for at every request, so that one that has been ended, or whose person got
/// another role or password or has left, is over at once and on every instance.
/// </summary>
public sealed class SignInSessions(WorkshopDb db, TimeProvider clock)
{
    /// <summary>A session not used for so long is over.</summary>
    public static TimeSpan Idle { get; } = TimeSpan.FromHours(12);

    /// <summary>How long somebody works by badge on another's device.</summary>
    public static TimeSpan ByBadge { get; } = TimeSpan.FromMinutes(20);

    /// <summary>Uses closer together than this are not written down one by one.</summary>
    public static TimeSpan Noted { get; } = TimeSpan.FromMinutes(5);

    private static readonly TimeSpan Kept = TimeSpan.FromDays(30);

    private static readonly Func<WorkshopDb, Guid, DateTimeOffset, DateTimeOffset, Task<DateTimeOffset?>> Seen =
        EF.CompileAsyncQuery(
            (WorkshopDb db, Guid id, DateTimeOffset now, DateTimeOffset idle) =>
                db
                    .SignInSessions.Where(s =>
                        s.Id == id
                        && s.EndedAt == null
                        && (s.EndsAt == null || s.EndsAt > now)
                        && s.SeenAt > idle
                        && s.Stamp == s.Person.SecurityStamp
                        && s.Person.DisabledAt == null
                        && (
                            s.UnderId == null
                            || db.SignInSessions.Any(u =>
                                u.Id == s.UnderId
                                && u.EndedAt == null
                                && u.Stamp == u.Person.SecurityStamp
                                && u.Person.DisabledAt == null
                            )
                        )
                    )
                    .Select(s => (DateTimeOffset?)s.SeenAt)
                    .SingleOrDefault()
        );

    /// <summary>Whether a session is still one, and that it was used.</summary>
    public async Task<bool> Holds(Guid id)
    {
        var now = clock.GetUtcNow();
        if (await Seen(db, id, now, now - Idle) is not { } seen)
        {
            return false;
        }

        if (now - seen > Noted)
        {
            await db.SignInSessions.Where(s => s.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.SeenAt, now));
        }

        return true;
    }

    /// <summary>Whose session it is, while it holds; null when it does not.</summary>
    public async Task<Technician?> OwnerOf(Guid id) =>
        await Holds(id)
            ? await db.SignInSessions.Where(s => s.Id == id).Select(s => s.Person).AsNoTracking().SingleAsync()
            : null;

    /// <summary>Begins one.</summary>
    /// <param name="under">The device's session when somebody works on it by badge.</param>
    public async Task<Guid> Begin(
        Technician person,
        string device,
        string address,
        Guid? under = null,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        var session = new SignInSession
        {
            Id = Guid.CreateVersion7(),
            PersonId = person.Id,
            Stamp = person.SecurityStamp ?? "",
            StartedAt = now,
            SeenAt = now,
            EndsAt = under is null ? null : now + ByBadge,
            Device = Cut(device, SignInSession.MaxDevice),
            Address = Cut(address, SignInSession.MaxAddress),
            UnderId = under,
        };
        _ = (await db.Write(new Actor(person.Id, person.Name), person.UserName ?? "", now, Work, stop)).Value;
        return session.Id;

        async Task<Outcome<Guid>> Work()
        {
            var old = now - Kept;
            await db.SignInSessions.Where(s => s.PersonId == person.Id && s.SeenAt < old).ExecuteDeleteAsync(stop);
            db.SignInSessions.Add(session);
            return session.Id;
        }

        static string Cut(string text, int most) => text.Length > most ? text[..most] : text;
    }

    /// <summary>A person's open sessions, the last used first.</summary>
    public async Task<IReadOnlyList<OpenSession>> Of(Guid person, CancellationToken stop = default)
    {
        var now = clock.GetUtcNow();
        var idle = now - Idle;
        return await db
            .SignInSessions.AsNoTracking()
            .Where(s =>
                s.PersonId == person
                && s.EndedAt == null
                && (s.EndsAt == null || s.EndsAt > now)
                && s.SeenAt > idle
                && s.Stamp == s.Person.SecurityStamp
            )
            .OrderByDescending(s => s.SeenAt)
            .Select(s => new OpenSession(s.Id, s.StartedAt, s.SeenAt, s.EndsAt, s.Device, s.Address))
            .ToListAsync(stop);
    }

    /// <summary>Ends one of one's own sessions; twice is no fault.</summary>
    public Task<Outcome<string>> End(Guid id, Actor by, CancellationToken stop = default) =>
        EndWhere(db.SignInSessions.Where(s => s.Id == id), "It is signed out.", by, stop);

    /// <summary>Ends all of one's own sessions but the one spoken from.</summary>
    public Task<Outcome<string>> EndOthers(Guid keep, Actor by, CancellationToken stop = default) =>
        EndWhere(db.SignInSessions.Where(s => s.Id != keep), "Everywhere else you are signed out.", by, stop);

    private Task<Outcome<string>> EndWhere(
        IQueryable<SignInSession> which,
        string said,
        Actor by,
        CancellationToken stop
    )
    {
        return db.Write(by, by.Name, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            foreach (var session in await which.Where(s => s.PersonId == by.Id && s.EndedAt == null).ToListAsync(stop))
            {
                session.EndedAt = clock.GetUtcNow();
            }

            return said;
        }
    }
}
