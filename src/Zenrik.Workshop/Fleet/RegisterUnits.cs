using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.Fleet;

/// <summary>A new machine's two labels.</summary>
public sealed record NewUnit(string Tag, string Serial);

/// <summary>Enters new units into the book: a delivery of one model, tags and serials scanned one after the other.</summary>
public sealed class RegisterUnits(WorkshopDb db, TimeProvider clock)
{
    public const int Most = 200;

    public Task<Outcome<string>> Run(
        Guid request,
        string? modelCode,
        string? site,
        DateOnly boughtOn,
        DateOnly? warrantyUntil,
        IReadOnlyList<NewUnit> units,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, "units", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.Models.SingleOrDefaultAsync(m => m.Code == modelCode, stop) is not { } model)
            {
                return Invalid("Choose the model they are.");
            }

            if (model.IsRetired)
            {
                return Conflict(
                    $"The {model.Name} is retired: none is entered any more. Say otherwise on its page among the maps if one was bought after all."
                );
            }

            if (!SiteName.Read(site).Try(out var at, out var nowhere))
            {
                return nowhere;
            }

            if (boughtOn > clock.Today() || warrantyUntil < boughtOn)
            {
                return Invalid(
                    "They cannot be bought after today, nor the warranty end before that. Correct the days."
                );
            }

            if (units.Count is 0 or > Most)
            {
                return Invalid($"Scan from 1 to {Most} units.");
            }

            var pattern = await db.TagPattern(stop);
            var read = new List<NewUnit>();
            foreach (var unit in units)
            {
                if (
                    !UnitTag.Read(unit.Tag).Try(out var tag, out var refusal)
                    || !SerialNumber.Read(unit.Serial).Try(out var serial, out refusal)
                    || (refusal = pattern?.Strange(tag)) is not null
                )
                {
                    return refusal with { Message = $"Line {read.Count + 1}: {refusal.Message}" };
                }

                var line = new NewUnit(tag.Text, serial.ToUpperInvariant());
                if (line.Tag == line.Serial)
                {
                    return Invalid(
                        $"Line {read.Count + 1}: {line.Tag} is tag and serial at once; one of the two labels was scanned twice."
                    );
                }

                if (read.Find(r => r.Tag == line.Tag || r.Serial == line.Serial) is { } twice)
                {
                    return Conflict(
                        $"Line {read.Count + 1}: {(twice.Tag == line.Tag ? line.Tag : line.Serial)} stands in this list twice. Nothing was entered."
                    );
                }

                read.Add(line);
            }

            var (tags, serials) = (read.Select(r => r.Tag).ToList(), read.Select(r => r.Serial).ToList());
            var taken = await db
                .Units.Where(u =>
                    tags.Contains(u.Tag)
                    || serials.Contains(u.Serial)
                    || tags.Contains(u.Serial)
                    || serials.Contains(u.Tag)
                )
                .OrderBy(u => u.Tag)
                .Select(u => new
                {
                    u.Tag,
                    u.Serial,
                    Model = u.Model.Name,
                    u.Site,
                })
                .FirstOrDefaultAsync(stop);
            if (taken is not null)
            {
                return Conflict(
                    tags.Contains(taken.Tag)
                        ? $"The tag {taken.Tag} is used already: a {taken.Model} at {taken.Site}, serial {taken.Serial}. Nothing was entered; print another tag."
                        : $"The serial {taken.Serial} is known already: it is {taken.Tag}, a {taken.Model} at {taken.Site}. Nothing was entered; one machine has one tag."
                );
            }

            var occasion = new Occasion(by, now);
            foreach (var line in read)
            {
                var unit = new Unit
                {
                    Id = new UnitId(Guid.CreateVersion7()),
                    Tag = line.Tag,
                    Serial = line.Serial,
                    ModelCode = model.Code,
                    Site = at.Text,
                    BoughtOn = boughtOn,
                    WarrantyUntil = warrantyUntil ?? EndOfWarranty(model),
                };
                db.Units.Add(unit);
                db.UnitEvents.Add(
                    UnitEvent.Of(unit.Id, UnitEventKind.Registered, $"Entered the book, for {at}", occasion)
                );
            }

            try
            {
                await db.SaveChangesAsync(stop);
            }
            catch (DbUpdateException e) when (e.Broke("ix_units_tag") || e.Broke("ix_units_serial"))
            {
                return Conflict(
                    "Somebody has just entered one of these tags or serials. Nothing was entered here; look again."
                );
            }

            return $"{(read.Count == 1 ? "1 unit" : $"{read.Count} units")} of the {model.Name} entered, for {at}.";
        }

        DateOnly? EndOfWarranty(Model model) =>
            model.WarrantyMonths is { } months ? boughtOn.AddMonths(months).AddDays(-1) : null;
    }

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);

    private static Refusal Conflict(string message) => new(RefusalReason.Conflict, message);
}
