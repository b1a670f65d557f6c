using System.Globalization;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Preparing;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.House;

/// <summary>One thing an organisation begins with.</summary>
/// <param name="Says">What is there, or what it is for.</param>
/// <param name="Ways">Where it is done, the usual way first.</param>
public sealed record BeginStep(
    string Id,
    string Title,
    string Says,
    bool Done,
    IReadOnlyList<(string Text, string Href)> Ways
);

/// <summary>Leads a first lead through what must be known before a first repair.</summary>
[Authorize(Policies.House)]
public sealed class BeginModel(ViewBeginning beginning, SetFigures figures) : RoomPage
{
    public Beginning View { get; private set; } = null!;

    public IReadOnlyList<BeginStep> Steps { get; private set; } = [];

    public Refusal? Refusal { get; private set; }

    public string? Organisation { get; private set; }

    public string? Pattern { get; private set; }

    public string? Zone { get; private set; }

    /// <summary>Names of time zones that are known here.</summary>
    public static IReadOnlyList<string> Zones { get; } =
    [
        .. TimeZoneInfo
            .GetSystemTimeZones()
            .Select(z => z.Id)
            .Where(z => z.Contains('/', StringComparison.Ordinal))
            .Order(StringComparer.Ordinal),
    ];

    public Task OnGet(CancellationToken stop) => Fill(stop);

    public async Task<IActionResult> OnPost(
        string? organisation,
        string? pattern,
        string? zone,
        string? currency,
        decimal labour,
        CancellationToken stop
    )
    {
        var now = await figures.Read(stop);
        var rates = string.Join(", ", now.ExchangeRates.Select(r => FormattableString.Invariant($"{r.Key} {r.Value}")));
        var said = await figures.Organisation(organisation, pattern, zone, User.Actor(), stop);
        if (said.Try(out var sentence, out var refusal))
        {
            HouseTime.Use(zone);
            if (
                (await figures.Run(currency, labour, now.LoanPerDay, rates, User.Actor(), stop)).Try(out _, out refusal)
            )
            {
                return Did(sentence, "/House/Begin");
            }
        }

        (Refusal, Organisation, Pattern, Zone) = (refusal, organisation, pattern, zone);
        Response.StatusCode = Statuses.OnPage(refusal);
        await Fill(stop);
        return Page();
    }

    private async Task Fill(CancellationToken stop)
    {
        var b = View = await beginning.Run(stop);
        Steps =
        [
            new(
                "organisation",
                "Who you are",
                b.Figures.Organisation is { } name
                    ? $"The workshop of {name}."
                    : "It stands on the sign-in page and on orders; tags of another pattern are refused when units are entered.",
                b.Figures.Organisation is not null,
                []
            ),
            new(
                "models",
                "The models you own",
                b.Models > 0
                    ? $"{Show.Count(b.Models, "model")}. One without a map can be repaired all the same, and makes its map by that."
                    : "Maker, name, laptop or Chromebook. No map is needed: it is made by working.",
                b.Models > 0,
                [("Take a list in", "/house/import?sheet=models"), ("Enter one", "/maps/new")]
            ),
            new(
                "units",
                "The units",
                b.Units > 0
                    ? $"{Show.Count(b.Units, "unit")} in the book."
                    : "Tag, serial, model, site; the list there is will do, whatever its columns are called.",
                b.Units > 0,
                [("Take a list in", "/house/import?sheet=units"), ("Scan them", "/fleet/register")]
            ),
            new(
                "parts",
                "The shelf",
                b.Parts > 0
                    ? $"{Show.Count(b.Parts, "part")} on the shelves, {Show.Count(b.Numbers, "part number")} known."
                    : "Bin, part number, how many. Bins and numbers that are not known yet are made.",
                b.Parts > 0,
                [("Take a list in", "/house/import?sheet=stock"), ("Part numbers first", "/house/import?sheet=numbers")]
            ),
            new(
                "suppliers",
                "Who sells you parts",
                b.Suppliers > 0
                    ? $"{Show.Count(b.Suppliers, "supplier")}."
                    : "Their terms; prices from their lists, or typed as you need them.",
                b.Suppliers > 0,
                [("Enter one", "/stores/suppliers"), ("Take a price list in", "/house/import?sheet=prices")]
            ),
            new(
                "people",
                "Who works here",
                b.People > 1
                    ? $"{Show.Count(b.People, "person", "people")} may sign in{(b.Waiting > 0 ? $", {b.Waiting} of them invited and not here yet" : "")}."
                    : "Everybody gets an invitation that works once, and chooses a password.",
                b.People > 1,
                [("Let somebody in", "/house/people"), ("Take a list in", "/house/import?sheet=people")]
            ),
            new(
                "rules",
                "Where good technicians differ",
                b.Rules > 0
                    ? $"{Show.Count(b.Rules, "house rule")} decided, the others as shipped."
                    : $"{RuleBook.All.Count.ToString(CultureInfo.InvariantCulture)} house rules, each with a default that will do and its reason.",
                b.Rules > 0,
                [("Look them over", "/house#rules")]
            ),
            new(
                "repair",
                "The first repair",
                b.Repairs > 0
                    ? $"{Show.Count(b.Repairs, "repair")} so far."
                    : "Type or scan a unit's tag into the line above.",
                b.Repairs > 0,
                [("Choose a unit", "/fleet")]
            ),
        ];
    }
}
