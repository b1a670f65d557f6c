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
