using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Routing;

namespace Zenrik.Demo.Suppliers;

/// <summary>
/// Three invented suppliers over HTTP, for demo and tests. Knows nothing of the workshop: it publishes terms and prices,
/// acknowledges orders, is late now and then, and now and then puts the wrong part into the box. Keeps no state: what it
/// answers follows from the order's key, so every instance answers alike and a repeated order is one order.
/// </summary>
public static class StandInSuppliers
{
    private const int OneInLate = 5;
    private const int OneInWrong = 9;

    private static readonly string[] Weekdays = ["monday", "tuesday", "wednesday", "thursday", "friday"];
    private static readonly string[] Ferry = ["tuesday", "friday"];

    private static readonly Lazy<IReadOnlyList<Part>> Parts = new(() =>
    {
        using var stream = typeof(StandInSuppliers).Assembly.GetManifestResourceStream("catalogue.json")!;
        return JsonSerializer.Deserialize<Catalogue>(stream, JsonSerializerOptions.Web)!.Numbers;
    });

    private sealed record Catalogue(IReadOnlyList<Part> Numbers);

    private sealed record Part(string Number, string Name, decimal Price, decimal WeightKg, string Grade);

    private sealed record Line(
        string Number,
        string Grade,
        decimal Price,
        decimal WeightKg,
        int Minimum,
        int? InStock,
        int HandlingDays
    );

    private sealed record Terms(
        string Currency,
        decimal DutyShare,
        decimal TaxShare,
        bool TaxIncluded,
        decimal? MinimumOrder,
        decimal RefundShare,
        decimal ReturnFreight,
        string Prices
    )
    {
        public IReadOnlyList<Freight> Freight { get; init; } = [];
    }

    private sealed record Freight(
        string Name,
        decimal Base,
        decimal PerKg,
        decimal Brokerage,
        bool BrokerageIncluded,
        string Carrier,
        string[] Sails,
        int TransitDays
    );

    /// <param name="Key">The buyer's own; the same key is the same order.</param>
    private sealed record Order(Guid Key, string Number, int Quantity, string Freight);

    public static void MapSuppliers(this IEndpointRouteBuilder app)
    {
        var group = app.MapGroup("/suppliers/{supplier}");
        group.MapGet(
            "/terms.json",
            (string supplier) => TermsOf(supplier) is { } t ? Results.Json(t) : Results.NotFound()
        );
        group.MapGet(
            "/prices.json",
            (string supplier, string[]? number) => Results.Json(new { lines = Prices(supplier, number) })
        );
        group.MapGet(
            "/prices.csv",
            (string supplier, string[]? number) => Results.Text(Csv(Prices(supplier, number)), "text/csv")
        );
        group.MapPost(
            "/orders",
            (string supplier, Order order) =>
                order.Quantity < 1 || Prices(supplier, [order.Number]).Count == 0
                    ? Results.UnprocessableEntity()
                    : Results.Json(
                        new
                        {
                            order = $"{char.ToUpperInvariant(supplier[0])}-{Chance(order.Key, 90000) + 10000}",
                            daysLate = Chance(order.Key, OneInLate) == 0 ? 4 : 0,
                            remark = Chance(order.Key, OneInLate) == 0
                                ? "Not in stock after all; leaves four days later."
                                : null,
                        }
                    )
        );
        group.MapPost("/orders/{key:guid}/cancel", (string supplier, Guid key) => Results.NoContent());
        // What one finds in the box.
        group.MapGet(
            "/boxes/{key:guid}",
            (string supplier, Guid key, string number) =>
            {
                var others = Prices(supplier, null).Where(l => l.Number != number).ToList();
                return Results.Text(
                    Chance(key, OneInWrong) == 0 && others.Count > 0 ? others[Chance(key, others.Count)].Number : number
                );
            }
        );
    }

    private static Terms? TermsOf(string supplier) =>
        supplier switch
        {
            "mainland" => new Terms("GBP", 0, 0.2m, false, null, 1, 5, "prices.json")
            {
                Freight =
                [
                    new("ground and ferry", 6.5m, 1.2m, 0, false, "freight ferry", Ferry, 1),
                    new("courier and ferry", 14m, 2.4m, 0, false, "courier", Ferry, 0),
                ],
            },
            "overseas" => new Terms("EUR", 0.04m, 0.2m, false, 20, 0.8m, 24, "prices.json")
            {
                Freight =
                [
                    new("express, cleared", 48m, 4m, 38m, true, "express line", Weekdays, 4),
                    new("ground", 19m, 2m, 34m, false, "ground line", ["wednesday"], 13),
                ],
            },
            "harbour" => new Terms("GBP", 0, 0, true, null, 0.5m, 0, "prices.csv")
            {
                Freight = [new("over the counter", 0, 0, 0, false, "on foot", Weekdays, 0)],
            },
            _ => null,
        };

    private static List<Line> Prices(string supplier, IReadOnlyList<string>? numbers)
    {
        var wanted = numbers is { Count: > 0 } ? numbers.Select(Plain).ToHashSet() : null;
        return
        [
            .. Parts
                .Value.Where(p => wanted?.Contains(Plain(p.Number)) != false)
                .Select(p => Of(supplier, p))
                .OfType<Line>(),
        ];
    }

    private static Line? Of(string supplier, Part part)
    {
        var roll = BitConverter.ToUInt32(SHA256.HashData(Encoding.UTF8.GetBytes(supplier + part.Number)));
        return supplier switch
        {
            "mainland" when part.Grade == "brand" => new Line(
                part.Number,
                "brand",
                part.Price + (roll % 7),
                part.WeightKg,
                1,
                (int)(roll % 6),
                roll % 6 == 0 ? 9 : 1
            ),
            "overseas" when part.Grade == "brand" && part.Price >= 36 => new Line(
                part.Number,
                roll % 3 == 0 ? "used" : "compatible",
                Math.Round(part.Price * (0.52m + (roll % 20 / 100m)), 2),
                part.WeightKg,
                1,
                null,
                2
            ),
            "harbour" when part.Grade == "unbranded" => new Line(
                part.Number,
                "unbranded",
                part.Price,
                part.WeightKg,
                1,
                (int)(roll % 4) + 1,
                0
            ),
            _ => null,
        };
    }

    private static string Csv(IEnumerable<Line> lines)
    {
        var text = new StringBuilder("number,grade,price,weight_kg,minimum,in_stock,handling_days\r\n");
        foreach (var line in lines)
        {
            text.Append(
                CultureInfo.InvariantCulture,
                $"\"{line.Number}\",{line.Grade},{line.Price},{line.WeightKg},{line.Minimum},{line.InStock},{line.HandlingDays}\r\n"
            );
        }

        return text.ToString();
    }

    private static string Plain(string number) =>
        string.Concat(number.Where(char.IsLetterOrDigit).Select(char.ToUpperInvariant));

    private static int Chance(Guid key, int outOf) =>
        (int)(BitConverter.ToUInt32(SHA256.HashData(key.ToByteArray())) % (uint)outOf);
}
