using Zenrik.Core.Repairs;

namespace Zenrik.Core.Tests.Repairs;

/// <summary>Common practice, no published source.</summary>
public sealed class UserSheetTests
{
    private static UserSheet Of(RepairEnd? end, params string[] slots) =>
        new(
            [.. slots.Select(s => new ExchangedPart(s, s))],
            end,
            [("one screw", "none of that length here")],
            "27 Nov 2026"
        );

    [Theory]
    [InlineData("drive-a", "may be gone")]
    [InlineData("storage", "may be gone")]
    [InlineData("board", "recovery key")]
    [InlineData("coin-cell", "recovery key")]
    [InlineData("storage-board", "Nothing that is stored")]
    [InlineData("fan", "Nothing that is stored")]
    public void A_user_is_told_what_became_of_their_data(string slot, string says) =>
        Of(RepairEnd.Exchanged, "fan", slot).Data.ShouldContain(says);

    [Fact]
    public void What_was_done_is_said_however_it_ended()
    {
        foreach (var end in Enum.GetValues<RepairEnd>().Cast<RepairEnd?>().Append(null))
        {
            foreach (var purpose in Enum.GetValues<RepairPurpose>())
            {
                var sheet = new UserSheet([], end, [], "1 May 2026", purpose);
                sheet.Done.ShouldHaveSingleItem().ShouldEndWith(".");
                sheet
                    .Done[0]
                    .Contains("dust", StringComparison.Ordinal)
                    .ShouldBe(end == RepairEnd.Serviced && purpose == RepairPurpose.Cleaning);
            }
        }

        new UserSheet([new ExchangedPart("fan", "fan")], RepairEnd.Exchanged, [], "1 May 2026").Done.ShouldBe([
            "The fan was exchanged.",
        ]);
    }

    [Fact]
    public void A_message_names_the_machine_and_whom_to_say_what()
    {
        UserSheet.Message("E. Strand", "Coot 14", "SK-00046", "R-1007").ShouldStartWith("Hello E. Strand,");
        UserSheet.Message(null, "Coot 14", "SK-00046", "R-1007").ShouldStartWith("Hello,");
        UserSheet.Message(null, "Coot 14", "SK-00046", "R-1007").ShouldContain("Coot 14 (SK-00046)");
    }

    [Fact]
    public void What_is_not_right_yet_comes_first_and_the_danger_is_always_said()
    {
        var told = Of(RepairEnd.NoFaultFound, "battery").LookOut;
        told[0].ShouldBe("Not yet as it should be: one screw. none of that length here");
        told[1].ShouldContain("27 Nov 2026");
        told[2].ShouldContain("did not show here");
        Of(null).LookOut.ShouldContain(l => l.Contains("swells"));
    }

    [Fact]
    public void What_was_added_to_an_empty_slot_took_nothing_with_it()
    {
        var sheet = new UserSheet(
            [new ExchangedPart("drive-b", "drive B", Added: true)],
            RepairEnd.Exchanged,
            [],
            "1 May 2026",
            RepairPurpose.Upgrade
        );
        sheet.Done.ShouldBe(["The drive B was added."]);
        sheet.Data.ShouldBe("Nothing that is stored on the machine was touched.");
    }
}
