using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.MapMaking;

/// <summary>Makes one of two models that are the same machine: units, listings and what benches showed go over.</summary>
public sealed class MergeModels(WorkshopDb db, TimeProvider clock)
{
    /// <param name="code">The entry that goes.</param>
    /// <param name="into">The entry that stays.</param>
    public Task<Outcome<string>> Run(
        Guid request,
        string code,
        string? into,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, code, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            await db.LockModels(stop);
            if (into == code || into is null)
            {
                return new Refusal(RefusalReason.Invalid, "Choose the model it is.");
            }

            // Whoever plans one of both waits: by code, so that two merges do not wait for each other.
            var both = new Dictionary<string, Model?>();
            foreach (var each in new[] { code, into }.Order(StringComparer.Ordinal))
            {
                both[each] = await db.LockModel(each, stop);
            }

            if (both[code] is not { } from || both[into] is not { } to)
            {
                return new Refusal(RefusalReason.NotFound, "There is no such model.");
            }

            if (await Refuse(from, to, stop) is { } refusal)
            {
                return refusal;
            }

            var occasion = new Occasion(by, now);
            await Units(from, to, occasion, stop);
            await Listings(from, to, stop);
            await Photographs(from, to, stop);
            if (await db.Edition(to.Code, stop) is null)
            {
                await Steps(from, to, stop);
            }

            (from.MergedInto, from.IsRetired) = (to.Code, true);
            return $"The {from.Maker} {from.Name} is the {to.Maker} {to.Name} from now on.";
        }
    }

    private async Task<Refusal?> Refuse(Model from, Model to, CancellationToken stop)
    {
        if (from.MergedInto is not null || to.MergedInto is not null)
        {
            return Conflict("One of them has been made another model already. Look again.");
        }

        if (from.Class != to.Class)
        {
            return Conflict("One is a laptop and the other a Chromebook, so they are two machines.");
        }

        if (
            await db
                .Repairs.Where(Repair.Underway)
                .Where(r => r.Unit.ModelCode == from.Code)
                .OrderBy(r => r.Number)
                .Select(r => (long?)r.Number)
                .FirstOrDefaultAsync(stop) is
            { } underway
        )
        {
            return Conflict(
                $"{Repair.CodeOf(underway)} on a {from.Name} is underway by what is known of that model. Finish it first."
            );
        }

        var published = await db.Edition(from.Code, stop) is not null;
        if (await db.Edition(to.Code, stop) is not { } map)
        {
            return published
                ? Conflict(
                    $"The {from.Name} has a published map and the {to.Name} has none: say it the other way round."
                )
                : null;
        }

        var slots = map.Parts.Select(p => p.Slot).OfType<string>().ToList();
        return
            await db
                .Items.Where(i => i.Unit!.ModelCode == from.Code && i.Slot != null && !slots.Contains(i.Slot))
                .OrderBy(i => i.Slot)
                .Select(i => i.Slot)
                .FirstOrDefaultAsync(stop)
                is { } lost
            ? Conflict(
                $"Units of the {from.Name} have a number recorded in the slot “{lost}”, which the map of the {to.Name} does not have. Correct these passports first."
            )
            : null;
    }

    private async Task Units(Model from, Model to, Occasion occasion, CancellationToken stop)
    {
        foreach (var unit in await db.Units.Where(u => u.ModelCode == from.Code).OrderBy(u => u.Tag).ToListAsync(stop))
        {
            unit.ModelCode = to.Code;
            db.UnitEvents.Add(
                UnitEvent.Of(
                    unit.Id,
                    UnitEventKind.Corrected,
                    $"Its model is the {to.Maker} {to.Name}; it was entered as a {from.Maker} {from.Name}",
                    occasion
                )
            );
        }
    }

    private async Task Listings(Model from, Model to, CancellationToken stop)
    {
        var fits = await db
            .CatalogueFits.Where(f => f.ModelCode == from.Code || f.ModelCode == to.Code)
            .ToListAsync(stop);
        var known = fits.Where(f => f.ModelCode == to.Code).Select(f => (f.NumberId, f.Slot)).ToHashSet();
        foreach (var fit in fits.Where(f => f.ModelCode == from.Code))
        {
            db.CatalogueFits.Remove(fit);
            if (known.Add((fit.NumberId, fit.Slot)))
            {
                db.CatalogueFits.Add(
                    new CatalogueFit
                    {
                        NumberId = fit.NumberId,
                        ModelCode = to.Code,
                        Slot = fit.Slot,
                        ListedBy = fit.ListedBy,
                        ListedAt = fit.ListedAt,
                    }
                );
            }
        }

        var tallies = await db
            .FitTallies.Where(t => t.ModelCode == from.Code || t.ModelCode == to.Code)
            .ToListAsync(stop);
        var sums = tallies
            .GroupBy(t => t.NumberId)
            .Where(g => g.Any(t => t.ModelCode == from.Code))
            .Select(g => new FitTally
            {
                NumberId = g.Key,
                ModelCode = to.Code,
                Fitted = g.Sum(t => t.Fitted),
                Failed = g.Sum(t => t.Failed),
            })
            .ToList();
        db.FitTallies.RemoveRange(tallies.Where(t => sums.Exists(s => s.NumberId == t.NumberId)));
        // Gone before their sums take their places.
        await db.SaveChangesAsync(stop);
        db.FitTallies.AddRange(sums);
    }

    /// <summary>Two of one moment are the same picture: it is there already.</summary>
    private async Task Photographs(Model from, Model to, CancellationToken stop)
    {
        await db
            .ModelPhotos.Where(p =>
                p.ModelCode == from.Code && db.ModelPhotos.Any(o => o.ModelCode == to.Code && o.At == p.At)
            )
            .ExecuteDeleteAsync(stop);
        await db
            .ModelPhotos.Where(p => p.ModelCode == from.Code)
            .ExecuteUpdateAsync(s => s.SetProperty(p => p.ModelCode, to.Code), stop);
    }

    /// <summary>What benches showed and people said of the one is as true of the other; it comes after what was said of that.</summary>
    private async Task Steps(Model from, Model to, CancellationToken stop)
    {
        var steps = await db
            .DraftSteps.AsNoTracking()
            .Where(s => s.ModelCode == from.Code)
            .OrderBy(s => s.Version)
            .ToListAsync(stop);
        var next = await db.NextNumber(to.Code, stop);
        var kept = steps.Select((s, i) => (s.Version, Now: next + i)).ToDictionary(s => s.Version, s => s.Now);
        foreach (var step in steps)
        {
            db.DraftSteps.Add(
                new DraftStep
                {
                    ModelCode = to.Code,
                    Version = kept[step.Version],
                    Kind = step.Kind,
                    At = step.At,
                    ById = step.ById,
                    RepairId = step.RepairId,
                    Json =
                        step.Kind == DraftStepKind.TakenBack
                            ? kept[int.Parse(step.Json, CultureInfo.InvariantCulture)]
                                .ToString(CultureInfo.InvariantCulture)
                            : step.Json,
                }
            );
        }
    }

    private static Refusal Conflict(string message) => new(RefusalReason.Conflict, message);
}
