using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Mailing;

namespace Zenrik.Workshop.Repairs;

/// <summary>A repair that is finished and waits to be fetched.</summary>
/// <param name="ToldAt">When the user was told; null: not yet.</param>
public sealed record ToFetch(
    string Code,
    string Tag,
    string Model,
    string Site,
    string? User,
    DateTimeOffset ClosedAt,
    DateTimeOffset? ToldAt,
    string? ToldBy,
    bool HasLoan
);

/// <summary>A unit that was sent away and has not come back as far as the book knows: nobody took it up again.</summary>
public sealed record AwayUnit(
    string Code,
    string Tag,
    string Model,
    string Site,
    string? User,
    DateTimeOffset Since,
    bool HasLoan
);

/// <summary>Adds to a repair: what is worth knowing, what its record has wrong, that its user was told, that it was fetched.</summary>
public sealed class NoteRepair(WorkshopDb db, Post post, TimeProvider clock)
{
    /// <summary>Who has not fetched a machine after so long has it some other way.</summary>
    private static readonly TimeSpan Kept = TimeSpan.FromDays(60);

    private const int Most = 200;

    public Task<Outcome<string>> Run(
        Guid request,
        long repairNumber,
        RepairNoteKind kind,
        string? text,
        Actor by,
        CancellationToken stop = default
    ) => Note(request, repairNumber, kind, text, null, by, stop);

    /// <summary>Tells the user by mail that it can be fetched, and notes it.</summary>
    /// <param name="to">The user's address.</param>
    public Task<Outcome<string>> TellByMail(
        Guid request,
        long repairNumber,
        string? to,
        Actor by,
        CancellationToken stop = default
    ) => Note(request, repairNumber, RepairNoteKind.Told, null, to ?? "", by, stop);

    private Task<Outcome<string>> Note(
        Guid request,
        long repairNumber,
        RepairNoteKind kind,
        string? text,
        string? mailTo,
        Actor by,
        CancellationToken stop
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, Repair.CodeOf(repairNumber), now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await db.LockRepair(repairNumber, stop)).Try(out var repair, out var missing))
            {
                return missing;
            }

            var notes = await db.Set<RepairNote>()
                .Where(n => n.RepairId == repair.Id)
                .OrderBy(n => n.Id)
                .Select(n => n.Kind)
                .ToListAsync(stop);
            var had = notes[(notes.LastIndexOf(RepairNoteKind.Reopened) + 1)..];
            if (kind == RepairNoteKind.Reopened)
            {
                return new Refusal(RefusalReason.Invalid, "A repair is taken up again by an act of its own.");
            }

            if (!RepairNotes.Read(repair.Code, kind, repair.State, had, text).Try(out var said, out var wrong))
            {
                return wrong;
            }

            db.Add(RepairNote.Of(repair, kind, mailTo is null ? said : $"by mail to {mailTo.Trim()}", by, now));
            if (kind == RepairNoteKind.Collected)
            {
                db.UnitEvents.Add(
                    UnitEvent.Of(
                        repair.UnitId,
                        UnitEventKind.Moved,
                        $"Fetched by {said}",
                        new Occasion(by, now, repair.Id)
                    )
                );
            }

            if (mailTo is not null && await post.Send(Ready(repair, mailTo), stop) is { } unsent)
            {
                return unsent;
            }

            return kind switch
            {
                RepairNoteKind.Told =>
                    $"{repair.Unit.UserName ?? "The user"} has been told that {repair.Unit.Tag} can be fetched.",
                RepairNoteKind.Collected => $"{repair.Unit.Tag} was fetched by {said}.",
                RepairNoteKind.Corrected => $"The record of {repair.Code} says so now, beside what it said.",
                _ => $"Noted for {repair.Code}.",
            };
        }
    }

    /// <summary>Units with a specialist, the longest away first.</summary>
    public async Task<IReadOnlyList<AwayUnit>> Away(CancellationToken stop = default) =>
        await db.SentAway(clock.GetUtcNow())
            .AsNoTracking()
            .OrderBy(r => r.ClosedAt)
            .Take(Most)
            .Select(r => new AwayUnit(
                Repair.CodeOf(r.Number),
                r.Unit.Tag,
                r.Unit.Model.Name,
                r.Unit.Site,
                r.Unit.UserName,
                r.ClosedAt!.Value,
                db.Loans.Any(l => l.RepairId == r.Id && l.BackAt == null)
            ))
            .ToListAsync(stop);

    private static Letter Ready(Repair repair, string to) =>
        new(
            to,
            $"{repair.Unit.Tag} is ready",
            UserSheet.Message(repair.Unit.UserName, repair.Unit.Model.Name, repair.Unit.Tag, repair.Code)
        );

    /// <summary>Finished machines nobody has fetched yet, those whose users were not told first.</summary>
    public async Task<IReadOnlyList<ToFetch>> Waiting(CancellationToken stop = default)
    {
        var since = clock.GetUtcNow() - Kept;
        return await db
            .Repairs.AsNoTracking()
            .Where(r =>
                r.State == RepairState.Closed
                && r.End != RepairEnd.Retired
                && r.End != RepairEnd.SentAway
                && r.ClosedAt > since
                && !r.Notes.Any(n => n.Kind == RepairNoteKind.Collected && n.At >= r.ClosedAt)
            )
            .Select(r => new
            {
                r.Number,
                r.Unit.Tag,
                Model = r.Unit.Model.Name,
                r.Unit.Site,
                r.Unit.UserName,
                r.ClosedAt,
                Told = r
                    .Notes.Where(n => n.Kind == RepairNoteKind.Told && n.At >= r.ClosedAt)
                    .OrderByDescending(n => n.Id)
                    .Select(n => new { n.At, By = n.By.Name })
                    .FirstOrDefault(),
                HasLoan = db.Loans.Any(l => l.RepairId == r.Id && l.BackAt == null),
            })
            .OrderBy(r => r.Told != null)
            .ThenBy(r => r.ClosedAt)
            .Take(Most)
            .Select(r => new ToFetch(
                Repair.CodeOf(r.Number),
                r.Tag,
                r.Model,
                r.Site,
                r.UserName,
                r.ClosedAt!.Value,
                r.Told == null ? null : r.Told.At,
                r.Told == null ? null : r.Told.By,
                r.HasLoan
            ))
            .ToListAsync(stop);
    }
}
