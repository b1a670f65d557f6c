using Zenrik.Core.Fleet;
using Zenrik.Core.People;
using Zenrik.Core.Stock;

namespace Zenrik.Core.Tests;

public sealed class NameTests
{
    [Theory]
    [InlineData(" sk-00417 ", "SK-00417")]
    [InlineData("zk/1", "ZK/1")]
    [InlineData("ZK<x>1", null)]
    [InlineData("-1", null)]
    [InlineData("1-", null)]
    [InlineData("a", null)]
    [InlineData("Ω-1", null)]
    [InlineData("a b", null)]
    [InlineData("", null)]
    [InlineData("012345678901234567890123456789012", null)]
    public void A_tag_is_what_a_label_can_carry(string typed, string? tag) =>
        UnitTag.Read(typed).Try(out var read, out _).ShouldBe(tag is not null && read!.Text == tag);

    [Theory]
    [InlineData("Tidewell school (hall)", "Tidewell school (hall)")]
    [InlineData("Élan, Ωμέγα", "Élan, Ωμέγα")]
    [InlineData("a<b", null)]
    [InlineData("two\nlines", null)]
    [InlineData("right\u202eto left", null)]
    [InlineData("half \ud800 pair", null)]
    public void A_site_is_called_in_letters_of_any_script(string typed, string? site) =>
        SiteName.Read(typed).Try(out var read, out _).ShouldBe(site is not null && read!.Text == site);

    [Fact]
    public void What_a_name_may_be_is_said_when_it_is_none()
    {
        BinCode
            .Read("a 1")
            .Refusal!.Message.ShouldBe(
                "A bin's code has 1 to 24 characters: letters, digits and, between them, -, like A-01."
            );
        BinCode.Read("a-01").Value.Text.ShouldBe("A-01");
        PersonName.Read("J. O’Hare-Lund").Value.Text.ShouldBe("J. O’Hare-Lund");
        PersonName.Read("<b>").Refusal.ShouldNotBeNull();
        SignInName.Read("Mara").Value.Text.ShouldBe("mara");
        SignInName.Read("ma ra").Refusal.ShouldNotBeNull();
    }
}
