using System.Globalization;
using System.Reflection;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>
/// Every page handler and every body of the API, filled by chance from what they say they take: whatever comes, the program
/// answers, and never that it has failed. A seed makes the same requests again.
/// </summary>
/// <remarks>
/// ZENRIK_NONSENSE=20000 sends so many requests, ZENRIK_SEED another lot; the long run belongs to a change of many handlers.
/// </remarks>
public sealed class NonsenseTests(TemplateDatabase template)
{
    private static int Setting(string name, int otherwise) =>
        int.TryParse(Environment.GetEnvironmentVariable(name), CultureInfo.InvariantCulture, out var value)
            ? value
            : otherwise;

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Whatever_is_sent_is_answered()
    {
        await using var program = await RunningProgram.On(template);
        var seed = Setting("ZENRIK_SEED", 417);
        var random = new Random(seed);
        var requests = Setting("ZENRIK_NONSENSE", 1500);
        using var mara = await program.Visit("mara");
        using var api = await ByToken(program);
        var document = JsonNode.Parse(await api.Http.GetStringAsync("/openapi/v1.json", Stop))!;
        var bodies = new Bodies(document, random);
        // A stream never ends, signing out ends the rest, and what ends people ends whoever sends all this.
        var targets = program
            .Everything()
            .Where(e =>
                e.Route is not ("/sign-out" or "/sign-in" or "/house/people" or "/account")
                && !e.Route.EndsWith("/news", StringComparison.Ordinal)
            )
            .ToList();
        var words = await Words.Of(program.Book, random);
        var failed = new List<string>();
        for (var i = 0; i < requests; i++)
        {
            var target = targets[random.Next(targets.Count)];
            var address = target.Address(kind => words.For(kind, typeof(string)) is { Length: > 0 } w ? w : "x");
            var said = target.ToString();
            using var answer = await Send();
            if ((int)answer.StatusCode >= 500)
            {
                failed.Add($"{(int)answer.StatusCode} {said} ← {program.LastFault}");
            }

            async Task<HttpResponseMessage> Send()
            {
                if (target.Method is not { } method)
                {
                    if (target.Verb == "GET")
                    {
                        return await api.Http.GetAsync(said = address, Stop);
                    }

                    if (target.Verb == "DELETE")
                    {
                        said = $"DELETE {address}?request={Guid.NewGuid()}";
                        return await api.Http.DeleteAsync(said[7..], Stop);
                    }

                    var body = bodies.For(target);
                    said = $"{address} {body[..Math.Min(body.Length, 1500)]}";
                    return await api.Http.PostAsync(
                        address,
                        new StringContent(
                            body,
                            Encoding.UTF8,
                            target.Route.EndsWith("/power", StringComparison.Ordinal)
                                ? "text/plain"
                                : "application/json"
                        ),
                        Stop
                    );
                }

                var fields = Fields(method).ToList();
                said =
                    $"{target.Verb} {address} {string.Join('&', fields.Select(f => $"{f.Key}={f.Value[..Math.Min(60, f.Value.Length)]}"))}";
                return target.Verb == "GET"
                    ? await mara.Http.GetAsync(
                        $"{address}{(address.Contains('?') ? '&' : '?')}{string.Join('&', fields.Select(f => $"{f.Key}={Uri.EscapeDataString(f.Value)}"))}",
                        Stop
                    )
                    : await mara.Post(address, fields);
            }
        }

        failed.ShouldBeEmpty($"seed {seed}, {requests} requests");

        IEnumerable<KeyValuePair<string, string>> Fields(MethodInfo method)
        {
            var takes = method
                .GetParameters()
                .Where(p => p.ParameterType != typeof(CancellationToken) && p.ParameterType != typeof(IFormFile))
                .Select(p => (Name: p.Name!, Type: p.ParameterType))
                .Concat(
                    method
                        .DeclaringType!.GetProperties()
                        .Where(p => p.GetCustomAttribute<BindPropertyAttribute>() is not null)
                        .Select(p => (p.Name, Type: p.PropertyType))
                )
                .ToList();
            foreach (var (name, type) in takes)
            {
                var many = type != typeof(string) && type.GetInterfaces().Append(type).Any(IsMany);
                for (var n = many ? random.Next(4) : 1; n > 0; n--)
                {
                    if (random.Next(8) > 0)
                    {
                        yield return new(name, words.For(name, many ? typeof(string) : type));
                    }
                }
            }
        }

        static bool IsMany(Type t) => t.IsGenericType && t.GetGenericTypeDefinition() == typeof(IEnumerable<>);
    }

    [Theory]
    [InlineData("/api/v1/service-maps/check")]
    [InlineData("/api/v1/plans")]
    [InlineData("/api/v1/units/SK-00417/hardware")]
    public async Task A_body_of_fifty_megabytes_is_refused_as_too_large(string address)
    {
        await using var program = await RunningProgram.On(template);
        using var api = await ByToken(program);
        using var answer = await api.Http.PostAsync(
            address,
            new StringContent("\"" + new string('x', 50_000_000) + "\"", Encoding.UTF8, "application/json"),
            Stop
        );
        ((int)answer.StatusCode).ShouldBe(413);
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
    }

    [Fact]
    public async Task An_item_has_a_kind_and_its_facts_alone()
    {
        await using var program = await RunningProgram.On(template);
        using var api = await ByToken(program);
        foreach (
            var (item, status, says) in new[]
            {
                ("""{"gb":16,"kind":"memory"}""", 200, "\"verdict\""),
                ("""{"kind":"memory","generation":"DDR4","megaTransfers":3200,"gb":16}""", 200, "\"verdict\""),
                ("""{"gb":16}""", 400, "lacks its"),
                ("""{"kind":"gills"}""", 400, "at $.item"),
                ("""{"kind":"memory","watts":65}""", 400, "at $.item.watts"),
                ("""{"kind":"drive","key":"M+M"}""", 400, "at $.item.key"),
                ("{", 400, "not what this address takes"),
            }
        )
        {
            using var answer = await api.Http.PostAsync(
                "/api/v1/fit",
                new StringContent(
                    $$"""{"model":"coot-14","slot":"memory-a","item":{{item}}}""",
                    Encoding.UTF8,
                    "application/json"
                ),
                Stop
            );
            ((int)answer.StatusCode).ShouldBe(status, item);
            (await answer.Content.ReadAsStringAsync(Stop)).ShouldContain(says);
        }
    }

    /// <summary>A program that may do everything.</summary>
    private static async Task<Visitor> ByToken(RunningProgram program)
    {
        var person = await program.Book.Person("mara");
        var token = await program.Book.Do<ApiTokens, Outcome<string>>(t => t.Make("test", person, TokenScopes.All));
        var api = await program.Visit(null);
        api.Http.DefaultRequestHeaders.Authorization = new("Bearer", token.Value);
        return api;
    }

    /// <summary>Values that people, scanners and attackers send, true ones of this book among them.</summary>
    private sealed class Words(string[] known, Random random)
    {
        private static readonly string[] Odd =
        [
            "",
            " ",
            "0",
            "-1",
            "1",
            "2147483648",
            "99999999999999999999999999",
            "1e308",
            "NaN",
            "0.0000001",
            "2026-02-30",
            "0001-01-01",
            "9999-12-31",
            "true",
            "null",
            "'; DROP TABLE units; --",
            "%",
            "<script>alert(1)</script>",
            "../../etc/passwd",
            "﷽\u202e👩‍🔧",
            new('9', 400),
            new('x', 5000),
            "a\tb\r\nc",
            "00000000-0000-0000-0000-000000000000",
            "{}",
            "[]",
            "KEYS",
        ];

        public static async Task<Words> Of(Book book, Random random)
        {
            var known = await book.Ask(db =>
                Task.FromResult<string[]>([
                    .. db.Units.OrderBy(u => u.Tag).Select(u => u.Tag).Take(12),
                    .. db.Units.OrderBy(u => u.Tag).Select(u => u.Serial).Take(3),
                    .. db.Items.OrderBy(x => x.Code).Select(x => x.Code).Take(12),
                    .. db.CatalogueNumbers.OrderBy(n => n.Number).Select(n => n.Number).Take(8),
                    .. db.CatalogueNumbers.OrderBy(n => n.Number).Select(n => n.Id.ToString()).Take(3),
                    .. db
                        .Repairs.OrderBy(r => r.Number)
                        .Select(r => r.Number)
                        .Take(12)
                        .AsEnumerable()
                        .Select(n => $"R-{n}"),
                    .. db.Bins.OrderBy(b => b.Code).Select(b => b.Code).Take(6),
                    .. db.Models.Select(m => m.Code),
                    .. db.PartOrders.Select(o => o.Id.ToString()),
                    .. db.Suppliers.Select(s => s.Id.ToString()),
                    .. db.CatalogueFits.Select(f => f.Slot).Distinct(),
                    .. ShippedTriage.Knowledge.Symptoms.Select(s => s.Id).Take(10),
                    .. ShippedTriage.Knowledge.Tests.Select(s => s.Id).Take(10),
                    .. ShippedTriage.Knowledge.Remedies.Select(s => s.Id).Take(10),
                ])
            );
            return new Words(known, random);
        }

        public string For(string name, Type type)
        {
            type = Nullable.GetUnderlyingType(type) ?? type;
            return random.Next(10) switch
            {
                < 3 => Odd[random.Next(Odd.Length)],
                < 5 when type == typeof(string) => known[random.Next(known.Length)],
                _ when type == typeof(Guid) || name is "request" or "guid" => new Guid(
                    random.Next(3),
                    0,
                    0,
                    [0, 0, 0, 0, 0, 0, 0, (byte)random.Next(5)]
                ).ToString(),
                _ when type == typeof(bool) => random.Next(2) == 0 ? "true" : "false",
                _ when type == typeof(int) || type == typeof(long) => random
                    .Next(-2, 1200)
                    .ToString(CultureInfo.InvariantCulture),
                _ when type == typeof(decimal) || type == typeof(double) => (random.NextDouble() * 300).ToString(
                    "0.##",
                    CultureInfo.InvariantCulture
                ),
                _ when type == typeof(DateOnly) => new DateOnly(
                    2026,
                    1 + random.Next(12),
                    1 + random.Next(28)
                ).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                _ when type.IsEnum => Enum.GetNames(type)[random.Next(Enum.GetNames(type).Length)],
                _ => known[random.Next(known.Length)],
            };
        }
    }

    /// <summary>Bodies as the API's own description says, with something wrong in most of them.</summary>
    private sealed class Bodies(JsonNode document, Random random)
    {
        private static readonly string[] Junk =
        [
            "null",
            "-1",
            "1e400",
            "1e300",
            "79228162514264337593543950335",
            "2147483648",
            "\"\"",
            "\"x\"",
            "\"9999-12-31\"",
            "\"0001-01-01\"",
            "\"23:59:59\"",
            "[]",
            "[null]",
            "{}",
            "true",
            "\"\\ud800\"",
            "\"GBP\"",
            "\"XXX\"",
        ];

        public string For(Answered target)
        {
            var path = document["paths"]![target.Route];
            var content = path?[target.Verb.ToLowerInvariant()]?["requestBody"]?["content"];
            var media = content?["application/json"] ?? content?["text/plain"];
            if (media is null || random.Next(40) == 0)
            {
                return Junk[random.Next(Junk.Length)];
            }

            // Half of them begin from the example, which is right, and spoil it somewhere.
            if (media["example"] is { } example && random.Next(2) == 0)
            {
                var spoilt = example.DeepClone();
                for (var n = random.Next(3); n >= 0; n--)
                {
                    Spoil(spoilt);
                }

                return spoilt.ToJsonString();
            }

            return Of(media["schema"]!, 0);
        }

        private void Spoil(JsonNode node)
        {
            for (var depth = 0; depth < 12; depth++)
            {
                switch (node)
                {
                    case JsonObject { Count: > 0 } o:
                    {
                        var key = o.ElementAt(random.Next(o.Count)).Key;
                        if (o[key] is JsonObject or JsonArray && random.Next(4) > 0)
                        {
                            node = o[key]!;
                            continue;
                        }

                        if (random.Next(6) == 0)
                        {
                            o.Remove(key);
                        }
                        else
                        {
                            o[key] = Parsed();
                        }

                        return;
                    }
                    case JsonArray { Count: > 0 } a:
                    {
                        var at = random.Next(a.Count);
                        if (a[at] is JsonObject or JsonArray && random.Next(4) > 0)
                        {
                            node = a[at]!;
                            continue;
                        }

                        a[at] = Parsed();
                        return;
                    }
                    default:
                        return;
                }
            }
        }

        private JsonNode? Parsed()
        {
            var junk = Junk[random.Next(Junk.Length)];
            return junk.Contains("ud800", StringComparison.Ordinal) ? JsonValue.Create("\u0000") : JsonNode.Parse(junk);
        }

        private string Of(JsonNode? schema, int depth)
        {
            while (schema?["$ref"] is { } reference)
            {
                schema = document["components"]!["schemas"]![reference.GetValue<string>().Split('/')[^1]]!;
            }

            if (schema is null || depth > 8 || random.Next(25) == 0)
            {
                return Junk[random.Next(Junk.Length)];
            }

            if ((schema["oneOf"] ?? schema["anyOf"]) is JsonArray ways)
            {
                return Of(ways[random.Next(ways.Count)]!, depth + 1);
            }

            if (schema["enum"] is JsonArray values)
            {
                return values[random.Next(values.Count)]?.ToJsonString() ?? "null";
            }

            var kind = schema["type"] is JsonArray kinds
                ? kinds[random.Next(kinds.Count)]!.GetValue<string>()
                : schema["type"]?.GetValue<string>();
            return kind switch
            {
                "object" when schema["properties"] is JsonObject properties =>
                    $"{{{string.Join(',', properties.Where(_ => random.Next(12) > 0).Select(p => $"{JsonSerializer.Serialize(p.Key)}:{Of(p.Value!, depth + 1)}"))}}}",
                "object" => schema["additionalProperties"] is JsonObject any ? $"{{\"a\":{Of(any, depth + 1)}}}" : "{}",
                "array" =>
                    $"[{string.Join(',', Enumerable.Range(0, random.Next(4)).Select(_ => Of(schema["items"], depth + 1)))}]",
                "integer" => random.Next(-3, 40).ToString(CultureInfo.InvariantCulture),
                "number" => (random.NextDouble() * 200).ToString("0.###", CultureInfo.InvariantCulture),
                "boolean" => random.Next(2) == 0 ? "true" : "false",
                "string" when schema["format"]?.GetValue<string>() is "date" => "\"2026-11-26\"",
                "string" => JsonSerializer.Serialize(
                    new[] { "sandpiper-14", "battery", "fan", "GBP", "X-1", "", "ferry" }[random.Next(7)]
                ),
                _ => "null",
            };
        }
    }
}
