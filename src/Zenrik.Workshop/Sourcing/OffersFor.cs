using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;
using Zenrik.Core;
using Zenrik.Core.Fit;
using Zenrik.Core.HouseRules;
using Zenrik.Core.Parts;
using Zenrik.Core.Reliability;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Sourcing;

/// <summary>What one line of a repair could be ordered as.</summary>
/// <param name="Notes">Suppliers that could not be asked, and what stands in for them.</param>
/// <param name="Numbers">The numbers looked for, with their verdict.</param>
/// <param name="Guarantee">What is in the slot, where its seller may have to replace it; else null.</param>
public sealed record OffersView(
    RepairView Repair,
    LineView Line,
    Comparison? Comparison,
    IReadOnlyList<string> Notes,
    IReadOnlyList<JudgedNumber> Numbers,
    HouseFigures Figures,
    IReadOnlyList<StoredOffer> Stored,
    UnderGuarantee? Guarantee
);

/// <summary>Asks suppliers for what fits a line of a repair, and compares what they answer.</summary>
public sealed class OffersFor(
    WorkshopDb db,
    RepairOf repairs,
    HouseRulesOf rules,
    SupplierClient suppliers,
    IMemoryCache cache,
    TimeProvider clock
)
{
    /// <summary>Older answers are asked for again.</summary>
    private static readonly TimeSpan Fresh = TimeSpan.FromMinutes(15);

    /// <summary>How long a supplier that did not answer is not asked again: nobody waits for it at every look.</summary>
    private static readonly TimeSpan LeftAlone = TimeSpan.FromMinutes(1);

    public async Task<Outcome<OffersView>> Run(long repairNumber, string slot, CancellationToken stop = default)
    {
        if (!(await repairs.Run(repairNumber, stop)).Try(out var view, out var missing))
        {
            return missing;
        }

        if (view.Lines.FirstOrDefault(l => l.Line.Slot == slot) is not { } line)
        {
            return new Refusal(
                RefusalReason.NotFound,
                $"{view.Repair.Code} does not exchange what is in a {slot} slot."
            );
        }

        var fitting = line
            .Numbers.Where(n => n.Answer.Verdict is not FitVerdict.DoesNotFit || n.Answer.Waivable.Count > 0)
            .ToList();
        var (stored, notes) = await Ask([.. fitting.Select(n => n.Number.Number)], stop);
        var figures = await db.Figures(stop);
        var comparison = await Compare(stored, fitting, figures, view.Plan?.Minutes.Expected ?? 0, stop);
        return new OffersView(
            view,
            line,
            comparison.Try(out var compared, out var none) ? compared : null,
            none is null ? notes : [.. notes, none.Message],
            fitting,
            figures,
            stored,
            await Guarantee(view.Repair, line.Line, stop)
        );
    }

    private async Task<UnderGuarantee?> Guarantee(Repair repair, RepairLine line, CancellationToken stop)
    {
        // What went in and proved faulty is on the bench in the book; else it is what the unit holds.
        var failed = line.FaultyItemId is { } faulty
            ? db.Items.Where(i => i.Id == faulty)
            : db.Items.Where(i => i.UnitId == repair.UnitId && i.Slot == line.Slot);
        var item = await failed.AsNoTracking().Include(i => i.Order!.Supplier).FirstOrDefaultAsync(stop);
        return UnderGuarantee.Of(
            item,
            RemovalCauses.Of(repair.Purpose, repair.Circumstances, line.FaultySeen ?? line.Fault),
            clock
        );
    }

    /// <summary>Compares offers already fetched.</summary>
    internal async Task<Outcome<Comparison>> Compare(
        IReadOnlyList<StoredOffer> stored,
        IReadOnlyList<JudgedNumber> numbers,
        HouseFigures figures,
        double minutes,
        CancellationToken stop
    )
    {
        var bids = await Bids(stored, [.. numbers.Select(n => n.Number)], stop);
        if (bids.Count == 0)
        {
            return new Refusal(RefusalReason.NotFound, "No supplier offers a number that fits.");
        }

        var now = clock.GetLocalNow().DateTime;
        return Offers.Compare(
            bids,
            1,
            DateOnly.FromDateTime(now),
            figures.Exchange,
            new Money(figures.LabourPerHour * (decimal)minutes / 60, figures.Currency).Rounded(),
            TimeOnly.FromDateTime(now)
        );
    }

    /// <summary>
    /// Offers of some numbers as one would order them, each way of sending by itself, with the chance that they work by the
    /// grade and this workshop's record; what a house rule leaves out is left out.
    /// </summary>
    internal async Task<IReadOnlyList<Bid>> Bids(
        IReadOnlyList<StoredOffer> stored,
        IReadOnlyList<CatalogueNumber> numbers,
        CancellationToken stop
    )
    {
        var brandOnly = (await rules.Run(stop)).Of(RuleBook.UnbrandedBatteries) == UnbrandedBatteries.BrandOnly;
        var known = numbers.DistinctBy(n => n.Canonical).ToDictionary(n => n.Canonical);
        var records = await RecordsOf([.. known.Values.Select(n => n.Id)], stop);
        return
        [
            .. stored
                .Where(o => known.ContainsKey(o.Canonical))
                .Where(o =>
                    !brandOnly || known[o.Canonical].Kind != ItemKind.Battery || o.Offer.Grade != PartGrade.Unbranded
                )
                .SelectMany(o =>
                {
                    var (worked, failed) = records.GetValueOrDefault(known[o.Canonical].Id);
                    return o.Offer.Freight.Select(f => new Bid(
                        o.Offer,
                        f,
                        WorkingChance.With(o.Offer.Grade, worked, failed)
                    ));
                }),
        ];
    }

    /// <summary>The chance that one of a number works: by the grade it is sold as, and by this workshop's record of it.</summary>
    internal async Task<WorkingChance> ChanceOf(
        CatalogueNumber number,
        IReadOnlyList<StoredOffer> stored,
        CancellationToken stop
    )
    {
        var (worked, failed) = (await RecordsOf([number.Id], stop)).GetValueOrDefault(number.Id);
        var grade =
            stored.FirstOrDefault(o => o.Canonical == number.Canonical)?.Offer.Grade
            ?? (number.Specification?.Unbranded is true ? PartGrade.Unbranded : PartGrade.Brand);
        return WorkingChance.With(grade, worked, failed);
    }

    /// <summary>Asks every supplier whose answer is old; what cannot be asked is taken as it was last.</summary>
    internal async Task<(IReadOnlyList<StoredOffer> Offers, List<string> Notes)> Ask(
        IReadOnlyList<string> numbers,
        CancellationToken stop
    )
    {
        var notes = new List<string>();
        if (numbers.Count == 0)
        {
            return ([], notes);
        }

        var canonical = numbers.Select(PartNumber.Canonicalise).ToList();
        var now = clock.GetUtcNow();
        // What is kept by hand is there already.
        var all = await db
            .Suppliers.AsNoTracking()
            .Where(s => s.Address != null)
            .OrderBy(s => s.Name)
            .ToListAsync(stop);
        var had = await StoredFor(canonical, stop);
        // Each is asked for the numbers it has not answered lately, that it does not list them included: an answer for one is
        // none for another.
        var asked = all.Select(s =>
                (
                    Supplier: s,
                    Numbers: numbers
                        .Where(n =>
                            !had.Exists(o =>
                                o.SupplierId == s.Id
                                && o.Canonical == PartNumber.Canonicalise(n)
                                && now - o.FetchedAt < Fresh
                            ) && !(cache.TryGetValue(Unlisted(s, n), out DateTimeOffset at) && now - at < Fresh)
                        )
                        .ToList()
                )
            )
            .Where(a => a.Numbers.Count > 0)
            .ToList();
        var answers = await Task.WhenAll(asked.Select(a => Answer(a.Supplier, a.Numbers)));
        foreach (var ((supplier, wanted), answer) in asked.Zip(answers))
        {
            if (!answer.Try(out var offers, out var why))
            {
                var last = had.Where(o => o.SupplierId == supplier.Id).Select(o => (DateTimeOffset?)o.FetchedAt).Max();
                notes.Add(
                    last is { } at
                        ? $"{why.Message} Its prices are those of {at.ToLocalTime().ToString("d MMM, HH:mm", CultureInfo.InvariantCulture)}."
                        : why.Message
                );
                continue;
            }

            var listed = offers.DistinctBy(o => PartNumber.Canonicalise(o.Number)).ToList();
            var not = wanted.ExceptBy(listed.Select(o => PartNumber.Canonicalise(o.Number)), PartNumber.Canonicalise);
            foreach (var number in not)
            {
                // What it offered once it does not sell any more.
                var gone = PartNumber.Canonicalise(number);
                if (had.Exists(o => o.SupplierId == supplier.Id && o.Canonical == gone))
                {
                    await db
                        .StoredOffers.Where(o => o.SupplierId == supplier.Id && o.Canonical == gone)
                        .ExecuteDeleteAsync(stop);
                }

                _ = cache.Set(Unlisted(supplier, number), now, Fresh);
            }

            foreach (var offer in listed)
            {
                var (key, json) = (PartNumber.Canonicalise(offer.Number), StoredJson.Write(offer));
                await db.Database.ExecuteSqlAsync(
                    $"""
                    INSERT INTO stored_offers (supplier_id, canonical, offer, fetched_at) VALUES ({supplier.Id}, {key}, {json}::jsonb, {now})
                    ON CONFLICT (supplier_id, canonical) DO UPDATE SET offer = EXCLUDED.offer, fetched_at = EXCLUDED.fetched_at
                    """,
                    stop
                );
            }
        }

        return (asked.Count == 0 ? had : await StoredFor(canonical, stop), notes);

        async Task<Outcome<IReadOnlyList<Offer>>> Answer(Supplier supplier, IReadOnlyList<string> of)
        {
            var key = (nameof(LeftAlone), supplier.Id, supplier.Address);
            if (cache.TryGetValue(key, out (DateTimeOffset At, Refusal Why) away) && now - away.At < LeftAlone)
            {
                return away.Why;
            }

            var answer = await suppliers.Offers(supplier, of, stop);
            if (answer.Refusal is { } why)
            {
                _ = cache.Set(key, (now, why), LeftAlone);
            }

            return answer;
        }
    }

    /// <summary>Under which this instance remembers when a supplier said that it does not list a number.</summary>
    private static object Unlisted(Supplier supplier, string number) =>
        (nameof(Unlisted), supplier.Id, PartNumber.Canonicalise(number));

    /// <summary>What is stored of some numbers, with the days off that are known of suppliers and carriers.</summary>
    internal async Task<List<StoredOffer>> StoredFor(IReadOnlyList<string> canonical, CancellationToken stop)
    {
        var stored = await db
            .StoredOffers.AsNoTracking()
            .Include(o => o.Supplier)
            .Where(o => canonical.Contains(o.Canonical))
            .ToListAsync(stop);
        var off = await db.CarrierCalendars.AsNoTracking().ToDictionaryAsync(c => c.Carrier, c => c.DaysOff, stop);
        foreach (var offer in stored)
        {
            offer.Offer = offer.Offer with
            {
                DaysOff = offer.Supplier.DaysOff,
                Freight = [.. offer.Offer.Freight.Select(f => f with { Carrier = WithDaysOff(f.Carrier) })],
            };
        }

        return stored;

        Carrier WithDaysOff(Carrier carrier) =>
            off.TryGetValue(carrier.Name, out var days)
                ? carrier with
                {
                    NoSailing = [.. carrier.NoSailing ?? [], .. days],
                }
                : carrier;
    }

    /// <summary>Of each number how many were fitted and stayed, and how many came out again soon, in whatever model.</summary>
    private async Task<Dictionary<Guid, (int Worked, int Failed)>> RecordsOf(
        IReadOnlyList<Guid> numbers,
        CancellationToken stop
    ) =>
        await db
            .FitTallies.Where(t => numbers.Contains(t.NumberId))
            .GroupBy(t => t.NumberId)
            .Select(g => new
            {
                g.Key,
                Fitted = g.Sum(t => t.Fitted),
                Failed = g.Sum(t => t.Failed),
            })
            .ToDictionaryAsync(g => g.Key, g => (g.Fitted - g.Failed, g.Failed), stop);
}
