using System.Text.Json.Nodes;
using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Triage;

public sealed class TriageReaderTests
{
    [Fact]
    public void The_shipped_files_pass_and_hold_what_a_workshop_meets()
    {
        TriageReader.Read(Knowledge.Files).Findings.ShouldBeEmpty();
        var all = Knowledge.Shipped;
        all.Symptoms.Count.ShouldBeGreaterThanOrEqualTo(25);
        all.Faults.Count.ShouldBeGreaterThanOrEqualTo(60);
        all.Tests.Count.ShouldBeGreaterThanOrEqualTo(40);
        all.Remedies.Count.ShouldBeGreaterThanOrEqualTo(40);
    }

    [Fact]
    public void What_every_map_calls_a_part_is_a_component_s_part_somewhere()
    {
        foreach (var file in Maps.ShippedFiles)
        {
            var map = Maps.Shipped(Path.GetFileName(file).Split('.')[0]);
            Knowledge.Shipped.ComponentsOf(map).Keys.ShouldContain("board");
            Knowledge.Shipped.ComponentsOf(map)["battery"].ShouldBe("battery");
        }
    }

    // Each file is the shipped one with one thing broken; path and reason as the reader says them.
    [Theory]
    [InlineData("tests[0].otherwise", "[0.5, 0.4, 0]", "tests[0].otherwise", "add up to 1; these add up to 0.9")]
    [InlineData("tests[0].otherwise", "[1.5, -0.5]", "tests[0].otherwise[0]", "must be at most 1")]
    [InlineData("tests[0].otherwise", "[1]", "tests[0].otherwise", "at least 2 entries")]
    [InlineData("tests[0].otherwise", "[0.2, 0.8]", "tests[0].otherwise", "2 chances are given for 3 outcomes")]
    [InlineData("tests[0].given[0].faults[0]", "\"charger-daed\"", "tests[0].given[0].faults[0]", "names no fault")]
    [InlineData("tests[0].given[0].faults[0]", "\"no-fault\"", "tests[0].given", "named twice")]
    [InlineData("tests[0].symptoms[0]", "\"smells\"", "tests[0].symptoms[0]", "no symptom \"smells\"")]
    [InlineData("faults[0].component", "\"flux\"", "faults[0].component", "no component \"flux\"")]
    [InlineData("faults[0].shows", "{\"smells\": 0.5}", "faults[0].shows.smells", "no symptom \"smells\"")]
    [InlineData("faults[0].shows", "{\"will-not-charge\": 0}", "faults[0].shows.will-not-charge", "at least 0.01")]
    [InlineData("faults[0].weight.laptop", "-1", "faults[0].weight.laptop", "at least 0")]
    [InlineData("faults[0].id", "\"board-dead\"", "faults[12].id", "already used")]
    [InlineData("faults[0].nature", "\"magic\"", "faults[0].nature", "allowed here")]
    [InlineData(
        "remedies[0].cures[0].faults[0]",
        "\"nothing-known\"",
        "remedies[0].cures[0].faults[0]",
        "names no fault"
    )]
    [InlineData("remedies[0].minutes", "0", "remedies[0].minutes", "at least 0.1")]
    [InlineData("format", "1", "format", "reads format 2")]
    [InlineData("tests[0].requires", "[\"wings\"]", "tests[0].requires[0]", "no feature \"wings\"")]
    [InlineData("tests[0].needs", "[\"wind\"]", "tests[0].needs[0]", "allowed here")]
    [InlineData("tests[0].outcomes[0].stop", "\"\"", "tests[0].outcomes[0].stop", "must not be empty")]
    [InlineData("remedies[0].allows", "[\"power\"]", "remedies[0].allows", "cannot need what only it allows")]
    [InlineData("faults[0].separate", "\"yes\"", "faults[0].separate", "true or false")]
    public void A_broken_file_is_refused_by_path_and_reason(string at, string value, string path, string reason)
    {
        var findings = ReadWith(root => Set(root, at, JsonNode.Parse(value)));
        findings.ShouldContain(f =>
            f.File == "power.triage.json" && f.Path == $"$.{path}" && f.Reason.Contains(reason)
        );
    }

    [Fact]
    public void An_outcome_that_no_fault_allows_is_found()
    {
        var findings = ReadWith(root =>
        {
            var test = root["tests"]!.AsArray().First(t => t!["id"]!.GetValue<string>() == "limit-look")!;
            test["otherwise"] = JsonNode.Parse("[0, 1]");
            foreach (var given in test["given"]!.AsArray())
            {
                given!["chances"] = JsonNode.Parse("[0, 1]");
            }
        });
        findings.ShouldContain(f => f.Reason.Contains("no fault makes the outcome \"yes\" possible"));
    }

    [Fact]
    public void A_fault_that_nothing_cures_is_found() =>
        ReadWith(root => root["faults"]![0]!["id"] = "something-new")
            .ShouldContain(f => f.Reason == "no remedy cures \"something-new\"");

    [Fact]
    public void Text_that_is_no_json_is_a_finding() =>
        TriageReader.Read([("x", "{")]).Findings.ShouldHaveSingleItem().Reason.ShouldContain("not readable JSON");

    private static IReadOnlyList<Finding> ReadWith(Action<JsonNode> change) =>
        TriageReader
            .Read(
                Knowledge.Files.Select(f =>
                {
                    if (f.Name != "power.triage.json")
                    {
                        return f;
                    }

                    var root = JsonNode.Parse(f.Json)!;
                    change(root);
                    return (f.Name, root.ToJsonString());
                })
            )
            .Findings;

    private static void Set(JsonNode root, string path, JsonNode? value)
    {
        var steps = path.Replace("[", ".[", StringComparison.Ordinal).Split('.');
        var at = root;
        foreach (var step in steps[..^1])
        {
            at = step[0] == '[' ? at[int.Parse(step[1..^1], null)]! : at[step]!;
        }

        if (steps[^1][0] == '[')
        {
            at[int.Parse(steps[^1][1..^1], null)] = value;
        }
        else
        {
            at[steps[^1]] = value;
        }
    }
}
