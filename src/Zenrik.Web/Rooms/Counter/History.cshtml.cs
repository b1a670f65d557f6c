using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

public sealed class HistoryModel(ListHistory history, SavedViews views) : RoomPage
{
    [BindProperty(SupportsGet = true, Name = "")]
    public HistoryQuery Query { get; set; } = new();

    public IReadOnlyList<Repair> Repairs { get; private set; } = [];

    public bool More { get; private set; }

    public IReadOnlyList<SavedView> Views { get; private set; } = [];

    public async Task OnGet(CancellationToken stop)
    {
        (Repairs, More) = await history.Run(Query, stop);
        Views = await views.Of("/history", User.Actor(), stop);
    }

    /// <summary>An address with the same conditions.</summary>
    public string With(string path, int page = 0) =>
        QueryHelpers.AddQueryString(
            path,
            new Dictionary<string, string?>
            {
                ["search"] = Query.Search,
                ["from"] = Query.From is { } from ? Show.Iso(from) : null,
                ["until"] = Query.Until is { } until ? Show.Iso(until) : null,
                ["page"] = page == 0 ? null : page.ToString(CultureInfo.InvariantCulture),
            }
                .Where(p => !string.IsNullOrEmpty(p.Value))
                .ToDictionary(p => p.Key, p => p.Value)
        );
}
