using System.Runtime.CompilerServices;
using System.Text.Json.Nodes;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Tests.ServiceMaps;

/// <summary>Every rule of the format, broken once; docs/service-maps.md lists each with the message found here.</summary>
public sealed class RuleTests
{
    private static readonly (string Break, string With, string Finding)[] Cases =
    [
        ("parts[2].id", "\"sim-tray\"", "$.parts[2].id: the id \"sim-tray\" is used twice"),
        ("fasteners[0].holds", "\"lid\"", "$.fasteners[0].holds: there is no part \"lid\""),
        ("isolation", "\"switch\"", "$.isolation: there is no joint \"switch\""),
        ("joints[1].check", "\"smell\"", "$.joints[1].check: there is no check \"smell\""),
        ("parts[10].ways[0].keeps[0]", "\"lead\"", "$.parts[10].ways[0].keeps[0]: there is no joint \"lead\""),
        ("parts[0].fixed", "false", "$.parts: exactly one part must be fixed: the one that stays on the bench"),
        ("parts[6].slot", "\"battery\"", "$.parts[6].slot: the slot \"battery\" is taken by another part"),
        (
            "parts[2].label",
            "{\"where\":\"inside\",\"readable\":\"out\"}",
            "$.parts[2].label: a label is read into a slot; name the slot or drop the label"
        ),
        (
            "parts[29].mountedOn",
            "\"display\"",
            "$.parts[29].mountedOn: \"display\" rides on itself by way of \"display\""
        ),
        (
            "parts[1].optional",
            "true",
            "$.parts[1].optional: whether a unit has it is seen by its slot or by its variant; give it one of them"
        ),
        (
            "parts[10].ways[0].keeps[0]",
            "\"fan-plug\"",
            "$.parts[10].ways[0].keeps[0]: \"fan-plug\" ends neither on \"radio\" nor on what rides on it"
        ),
        (
            "parts[26].ways[0].keeps",
            "[\"radio-slot\"]",
            "$.parts[26].ways[0].keeps[0]: both ends of \"radio-slot\" go along with \"board\", so nothing is kept by it"
        ),
        (
            "parts[10].ways[0].keeps[0]",
            "\"radio-slot\"",
            "$.parts[10].ways[0].keeps[0]: \"radio-slot\" leads to \"board\", which \"radio\" rides on; it would tear when that leaves"
        ),
        (
            "parts[10].ways[0].over",
            "[\"fan\"]",
            "$.parts[10].ways[0].over[0]: aside it lies on \"fan\", so that must be blocked by \"radio\" in its place too"
        ),
        (
            "parts[10].ways[0].over",
            "[\"fan\"]",
            "$.parts[10].ways[0].over: what lies on another part while aside may not ride on one: it would stay lying there without \"board\""
        ),
        (
            "parts[4].side",
            "\"edge\"",
            "$.parts[4].side: only what is outside is reached from the edge; say base or deck"
        ),
        ("parts[26].ways[1].id", "\"heatsink-on\"", "$.parts[26].ways[1].id: the way \"heatsink-on\" is given twice"),
        ("fasteners[0].count", "8", "$.fasteners[0].count: says 8, but 7 positions are given"),
        (
            "fasteners[0].into",
            "\"base-cover\"",
            "$.fasteners[0].into: screws hold one part into another; both are the same here"
        ),
        ("joints[1].between", "[\"board\",\"board\"]", "$.joints[1].between: a joint connects two different parts"),
        ("joints[1].otherEnd", "\"attic\"", "$.joints[1].otherEnd: there is no joint \"attic\""),
        (
            "joints[1].otherEnd",
            "\"power-plug\"",
            "$.joints[1].otherEnd: \"power-plug\" must join the same two parts the other way round: a socket on each"
        ),
        (
            "joints[1].otherEnd",
            "\"battery-plug\"",
            "$.joints[1].otherEnd: \"battery-plug\" is no end of a loose lead: it isolates, or is a slot or contacts"
        ),
        (
            "assemblies[0].part",
            "\"sim-tray\"",
            "$.assemblies[0].part: \"sim-tray\" has no slot, so its number could not be recorded"
        ),
        (
            "variants",
            "[{\"id\":\"v\",\"name\":\"v\",\"choices\":[{\"id\":\"a\",\"name\":\"a\",\"parts\":[\"fan\"]},{\"id\":\"b\",\"name\":\"b\",\"parts\":[\"cellular\"]}]}]",
            "$.variants[0].choices[0].parts[0]: \"fan\" must be optional, since some units are without it"
        ),
        (
            "specifications[0].slot",
            "\"attic\"",
            "$.specifications[0].slot: no part has the slot \"attic\"; say soldered if nothing goes in"
        ),
        (
            "specifications[7].slot",
            "\"attic\"",
            "$.specifications[7].slot: no part has the slot \"attic\"; what charger the machine takes is said of the slot \"charger\""
        ),
        ("parts[3].shape.rect[0]", "300", "$.parts[3].shape: reaches outside the drawing of 322 × 222 mm"),
        (
            "fasteners[0].positions[0]",
            "[-1, 5]",
            "$.fasteners[0].positions[0]: lies outside the drawing of 322 × 222 mm"
        ),
        (
            "decoys",
            "[{\"id\":\"d\",\"name\":\"d\",\"kind\":\"screw\",\"on\":\"board\",\"positions\":[[999,1]],\"why\":\"stays\"}]",
            "$.decoys[0].positions[0]: lies outside the drawing of 322 × 222 mm"
        ),
        ("parts[2].blockedBy", "[\"board\"]", "needs"),
        (
            "parts[6].blockedBy",
            "[\"chassis\"]",
            "$.parts[6]: nothing can free it: it waits for lift-out:chassis, which never happens"
        ),
    ];

    public static IEnumerable<TheoryDataRow<string, string, string>> Broken =>
        Cases.Select(c => new TheoryDataRow<string, string, string>(c.Break, c.With, c.Finding));

    [Theory]
    [MemberData(nameof(Broken))]
    public void A_broken_rule_is_found_with_its_path_and_its_reason(string at, string with, string finding)
    {
        var map = JsonNode.Parse(Maps.SandpiperJson)!;
        Set(map, at, JsonNode.Parse(with));
        var reading = ServiceMapReader.Read("x", map.ToJsonString());
        reading.Map.ShouldBeNull();
        reading
            .Findings.Select(f => $"{f.Path}: {f.Reason}")
            .ShouldContain(f => f.Contains(finding, StringComparison.Ordinal), string.Join(" | ", reading.Findings));
    }

    [Fact]
    public void The_documentation_lists_every_rule_with_its_message()
    {
        var page = File.ReadAllText(Path.Combine(Root(), "docs", "service-maps.md"));
        foreach (var (_, _, finding) in Cases)
        {
            page.ShouldContain(finding);
        }
    }

    [Fact]
    public void Broken_in_several_places_a_map_says_all_of_them_at_once()
    {
        var map = JsonNode.Parse(Maps.SandpiperJson)!;
        Set(map, "fasteners[1].count", JsonNode.Parse("9"));
        Set(map, "joints[3].under[0]", JsonNode.Parse("\"lid\""));
        Set(map, "parts[6].blockedBy", JsonNode.Parse("[\"chassis\"]"));
        Set(map, "parts[3].shape.rect[0]", JsonNode.Parse("300"));
        ServiceMapReader
            .Read("x", map.ToJsonString())
            .Findings.Select(f => f.Path)
            .ShouldBe(
                ["$.joints[3].under[0]", "$.fasteners[1].count", "$.parts[3].shape", "$.parts[6]"],
                ignoreOrder: true
            );
    }

    [Fact]
    public void Any_text_cut_short_or_scrambled_is_findings_and_never_an_exception()
    {
        var random = new Random(7);
        for (var i = 0; i < 150; i++)
        {
            var text = Maps.SandpiperJson.ToCharArray();
            for (var k = 0; k < 3; k++)
            {
                text[random.Next(text.Length)] = "{}[],:\"0x-"[random.Next(10)];
            }

            _ = ServiceMapReader.Read("x", new string(text)).Findings;
            ServiceMapReader.Read("x", new string(text, 0, random.Next(text.Length - 2))).Findings.ShouldNotBeEmpty();
        }
    }

    /// <summary>Puts a value at a path like "parts[2].shape.rect[0]".</summary>
    private static void Set(JsonNode node, string path, JsonNode? value)
    {
        var steps = path.Replace("[", ".", StringComparison.Ordinal)
            .Replace("]", "", StringComparison.Ordinal)
            .Split('.');
        foreach (var step in steps[..^1])
        {
            node = int.TryParse(step, out var i) ? node[i]! : node[step]!;
        }

        if (int.TryParse(steps[^1], out var last))
        {
            node[last] = value;
        }
        else
        {
            node[steps[^1]] = value;
        }
    }

    private static string Root([CallerFilePath] string here = "") =>
        Path.Combine(Path.GetDirectoryName(here)!, "..", "..", "..");
}
