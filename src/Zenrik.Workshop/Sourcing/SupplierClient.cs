using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Serialization;
using CsvHelper;
using Zenrik.Core;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Workshop.Parts;

namespace Zenrik.Workshop.Sourcing;

/// <summary>A supplier's terms as it publishes them under "terms.json".</summary>
internal sealed record SupplierTerms(
    string Currency,
    decimal DutyShare,
    decimal TaxShare,
    bool TaxIncluded,
    decimal? MinimumOrder,
    decimal RefundShare,
    decimal ReturnFreight,
    IReadOnlyList<SupplierFreight> Freight,
    string Prices
)
{
    /// <summary>Whether all is there that an offer cannot do without; a supplier may have left out anything.</summary>
    public bool IsWhole =>
        Currency is not null
        && Prices is not null
        && Freight?.All(f => f is { Name: not null, Carrier: not null, Sails: not null }) == true;
}

internal sealed record SupplierFreight(
    string Name,
    decimal Base,
    decimal PerKg,
    decimal Brokerage,
    bool BrokerageIncluded,
    string Carrier,
    IReadOnlyList<DayOfWeek> Sails,
    int TransitDays,
    IReadOnlyList<DateOnly>? NoSailing = null,
    TimeOnly? CutOff = null
);

/// <summary>A line of a price list, JSON or CSV (RFC 4180, header in the first line).</summary>
internal sealed record PriceLine(
    string Number,
    PartGrade Grade,
    decimal Price,
    decimal WeightKg,
    int Minimum,
    int? InStock,
    int HandlingDays
);

internal sealed record PriceList(IReadOnlyList<PriceLine> Lines);

/// <summary>A supplier's answer to an order.</summary>
/// <param name="DaysLate">How much later than its terms say; 0 when it keeps to them.</param>
internal sealed record OrderAnswer(string Order, int DaysLate, string? Remark);

/// <summary>Talks to suppliers over HTTP. What they send is checked before it is believed.</summary>
public sealed class SupplierClient(HttpClient http)
{
    /// <summary>Largest answer read, in bytes.</summary>
    internal const int MaxBytes = 4 * 1024 * 1024;

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };

    /// <summary>What a supplier offers of some numbers; empty when it has none of them.</summary>
    internal async Task<Outcome<IReadOnlyList<Offer>>> Offers(
        Supplier supplier,
        IReadOnlyList<string> numbers,
        CancellationToken stop
    )
    {
        try
        {
            var terms =
                JsonSerializer.Deserialize<SupplierTerms>(await Get(supplier, "terms.json", stop), Json)
                ?? throw new JsonException("the terms are empty");
            if (!terms.IsWhole)
            {
                throw new JsonException("its terms lack a currency, the prices' address or a way of sending");
            }

            var asked = string.Join('&', numbers.Select(n => $"number={Uri.EscapeDataString(n)}"));
            var text = await Get(supplier, $"{terms.Prices}?{asked}", stop);
            var lines = terms.Prices.EndsWith(".csv", StringComparison.OrdinalIgnoreCase)
                ? ReadCsv(text)
                : JsonSerializer.Deserialize<PriceList>(text, Json)?.Lines
                    ?? throw new JsonException("the price list is empty");
            var wanted = numbers.Select(PartNumber.Canonicalise).ToHashSet();
            return lines
                .Where(l => l?.Number is not null && PartNumber.Read(l.Number).Refusal is null)
                .Where(l => wanted.Contains(PartNumber.Canonicalise(l.Number)))
                .Select(l => Offer(supplier, terms, l))
                .ToList();
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException && !stop.IsCancellationRequested)
        {
            return new Refusal(RefusalReason.Conflict, $"{supplier.Name} does not answer now.");
        }
        catch (Exception e)
            when (e
                    is JsonException
                        or CsvFormatException
                        or FormatException
                        or OverflowException
                        or IndexOutOfRangeException
            )
        {
            return new Refusal(
                RefusalReason.Invalid,
                $"The price list of {supplier.Name} cannot be read: {e.Message.Split('\n')[0].TrimEnd('\r', '.')}."
            );
        }
    }

    /// <summary>Sends an order. The key makes it safe to send again: the supplier answers as it did before.</summary>
    internal async Task<Outcome<OrderAnswer>> Order(
        Supplier supplier,
        Guid key,
        string number,
        int quantity,
        string freight,
        CancellationToken stop
    )
    {
        try
        {
            using var response = await http.PostAsJsonAsync(
                Address(supplier, "orders"),
                new
                {
                    key,
                    number,
                    quantity,
                    freight,
                },
                Json,
                stop
            );
            if (!response.IsSuccessStatusCode)
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"{supplier.Name} does not take the order ({(int)response.StatusCode})."
                );
            }

            return await response.Content.ReadFromJsonAsync<OrderAnswer>(Json, stop) is { Order.Length: > 0 } answer
                ? answer
                : new Refusal(RefusalReason.Conflict, $"{supplier.Name} has not said what it calls the order.");
        }
        catch (Exception e)
            when (e is HttpRequestException or JsonException or TaskCanceledException && !stop.IsCancellationRequested)
        {
            return new Refusal(RefusalReason.Conflict, $"{supplier.Name} has not acknowledged the order yet.");
        }
    }

    /// <summary>Tells the supplier that an order is not wanted any more; false when it does not say yes.</summary>
    internal async Task<bool> Cancel(Supplier supplier, Guid key, CancellationToken stop)
    {
        try
        {
            using var response = await http.PostAsync(Address(supplier, $"orders/{key}/cancel"), null, stop);
            return response.IsSuccessStatusCode;
        }
        catch (Exception e) when (e is HttpRequestException or TaskCanceledException && !stop.IsCancellationRequested)
        {
            return false;
        }
    }

    /// <summary>A price list in CSV: a header, then a line a number.</summary>
    /// <exception cref="FormatException">A column is missing or a value is not what its column holds.</exception>
    internal static IReadOnlyList<PriceLine> ReadCsv(string text)
    {
        using var csv = CsvReader.FromText(text);
        csv.ReadHeader();
        var lines = new List<PriceLine>();
        while (csv.Read())
        {
            lines.Add(
                new PriceLine(
                    Field("number"),
                    Enum.TryParse<PartGrade>(Field("grade"), ignoreCase: true, out var grade)
                        ? grade
                        : throw new FormatException($"line {lines.Count + 2}: \"{Field("grade")}\" is no grade"),
                    Value("price"),
                    Value("weight_kg"),
                    (int)Value("minimum"),
                    Field("in_stock").Length == 0 ? null : (int)Value("in_stock"),
                    (int)Value("handling_days")
                )
            );
        }

        return lines;

        string Field(string column)
        {
            try
            {
                return csv.GetString(csv.GetFieldIndex(column));
            }
            catch (KeyNotFoundException)
            {
                throw new FormatException($"it has no column \"{column}\"");
            }
        }

        decimal Value(string column) =>
            decimal.TryParse(Field(column), NumberStyles.Number, CultureInfo.InvariantCulture, out var value)
                ? value
                : throw new FormatException($"line {lines.Count + 2}: \"{Field(column)}\" is no {column}");
    }

    private static Offer Offer(Supplier supplier, SupplierTerms terms, PriceLine line)
    {
        Money In(decimal amount) => new(amount, terms.Currency);
        return new Offer
        {
            Supplier = supplier.Name,
            Number = line.Number,
            Grade = line.Grade,
            Price = In(line.Price),
            WeightKg = line.WeightKg,
            MinimumQuantity = line.Minimum,
            MinimumOrder = terms.MinimumOrder is { } least ? In(least) : null,
            InStock = line.InStock is { } there ? Math.Max(0, there) : null,
            HandlingDays = line.HandlingDays,
            DutyShare = terms.DutyShare,
            TaxShare = terms.TaxShare,
            TaxIncluded = terms.TaxIncluded,
            Returns = new ReturnTerms(terms.RefundShare, In(terms.ReturnFreight)),
            Freight =
            [
                .. terms.Freight.Select(f => new FreightOption(
                    Cut(f.Name),
                    In(f.Base),
                    In(f.PerKg),
                    In(f.Brokerage),
                    f.BrokerageIncluded,
                    new Carrier(Cut(f.Carrier), f.Sails, f.TransitDays, f.NoSailing, f.CutOff)
                )),
            ],
        };
    }

    private static string Cut(string name) =>
        name.Length > CarrierCalendar.MaxName ? name[..CarrierCalendar.MaxName] : name;

    private Task<string> Get(Supplier supplier, string path, CancellationToken stop) =>
        http.GetStringAsync(Address(supplier, path), stop);

    private static Uri Address(Supplier supplier, string path) => new(supplier.Address!.TrimEnd('/') + "/" + path);
}
