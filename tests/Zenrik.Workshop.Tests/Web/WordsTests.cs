using Zenrik.Core.Fit;
using Zenrik.Core.Stock;
using Zenrik.Web.Hosting;

namespace Zenrik.Workshop.Tests.Web;

/// <summary>Whatever a page may have to say has words: a value that came later is not forgotten.</summary>
public sealed class WordsTests
{
    [Fact]
    public void Everything_a_reason_may_rest_on_has_a_name() =>
        Enum.GetValues<Evidence>().Select(Fits.Name).ShouldAllBe(name => name.Length > 0);

    [Fact]
    public void Every_reason_of_a_movement_has_a_name() =>
        Enum.GetValues<MovementReason>()
            .Select(Show.Reason)
            .Distinct()
            .Count()
            .ShouldBe(Enum.GetValues<MovementReason>().Length);
}
