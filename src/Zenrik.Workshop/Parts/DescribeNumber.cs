using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.Parts;
using Zenrik.Workshop.ServiceMaps;

namespace Zenrik.Workshop.Parts;

/// <summary>
/// Says what a number is and where it goes: its specification, entered or corrected, and the slots a person lists it for.
/// Setting the same twice changes nothing.
/// </summary>
public sealed class DescribeNumber(WorkshopDb db, ServiceMapShelf maps, TimeProvider clock)
{
    /// <summary>Sets what is known of a number; what is left empty is not known any more.</summary>
    /// <param name="values">By the names of <see cref="SpecificationForm"/>.</param>
    /// <returns>What is known now, as a sentence.</returns>
    public Task<Outcome<string>> Specify(
        string number,
        ItemKind kind,
        IReadOnlyDictionary<string, string?> values,
        Actor by,
        CancellationToken stop = default
    ) => db.Write(by, number, clock.GetUtcNow(), () => SpecifyIn(number, kind, values, stop), stop);

    /// <summary>The same within the caller's write.</summary>
    internal async Task<Outcome<string>> SpecifyIn(
        string number,
        ItemKind kind,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken stop
    )
    {
        if (!SpecificationForm.Read(kind, values).Try(out var specification, out var wrong))
        {
            return wrong;
        }

        if (!(await Find(number, stop)).Try(out var known, out var unknown))
        {
            return unknown;
        }

        (known.Specification, known.Kind) = (specification, kind);
        var what = UpgradePaths.Describe(specification);
        return $"{known.Number} is known as {(what.Length > 0 ? what : "what it is called")} now.";
    }

    /// <summary>Lists a number for a slot of a model, by name and day.</summary>
    public Task<Outcome<string>> List(
        string number,
        string? model,
        string? slot,
        Actor by,
        CancellationToken stop = default
    ) => db.Write(by, number, clock.GetUtcNow(), () => ListIn(number, model, slot, by, stop), stop);

    /// <summary>The same within the caller's write.</summary>
    internal async Task<Outcome<string>> ListIn(
        string number,
        string? model,
        string? slot,
        Actor by,
        CancellationToken stop
    )
    {
        if (!(await Find(number, stop)).Try(out var known, out var unknown))
        {
            return unknown;
        }

        var (code, place) = (model?.Trim() ?? "", slot?.Trim() ?? "");
        if (await db.Models.SingleOrDefaultAsync(m => m.Code == code, stop) is not { } found)
        {
            return new Refusal(RefusalReason.NotFound, $"There is no model “{Short(code)}”. Choose one from the list.");
        }

        if (place.Length is 0 or > 40)
        {
            return new Refusal(RefusalReason.Invalid, "Name the slot it goes into, as the model's passport calls it.");
        }

        if (await maps.Lacks(code, place, stop: stop) is { } lacking)
        {
            return lacking;
        }

        var now = clock.GetUtcNow();
        var listed = await db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO catalogue_fits (number_id, model_code, slot, listed_by, listed_at)
            VALUES ({known.Id}, {code}, {place}, {by.Name}, {now}) ON CONFLICT DO NOTHING
            """,
            stop
        );
        if (listed == 1)
        {
            db.NoteChange(nameof(CatalogueFit), $"{known.Number} {code} {place}");
        }

        return $"{known.Number} is listed for the {place} slot of the {found.Name}.";
    }

    /// <summary>Takes a listing of a person back; a maker's list stays.</summary>
    public async Task<Outcome<string>> Unlist(
        string number,
        string? model,
        string? slot,
        Actor by,
        CancellationToken stop = default
    )
    {
        return await db.Write(by, number, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Find(number, stop)).Try(out var known, out var unknown))
            {
                return unknown;
            }

            var gone = await db.Set<CatalogueFit>()
                .Where(f => f.NumberId == known.Id && f.ModelCode == model && f.Slot == slot && f.ListedBy != null)
                .ExecuteDeleteAsync(stop);
            if (gone > 0)
            {
                db.NoteChange(nameof(CatalogueFit), $"{known.Number} {model} {slot}", before: "listed");
            }

            return gone > 0
                ? $"{known.Number} is listed for that slot no more."
                : new Refusal(RefusalReason.NotFound, "Nobody here has listed it for that slot.");
        }
    }

    private async Task<Outcome<CatalogueNumber>> Find(string number, CancellationToken stop)
    {
        var canonical = PartNumber.Canonicalise(number);
        return await db.CatalogueNumbers.SingleOrDefaultAsync(n => n.Canonical == canonical, stop) is { } known
            ? known
            : new Refusal(RefusalReason.NotFound, $"The part number {Short(number)} is not known here.");
    }

    private static string Short(string text) =>
        text.Length > PartNumber.MaxLength ? text[..PartNumber.MaxLength] : text;
}
