using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;

namespace Zenrik.Workshop.Sourcing;

/// <summary>A supplier in the list.</summary>
/// <param name="Prices">How many prices of it are known.</param>
/// <param name="Coming">Orders on their way from it.</param>
public sealed record KnownSupplier(Guid Id, string Name, bool ByHand, int Prices, int Coming);

/// <summary>A supplier with what is known of its prices.</summary>
public sealed record SupplierView(Supplier Supplier, IReadOnlyList<StoredOffer> Prices);

/// <summary>
/// Suppliers that have no price list over HTTP: their terms and prices are typed in or taken in from a list, and are compared
/// and ordered by like any other's. An order to one is a text that a person sends.
/// </summary>
public sealed class KeepSuppliers(WorkshopDb db, TimeProvider clock)
{
    public const int MaxName = 80;

    public const int MaxOrderTo = 200;

    public async Task<IReadOnlyList<KnownSupplier>> List(CancellationToken stop = default) =>
        await db
            .Suppliers.AsNoTracking()
            .OrderBy(s => s.Name)
            .Select(s => new KnownSupplier(
                s.Id,
                s.Name,
                s.Address == null,
                db.StoredOffers.Count(o => o.SupplierId == s.Id),
                db.PartOrders.Count(o => o.SupplierId == s.Id && o.State == OrderState.Ordered)
            ))
            .ToListAsync(stop);

    public async Task<Outcome<SupplierView>> One(Guid id, CancellationToken stop = default) =>
        await db.Suppliers.AsNoTracking().SingleOrDefaultAsync(s => s.Id == id, stop) is { } supplier
            ? new SupplierView(
                supplier,
                await db
                    .StoredOffers.AsNoTracking()
                    .Where(o => o.SupplierId == id)
                    .OrderBy(o => o.Canonical)
                    .Take(2000)
                    .ToListAsync(stop)
            )
            : new Refusal(RefusalReason.NotFound, "There is no such supplier.");

    /// <returns>Its id. A supplier of that name is that one, and stays as it is.</returns>
    public async Task<Outcome<Guid>> Add(
        string? name,
        string? orderTo,
        KeptTerms terms,
        Actor by,
        CancellationToken stop = default
    )
    {
        return await db.Write(by, name ?? "", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<Guid>> Work()
        {
            if (Read(name, orderTo, terms) is { } wrong)
            {
                return wrong;
            }

            var called = name!.Trim();
            if (
                await db.Suppliers.Where(s => s.Name == called).Select(s => (Guid?)s.Id).SingleOrDefaultAsync(stop) is
                { } known
            )
            {
                return known;
            }

            var supplier = new Supplier
            {
                Id = Guid.CreateVersion7(),
                Name = called,
                Terms = terms,
                OrderTo = Trimmed(orderTo),
            };
            db.Suppliers.Add(supplier);
            return supplier.Id;
        }
    }

    /// <summary>Says anew what a supplier's terms are; its prices follow them.</summary>
    public Task<Outcome<string>> Change(
        Guid id,
        string? orderTo,
        KeptTerms terms,
        Actor by,
        CancellationToken stop = default
    )
    {
        return db.Write(by, $"{id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (!(await Lock(id, stop)).Try(out var supplier, out var missing))
            {
                return missing;
            }

            if (Read(supplier.Name, orderTo, terms) is { } wrong)
            {
                return wrong;
            }

            (supplier.Terms, supplier.OrderTo) = (terms, Trimmed(orderTo));
            foreach (var stored in await db.StoredOffers.Where(o => o.SupplierId == id).ToListAsync(stop))
            {
                stored.Offer = terms.Offer(supplier.Name, PriceOf(stored.Offer));
            }

            return $"The terms of {supplier.Name} are kept.";
        }
    }

    /// <summary>Says what a supplier asks for a number.</summary>
    public Task<Outcome<string>> Price(Guid id, KeptPrice price, Actor by, CancellationToken stop = default) =>
        db.Write(by, $"{id} {price.Number}", clock.GetUtcNow(), () => PriceIn(id, price, stop), stop);

    /// <summary>The same within the caller's write.</summary>
    internal async Task<Outcome<string>> PriceIn(Guid id, KeptPrice price, CancellationToken stop)
    {
        if (!(await Lock(id, stop)).Try(out var supplier, out var missing))
        {
            return missing;
        }

        if (!PartNumber.Read(price.Number).Try(out var number, out var wrong))
        {
            return wrong;
        }

        if (price.Impossible() is { } impossible)
        {
            return impossible;
        }

        var canonical = number.Canonical;
        if (price.WeightKg == 0)
        {
            var known = await db
                .CatalogueNumbers.Where(n => n.Canonical == canonical)
                .Select(n => n.WeightKg)
                .SingleOrDefaultAsync(stop);
            price = price with { WeightKg = known ?? 0 };
        }

        var offer = supplier.Terms!.Offer(supplier.Name, price with { Number = number.Text });
        var stored = await db.StoredOffers.SingleOrDefaultAsync(
            o => o.SupplierId == id && o.Canonical == canonical,
            stop
        );
        if (stored is null)
        {
            db.StoredOffers.Add(
                new StoredOffer
                {
                    SupplierId = id,
                    Canonical = canonical,
                    Offer = offer,
                    FetchedAt = clock.GetUtcNow(),
                }
            );
        }
        else
        {
            (stored.Offer, stored.FetchedAt) = (offer, clock.GetUtcNow());
        }

        return $"{supplier.Name} asks {offer.Price} for {number.Text}.";
    }

    /// <summary>Forgets what a supplier asks for a number.</summary>
    public Task<Outcome<string>> Forget(Guid id, string? number, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, $"{id} {number}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var canonical = PartNumber.Canonicalise(number ?? "");
            var stored = await db
                .StoredOffers.Include(o => o.Supplier)
                .SingleOrDefaultAsync(o => o.SupplierId == id && o.Canonical == canonical, stop);
            if (stored is null || stored.Supplier.Address is not null)
            {
                return new Refusal(RefusalReason.NotFound, "No price of that number is kept there.");
            }

            db.StoredOffers.Remove(stored);
            return $"{stored.Supplier.Name} is not asked for {stored.Offer.Number} any more.";
        }
    }

    /// <summary>What was typed of an offer.</summary>
    internal static KeptPrice PriceOf(Offer offer) =>
        new(
            offer.Number,
            offer.Grade,
            offer.Price.Amount,
            offer.WeightKg,
            offer.MinimumQuantity,
            offer.InStock,
            offer.HandlingDays
        );

    private async Task<Outcome<Supplier>> Lock(Guid id, CancellationToken stop)
    {
        await db.LockSupplier(id, stop);
        return await db.Suppliers.SingleOrDefaultAsync(s => s.Id == id, stop) is not { } supplier
                ? new Refusal(RefusalReason.NotFound, "There is no such supplier.")
            : supplier.Terms is null
                ? new Refusal(
                    RefusalReason.Conflict,
                    $"{supplier.Name} answers for itself over HTTP; nothing is typed in for it."
                )
            : supplier;
    }

    private static Refusal? Read(string? name, string? orderTo, KeptTerms terms) =>
        name?.Trim() is not { Length: >= 2 and <= MaxName } called || called.Any(char.IsControl)
            ? new Refusal(RefusalReason.Invalid, $"A supplier's name has 2 to {MaxName} characters.")
        : Trimmed(orderTo) is { } to && (to.Length > MaxOrderTo || to.Any(char.IsControl))
            ? new Refusal(
                RefusalReason.Invalid,
                $"Where orders go is said in {MaxOrderTo} characters: an e-mail address, a telephone number."
            )
        : terms.Impossible();

    private static string? Trimmed(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
