using System.Globalization;
using Zenrik.Core.Fit;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Tests.Fit;

/// <summary>
/// What fits what. Sizes, keys, contacts and rates: PCI-SIG M.2 and JEDEC, from memory. Everything else: common practice,
/// no published source.
/// </summary>
public sealed class FitTests
{
    private const string Y = "Fits";
    private const string If = "FitsWithConditions";
    private const string No = "DoesNotFit";
    private const string Unknown = "NotKnown";

    // model, slot, item, what else is in the unit, verdict, words one reason must have
    [Theory]
    // Memory: generation, form, speed.
    [InlineData(
        "sandpiper-14",
        "memory-a",
        "memory DDR4 3200MT 16GB sodimm",
        "memory-b: memory DDR4 3200MT 16GB sodimm",
        Y,
        "260 contacts"
    )]
    [InlineData("sandpiper-14", "memory-a", "memory DDR5 5600MT 16GB sodimm", "", No, "262")]
    [InlineData("sandpiper-14", "memory-a", "memory DDR3 1600MT 8GB sodimm", "", No, "204")]
    [InlineData("cormorant-15", "memory-a", "memory DDR4 3200MT 16GB sodimm", "", No, "notch is elsewhere")]
    [InlineData(
        "cormorant-15",
        "memory-a",
        "memory DDR5 5600MT 32GB sodimm",
        "memory-b: memory DDR5 5600MT 32GB sodimm",
        Y,
        "both channels"
    )]
    [InlineData(
        "cormorant-15",
        "memory-a",
        "memory DDR5 5200MT 32GB sodimm",
        "memory-b: memory DDR5 5600MT 32GB sodimm",
        If,
        "5200 MT/s (41600 MB/s)"
    )]
    [InlineData(
        "sandpiper-14",
        "memory-a",
        "memory DDR4 2666MT 16GB sodimm",
        "memory-b: memory DDR4 3200MT 16GB sodimm",
        If,
        "2666 MT/s (21328 MB/s)"
    )]
    [InlineData(
        "sandpiper-14",
        "memory-a",
        "memory DDR4 3600MT 16GB sodimm",
        "memory-b: memory DDR4 3200MT 16GB sodimm",
        Y,
        "runs at 3200"
    )]
    [InlineData(
        "sandpiper-14",
        "memory-a",
        "memory DDR4 3200MT 16GB dimm",
        "memory-b: memory DDR4 3200MT 16GB sodimm",
        No,
        "desktop"
    )]
    [InlineData(
        "grebe-15",
        "memory-a",
        "memory DDR3 1600MT 8GB sodimm",
        "memory-b: memory DDR3 1600MT 8GB sodimm",
        Y,
        "16 GB in all"
    )]
    [InlineData("grebe-15", "memory-a", "memory DDR4 3200MT 8GB sodimm", "", No, "DDR3")]
    [InlineData("thimble-10-k", "memory", "memory DDR3 1600MT 4GB sodimm", "", Y, "4 GB in all")]
    // Memory: soldered.
    [InlineData("plover-12", "memory", "memory DDR5 5600MT 16GB sodimm", "", No, "soldered")]
    [InlineData("thimble-11", "memory", "memory DDR4 3200MT 8GB sodimm", "", No, "soldered")]
    [InlineData("sandpiper-13-turn", "memory", "memory DDR5 5600MT 32GB sodimm", "", No, "soldered")]
    // Memory: size and channels.
    [InlineData(
        "cormorant-15",
        "memory-a",
        "memory DDR5 5600MT 48GB sodimm",
        "memory-b: memory DDR5 5600MT 48GB sodimm",
        If,
        "96 GB in all is above the maker's 64"
    )]
    [InlineData(
        "cormorant-15",
        "memory-a",
        "memory DDR5 5600MT 64GB sodimm",
        "memory-b: memory DDR5 5600MT 64GB sodimm",
        No,
        "more than the 96"
    )]
    [InlineData(
        "sandpiper-14",
        "memory-a",
        "memory DDR4 3200MT 64GB sodimm",
        "memory-b: memory DDR4 3200MT 16GB sodimm",
        Unknown,
        "controller takes would settle it"
    )]
    [InlineData(
        "coot-14",
        "memory-a",
        "memory DDR4 3200MT 32GB sodimm",
        "memory-b: memory DDR4 3200MT 8GB sodimm",
        Unknown,
        "above the maker's 32"
    )]
    [InlineData(
        "coot-14",
        "memory-a",
        "memory DDR4 3200MT 8GB sodimm",
        "memory-b: memory DDR4 3200MT 16GB sodimm",
        If,
        "differ in size"
    )]
    [InlineData("coot-14", "memory-a", "memory DDR4 3200MT 16GB sodimm", "", If, "one channel")]
    [InlineData("coot-14", "memory-b", "memory DDR4 3200MT 16GB sodimm", "", If, "single stick goes into memory-a")]
    [InlineData(
        "coot-14",
        "memory-a",
        "memory DDR4 3200MT 16GB sodimm",
        "memory-b: memory DDR4 3200MT sodimm",
        Unknown,
        "other slot holds"
    )]
    [InlineData("thimble-10-k", "memory", "memory DDR3 1600MT 8GB sodimm", "", Unknown, "above the maker's 4")]
    // Memory: unknown facts.
    [InlineData("coot-14", "memory-a", "memory 3200MT 16GB sodimm", "", Unknown, "the generation")]
    [InlineData("coot-14", "memory-a", "memory DDR4 16GB sodimm", "", Unknown, "speed in MT/s")]
    [InlineData("coot-14", "memory-a", "memory DDR4 3200MT sodimm", "", Unknown, "size in GB")]
    [InlineData("coot-14", "memory-a", "drive m2 2280 key-M nvme single", "", No, "the slot takes memory")]
    [InlineData("coot-14", "memory-a", "", "", Unknown, "Nothing is known of this number")]
    // Drives: lengths.
    // What a machine takes from outside.
    [InlineData("sandpiper-14", "charger", "charger plug-D7 19.5V 65W says", "", Y, "Plug D7")]
    [InlineData("sandpiper-14", "charger", "charger plug-D7 19.5V 65W mute", "", If, "asks the charger who it is")]
    [InlineData("coot-14", "charger", "charger plug-D7 19.5V 65W mute", "", Y, "19.5 V matches")]
    [InlineData("thimble-11", "charger", "charger plug-D7 19.5V 65W says", "", No, "Its plug is D7")]
    [InlineData("sandpiper-14", "drive-a", "drive m2 2280 key-M nvme single 512GB", "", Y, "2280 reaches")]
    [InlineData("sandpiper-14", "drive-a", "drive m2 2242 key-M nvme single 512GB", "", If, "mount moved")]
    [InlineData("sandpiper-14", "drive-a", "drive m2 2230 key-M nvme single 512GB", "", If, "2242 or 2280")]
    [InlineData("coot-14", "drive", "drive m2 2242 key-M nvme single 512GB", "", If, "mount moved")]
    [InlineData("sandpiper-13-turn", "drive", "drive m2 2242 key-M nvme single 512GB", "", If, "extender")]
    [InlineData("plover-12", "drive", "drive m2 2230 key-M nvme single 512GB", "", Y, "2230 reaches")]
    [InlineData("plover-12", "drive", "drive m2 2280 key-M nvme single 512GB", "", No, "2230")]
    [InlineData("thimble-11", "drive", "drive m2 2242 key-M nvme single 64GB", "", No, "2230")]
    [InlineData("thimble-11-r", "storage", "drive m2 2230 key-M nvme single 64GB", "", Y, "key M")]
    // Drives: keys and buses.
    [InlineData("sandpiper-14", "drive-a", "drive m2 2280 key-B+M sata single 512GB", "", No, "would not be seen")]
    [InlineData(
        "sandpiper-14",
        "drive-a",
        "drive m2 2280 key-B+M nvme single 512GB",
        "",
        Y,
        "Notch B+M goes over key M"
    )]
    [InlineData("sandpiper-14", "drive-a", "drive m2 2280 key-B nvme single 512GB", "", No, "Notch B does not go")]
    [InlineData("sandpiper-14", "drive-a", "drive m2 2280 key-E nvme single 512GB", "", No, "Notch E does not go")]
    [InlineData(
        "sandpiper-14",
        "drive-b",
        "drive m2 2242 key-B+M sata double 512GB",
        "drive-b: drive m2 2242 key-M nvme double 256GB",
        Y,
        "SATA is what"
    )]
    [InlineData("thimble-10-k", "storage", "drive m2 2242 key-B+M sata double 32GB", "", Y, "key B")]
    [InlineData(
        "thimble-10-k",
        "storage",
        "drive m2 2242 key-M nvme double 32GB",
        "",
        No,
        "Notch M does not go over key B"
    )]
    // Drives: sides.
    [InlineData("sandpiper-14", "drive-a", "drive m2 2280 key-M nvme double 1000GB", "", No, "1 mm of height")]
    [InlineData("sandpiper-13-turn", "drive", "drive m2 2280 key-M nvme double 1000GB", "", No, "sign for it")]
    [InlineData("plover-12", "drive", "drive m2 2230 key-M nvme double 1000GB", "", No, "sign for it")]
    [InlineData("cormorant-15", "drive-a", "drive m2 2280 key-M nvme double 4000GB", "", Y, "NVMe is what")]
    [InlineData("sandpiper-14", "drive-a", "drive m2 2280 key-M nvme 1000GB", "", Unknown, "both sides")]
    [InlineData("cormorant-15", "drive-a", "drive m2 2280 key-M nvme 1000GB", "", Y, "2280")]
    // Drives: cases and heights.
    [InlineData("grebe-15", "drive", "drive case 7mm sata 480GB", "", If, "7 mm high in a bay of 9.5")]
    [InlineData("grebe-15", "drive", "drive case 9.5mm sata 480GB", "", Y, "fills the bay")]
    [InlineData("grebe-15", "drive", "drive case 12.5mm sata 480GB", "", No, "the bay has 9.5")]
    [InlineData(
        "cormorant-15",
        "bay-drive",
        "drive case 9.5mm sata 480GB",
        "battery-small: battery Q8 11.4V 64Wh",
        No,
        "the bay has 7"
    )]
    [InlineData("grebe-15", "drive", "drive case 9.5mm sata spinning 480GB", "", If, "rubber caddy")]
    [InlineData("grebe-15", "drive", "drive m2 2280 key-M nvme single 480GB", "", No, "M.2 card")]
    [InlineData("sandpiper-14", "drive-a", "drive case 7mm sata 480GB", "", No, "2.5-inch case")]
    [InlineData("grebe-15", "drive", "drive case sata 480GB", "", Unknown, "height in mm")]
    [InlineData("sandpiper-14", "drive-a", "drive 512GB nvme", "", Unknown, "M.2 card or a 2.5-inch")]
    [InlineData(
        "sandpiper-14",
        "drive-a",
        "drive m2 2280 key-M nvme single 256GB",
        "drive-a: drive m2 2280 key-M nvme single 512GB",
        If,
        "less than the 512"
    )]
    // The other build.
    [InlineData(
        "cormorant-15",
        "bay-drive",
        "drive case 7mm sata 480GB",
        "battery-large: battery R10 11.4V 97Wh",
        If,
        "the large battery must go"
    )]
    [InlineData(
        "cormorant-15",
        "battery-large",
        "battery R10 pack-wide-97 11.4V 97Wh 6c",
        "battery-small: battery R10 11.4V 64Wh;bay-drive: drive case 7mm sata 480GB",
        If,
        "2.5-inch"
    )]
    [InlineData(
        "cormorant-15",
        "battery-large",
        "battery R10 pack-wide-97 11.4V 97Wh 6c",
        "battery-large: battery R10 11.4V 97Wh",
        Y,
        "Plug R10"
    )]
    // Radios.
    [InlineData("sandpiper-14", "radio", "radio 2230 key-E own", "", Y, "Notch E")]
    [InlineData("sandpiper-14", "radio", "radio 2230 key-A+E own", "", Y, "Notch A+E goes over key E")]
    [InlineData("sandpiper-14", "radio", "radio 2230 key-A own", "", No, "Notch A does not")]
    [InlineData("grebe-15", "radio", "radio 2230 key-A+E own", "", Y, "key A")]
    [InlineData("grebe-15", "radio", "radio 2230 key-E own", "", No, "Notch E does not")]
    [InlineData("coot-14", "radio", "radio 2230 key-E processor", "", No, "not wired to one")]
    [InlineData("sandpiper-14", "radio", "radio 2230 key-E processor", "", Y, "which the card needs")]
    [InlineData("sandpiper-14", "radio", "radio 2230 key-E", "", Unknown, "processor's own radio block")]
    [InlineData(
        "sandpiper-14",
        "radio",
        "radio 2230 key-E own plain",
        "radio: radio 2230 key-E own fleet",
        If,
        "managed fleet"
    )]
    [InlineData("sandpiper-14", "radio", "radio 2242 key-E own", "", No, "2230")]
    [InlineData("cormorant-15", "radio", "radio 2230 key-E own", "", No, "soldered")]
    // Batteries.
    [InlineData("sandpiper-14", "battery", "battery Q8 pack-flat-54 11.4V 54Wh 3c", "", Y, "Plug Q8")]
    [InlineData("sandpiper-14", "battery", "battery Q8 pack-flat-54 11.55V 57Wh 3c", "", Y, "11.55 V")]
    [InlineData("sandpiper-14", "battery", "battery Q8 pack-flat-54 11.4V 42Wh 3c", "", If, "runs shorter")]
    [InlineData("sandpiper-14", "battery", "battery Q8 pack-flat-42 11.4V 42Wh 3c", "", No, "Shape flat-42")]
    [InlineData("sandpiper-14", "battery", "battery M7 pack-flat-54 11.4V 54Wh 3c", "", No, "Plug M7")]
    [InlineData("sandpiper-14", "battery", "battery Q8 pack-flat-54 7.6V 54Wh 4c", "", No, "7.6 V")]
    [InlineData("sandpiper-14", "battery", "battery Q8 pack-flat-54 11.4V 54Wh 3c unbranded", "", If, "70 in 100")]
    [InlineData("sandpiper-14", "battery", "battery Q8 11.4V 54Wh 3c", "", Unknown, "shape of the pack")]
    [InlineData("grebe-15", "battery", "battery bay-9 pack-block-62 11.1V 104Wh 6c", "", If, "above 100 Wh")]
    // Coin cells and what only a list decides.
    [InlineData("sandpiper-14", "coin-cell", "coin 3V listed", "", Y, "listed")]
    [InlineData("sandpiper-14", "coin-cell", "coin 3.6V listed", "", No, "rechargeable")]
    [InlineData(
        "sandpiper-14",
        "keyboard",
        "keyboard enter-key=tall pointing-stick=none listed",
        "look enter-key=tall;look pointing-stick=none",
        Y,
        "tall"
    )]
    [InlineData(
        "sandpiper-14",
        "keyboard",
        "keyboard enter-key=wide pointing-stick=none listed",
        "look enter-key=tall;look pointing-stick=none",
        No,
        "this part wide"
    )]
    [InlineData(
        "sandpiper-14",
        "keyboard",
        "keyboard enter-key=tall pointing-stick=none listed",
        "look pointing-stick=none",
        Unknown,
        "Look at the unit: which shape has the Enter key?"
    )]
    [InlineData(
        "sandpiper-14",
        "keyboard",
        "keyboard pointing-stick=none listed",
        "look enter-key=tall;look pointing-stick=none",
        Unknown,
        "The unit has tall"
    )]
    [InlineData(
        "sandpiper-14",
        "display",
        "display touch=touch cellular-antennas=none listed",
        "look touch=plain;look cellular-antennas=none",
        No,
        "this part touch glass"
    )]
    [InlineData("sandpiper-14", "board", "board listed", "", Y, "listed")]
    [InlineData("sandpiper-14", "board", "board", "", Unknown, "number on the part that is in")]
    [InlineData("sandpiper-14", "fan", "fan listed", "", Y, "listed")]
    [InlineData(
        "cormorant-15",
        "power-port",
        "power plug-D7 19.5V 130W listed",
        "power-port: power plug-D7 19.5V 130W",
        Y,
        "listed"
    )]
    [InlineData(
        "cormorant-15",
        "power-port",
        "power plug-D7 19.5V 65W listed",
        "power-port: power plug-D7 19.5V 130W",
        If,
        "charges slower"
    )]
    [InlineData(
        "cormorant-15",
        "power-port",
        "power plug-D7 15V 130W listed",
        "power-port: power plug-D7 19.5V 130W",
        No,
        "15 V instead of 19.5"
    )]
    public void The_verdict_and_its_reason(
        string model,
        string slot,
        string item,
        string unit,
        string verdict,
        string words
    )
    {
        var answer = Fitting.Judge(Question(model, slot, item, unit)).Value;
        answer.Verdict.ToString().ShouldBe(verdict, string.Join("\n", answer.Reasons));
        answer.Reasons.ShouldContain(r => r.Text.Contains(words), string.Join("\n", answer.Reasons));
    }

    [Fact]
    public void Facts_of_standards_are_the_published_ones()
    {
        MemoryRules.Contacts("DDR3").ShouldBe(204); // JEDEC MO-268, from memory
        MemoryRules.Contacts("DDR4").ShouldBe(260); // JEDEC MO-310, from memory
        MemoryRules.Contacts("DDR5").ShouldBe(262); // JEDEC MO-337, from memory
        MemoryRules.PeakMegabytes(3200).ShouldBe(25600); // PC4-25600, its trade name
        BatteryRules.AirLineWh.ShouldBe(100); // IATA Dangerous Goods Regulations, from memory
    }

    [Fact]
    public void A_second_side_is_refused_until_somebody_signs_and_never_where_the_house_refuses()
    {
        var question = Question("sandpiper-13-turn", "drive", "drive m2 2280 key-M nvme double 1000GB", "");
        var refused = Fitting.Judge(question).Value;
        refused.Verdict.ShouldBe(FitVerdict.DoesNotFit);
        refused.Waivable.ShouldBe(["double-sided-drive"]);

        var signed = Fitting.Judge(question with { Waived = new HashSet<string> { "double-sided-drive" } }).Value;
        signed.Verdict.ShouldBe(FitVerdict.FitsWithConditions);

        var strict = HousePractice.Default.With(RuleBook.DoubleSidedDrive, DoubleSidedDrive.Refuse);
        Fitting
            .Judge(
                question with
                {
                    Practice = strict,
                    Waived = new HashSet<string> { "double-sided-drive" },
                }
            )
            .Value.Verdict.ShouldBe(FitVerdict.DoesNotFit);
    }

    [Fact]
    public void What_nobody_can_waive_is_not_offered_for_signing()
    {
        var wrongLength = Question("sandpiper-13-turn", "drive", "drive m2 22110 key-M nvme double 1000GB", "");
        Fitting.Judge(wrongLength).Value.Waivable.ShouldBeEmpty();
    }

    [Fact]
    public void House_rules_decide_about_memory_above_the_maximum_and_unbranded_batteries()
    {
        var memory = Question(
            "cormorant-15",
            "memory-a",
            "memory DDR5 5600MT 48GB sodimm",
            "memory-b: memory DDR5 5600MT 48GB sodimm"
        );
        Fitting
            .Judge(
                memory with
                {
                    Practice = HousePractice.Default.With(RuleBook.MemoryAboveMaximum, MemoryAboveMaximum.Refuse),
                }
            )
            .Value.Verdict.ShouldBe(FitVerdict.DoesNotFit);
        var battery = Question("sandpiper-14", "battery", "battery Q8 pack-flat-54 11.4V 54Wh 3c unbranded", "");
        Fitting
            .Judge(
                battery with
                {
                    Practice = HousePractice.Default.With(RuleBook.UnbrandedBatteries, UnbrandedBatteries.BrandOnly),
                }
            )
            .Value.Verdict.ShouldBe(FitVerdict.DoesNotFit);
    }

    [Fact]
    public void The_workshop_s_own_record_is_evidence_for_and_against()
    {
        var question = Question("sandpiper-14", "fan", "fan listed", "");
        Fitting
            .Judge(question with { Record = new FitRecord(4, 0) })
            .Value.Reasons.ShouldContain(r => r.Text.Contains("4 times") && r.Weight == FitWeight.For);
        Fitting
            .Judge(question with { Record = new FitRecord(4, 1) })
            .Value.Verdict.ShouldBe(FitVerdict.FitsWithConditions);
    }

    [Fact]
    public void A_firmware_list_lets_through_what_is_on_it_in_any_spelling()
    {
        var question = Question("coot-14", "radio", "radio 2230 key-E own", "");
        question = question with
        {
            Model = question.Model with
            {
                Specifications =
                [
                    .. question.Model.Specifications.Select(s =>
                        s is Specification.Radio radio ? radio with { OnlyNumbers = ["TW-4W6N-61200"] } : s
                    ),
                ],
            },
        };
        Fitting.Judge(question with { Number = "tw 4w6n 61200" }).Value.Verdict.ShouldBe(FitVerdict.Fits);
        Fitting.Judge(question with { Number = "TW-4W6N-61201" }).Value.Verdict.ShouldBe(FitVerdict.DoesNotFit);
    }

    [Fact]
    public void A_slot_the_model_does_not_have_is_named_with_those_it_has()
    {
        var refusal = Fitting.Judge(Question("coot-14", "keyboard", "keyboard listed", "")).Refusal!;
        refusal.Message.ShouldContain("no slot \"keyboard\"");
        refusal.Message.ShouldContain("memory-a");
    }

    // What the shipped maps do not have: the slot's own facts are given here, in the same words as an item's.
    [Theory]
    [InlineData("memory DDR3 1600MT 4GB sodimm", "memory DDR3L 1600MT 8GB sodimm", "", Y, "runs at 1.5 V as well")]
    [InlineData("memory DDR3L 1600MT 4GB sodimm", "memory DDR3 1600MT 8GB sodimm", "", No, "1.35 V alone")]
    [InlineData("memory DDR4 3200MT stick-8 sodimm", "memory DDR4 3200MT 16GB sodimm", "", No, "takes 8 at most")]
    [InlineData("memory DDR4 3200MT solder-8 sodimm", "memory DDR4 3200MT 8GB sodimm", "", Y, "With the 8 GB soldered")]
    [InlineData("memory DDR4 3200MT solder-8 sodimm", "memory DDR4 3200MT 16GB sodimm", "", If, "matching part")]
    [InlineData("drive msata sata", "drive msata sata 64GB", "", Y, "SATA is what")]
    [InlineData("drive msata sata", "drive m2 2242 key-B+M sata single 64GB", "", No, "The slot takes an mSATA")]
    [InlineData("drive bay 9.5mm sata", "drive case 9.5mm sata 480GB", "", If, "by a caddy of the bay's height")]
    [InlineData(
        "drive m2 2280 key-M",
        "drive m2 2280 key-M nvme single 480GB",
        "",
        Unknown,
        "whether it carries NVMe or SATA"
    )]
    [InlineData("drive m2 2280 key-M nvme", "drive m2 2280 key-B+M nvme single 480GB", "", Y, "half the rate")]
    [InlineData("drive m2 2260 key-M nvme", "drive m2 2280 key-M nvme single 480GB", "", No, "2280")]
    [InlineData("radio half", "radio half own", "", Y, "half-size card for a half-size slot")]
    [InlineData("radio half", "radio 2230 key-E own", "", No, "this is an M.2 card")]
    [InlineData("radio 2230 key-E processor 2th", "radio 2230 key-E processor 2th", "", Y, "which the card needs")]
    [InlineData("radio 2230 key-E processor 2th", "radio 2230 key-E processor 1th", "", No, "generation 1")]
    [InlineData(
        "cellular 2242 key-B",
        "cellular 2242 key-B listed",
        "look cellular-antennas=fitted",
        Y,
        "Antennas for it"
    )]
    [InlineData("cellular 2242 key-B", "cellular 2242 key-B listed", "look cellular-antennas=none", If, "No antennas")]
    [InlineData("cellular 2242 key-B", "cellular 2242 key-B listed", "", Unknown, "Look at the unit")]
    [InlineData("cellular 2242 key-B", "cellular 2242 key-E listed", "look cellular-antennas=fitted", No, "over key B")]
    [InlineData("charger plug-D7 19.5V 65W", "charger plug-D7 20V 90W", "", Y, "20 V matches")]
    [InlineData("charger plug-D7 19.5V 65W", "charger plug-D7 20.1V 90W", "", No, "the machine takes 19.5")]
    [InlineData("charger plug-D7 19.5V 65W", "charger plug-D7 19.5V 45W", "", If, "45 W instead of 65")]
    [InlineData("charger plug-D7 19.5V 65W", "charger plug-D8 19.5V 65W", "", No, "Its plug is D8")]
    [InlineData(
        "charger plug-D7 19.5V 65W says",
        "charger plug-D7 19.5V 65W mute",
        "",
        If,
        "asks the charger who it is"
    )]
    [InlineData("charger plug-C 45W agrees", "charger plug-C 65W agrees", "", Y, "Plug C")]
    [InlineData("charger plug-C 45W agrees", "charger plug-C 65W one-voltage", "", No, "one voltage")]
    [InlineData("display 30pin 14inch", "display 30pin 14inch listed", "", Y, "30 contacts match")]
    [InlineData(
        "display 30pin 14inch",
        "display 40pin 14inch listed",
        "",
        No,
        "40 contacts, and the cable in the machine 30"
    )]
    [InlineData("display 30pin 14inch", "display 30pin 15.6inch listed", "", No, "15.6 inch in a frame for 14.0")]
    [InlineData("coin 3V", "coin 3V charged listed", "", No, "flat in weeks")]
    [InlineData("coin 3V charged", "coin 3V primary listed", "", No, "leak or burst")]
    // A pack's voltage names its cells: 10.8, 11.1 V and 11.25 V are three ordinary ones, 11.4 and 11.55 V three of the higher kind.
    [InlineData("battery X 10.8V 48Wh pack-a", "battery X 11.1V 50Wh pack-a", "", Y, "11.1 V")]
    [InlineData("battery X 11.1V 48Wh pack-a", "battery X 11.4V 50Wh pack-a", "", No, "and the board charges 11.1 V")]
    [InlineData("battery X 7.6V 48Wh pack-a", "battery X 7.2V 50Wh pack-a", "", No, "7.2 V")]
    [InlineData("battery X 7.6V 48Wh pack-a", "battery X 11.4V 50Wh pack-a", "", No, "11.4 V")]
    public void The_slot_s_own_facts_decide(string slot, string item, string unit, string verdict, string words)
    {
        var answer = Fitting.Judge(OwnSlot(slot, item, unit)).Value;
        answer.Verdict.ToString().ShouldBe(verdict, string.Join("\n", answer.Reasons));
        answer.Reasons.ShouldContain(r => r.Text.Contains(words), string.Join("\n", answer.Reasons));
    }

    [Fact]
    public void A_graphics_chip_and_its_heatsink_belong_together()
    {
        var board = Question("sandpiper-14", "board", "board graphics listed", "heatsink: heatsink no-graphics");
        Fitting.Judge(board).Value.Verdict.ShouldBe(FitVerdict.DoesNotFit);
        var same = Question("sandpiper-14", "board", "board graphics listed", "heatsink: heatsink graphics");
        Fitting.Judge(same).Value.Verdict.ShouldBe(FitVerdict.Fits);
    }

    /// <summary>A radio that runs in every laptop runs in a Chromebook only when its maker lists it.</summary>
    [Fact]
    public void A_chromebook_takes_the_radios_its_maker_lists()
    {
        var card = Question("thimble-11-r", "radio", "radio 2230 key-E own", "");
        Fitting
            .Judge(card)
            .Value.Reasons.ShouldContain(r => r.Weight == FitWeight.Against && r.Text.Contains("not listed"));
        Fitting
            .Judge(card with { Listed = true })
            .Value.Reasons.ShouldNotContain(r => r.Weight == FitWeight.Against && r.Text.Contains("not listed"));
    }

    [Fact]
    public void What_was_too_small_is_not_answered_by_the_same_size()
    {
        var drive = Question(
            "sandpiper-14",
            "drive-a",
            "drive m2 2280 key-M nvme single 256GB",
            "drive-a: drive m2 2280 key-M nvme single 256GB"
        );
        Fitting.Judge(drive).Value.Verdict.ShouldBe(FitVerdict.Fits);
        Fitting.Judge(drive with { TooSmall = true }).Value.Verdict.ShouldBe(FitVerdict.DoesNotFit);
    }

    [Fact]
    public void Memory_beside_a_slot_nobody_has_looked_into_is_not_known()
    {
        var memory = Question("coot-14", "memory-a", "memory DDR4 3200MT 8GB sodimm", "");
        Fitting
            .Judge(memory with { NotKnown = new HashSet<string> { "memory-b" } })
            .Value.Verdict.ShouldBe(FitVerdict.NotKnown);
    }

    [Fact]
    public void What_a_person_has_listed_fits_unless_something_known_speaks_against_it()
    {
        var by = new Listing("Odd Vesterheim", new DateOnly(2026, 11, 25));
        var unknown = Question("sandpiper-14", "battery", "battery Q8", "");
        Fitting.Judge(unknown).Value.Verdict.ShouldBe(FitVerdict.NotKnown);
        var listed = Fitting.Judge(unknown with { Listed = true, ListedBy = by }).Value;
        listed.Verdict.ShouldBe(FitVerdict.Fits);
        listed.Reasons.ShouldContain(r =>
            r.Evidence == Evidence.Person && r.Text.Contains("by Odd Vesterheim on 25 Nov 2026")
        );
        var wrong = Question("sandpiper-14", "battery", "battery M7 pack-flat-54", "");
        Fitting.Judge(wrong with { Listed = true, ListedBy = by }).Value.Verdict.ShouldBe(FitVerdict.DoesNotFit);
        var unseen = Question("sandpiper-14", "keyboard", "keyboard", "");
        Fitting
            .Judge(unseen with { Listed = true, ListedBy = by })
            .Value.Verdict.ShouldBe(FitVerdict.NotKnown, "the unit has still to be looked at");
    }

    [Fact]
    public void Three_in_vain_and_none_that_stayed_is_a_warning_off()
    {
        var fan = Question("sandpiper-14", "fan", "fan listed", "");
        Verdict(2, 2).ShouldBe(FitVerdict.FitsWithConditions);
        Verdict(3, 3).ShouldBe(FitVerdict.DoesNotFit);
        Verdict(4, 3).ShouldBe(FitVerdict.FitsWithConditions);

        FitVerdict Verdict(int fitted, int failed) =>
            Fitting.Judge(fan with { Record = new FitRecord(fitted, failed) }).Value.Verdict;
    }

    /// <summary>Nominal volts of one cell: 3.6 and 3.7 charged to 4.2 V, 3.8 and 3.85 to 4.35 and 4.4 (data sheets, from memory).</summary>
    [Fact]
    public void The_voltage_names_the_cells_for_every_pack()
    {
        for (var series = 1; series <= 4; series++)
        {
            foreach (var (cell, higher) in new[] { (3.6, false), (3.7, false), (3.8, true), (3.85, true) })
            {
                BatteryRules.CellClass(series * cell).ShouldBe((series, higher));
            }
        }

        BatteryRules.CellClass(5).ShouldBeNull();
    }

    [Fact]
    public void What_is_entered_is_what_is_kept_and_nonsense_names_its_field()
    {
        foreach (var kind in Enum.GetValues<ItemKind>())
        {
            var entered = SpecificationForm
                .Of(kind)
                .ToDictionary(
                    f => f.Name,
                    f =>
                        f.Choices.Count > 0 ? f.Choices[^1].Id
                        : f.Most is { } most ? most.ToString(CultureInfo.InvariantCulture)
                        : (string?)"Q8"
                );
            var read = SpecificationForm.Read(kind, entered).Value;
            SpecificationForm.Values(read).ShouldBe(entered.ToDictionary(e => e.Key, e => e.Value!), ignoreOrder: true);
            foreach (var field in SpecificationForm.Of(kind))
            {
                var wrong = field is { Choices: [], Least: null } ? new string('x', 41) : "-1";
                SpecificationForm
                    .Read(kind, new Dictionary<string, string?>(entered) { [field.Name] = wrong })
                    .Refusal!.Message.ShouldStartWith(field.Label);
            }
        }
    }

    [Fact]
    public void Upgrade_paths_name_every_slot_with_its_limits()
    {
        var paths = UpgradePaths.Of(Maps.Shipped("cormorant-15"), new Dictionary<string, ItemSpecification>());
        paths
            .First(p => p.Slot == "memory-a")
            .Room.ShouldBe("DDR5 up to 5600 MT/s; 64 GB in all by the maker, 96 by the processor's controller");
        paths.First(p => p.Slot == "radio").Room.ShouldContain("soldered");
        paths.First(p => p.Slot == "bay-drive").Room.ShouldBe("2.5 inch, 7 mm");
    }

    /// <summary>A question about a slot described like an item: "stick-8" at most 8 GB a stick, "solder-8" 8 GB soldered.</summary>
    private static FitQuestion OwnSlot(string slot, string item, string unit)
    {
        var question = Question("sandpiper-14", "own", item, unit);
        var words = slot.Split(' ');
        var values = Values(words);
        string? After(string prefix) =>
            words.FirstOrDefault(w => w.StartsWith(prefix, StringComparison.Ordinal))?[prefix.Length..];
        values["stickGb"] = After("stick-");
        values["solderedGb"] = After("solder-");
        values["form"] =
            words.Contains("bay") ? "optical-bay"
            : words.Contains("msata") ? "m-sata"
            : words.Contains("half") ? "half-size"
            : null;
        values["lengthsMm"] = values["lengthMm"];
        values["buses"] = values["bus"];
        values["processorRadio"] = values["needsProcessorRadio"];
        var specification = SlotFacts.Read("own", Enum.Parse<SpecificationKind>($"{KindOf(words)}"), values).Value;
        return question with
        {
            Model = question.Model with
            {
                Specifications =
                [
                    .. question.Model.Specifications.Where(s => s.Kind != specification.Kind),
                    specification,
                ],
            },
        };
    }

    private static FitQuestion Question(string model, string slot, string item, string unit)
    {
        var inside = new Dictionary<string, ItemSpecification>();
        var looks = new Dictionary<string, string>();
        foreach (var entry in unit.Split(';', StringSplitOptions.RemoveEmptyEntries))
        {
            if (entry.StartsWith("look ", StringComparison.Ordinal))
            {
                var look = entry[5..].Split('=');
                looks[look[0]] = look[1];
            }
            else
            {
                var at = entry.Split(": ");
                inside[at[0]] = Item(at[1])!;
            }
        }

        return new FitQuestion
        {
            Model = Maps.Shipped(model),
            Slot = slot,
            Item = Item(item),
            Listed = item.Contains("listed"),
            Inside = inside,
            Looks = looks,
        };
    }

    /// <summary>"memory DDR4 3200MT 16GB sodimm": what is not said is not known.</summary>
    private static ItemSpecification? Item(string text)
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0)
        {
            return null;
        }

        return SpecificationForm.Read(KindOf(words), Values(words)).Value;
    }

    private static ItemKind KindOf(string[] words) =>
        words[0] == "coin" ? ItemKind.CoinCell : Enum.Parse<ItemKind>(words[0], ignoreCase: true);

    /// <summary>What was said, by the field of a form.</summary>
    private static Dictionary<string, string?> Values(string[] words)
    {
        string? Unit(string suffix) =>
            words
                .FirstOrDefault(w => w.EndsWith(suffix, StringComparison.Ordinal) && char.IsDigit(w[0]))
                ?[..^suffix.Length];
        string? After(string prefix) =>
            words.FirstOrDefault(w => w.StartsWith(prefix, StringComparison.Ordinal))?[prefix.Length..];
        string? Either(string yes, string? no = null) =>
            words.Contains(yes) ? "true"
            : words.Contains(no) ? "false"
            : null;
        string? OneOf(params string[] these) => words.FirstOrDefault(these.Contains);

        var values = new Dictionary<string, string?>
        {
            ["generation"] = words.FirstOrDefault(w => w.StartsWith("DDR", StringComparison.Ordinal)),
            ["memoryForm"] = OneOf("dimm", "sodimm"),
            ["megaTransfers"] = Unit("MT"),
            ["gb"] = Unit("GB"),
            ["driveForm"] = OneOf("m2", "msata", "case") switch
            {
                "msata" => "m-sata",
                "case" => "two-and-a-half-inch",
                var other => other,
            },
            ["lengthMm"] = words
                .FirstOrDefault(w =>
                    w.Length is 4 or 5 && w.StartsWith("22", StringComparison.Ordinal) && w.All(char.IsDigit)
                )
                ?[2..],
            ["key"] = After("key-"),
            ["bus"] = OneOf("nvme", "sata"),
            ["doubleSided"] = Either("double", "single"),
            ["heightMm"] = Unit("mm"),
            ["spinning"] = Either("spinning"),
            ["needsProcessorRadio"] = Either("processor", "own"),
            ["processorRadioGeneration"] = Unit("th"),
            ["halfSize"] = Either("half"),
            ["managedFleet"] = Either("fleet", "plain"),
            ["energyWh"] = Unit("Wh"),
            ["volts"] = Unit("V"),
            ["watts"] = Unit("W"),
            ["cells"] = Unit("c"),
            ["connector"] = After("plug-") ?? (words[0] == "battery" ? words[1] : null),
            ["pack"] = After("pack-"),
            ["unbranded"] = Either("unbranded"),
            ["rechargeable"] = Either("charged", "primary"),
            ["identificationPin"] = Either("says", "mute"),
            ["powerDelivery"] = Either("agrees", "one-voltage"),
            ["graphics"] = Either("graphics", "no-graphics"),
            ["contacts"] = Unit("pin"),
            ["inches"] = Unit("inch"),
        };
        foreach (var look in words.Where(w => w.Contains('=')).Select(w => w.Split('=')))
        {
            values[look[0]] = look[1];
        }

        return values;
    }
}
