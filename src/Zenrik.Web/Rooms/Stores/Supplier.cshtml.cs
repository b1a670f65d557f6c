using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Sourcing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

/// <summary>A price as it is typed.</summary>
public sealed record PriceForm(
    string? Number,
    decimal? Price,
    PartGrade Grade,
    int? Minimum,
    decimal? WeightKg,
    int? InStock,
    int? HandlingDays
)
{
    public KeptPrice Kept() =>
        new(Number ?? "", Grade, Price ?? -1, WeightKg ?? 0, Minimum ?? 1, InStock, HandlingDays);
}

[PostingNeeds(Policies.Counter)]
public sealed class SupplierModel(KeepSuppliers suppliers) : RoomPage
{
    private const string Here = "/Stores/Supplier";

    public SupplierView View { get; private set; } = null!;

    public TermsForm Form { get; private set; } = new();

    public Refusal? Refusal { get; private set; }

    public async Task<IActionResult> OnGet(Guid id, CancellationToken stop) =>
        await Fill(id, stop) is { } missing ? Refused(missing, "/Stores/Suppliers") : Page();

    public Task<IActionResult> OnPostPrice(Guid id, PriceForm price, CancellationToken stop) =>
        Say(suppliers.Price(id, price.Kept(), User.Actor(), stop), Here, new { id });

    public Task<IActionResult> OnPostForget(Guid id, string? number, CancellationToken stop) =>
        Say(suppliers.Forget(id, number, User.Actor(), stop), Here, new { id });

    public async Task<IActionResult> OnPostTerms(Guid id, TermsForm terms, CancellationToken stop)
    {
        if (
            (await suppliers.Change(id, terms.OrderTo, terms.Terms(), User.Actor(), stop)).Try(
                out var said,
                out var refusal
            )
        )
        {
            return Did(said, Here, new { id });
        }

        if (await Fill(id, stop) is { } missing)
        {
            return Refused(missing, "/Stores/Suppliers");
        }

        (Form, Refusal) = (terms, refusal);
        Response.StatusCode = Statuses.OnPage(refusal);
        return Page();
    }

    private async Task<Refusal?> Fill(Guid id, CancellationToken stop)
    {
        if (!(await suppliers.One(id, stop)).Try(out var view, out var missing))
        {
            return missing;
        }

        View = view;
        Form = view.Supplier.Terms is { } terms ? TermsForm.Of(terms, view.Supplier.OrderTo) : Form;
        return null;
    }
}
