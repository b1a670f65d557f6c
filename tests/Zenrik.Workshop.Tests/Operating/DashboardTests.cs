using System.Collections.Concurrent;
using System.Diagnostics.Metrics;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Zenrik.Workshop.Tests.Web;

namespace Zenrik.Workshop.Tests.Operating;

/// <summary>The dashboard that is packed, against what the program measures while it serves.</summary>
public sealed partial class DashboardTests(TemplateDatabase template)
{
    private static readonly JsonNode Dashboard = JsonNode.Parse(
        File.ReadAllText(Path.Combine(SourceTree.Root, "tools/publish/usr/share/doc/zenrik/dashboard.json"))
    )!["spec"]!;

    /// <summary>Names by "OpenTelemetry metrics to Prometheus" of OpenTelemetry's compatibility specification, from memory.</summary>
    [Fact]
    public async Task Every_series_it_asks_for_is_one_the_program_gives()
    {
        var given = new ConcurrentDictionary<string, byte>();
        using var listener = new MeterListener
        {
            InstrumentPublished = (instrument, _) =>
            {
                foreach (var name in Series(instrument))
                {
                    given[name] = 0;
                }
            },
        };
        listener.Start();
        await using var program = await RunningProgram.On(template);
        using var mara = await program.Visit("mara");
        using var page = await mara.Http.GetAsync("/", TestContext.Current.CancellationToken);
        var asked = Queries()
            .SelectMany(q => Named().Matches(By().Replace(q, "")))
            .Select(m => m.Value)
            .Distinct()
            .ToList();
        asked.Count.ShouldBeGreaterThan(10);
        asked.Except(given.Keys).ShouldBeEmpty();
    }

    [Fact]
    public void Every_panel_has_its_place_and_every_place_its_panel()
    {
        var panels = Dashboard["panels"]!.AsObject().Select(p => $"#/spec/panels/{p.Key}");
        var places = Dashboard["layouts"]!
            .AsArray()
            .SelectMany(l => l!["spec"]!["items"]!.AsArray())
            .Select(i => i!["content"]!["$ref"]!.GetValue<string>());
        places.ShouldBe(panels, ignoreOrder: true);
    }

    private static IEnumerable<string> Queries() =>
        Dashboard["panels"]!
            .AsObject()
            .SelectMany(p => p.Value!["spec"]!["queries"]!.AsArray())
            .Select(q => q!["spec"]!["plugin"]!["spec"]!["query"]!.GetValue<string>());

    private static IEnumerable<string> Series(Instrument instrument)
    {
        var kind = instrument.GetType().Name;
        var unit = instrument.Unit switch
        {
            "s" => "_seconds",
            "By" => "_bytes",
            _ => "",
        };
        var name = instrument.Name.Replace('.', '_') + unit;
        return kind.StartsWith("Histogram", StringComparison.Ordinal)
                ? [$"{name}_bucket", $"{name}_count", $"{name}_sum"]
            : kind.Contains("UpDown", StringComparison.Ordinal) || kind.Contains("Gauge", StringComparison.Ordinal)
                ? [name]
            : [$"{name}_total"];
    }

    [GeneratedRegex(@"\b(?:zenrik|http|db|dotnet)_\w+")]
    private static partial Regex Named();

    /// <summary>What a sum is by are labels, not series.</summary>
    [GeneratedRegex(@"by \([^)]*\)")]
    private static partial Regex By();
}
