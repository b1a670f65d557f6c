using CsCheck;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.BenchLedger;

/// <summary>A machine without a map: what comes off gets its name, and the way back is the way out reversed.</summary>
public sealed class FreeSessionTests
{
    private static Ledger Begin(params Hazard[] hazards)
    {
        var map = FreeMap.Bare(
            new Model
            {
                Code = "wren-12",
                Name = "Wren 12",
                Maker = "Tarnwell",
                Class = DeviceClass.Laptop,
            }
        );
        return Ledger.Begin(
            new Brief(
                TeardownPlanner.Restore(map, [], FreeMap.BareActs(map), Basis.Default with { Hazards = hazards }),
                new Dictionary<string, PartNumber>(),
                new Dictionary<string, PartNumber>()
            )
        );
    }

    private static Entry Proper(Ledger ledger)
    {
        var step = ledger.Current!;
        return step.Act.Kind is ActKind.ReadRemoved or ActKind.ReadFitted
            ? new Entry.NumberRead(step.Number, "MB 7001-0001-A", false)
            : new Entry.Done(step.Number, CautionRead: true);
    }

    private static readonly string[] Names = ["base", "fan", "fan plug", "", "a\u0007b"];
    private static readonly string?[] TriedAfter = [null, "sound", "picture", "nothing-known"];

    private static readonly Gen<NamedThing> AnyThing =
        from kind in Gen.Enum<NamedKind>()
        from count in Gen.Int[-1, 12]
        from name in Gen.Int[0, 4].Select(i => Names[i])
        from exchanged in Gen.Bool
        from check in Gen.Int[0, 3].Select(i => TriedAfter[i])
        select new NamedThing
        {
            Kind = kind,
            Name = name,
            Count = count,
            Exchanged = exchanged,
            Check = check,
        };

    [Fact]
    public void What_held_a_part_is_proposed_and_only_what_is_off_can_have_held_it()
    {
        var ledger = Begin();
        while (ledger.Current!.Act.Kind == ActKind.Prepare)
        {
            ledger = ledger.Add(Proper(ledger)).Value;
        }

        NamedThing Screws(string name) =>
            new()
            {
                Kind = NamedKind.Screws,
                Name = name,
                Count = 4,
            };
        NamedThing Part(string name, params string[] held) =>
            new()
            {
                Kind = NamedKind.Part,
                Name = name,
                Held = held,
            };
        Name(Screws("base"));
        Name(new NamedThing { Kind = NamedKind.Isolation, Name = "battery plug" });
        Said(Part("cover", "undo:fan")).ShouldContain("is not off");
        Said(Part("cover") with { Identity = "No id!" }).ShouldContain("Pick it from the list");
        // The battery's plug belongs to the battery, so of the cover only its screws are likely.
        ledger
            .MayHold()
            .Select(m => (m.Act.ToString(), m.Since))
            .ShouldBe([("isolate:isolation", false), ("undo:base", true)]);
        Name(Part("cover", "undo:base"));
        ledger.MayHold().Select(m => m.Act.ToString()).ShouldBe(["isolate:isolation"]);
        Said(Part(" Cover ")).ShouldContain("is off already");
        // What stands for things nobody has named is nobody's name.
        Name(Part("not named"));
        ledger.Named[^1].Off.Target.ShouldBe("not-named-2");

        void Name(NamedThing thing) => ledger = ledger.Add(new Entry.Named(ledger.Current!.Number, thing)).Value;

        string Said(NamedThing thing) =>
            ledger.Add(new Entry.Named(ledger.Current!.Number, thing)).Refusal?.Message ?? "";
    }

    [Theory]
    [InlineData("coin cell on a wire", "swallowed")]
    [InlineData("Button cell", "swallowed")]
    [InlineData("display", "splinters")]
    [InlineData("lid", "splinters")]
    [InlineData("touchscreen with cable", "splinters")]
    [InlineData("display cable", null)]
    [InlineData("battery, two cells", null)]
    [InlineData("fan", null)]
    public void A_part_carries_the_caution_of_what_it_is_called_while_it_is_out(string name, string? caution)
    {
        var ledger = Begin(Hazard.CrackedGlass);
        ledger.Current!.Cautions.ShouldContain(c => c.Text.Contains("splinters"), "it is somewhere in there");
        var thing = new NamedThing { Kind = NamedKind.Part, Name = name };
        while (!ledger.Add(new Entry.Named(ledger.Current!.Number, thing)).Try(out var named, out _))
        {
            ledger = ledger.Add(Proper(ledger)).Value;
        }

        ledger.AtNaming.ShouldContain(Hazards.CellsSomewhere);
        ledger = ledger.Add(new Entry.Named(ledger.Current!.Number, thing)).Value;
        ledger
            .AtNaming.Contains(Hazards.CellsSomewhere)
            .ShouldBe(!name.StartsWith("battery", StringComparison.Ordinal));
        ledger
            .Plan.Steps.Single(s => s.Act.Kind == ActKind.PutIn)
            .Cautions.Select(c => c.Text.Contains("swallowed") ? "swallowed" : "splinters")
            .ShouldBe(caution is null ? [] : [caution]);
    }

    [Fact]
    public void Whatever_is_named_comes_back_in_reverse_and_nothing_closes_open() =>
        Gen.Select(
                Gen.OneOf(Gen.Const((NamedThing?)null), AnyThing.Select(t => (NamedThing?)t)).Array[0, 60],
                Gen.Bool.Array[60]
            )
            .Sample(
                (things, backs) =>
                {
                    var (ledger, lines) = (Begin(), new List<Entry>());
                    void Do(Entry entry)
                    {
                        if (ledger.Add(entry).Try(out var next, out _))
                        {
                            if (entry is not Entry.TakenBack)
                            {
                                next.Add(new Entry.TakenBack()).Value.Plan.Acts.ShouldBe(ledger.Plan.Acts);
                            }

                            lines.Add(entry);
                            ledger = next;
                        }
                    }

                    foreach (var (i, thing) in things.Index())
                    {
                        Do(
                            thing is not null && ledger.Current is { } now ? new Entry.Named(now.Number, thing)
                            : backs[i] || ledger.Current is null ? new Entry.TakenBack()
                            : Proper(ledger)
                        );
                    }

                    // What is still off goes back, last first.
                    var off = ledger.DoneActs.Where(a => a.Reverse is not null).ToList();
                    ledger.DoneActs.ToList().ForEach(a => off.Remove(off.FindLast(o => o.Reverse == a)));
                    ledger.Off.ShouldBe(off);
                    var from = ledger.DoneSteps;
                    while (ledger.Current is not null)
                    {
                        Do(Proper(ledger));
                    }

                    ledger
                        .DoneActs.Skip(from)
                        .Where(a => off.Exists(o => o.Reverse == a))
                        .ShouldBe(Enumerable.Reverse(off).Select(o => o.Reverse!.Value));
                    ledger.Open.ShouldBeEmpty();
                    Ledger.Replay(Begin().Brief, lines).Plan.Acts.ShouldBe(ledger.Plan.Acts);
                },
                iter: 1000
            );

    [Fact]
    public void What_was_touched_is_tried_afterwards()
    {
        var ledger = Begin();
        while (ledger.Current is { Act.Kind: ActKind.Prepare })
        {
            ledger = ledger.Add(Proper(ledger)).Value;
        }

        ledger = ledger
            .Add(
                new Entry.Named(
                    ledger.Current!.Number,
                    new NamedThing
                    {
                        Kind = NamedKind.Joint,
                        Name = "speaker plug",
                        Joint = JointKind.WirePlug,
                        Check = "sound",
                    }
                )
            )
            .Value;
        ledger.JointsOpen.ShouldHaveSingleItem();
        ledger
            .Plan.Acts.Where(a => a.Kind == ActKind.Check)
            .Select(a => a.Target)
            .ShouldBe(["start", "charge", "sound"]);
        ledger.Instead(Act.Check(CheckId.Of("sound"))).Refusal.ShouldNotBeNull();
        ledger.Joinable().ShouldBeEmpty();
    }

    [Fact]
    public void A_thing_is_written_and_read_as_it_was_named()
    {
        var thing = new NamedThing
        {
            Kind = NamedKind.Screws,
            Name = "hinge, left",
            Count = 3,
            Drive = Drive.T5,
            LengthMm = 4.5,
        };
        NamedThing.Parse(thing.ToText()).ShouldBe(thing);
    }
}
