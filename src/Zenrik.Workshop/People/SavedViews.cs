using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.People;

/// <summary>Lists as somebody looks at them again and again.</summary>
public sealed class SavedViews(WorkshopDb db, TimeProvider clock)
{
    /// <summary>More would be a list to search.</summary>
    public const int Most = 12;

    /// <summary>Lists whose conditions can be kept, by their address.</summary>
    public static IReadOnlyList<string> Lists { get; } = ["/fleet", "/history"];

    public async Task<IReadOnlyList<SavedView>> Of(string list, Actor owner, CancellationToken stop = default) =>
        await db
            .SavedViews.AsNoTracking()
            .Where(v => v.OwnerId == owner.Id && v.List == list)
            .OrderBy(v => v.Name)
            .ToListAsync(stop);

    /// <summary>Keeps one; of the same name, in the other's place.</summary>
    public Task<Outcome<string>> Keep(
        string list,
        string? name,
        string? query,
        Actor owner,
        CancellationToken stop = default
    )
    {
        return db.Write(owner, name?.Trim() ?? "", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var (called, kept) = (name?.Trim() ?? "", query ?? "");
            if (called.Length is 0 or > SavedView.MaxName || called.Any(char.IsControl))
            {
                return new Refusal(RefusalReason.Invalid, $"Name the view in 1 to {SavedView.MaxName} characters.");
            }

            if (!Lists.Contains(list) || kept.Length > SavedView.MaxQuery || (kept.Length > 0 && kept[0] != '?'))
            {
                return new Refusal(RefusalReason.Invalid, "That is no view of a list that can be kept.");
            }

            // One after the other, so that two browsers of one person do not make a thirteenth.
            await db.LockPerson(owner.Id, stop);
            var views = await db.SavedViews.Where(v => v.OwnerId == owner.Id && v.List == list).ToListAsync(stop);
            if (views.Find(v => v.Name == called) is { } there)
            {
                there.Query = kept;
            }
            else if (views.Count >= Most)
            {
                return new Refusal(RefusalReason.Conflict, $"You keep {Most} views of it already. Drop one first.");
            }
            else
            {
                db.SavedViews.Add(
                    new SavedView
                    {
                        Id = Guid.CreateVersion7(),
                        OwnerId = owner.Id,
                        List = list,
                        Name = called,
                        Query = kept,
                    }
                );
            }

            return $"“{called}” is kept.";
        }
    }

    /// <summary>Drops one of one's own; twice is no fault.</summary>
    public Task<Outcome<string>> Drop(Guid id, Actor owner, CancellationToken stop = default)
    {
        return db.Write(owner, $"{id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.SavedViews.SingleOrDefaultAsync(v => v.Id == id && v.OwnerId == owner.Id, stop) is { } view)
            {
                db.SavedViews.Remove(view);
            }

            return "The view is dropped; nothing it showed was touched.";
        }
    }
}
