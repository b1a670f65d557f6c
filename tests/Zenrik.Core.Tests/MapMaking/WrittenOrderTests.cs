using Zenrik.Core.BenchLedger;
using Zenrik.Core.Importing;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.MapMaking;

/// <summary>What comes off a model, in order, as an organisation has it in a spreadsheet.</summary>
public sealed class WrittenOrderTests
{
    private static readonly Model Wren = new()
    {
        Code = "wren-12",
        Name = "Wren 12",
        Maker = "Tarnwell",
        Class = DeviceClass.Laptop,
    };

    private static readonly string[] Columns = ["thing", "kind", "count", "drive", "length", "of"];

    private static Draft Empty => new(Wren, [], []);

    private static Outcome<WrittenThing> Read(int line, string cells, Draft? known = null) =>
        WrittenOrder.Read(
            RowValues.Of(
                new SourceRow(line, cells.Split(';')),
                Columns.Index().ToDictionary(c => c.Index, c => c.Item)
            ),
            known ?? Empty
        );

    private static List<WrittenThing> Lines(params string[] rows) => [.. rows.Select((r, i) => Read(i + 2, r).Value)];

    private static Draft Taught(Draft draft, IReadOnlyList<WrittenThing> lines) =>
        draft.With(WrittenOrder.Of(Guid.NewGuid(), Guid.NewGuid(), Wren, lines));

    [Fact]
    public void A_list_teaches_counts_kinds_and_what_holds_what()
    {
        var draft = Taught(
            Empty,
            Lines(
                "Base screws;screws;9;PH0;M2x5",
                "Base cover;cover",
                "Battery plug;battery connector",
                "Battery screws;Screws;4;ph00;3,5 mm",
                "Touchpad ribbon;ribbon;;;;Touchpad",
                "Battery;exchanged part",
                "Touchpad;part"
            )
        );
        var map = draft.Map;
        ServiceMapRules.Check("draft", map).ShouldBeEmpty();
        var screws = map.Fasteners.Single(f => f.Name == "Battery screws");
        (screws.Count, screws.Screw.Drive, screws.Screw.LengthMm, map.Part(screws.Holds).Name).ShouldBe(
            (4, Drive.PH00, 3.5, "Battery")
        );
        map.Joints.Single(j => j.Name == "Touchpad ribbon").Kind.ShouldBe(JointKind.FlipLockRibbon);
        map.Part(map.Joints.Single(j => j.Name == "Touchpad ribbon").Plug).Name.ShouldBe("Touchpad");
        var plan = TeardownPlanner.Plan(map, [new Goal.Replace(AssemblyId.Of("battery"))]).Value;
        // The ribbon was off before the battery on paper: until somebody does without it, it goes first.
        var acts = plan.Acts.ToList();
        acts.IndexOf(Act.Undo(screws.Id)).ShouldBeInRange(0, acts.IndexOf(Act.LiftOut(PartId.Of("battery"))));
        acts.IndexOf(Act.Open(JointId.Of("touchpad-ribbon")))
            .ShouldBeInRange(0, acts.IndexOf(Act.LiftOut(PartId.Of("battery"))));
    }

    [Theory]
    [InlineData("Base screws;screws;;PH0", "not said how many")]
    [InlineData("Base screws;screws;0;PH0", "not a number of screws")]
    [InlineData("Base screws;screws;9;H7", "no drive")]
    [InlineData("Base screws;screws;9;PH0;M2", "no length of a screw")]
    [InlineData("Base cover;thingy", "no kind of thing")]
    [InlineData("Base cover;part;;PH0", "Only screws have a drive")]
    [InlineData("Base cover;part;;;;Machine", "Only screws, joints and ties belong")]
    [InlineData("—;part", "no letter and no digit")]
    [InlineData(";part", "It has no name")]
    [InlineData("Base cover;", "not said what kind")]
    public void A_line_that_cannot_be_meant_is_refused_in_a_sentence(string cells, string why) =>
        Read(2, cells).Refusal!.Message.ShouldContain(why);

    [Fact]
    public void What_stands_twice_or_comes_after_what_it_holds_is_refused()
    {
        var lines = Lines(
            "Base cover;part",
            "base  cover;part",
            "Base screws;screws;9;;;Base cover",
            "Foil;tape;;;;Lid"
        );
        lines
            .Select(l => WrittenOrder.Refuse(l, lines) is { } why ? why[..Math.Min(20, why.Length)] : null)
            .ShouldBe([null, "base  cover stands i", "Base cover is off by", "There is no part Lid"]);
    }

    /// <summary>
    /// An order that is possible in a machine, written down and read again, gives a draft by whose plans the machine comes
    /// apart and goes together: nothing breaks, whatever is exchanged.
    /// </summary>
    [Fact]
    public void By_a_list_in_a_possible_order_the_true_machine_comes_apart()
    {
        var machines = Maps
            .ShippedFiles.Select(f => new Learner(ServiceMapReader.Read(f, File.ReadAllText(f)).Map!))
            .Where(m => m.Goals.Count > 0)
            .ToList();
        machines.Count.ShouldBeGreaterThan(6);
        foreach (var machine in machines)
        {
            var model = machine.Truth.Model;
            var worked = new Draft(model, [], [], new CopiedMap(machine.Whole));
            var written = WrittenOrder.Of(worked);
            var read = written.Select(w => Read(w.Line, Cells(w), worked).Value).ToList();
            read.Select(w => WrittenOrder.Refuse(w, read)).ShouldAllBe(why => why == null);
            var order = WrittenOrder.Of(Guid.NewGuid(), Guid.NewGuid(), model, read);
            var draft = new Draft(model, [order], []);
            ServiceMapRules.Check("draft", draft.Map).ShouldBeEmpty(model.Code);
            foreach (var line in written)
            {
                WrittenOrder.Changes(draft, line.Thing).ShouldBe([], $"{model.Code}, {line.Thing.Name}");
            }

            draft.IsContradictedBy(order).ShouldBeFalse(model.Code);
            foreach (var part in machine.Goals.Where(g => written.Any(w => w.Thing.Name == machine.Truth.Part(g).Name)))
            {
                var plan = TeardownPlanner.Plan(draft.Map, [new Goal.LiftOut(part)]).Value;
                machine.Refuses(plan).ShouldBeNull($"{model.Code}, {part}");
            }
        }
    }

    private static string Cells(WrittenThing written) =>
        string.Join(
            ';',
            written.Thing.Name,
            WrittenOrder.KindOf(written.Thing),
            written.Thing.Kind == NamedKind.Screws ? $"{written.Thing.Count}" : "",
            written.Thing.Drive?.Name(),
            written.Thing.LengthMm is { } mm ? mm.ToString(System.Globalization.CultureInfo.InvariantCulture) : "",
            written.Of
        );
}
