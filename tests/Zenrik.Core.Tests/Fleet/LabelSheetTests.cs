using CsCheck;
using Zenrik.Core.Fleet;

namespace Zenrik.Core.Tests.Fleet;

public sealed class LabelSheetTests
{
    [Fact]
    public void Labels_lie_on_the_paper_and_not_on_each_other() =>
        Gen.Select(
                Gen.Int[0, LabelSheet.All.Count - 1].Select(i => LabelSheet.All[i]),
                Gen.Int[0, 120],
                Gen.Int[-3, 80]
            )
            .Sample(
                (sheet, labels, used) =>
                {
                    var sheets = sheet.Lay([.. Enumerable.Range(0, labels)], used);
                    sheets.SelectMany(s => s).Select(l => l.Label).ShouldBe(Enumerable.Range(0, labels));
                    foreach (var laid in sheets)
                    {
                        laid.Select(l => (l.X, l.Y)).Distinct().Count().ShouldBe(laid.Count);
                        laid.ShouldAllBe(l =>
                            l.X >= 0
                            && l.Y >= 0
                            && l.X + sheet.Width <= LabelSheet.PaperWidth
                            && l.Y + sheet.Height <= LabelSheet.PaperHeight
                        );
                    }

                    sheet.PitchX.ShouldBeGreaterThanOrEqualTo(sheet.Width);
                    sheet.PitchY.ShouldBeGreaterThanOrEqualTo(sheet.Height);
                },
                iter: 500
            );

    [Fact]
    public void A_part_used_sheet_goes_on_where_it_stopped()
    {
        var sheet = LabelSheet.Find("24")!;
        var laid = sheet.Lay(["a", "b"], used: 23);
        laid.Count.ShouldBe(2);
        (laid[0][0].X, laid[0][0].Y).ShouldBe(sheet.At(23));
        (laid[1][0].X, laid[1][0].Y).ShouldBe(sheet.At(0));
    }
}
