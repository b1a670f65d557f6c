using System.Text.Json.Nodes;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Tests.ServiceMaps;

public sealed class ServiceMapReaderTests
{
    [Fact]
    public void Every_shipped_map_passes_all_checks()
    {
        foreach (var file in Maps.ShippedFiles)
        {
            ServiceMapReader.Read(Path.GetFileName(file), File.ReadAllText(file)).Findings.ShouldBeEmpty();
        }
    }

    [Fact]
    public void Writing_a_map_and_reading_it_back_changes_nothing()
    {
        var text = ServiceMapReader.Write(Maps.SandpiperWhole);
        ServiceMapReader.Write(ServiceMapReader.Read("again", text).Map!).ShouldBe(text);
    }

    /// <summary>One broken map a case: what is broken, where it is found, and a word the reason must contain.</summary>
    public static TheoryData<string, string, string> Broken =>
        new()
        {
            { "unknown field", "$.parts[1].colour", "no such field" },
            { "field of another kind", "$.specifications[0].watts", "kind has no such field" },
            { "two outlines", "$.parts[3].shape", "one of rect, circle and rings" },
            { "missing field", "$.joints[0].kind", "missing" },
            { "text for a number", "$.revision", "whole number" },
            { "no such drive", "$.fasteners[0].screw.drive", "PH0" },
            { "count differs from positions", "$.fasteners[0].count", "7 positions" },
            { "missing part", "$.fasteners[0].holds", "no part" },
            { "id used twice", "$.parts[2].id", "twice" },
            { "joint with one end", "$.joints[0].between", "at least 2" },
            { "isolation unknown", "$.isolation", "no joint" },
            { "outside the drawing", "$.parts[3].shape", "outside" },
            { "circle of covers", "$.parts[1]", "needs" },
            { "newer format", "$.format", "format 5" },
        };

    [Theory]
    [MemberData(nameof(Broken))]
    public void A_broken_map_is_refused_with_its_path_and_a_reason(string what, string path, string reason)
    {
        var map = JsonNode.Parse(Maps.SandpiperJson)!;
        var (part, fastener, joint) = (map["parts"]![1]!, map["fasteners"]![0]!, map["joints"]![0]!);
        switch (what)
        {
            case "unknown field":
                part["colour"] = "red";
                break;
            case "field of another kind":
                map["specifications"]![0]!["watts"] = 65;
                break;
            case "two outlines":
                map["parts"]![3]!["shape"]!["circle"] = new JsonArray(10, 10, 5);
                break;
            case "missing field":
                joint.AsObject().Remove("kind");
                break;
            case "text for a number":
                map["revision"] = "one";
                break;
            case "no such drive":
                fastener["screw"]!["drive"] = "PH9";
                break;
            case "count differs from positions":
                fastener["count"] = 8;
                break;
            case "missing part":
                fastener["holds"] = "lid";
                break;
            case "id used twice":
                map["parts"]![2]!["id"] = "sim-tray";
                break;
            case "joint with one end":
                joint["between"] = new JsonArray("battery");
                break;
            case "isolation unknown":
                map["isolation"] = "main-switch";
                break;
            case "outside the drawing":
                map["parts"]![3]!["shape"]!["rect"]![0] = 300;
                break;
            case "circle of covers":
                part["blockedBy"] = new JsonArray("board");
                break;
            case "newer format":
                map["format"] = ServiceMap.CurrentFormat + 1;
                break;
        }

        var reading = ServiceMapReader.Read("broken.json", map.ToJsonString());
        reading.Map.ShouldBeNull();
        reading.Findings.ShouldContain(
            f => f.Path == path && f.Reason.Contains(reason, StringComparison.Ordinal),
            $"found: {string.Join(" | ", reading.Findings)}"
        );
    }

    [Theory]
    [InlineData("")]
    [InlineData("not json")]
    [InlineData("[]")]
    [InlineData("{\"format\":1,\"format\":1}")]
    [InlineData("null")]
    public void What_is_no_map_is_a_finding_and_no_exception(string text) =>
        ServiceMapReader.Read("x", text).Findings.ShouldNotBeEmpty();

    [Fact]
    public void A_figure_of_four_hundred_digits_is_a_finding_wherever_it_stands()
    {
        var long_ = new string('9', 400);
        foreach (var figure in new[] { long_, $"-{long_}", $"{long_}.5", "1e999", "-1e999" })
        {
            ServiceMapReader.Read("x", figure).Findings.ShouldNotBeEmpty(figure);
            var map = Maps.SandpiperJson.Replace(
                "\"heightMm\": ",
                $"\"heightMm\": {figure}, \"was\": ",
                StringComparison.Ordinal
            );
            map.ShouldNotBe(Maps.SandpiperJson);
            ServiceMapReader.Read("x", map).Findings.ShouldNotBeEmpty(figure);
        }
    }

    [Fact]
    public void Depth_and_size_are_bounded()
    {
        ServiceMapReader.Read("deep", new string('[', 5000)).Findings.ShouldHaveSingleItem();
        var large = ServiceMapReader.Read("large", $"\"{new string('x', 3_000_000)}\"");
        large.Findings.ShouldHaveSingleItem().Reason.ShouldContain("larger than 2 MB");
    }

    [Fact]
    public void All_findings_come_at_once()
    {
        var map = JsonNode.Parse(Maps.SandpiperJson)!;
        map["fasteners"]![0]!["holds"] = "lid";
        map["fasteners"]![1]!["into"] = "lid";
        map["isolation"] = "main-switch";
        ServiceMapReader.Read("x", map.ToJsonString()).Findings.Count.ShouldBe(3);
    }

    [Theory]
    [InlineData(MetricThread.M2, 0.4)] // ISO 261, coarse pitch series; from memory.
    [InlineData(MetricThread.M25, 0.45)]
    [InlineData(MetricThread.M3, 0.5)]
    public void Thread_pitch_is_the_coarse_one(MetricThread thread, double pitchMm) =>
        thread.PitchMm().ShouldBe(pitchMm);

    [Fact]
    public void The_coin_cell_on_the_drawing_is_as_wide_as_a_CR2032()
    {
        // IEC 60086 naming, from memory: CR2032 is 20.0 mm across and 3.2 mm high.
        Maps.Sandpiper.Part(PartId.Of("coin-cell")).Shape!.Bounds.Width.ShouldBe(20.0);
    }

    [Fact]
    public void Cards_on_the_drawing_have_M2_sizes()
    {
        // PCI-SIG M.2, from memory: type 2280 is 22 × 80 mm, 2242 is 22 × 42 mm, 2230 is 22 × 30 mm, 3042 is 30 × 42 mm.
        (double, double) Size(string part) =>
            Maps.SandpiperWhole.Part(PartId.Of(part)).Shape!.Bounds is var b ? (b.Width, b.Height) : default;
        Size("drive-a").ShouldBe((22, 80));
        Size("drive-b").ShouldBe((22, 42));
        Size("radio").ShouldBe((22, 30));
        Size("cellular").ShouldBe((30, 42));
    }
}
