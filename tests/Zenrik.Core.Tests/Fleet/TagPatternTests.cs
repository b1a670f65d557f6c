using Zenrik.Core.Fleet;

namespace Zenrik.Core.Tests.Fleet;

public sealed class TagPatternTests
{
    [Theory]
    [InlineData("SK-#####", "sk-00417", true)]
    [InlineData("SK-#####", "SK-0417", false)]
    [InlineData("SK-#####", "SK-0041A", false)]
    [InlineData("@@##", "AB12", true)]
    [InlineData("@@##", "A112", false)]
    public void A_tag_is_of_the_house_or_not(string pattern, string tag, bool fits) =>
        TagPattern.Read(pattern).Value.Fits(UnitTag.Read(tag).Value).ShouldBe(fits);

    [Theory]
    [InlineData("")]
    [InlineData("SK")]
    [InlineData("#")]
    [InlineData("SK #####")]
    [InlineData("-####")]
    public void What_no_tag_could_look_like_is_refused(string pattern) =>
        TagPattern.Read(pattern).Refusal!.Message.ShouldContain("# for a digit");

    [Fact]
    public void A_strange_tag_is_told_what_they_look_like() =>
        TagPattern.Read("sk-###").Value.Strange(UnitTag.Read("X9").Value)!.Message.ShouldContain("SK-012");
}
