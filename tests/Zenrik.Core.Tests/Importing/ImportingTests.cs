using CsCheck;
using Zenrik.Core.Fleet;
using Zenrik.Core.Importing;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Tests.Importing;

/// <summary>How lists are read: headings, days, amounts, and what becomes of the rows of a list of machines.</summary>
public sealed class ImportingTests
{
    private static readonly DateOnly Today = new(2026, 11, 27);

    private static SourceRow Row(int line, params string[] cells) => new(line, cells);

    private static Dictionary<int, string> Match(string[] headings, params SourceRow[] sample) =>
        new(ColumnMatch.Of(Sheets.Units, headings, sample, new Dictionary<string, string>()).Matched);

    [Fact]
    public void Headings_are_known_in_any_case_and_punctuation_and_under_other_names() =>
        Match(["ASSET-TAG", "Serial No.", "device  model", "Location", "warranty_end", "colour"])
            .ShouldBe(
                new Dictionary<int, string>
                {
                    [0] = "tag",
                    [1] = "serial",
                    [2] = "model",
                    [3] = "site",
                    [4] = "warranty",
                },
                ignoreOrder: true
            );

    [Fact]
    public void A_heading_that_stands_twice_is_read_once_and_said() =>
        ColumnMatch
            .Of(Sheets.Units, ["tag", "serial", "Serial", "model"], [], new Dictionary<string, string>())
            .Notes.ShouldHaveSingleItem()
            .ShouldContain("“Serial” stands twice");

    [Fact]
    public void What_a_person_chose_the_last_time_goes_before_what_a_heading_is_called()
    {
        var remembered = new Dictionary<string, string> { ["code"] = "tag", ["tag"] = "" };
        ColumnMatch
            .Of(Sheets.Units, ["Code", "Tag", "serial", "model"], [], remembered)
            .Matched.ShouldBe(
                new Dictionary<int, string>
                {
                    [0] = "tag",
                    [2] = "serial",
                    [3] = "model",
                },
                ignoreOrder: true
            );
    }

    [Fact]
    public void A_needed_column_nobody_named_is_found_by_what_stands_in_it()
    {
        var match = ColumnMatch.Of(
            Sheets.Models,
            ["maker", "name", "sort"],
            [Row(2, "Tarnwell", "Corncrake 12", "laptop"), Row(3, "Tarnwell", "Dabchick 11", "Chromebook")],
            new Dictionary<string, string>()
        );
        match.Matched[2].ShouldBe("class");
        match.Notes.ShouldHaveSingleItem().ShouldContain("by what stands in it");
    }

    [Theory]
    [InlineData("2024-09-03", 2024, 9, 3)]
    [InlineData("03.09.2024", 2024, 9, 3)]
    [InlineData("3 Sep 2024", 2024, 9, 3)]
    [InlineData("Sep 3, 2024", 2024, 9, 3)]
    [InlineData("3/9/2024", 2024, 9, 3)]
    [InlineData("3/9/24", 2024, 9, 3)]
    [InlineData("2024-09-03 00:00:00", 2024, 9, 3)]
    [InlineData("2024-09-03T11:05:00", 2024, 9, 3)]
    [InlineData("45538", 2024, 9, 3)] // Days from 30 December 1899 (ECMA-376 part 1, 18.17.4.1, from memory).
    public void Days_are_read_as_spreadsheets_write_them(string cell, int year, int month, int day) =>
        Days.Read(cell, DayOrder.DayFirst).Value.ShouldBe(new DateOnly(year, month, day));

    [Theory]
    [InlineData("")]
    [InlineData("soon")]
    [InlineData("31/2/2024")]
    [InlineData("2024")]
    [InlineData("3/9")]
    public void What_is_no_day_is_said(string cell) =>
        Days.Read(cell, DayOrder.DayFirst).Refusal!.Message.ShouldContain("is no day");

    [Fact]
    public void A_column_tells_its_order_by_any_day_that_can_be_read_one_way_only()
    {
        Days.OrderOf(["3/9/2024", "25/9/2024"]).Value.ShouldBe(DayOrder.DayFirst);
        Days.OrderOf(["3/9/2024", "9/25/2024"]).Value.ShouldBe(DayOrder.MonthFirst);
        Days.OrderOf(["3/9/2024", "2024-09-25"]).Value.ShouldBeNull();
        Days.OrderOf(["25/9/2024", "9/25/2024"]).Refusal!.Message.ShouldContain("in two ways");
        Days.IsAmbiguous("3/9/2024").ShouldBeTrue();
        Days.IsAmbiguous("9/9/2024").ShouldBeFalse();
    }

    /// <summary>Whatever day is written in whichever order, it is read as that day, or the column is asked about.</summary>
    [Fact]
    public void A_day_written_either_way_is_never_read_as_another_without_asking() =>
        Gen.Select(Gen.Int[0, 43_000], Gen.Bool)
            .Select((after, first) => (Day: new DateOnly(1980, 1, 1).AddDays(after), First: first))
            .Sample(x =>
            {
                var cell = x.Day.ToString(
                    x.First ? "d/M/yyyy" : "M/d/yyyy",
                    System.Globalization.CultureInfo.InvariantCulture
                );
                if (!Days.IsAmbiguous(cell))
                {
                    Days.Read(cell, Days.OrderOf([cell]).Value ?? DayOrder.DayFirst).Value.ShouldBe(x.Day);
                }
            });

    [Theory]
    [InlineData("1234.5", 1234.5)]
    [InlineData("1,234.50", 1234.5)]
    [InlineData("1.234,50", 1234.5)]
    [InlineData("12,5", 12.5)]
    [InlineData("1,234", 1234.0)]
    [InlineData("£ 12", 12.0)]
    [InlineData("1.234.567,-", null)]
    [InlineData("12,50 EUR", 12.5)]
    [InlineData("GBP 1 234.50", 1234.5)]
    [InlineData("12x", null)]
    [InlineData("1.2.3", null)]
    [InlineData("10 per box", null)]
    [InlineData("-3", null)]
    [InlineData("free", null)]
    public void Amounts_are_read_as_people_write_them(string cell, double? amount)
    {
        var read = Sheets.ReadAmount(cell);
        if (amount is { } expected)
        {
            read.Value.ShouldBe((decimal)expected);
        }
        else
        {
            read.Refusal!.Message.ShouldContain("is no amount");
        }
    }

    private static readonly KnownUnit Known = new(
        "SK-1",
        "corncrake-12",
        "Corncrake 12",
        new UnitFacts("S1", "Tidewell", "P. Quill", new DateOnly(2024, 9, 3), null, false)
    );

    private static readonly ListedUnit Said = new(
        "SK-1",
        "S1",
        "Corncrake 12",
        null,
        null,
        null,
        null,
        null,
        null,
        null
    );

    private static RowFate Judge(ListedUnit row, KnownUnit? byTag = null, KnownUnit? bySerial = null) =>
        new UnitRows(Today).Judge(2, row, "corncrake-12", byTag, bySerial, null);

    [Fact]
    public void What_a_row_does_not_say_of_a_known_machine_stays() =>
        Judge(Said, Known, Known).ShouldBeOfType<RowFate.Same>();

    [Fact]
    public void What_it_says_otherwise_is_shown_before_and_after()
    {
        var fate = Judge(Said with { Site = "Ferry Office", Serial = "S2" }, Known).ShouldBeOfType<RowFate.Changed>();
        fate.Changes.ShouldBe([
            new FactChange("serial", "S1", "S2"),
            new FactChange("site", "Tidewell", "Ferry Office"),
        ]);
    }

    [Fact]
    public void Machines_that_cannot_be_are_refused_with_the_reason()
    {
        Reason(Judge(Said with { Tag = "SK-2" }, null, Known)).ShouldContain("that of SK-1");
        Reason(Judge(Said with { Serial = "SK-1" }, Known)).ShouldContain("tag and serial at once");
        Reason(Judge(Said with { Bought = Today.AddDays(1) }, Known, Known)).ShouldContain("still to come");
        Reason(Judge(Said with { Warranty = new DateOnly(2020, 1, 1) }, Known, Known))
            .ShouldContain("before it was bought");
        Reason(Judge(Said)).ShouldContain("no site");
        var lent = Known with { LentOut = true, Facts = Known.Facts with { Loan = true } };
        Reason(Judge(Said with { Loan = false }, lent, lent)).ShouldContain("out on loan");
        var rows = new UnitRows(Today);
        rows.Judge(2, Said, "corncrake-12", Known, Known, null).ShouldBeOfType<RowFate.Same>();
        Reason(rows.Judge(3, Said with { Serial = "S9" }, "corncrake-12", Known, null, null)).ShouldContain("line 2");
        Reason(rows.Judge(4, Said with { Tag = "SK-9" }, "corncrake-12", null, Known, null)).ShouldContain("line 2");
        Reason(new UnitRows(Today).Judge(2, Said with { Model = "Dabchick" }, "dabchick", Known, Known, null))
            .ShouldContain("is a Corncrake 12 in the book");

        static string Reason(RowFate fate) => fate.ShouldBeOfType<RowFate.Refused>().Reason;
    }

    [Fact]
    public void A_row_is_read_whole_or_with_the_first_thing_that_is_wrong()
    {
        var row = new RowValues(
            2,
            new Dictionary<string, string>
            {
                ["tag"] = "sk-1",
                ["serial"] = "s-1",
                ["model"] = "Corncrake 12",
                ["class"] = "notebook",
                ["bought"] = "3/9/2024",
                ["loan"] = "y",
            }
        );
        var read = ListedUnit.Read(row, DayOrder.MonthFirst).Value;
        (read.Tag, read.Serial, read.Class, read.Bought, read.Loan).ShouldBe(
            ("SK-1", "S-1", DeviceClass.Laptop, new DateOnly(2024, 3, 9), true)
        );
        ListedUnit
            .Read(new RowValues(2, new Dictionary<string, string> { ["tag"] = "SK-1" }), DayOrder.DayFirst)
            .Refusal!.Message.ShouldContain("no serial");
    }

    [Fact]
    public void A_model_is_found_by_its_code_its_name_or_maker_and_name()
    {
        var models = new ModelNames([
            ("corncrake-12", "Tarnwell", "Corncrake 12"),
            ("corncrake-12-2", "Ostrand", "Corncrake 12"),
            ("dabchick", "Tarnwell", "Dabchick"),
        ]);
        models.Find("DABCHICK", null).Value.ShouldBe("dabchick");
        models.Find("Tarnwell Dabchick", null).Value.ShouldBe("dabchick");
        models.Find("corncrake 12", "ostrand").Value.ShouldBe("corncrake-12-2");
        models.Find("corncrake 12", null).Refusal!.Message.ShouldContain("several models");
        models.Find("Bittern", null).Value.ShouldBeNull();
    }
}
