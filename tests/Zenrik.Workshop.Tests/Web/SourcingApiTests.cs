using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Sourcing;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>A purchasing program reads what is proposed and orders it, over HTTP with a token.</summary>
public sealed class SourcingApiTests(TemplateDatabase template)
{
    private const string Number = "TW-5R0Q-22011";
    private const string Address = "/api/v1/sourcing/shipments";

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_proposed_shipment_is_ordered_once_whole_and_by_those_who_may()
    {
        await using var program = await RunningProgram.On(template);
        var book = program.Book;
        var tern = await book.Tern(Number, PartGrade.Brand);

        using var reader = await program.VisitWith("stores");
        using var buyer = await program.VisitWith("counter");
        var shipment = (await reader.Http.GetFromJsonAsync<JsonObject>(Address, Stop))!["shipments"]!
            .AsArray()
            .Single(s => s!["supplierId"]!.GetValue<Guid>() == tern)!;
        var line = shipment["lines"]!.AsArray().Single(l => l!["number"]!.GetValue<string>() == Number)!;
        var request = Order([new JsonObject { ["key"] = line["key"]!.GetValue<string>(), ["number"] = Number }]);

        (await reader.Http.PostAsJsonAsync(Address, request, Stop)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await buyer.Http.PostAsJsonAsync(Address, Order([]), Stop)).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
        (await Ordered()).ShouldBe(0);
        for (var i = 0; i < 2; i++)
        {
            using var answer = await buyer.Http.PostAsJsonAsync(Address, request, Stop);
            (await answer.Content.ReadFromJsonAsync<JsonObject>(Stop))!["said"]!
                .GetValue<string>()
                .ShouldContain("ordered of Tern & Sons");
            (await Ordered()).ShouldBe(1);
        }

        // By a request of its own it is not wanted any more.
        request["request"] = Guid.NewGuid();
        using var again = await buyer.Http.PostAsJsonAsync(Address, request, Stop);
        again.StatusCode.ShouldBe(HttpStatusCode.Conflict);

        JsonObject Order(JsonArray lines) =>
            new()
            {
                ["request"] = Guid.NewGuid(),
                ["supplierId"] = tern,
                ["freight"] = "post",
                ["lines"] = lines,
            };

        Task<int> Ordered() => book.Ask(db => db.PartOrders.CountAsync(o => o.SupplierId == tern));
    }
}
