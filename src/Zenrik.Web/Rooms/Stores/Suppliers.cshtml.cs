using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

[PostingNeeds(Policies.Counter)]
public sealed class SuppliersModel(KeepSuppliers suppliers, SetFigures figures) : RoomPage
{
    public IReadOnlyList<KnownSupplier> Suppliers { get; private set; } = [];

    public string? Name { get; private set; }

    public TermsForm Form { get; private set; } = new();

    public Refusal? Refusal { get; private set; }

    public async Task OnGet(CancellationToken stop)
    {
        Suppliers = await suppliers.List(stop);
        Form = new TermsForm { Currency = (await figures.Read(stop)).Currency };
    }

    public async Task<IActionResult> OnPost(string? name, TermsForm terms, CancellationToken stop)
    {
        if (
            (await suppliers.Add(name, terms.OrderTo, terms.Terms(), User.Actor(), stop)).Try(
                out var id,
                out var refusal
            )
        )
        {
            return Did($"{name?.Trim()} is kept. Say what it asks for which number.", "/Stores/Supplier", new { id });
        }

        (Name, Form, Refusal) = (name, terms, refusal);
        Response.StatusCode = Statuses.OnPage(refusal);
        Suppliers = await suppliers.List(stop);
        return Page();
    }
}
