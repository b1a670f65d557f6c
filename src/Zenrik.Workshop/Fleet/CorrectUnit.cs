using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;

namespace Zenrik.Workshop.Fleet;

/// <summary>What a person says of a unit, as typed. Whether it is lent out is said by <see cref="LendUnit"/>.</summary>
/// <param name="User">Blank: a shared machine.</param>
public sealed record SaidOfUnit(string? Serial, string? Site, string? User, DateOnly? Bought, DateOnly? Warranty);

/// <summary>Puts right what the book says of a unit: its serial, site, user, days. Each change leaves a line in its timeline.</summary>
public sealed class CorrectUnit(WorkshopDb db, TimeProvider clock)
{
    public Task<Outcome<string>> Run(
        Guid request,
        string tag,
        SaidOfUnit said,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, tag, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            if (!Read(said, unit).Try(out var after, out var wrong))
            {
                return wrong;
            }

            if (after.Impossible(clock.Today()) is { } impossible)
            {
                return impossible;
            }

            var other = await db
                .Units.Where(u => u.Id != unit.Id && (u.Serial == after.Serial || u.Tag == after.Serial))
                .Select(u => u.Tag)
                .FirstOrDefaultAsync(stop);
            if (other is not null)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{after.Serial} stands on {other} already. Look at both machines; nothing was changed."
                );
            }

            var changes = db.Correct(unit, after, new Occasion(by, now));
            return changes.Count == 0
                ? $"The book says so of {unit.Tag} already."
                : $"{unit.Tag}: {string.Join(", ", changes)}.";
        }
    }

    private static Outcome<UnitFacts> Read(SaidOfUnit said, Unit unit)
    {
        if (!SerialNumber.Read(said.Serial).Try(out var serial, out var wrong))
        {
            return wrong;
        }

        if (!SiteName.Read(said.Site).Try(out var site, out wrong))
        {
            return wrong;
        }

        UnitUser? user = null;
        if (!string.IsNullOrWhiteSpace(said.User) && !UnitUser.Read(said.User).Try(out user, out wrong))
        {
            return wrong;
        }

        return new UnitFacts(
            serial.ToUpperInvariant(),
            site.Text,
            user?.Text,
            said.Bought ?? unit.BoughtOn,
            said.Warranty,
            unit.InLoanPool
        );
    }
}

/// <summary>Makes a unit say what is true of it.</summary>
internal static class UnitCorrections
{
    /// <returns>What was changed; each has its line in the timeline.</returns>
    public static IReadOnlyList<FactChange> Correct(this WorkshopDb db, Unit unit, UnitFacts after, Occasion occasion)
    {
        var changes = unit.Facts.To(after);
        (unit.Serial, unit.Site, unit.UserName) = (after.Serial, after.Site, after.User);
        (unit.BoughtOn, unit.WarrantyUntil, unit.InLoanPool) = (after.Bought, after.Warranty, after.Loan);
        foreach (var change in changes)
        {
            db.UnitEvents.Add(
                UnitEvent.Of(
                    unit.Id,
                    change.What == "site" ? UnitEventKind.Moved : UnitEventKind.Corrected,
                    change.What == "site"
                        ? $"From {change.Before} to {change.After}"
                        : $"{Sentence.Capital(change.What)}: {change.Before ?? "nothing"} → {change.After ?? "nothing"}",
                    occasion
                )
            );
        }

        return changes;
    }
}
