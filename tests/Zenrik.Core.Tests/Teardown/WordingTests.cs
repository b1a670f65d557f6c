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
}
