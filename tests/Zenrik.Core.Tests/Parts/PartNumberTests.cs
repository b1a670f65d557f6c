using CsCheck;
using Zenrik.Core.Parts;

namespace Zenrik.Core.Tests.Parts;

public sealed class PartNumberTests
{
    [Theory]
    [InlineData("SK-00417", "SK-OO417")]
    [InlineData("TW-1B58", "TW-I8S8")]
    [InlineData("ZG-VW", "2 6 W V")]
    public void Look_alikes_are_told(string a, string b) =>
        PartNumber.Read(a).Value.Compare(PartNumber.Read(b).Value).ShouldBe(Likeness.SameButForLookAlikes);

    // Messages as ISO/IEC 15434 builds them, with data identifiers of ANSI MH10.8.2, from memory; the last as keyboards get them.
    [Theory]
    [InlineData("[)>\u001E06\u001D1PTW-5R0Q-21847\u001DS4B 0071\u001D1TKB-24-07\u001DQ1\u001E\u0004")]
    [InlineData("[)>\u001E06\u001DPHOUSE-1\u001D1PTW-5R0Q-21847\u001DS4B 0071\u001D1TKB-24-07\u001E\u0004")]
    [InlineData("]d1[)>\u001E06\u001DS4B 0071\u001D1TKB-24-07\u001D1PTW-5R0Q-21847\u001E\u0004")]
    [InlineData(" [)>^^06^]1PTW-5R0Q-21847^]S4B 0071^]1TKB-24-07^^^D")]
    public void A_whole_label_says_number_serial_and_lot(string scanned)
    {
        ScannedLabel.Read(scanned).Value.ShouldBe(new ScannedLabel("TW-5R0Q-21847", "4B 0071", "KB-24-07"));
        PartNumber.Read(scanned).Value.Text.ShouldBe("TW-5R0Q-21847");
        SerialNumber.Read(scanned).Value.ShouldBe("4B 0071");
    }

    [Theory]
    [InlineData("[)>061PTW-5R0Q-21847S4B0071", "what parts its fields was lost")]
    [InlineData("[)>\u001E06\u001DS4B0071\u001E\u0004", "says no part number")]
    [InlineData("[)>\u001E06\u001D1P \u001E\u0004", "lost")]
    [InlineData("[)>\u001E05\u001D240TW-5R0Q\u001E\u0004", "lost")]
    public void A_label_that_says_no_number_is_told_so(string scanned, string why) =>
        PartNumber.Read(scanned).Refusal!.Message.ShouldContain(why);

    /// <summary>A number that begins with a P of its own stays; one that is only known without its identifier is that one.</summary>
    [Theory]
    [InlineData("1PTW-5R0Q-21847", "TW-5R0Q-21847")]
    [InlineData("PTW-5R0Q-21847", "TW-5R0Q-21847")]
    [InlineData("]C01ptw-5r0q-21847", "tw-5r0q-21847")]
    [InlineData("1PMB 2229-0391-B", "MB 2229-0391-B")]
    [InlineData("1PMB22290391B", "MB22290391B")]
    [InlineData("PX-100", "PX-100")]
    [InlineData("1PNOBODY-7", "1PNOBODY-7")]
    [InlineData("P", "P")]
    [InlineData("]C", "]C")]
    public void What_a_number_begins_with_is_left_out_only_where_it_is_known_without(string scanned, string meant)
    {
        string[] known = ["TW5R0Q21847", "MB22290391B", "PX100", "X100"];
        PartNumber.Read(scanned).Value.AsKnown(known.Contains).Text.ShouldBe(meant);
    }

    [Fact]
    public void Distance_agrees_with_published_examples()
    {
        // Wagner and Fischer's and everybody's textbook pairs; characters chosen outside the look-alike sets.
        Confusables.Distance("KITTEN", "KITTEN").ShouldBe(0);
        Confusables.Distance("KATTEN", "MATTEN").ShouldBe(1);
        Confusables.Distance("", "ABC").ShouldBe(3);
        Confusables.Distance("CA", "AC").ShouldBe(1); // Damerau 1964: neighbours exchanged.
        Confusables.Distance("50", "SO").ShouldBe(2 * Confusables.LookAlikeCost);
    }

    [Fact]
    public void Distance_is_symmetric_and_zero_only_for_equals() =>
        Gen.Select(Gen.String[Gen.Char["ABO0I1S5Z2"], 0, 8], Gen.String[Gen.Char["ABO0I1S5Z2"], 0, 8])
            .Sample(
                (a, b) =>
                    Confusables.Distance(a, b) == Confusables.Distance(b, a)
                    && (Confusables.Distance(a, b) == 0) == (a == b)
            );

    [Fact]
    public void The_nearest_tags_come_first() =>
        Confusables
            .Nearest("sk-o0417", ["SK-00001", "SK-00471", "SK-00417", "SK-00418"], 3)
            .ShouldBe(["SK-00417", "SK-00471", "SK-00418"]);
}
