using System.Text.RegularExpressions;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.Teardown;

public sealed partial class WordingTests
{
    public static IEnumerable<TheoryDataRow<string>> Models =>
        Maps.ShippedFiles.Select(f => new TheoryDataRow<string>(Path.GetFileName(f).Replace(".map.json", "")));

    private static IEnumerable<Plan> PlansOf(string model)
    {
        var map = Maps.Shipped(model).Plain();
        return map
            .Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part))
            .Select(a => TeardownPlanner.Plan(map, [new Goal.Replace(a.Id)]).Value);
    }

    [Theory]
    [InlineData("heatsink", 4, "the four heatsink screws")]
    [InlineData("board", 1, "the board screw")]
    [InlineData("under the foot strip", 2, "the two screws under the foot strip")]
    [InlineData("drive in its carrier", 4, "the four screws of the drive in its carrier")]
    [InlineData("palm rest, under the drive", 1, "the palm rest screw under the drive")]
    [InlineData("base cover, deep", 2, "the two base cover screws, deep")]
    [InlineData("speakers", 4, "the four screws of the speakers")]
    [InlineData("harness", 3, "the three harness screws")]
    [InlineData("base screws", 8, "the eight base screws")]
    [InlineData("Screws", 2, "the two screws")]
    public void Screws_are_named_as_one_says_them(string name, int count, string said) =>
        Wording.ScrewsOf(Maps.Sandpiper.Fasteners[0] with { Name = name, Count = count }).ShouldBe(said);

    [Theory]
    [InlineData("drive", "a drive")]
    [InlineData("M.2 slot", "an M.2 slot")]
    [InlineData("I/O board", "an I/O board")]
    [InlineData("USB board", "a USB board")]
    [InlineData("SIM tray", "a SIM tray")]
    [InlineData("antenna", "an antenna")]
    public void The_article_follows_the_sound(string name, string said) => Wording.A(name).ShouldBe(said);

    [Theory]
    [MemberData(nameof(Models))]
    public void No_generated_sentence_stumbles(string model)
    {
        foreach (var step in PlansOf(model).SelectMany(p => p.Steps))
        {
            foreach (var text in new[] { step.Title, step.How })
            {
                Stumbles().IsMatch(text).ShouldBeFalse($"{step.Act}: {text}");
            }
        }
    }

    /// <summary>What real machines have: adhesives, further drives, a magnet that comes out, a screw mistaken for others.</summary>
    [Fact]
    public void Adhesives_magnets_and_decoys_are_said_where_they_are_met()
    {
        var whole = Maps.SandpiperWhole;
        var strips = new Tie
        {
            Id = TieId.Of("battery-strips"),
            Name = "battery strips",
            Kind = TieKind.StretchStrip,
            Of = PartId.Of("battery"),
            On = whole.Parts.First(p => p.Fixed).Id,
            Under = [PartId.Of("base-cover")],
            At = new Point(150, 180),
            Count = 2,
        };
        var grown = whole with
        {
            Ties = [.. whole.Ties, strips],
            Fasteners =
            [
                .. whole.Fasteners.Select(f =>
                    f.Id.Value == "fan-screws"
                        ? f with
                        {
                            Screw = f.Screw with { Drive = Drive.T5Pin },
                            NearMagnet = true,
                            Magnet = PartId.Of("speakers"),
                        }
                        : f
                ),
            ],
            Decoys =
            [
                new Decoy
                {
                    Id = "hinge",
                    Name = "hinge screw",
                    Kind = DecoyKind.Screw,
                    On = whole.Parts.First(p => p.Fixed).Id,
                    MistakenFor = FastenerId.Of("fan-screws"),
                    Positions = [new Point(10, 10)],
                    Why = "It holds the hinge",
                },
            ],
        };
        var reading = ServiceMapReader.Read("grown", ServiceMapReader.Write(grown));
        reading.Findings.ShouldBeEmpty();
        var map = reading.Map!.Plain();
        Plan Of(params string[] parts) =>
            TeardownPlanner.Plan(map, [.. parts.Select(p => (Goal)new Goal.LiftOut(PartId.Of(p)))]).Value;
        PlanStep Step(Plan plan, string act) => plan.Steps.Single(s => s.Act.ToString() == act);

        var battery = Of("battery");
        var draw = Step(battery, "free:battery-strips");
        draw.Title.ShouldBe("Draw out the battery strips");
        draw.How.ShouldStartWith("There are 2 of it. Take the tab");
        draw.Seconds.ShouldBe(120);
        draw.Cautions.ShouldContain(c => c.Severity == Severity.Severe && c.Text.Contains("cell"));
        draw.Cautions.ShouldContain(c => c.Text.Contains("Isopropyl alcohol burns"));
        Step(battery, "lay:battery-strips").Title.ShouldBe("Renew the battery strips");

        var undo = Step(Of("fan"), "undo:fan-screws");
        undo.Tool.Name().ShouldBe("T5 with a hole for the pin");
        undo.How.ShouldContain("Hinge screw: It holds the hinge.");
        Step(Of("fan"), "fasten:fan-screws").Cautions.ShouldNotBeEmpty();
        // With the speakers out there is no magnet to steal a screw.
        Step(Of("fan", "speakers"), "fasten:fan-screws").Cautions.ShouldBeEmpty();

        ServiceMapRules
            .Check("m", grown with { Decoys = [grown.Decoys[0] with { MistakenFor = FastenerId.Of("gills") }] })
            .ShouldHaveSingleItem()
            .Reason.ShouldContain("gills");
        ServiceMapRules
            .Check("m", grown with { Fasteners = [.. grown.Fasteners.Select(f => f with { NearMagnet = false })] })
            .ShouldHaveSingleItem()
            .Path.ShouldEndWith("magnet");
        // As files of the second format said it, nothing is otherwise.
        var older = ServiceMapReader.Write(whole with { Format = 2 });
        ServiceMapReader.Read("older", older).Findings.ShouldBeEmpty();
    }

    [GeneratedRegex(
        @"  |\.\.|\. \.|s screws|[Tt]he reverse|\ba [aeioAEIO]|\ban [bcdfgjkpqtvwyz]|\bthe (under|in|from) "
    )]
    private static partial Regex Stumbles();

    [Theory]
    [MemberData(nameof(Models))]
    public void The_machine_lies_as_the_words_say(string model)
    {
        foreach (var plan in PlansOf(model))
        {
            var lidIsOpen = false;
            foreach (var step in plan.Steps)
            {
                lidIsOpen = step.Act.Kind != ActKind.TurnOver && (lidIsOpen || step.How.Contains("Open the lid first"));
                var isUnderTheLid =
                    step.Act.Kind is ActKind.LiftOut or ActKind.SetAside
                    && step.SideUp == Side.Deck
                    && plan.Map.Part(step.Act.Part).Slot is "keyboard" or "palm-rest";
                (isUnderTheLid && !lidIsOpen).ShouldBeFalse($"{step.Title}: the lid is closed");
                if (step.Act.Kind == ActKind.PowerTest)
                {
                    var closes = plan.Steps.Skip(step.Number).Any(s => s.Act.Kind is ActKind.PutIn or ActKind.Fasten);
                    step.How.Contains("Before anything more is closed").ShouldBe(closes);
                }
            }
        }
    }

    [Fact]
    public void What_was_cleaned_or_pasted_anew_is_tried()
    {
        foreach (var plan in Maps.ShippedFiles.SelectMany(f => PlansOf(Path.GetFileName(f).Replace(".map.json", ""))))
        {
            var cooled = plan.Acts.Any(a => a.Kind is ActKind.BlowClean or ActKind.CleanAndPaste);
            var tried = plan.Acts.Any(a => a.Kind == ActKind.Check && a.Target is "fan" or "fans" or "cooling");
            (cooled && !tried).ShouldBeFalse($"{plan.Map.Model.Code}: {plan.Goals[0]}");
        }
    }

    [Fact]
    public void Latches_and_foot_strips_are_reached_with_the_base_up()
    {
        foreach (var (model, first) in new[] { ("plover-12", "lift-out:foot-strip"), ("thimble-10-k", "free:latch") })
        {
            foreach (var plan in PlansOf(model).Where(p => p.Acts.Contains(Act.Parse(first))))
            {
                plan.Steps.First(s => s.Act == Act.Parse(first)).SideUp.ShouldBe(Side.Base);
            }
        }
    }

    [Fact]
    public void A_keyboard_that_would_lie_on_the_palm_rest_is_taken_out_before_that_is_raised()
    {
        var plan = PlansOf("grebe-15").First(p => p.Goals[0] is Goal.Replace { Assembly.Value: "palm-rest" });
        List<Act> acts = [.. plan.Acts];
        acts.IndexOf(Act.Parse("lift-out:keyboard"))
            .ShouldBeInRange(
                0,
                acts.FindIndex(a => a.Kind is ActKind.SetAside or ActKind.LiftOut && a.Target == "palm-rest")
            );
    }

    [Fact]
    public void Cells_are_cautioned_of_where_their_map_forgot_it_and_once_where_it_did_not()
    {
        Severe(Maps.Sandpiper).ShouldHaveSingleItem().ShouldContain("Lithium cells");
        Severe(Maps.Sandpiper with { Parts = [.. Maps.Sandpiper.Parts.Select(p => p with { Cautions = [] })] })
            .ShouldBe([Hazards.Cells.Text]);

        static IEnumerable<string> Severe(ServiceMap map) =>
            TeardownPlanner
                .Plan(map, [new Goal.Replace(AssemblyId.Of("battery"))])
                .Value.Steps.Single(s => s.Act == Act.LiftOut(PartId.Of("battery")))
                .Cautions.Where(c => c.Severity == Severity.Severe)
                .Select(c => c.Text);
    }
}
