using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Parts;

/// <summary>Makes a part number known: what it is, what it fits, what it replaces.</summary>
public sealed class AddNumber(WorkshopDb db, ServiceMapShelf maps, TimeProvider clock)
{
    internal const int MaxName = 80;

    /// <summary>Known numbers looked at for a slip of the keyboard.</summary>
    private const int Pool = 25;

    /// <param name="fits">Model code and slot, "sandpiper-14 battery"; empty when it fits nothing by list.</param>
    /// <param name="replaces">The number it is sold in place of; empty for none.</param>
    /// <param name="sure">True when the person has seen that it is one slip from a known number and means it.</param>
    /// <returns>The number as kept.</returns>
    public Task<Outcome<string>> Run(
        string? number,
        string? name,
        ItemKind kind,
        IReadOnlyList<(string Model, string Slot)> fits,
        string? replaces,
        bool sure,
        Actor by,
        CancellationToken stop = default
    ) =>
        db.Write(
            by,
            number ?? "",
            clock.GetUtcNow(),
            () => Add(number, name, kind, fits, replaces, sure, by, stop),
            stop
        );

    /// <summary>The same within the caller's write.</summary>
    internal async Task<Outcome<string>> Add(
        string? number,
        string? name,
        ItemKind kind,
        IReadOnlyList<(string Model, string Slot)> fits,
        string? replaces,
        bool sure,
        Actor by,
        CancellationToken stop
    )
    {
        if (!PartNumber.Read(number).Try(out var read, out var unreadable))
        {
            return unreadable;
        }

        var called = name?.Trim() ?? "";
        if (called.Length is < 2 or > MaxName || called.Any(char.IsControl))
        {
            return new Refusal(RefusalReason.Invalid, $"Say what it is, in 2 to {MaxName} characters: battery 54 Wh.");
        }

        read = await db.Meant(read, stop);
        var text = read.Text;
        var near = await db
            .CatalogueNumbers.AsNoTracking()
            .OrderBy(n => EF.Functions.TrigramsSimilarityDistance(n.Number, text))
            .Select(n => n.Number)
            .Take(Pool)
            .ToListAsync(stop);
        var alike = near.Select(n => PartNumber.Read(n).Value)
            .FirstOrDefault(n => read.Compare(n) is not Likeness.Different);
        if (alike.Text is { } known)
        {
            if (read.Compare(alike) == Likeness.Same)
            {
                return new Refusal(RefusalReason.Conflict, $"{known} is known already.");
            }

            if (!sure)
            {
                return new Refusal(
                    RefusalReason.NeedsConfirmation,
                    $"{text} is one slip from {known}, which is known already. Read the label once more; if it really says {text}, tick that you are sure."
                );
            }
        }

        CatalogueNumber? old = null;
        if (!string.IsNullOrWhiteSpace(replaces))
        {
            var canonical = PartNumber.Canonicalise(replaces);
            old = await db
                .CatalogueNumbers.Include(n => n.Fits)
                .SingleOrDefaultAsync(n => n.Canonical == canonical, stop);
            if (old is null)
            {
                return new Refusal(RefusalReason.NotFound, $"{replaces.Trim()}, which it replaces, is not known here.");
            }
        }

        var codes = fits.Select(f => f.Model).Distinct().ToList();
        var models = await db.Models.Where(m => codes.Contains(m.Code)).Select(m => m.Code).ToListAsync(stop);
        if (codes.Except(models).FirstOrDefault() is { } unknown)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no model “{unknown}”.");
        }

        foreach (var (model, slot) in fits)
        {
            if (await maps.Lacks(model, slot, stop: stop) is { } lacking)
            {
                return lacking;
            }
        }

        var added = CatalogueNumber.Of(read, called);
        added.Kind = kind;
        // What it replaces, it fits: that is what a maker means by it.
        added.Fits.AddRange(
            (old?.Fits ?? [])
                .Select(f => new CatalogueFit
                {
                    NumberId = added.Id,
                    ModelCode = f.ModelCode,
                    Slot = f.Slot,
                    ListedBy = f.ListedBy,
                    ListedAt = f.ListedAt,
                })
                .Concat(
                    fits.Select(f => new CatalogueFit
                    {
                        NumberId = added.Id,
                        ModelCode = f.Model,
                        Slot = f.Slot,
                        ListedBy = by.Name,
                        ListedAt = clock.GetUtcNow(),
                    })
                )
                .DistinctBy(f => (f.ModelCode, f.Slot))
        );
        db.CatalogueNumbers.Add(added);
        if (old is not null)
        {
            old.SupersededById = added.Id;
        }

        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException e) when (e.Broke("ix_catalogue_numbers_canonical"))
        {
            db.ChangeTracker.Clear();
            return new Refusal(RefusalReason.Conflict, $"Somebody has just made {text} known.");
        }

        return text;
    }
}
