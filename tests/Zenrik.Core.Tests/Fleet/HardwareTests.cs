using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;

namespace Zenrik.Core.Tests.Fleet;

public sealed class HardwareTests
{
    // The fields and nesting are those lshw prints with -json (its manual page; layout from memory).
    private const string List = """
        [{"id":"desk","class":"system","product":"Sandpiper 14","serial":"5T4C7D2E","children":[
          {"id":"core","class":"bus","product":"TW-9B1C-40022","serial":"To be filled by O.E.M.","children":[
            {"id":"memory","class":"memory","children":[
              {"id":"bank:0","class":"memory","product":"TW-6M1R-80016","serial":"A1","size":17179869184},
              {"id":"bank:1","class":"memory","description":"[empty]"}]},
            {"id":"nvme","class":"storage","product":"TW-8S5T-70512","serial":"N77","children":[
              {"id":"namespace:0","class":"disk","size":512110190592}]},
            {"id":"network","class":"network","product":"TW-4W6N-61200","serial":"02:00:5e:10:00:01","capabilities":{"wireless":"yes"}},
            {"id":"disk","class":"disk","product":"Pocket stick","serial":"1","businfo":"usb@1:2","size":16000000000}]}]}]
        """;

    private static readonly PartNumber Memory = Number("TW-6M1R-80016");

    private static PartNumber Number(string text) => PartNumber.Read(text).Value;

    [Fact]
    public void A_list_names_what_is_inside_and_nothing_that_hangs_on_a_plug()
    {
        var list = HardwareList.Read(List).Value;
        list.Serial.ShouldBe("5T4C7D2E");
        list.Parts.ShouldBe([
            new ReportedPart(ItemKind.Board, "TW-9B1C-40022", null, null),
            new ReportedPart(ItemKind.Memory, "TW-6M1R-80016", "A1", 16),
            new ReportedPart(ItemKind.Drive, "TW-8S5T-70512", "N77", 512),
            new ReportedPart(ItemKind.Radio, "TW-4W6N-61200", null, null),
        ]);
    }

    [Theory]
    [InlineData(null, "There is no text")]
    [InlineData("{\"id\":\"x\"", "not whole")]
    [InlineData("{\"class\":\"disk\"}", "no hardware list")]
    [InlineData("[1,2]", "no hardware list")]
    [InlineData("42", "no hardware list")]
    public void What_is_no_list_is_refused_in_a_sentence(string? json, string says) =>
        HardwareList.Read(json).Refusal!.Message.ShouldContain(says);

    [Fact]
    public void Hostile_text_is_bounded()
    {
        HardwareList.Read(new string(' ', HardwareList.MaxBytes) + "{}").Refusal!.Message.ShouldContain("larger");
        var deep = string.Concat(Enumerable.Repeat("{\"class\":\"system\",\"children\":[", 300));
        HardwareList.Read(deep).Refusal.ShouldNotBeNull();
        var wide =
            $"{{\"class\":\"system\",\"children\":[{string.Join(',', Enumerable.Repeat("{\"id\":\"bank:0\",\"class\":\"memory\",\"size\":9999999999,\"product\":\"<script>alert(1)</script>\"}", 5000))}]}}";
        HardwareList.Read(wide).Value.Parts.Count.ShouldBeLessThanOrEqualTo(200);
        HardwareList
            .Read("{\"class\":\"system\",\"serial\":\"a\\u0000b\",\"children\":[null,7,{\"class\":[]}]}")
            .Value.Serial.ShouldBeNull();
    }

    [Fact]
    public void Agreement_news_and_questions_are_told_apart()
    {
        RecordedSlot[] slots =
        [
            new("memory-a", ItemKind.Memory, Memory, "A1"),
            new("memory-b", ItemKind.Memory, null, null),
            new("drive-a", ItemKind.Drive, Number("TW-8S5T-71024"), null),
            new("radio", ItemKind.Radio, null, null),
            new("battery", ItemKind.Battery, Number("TW-5R0Q-21847"), null),
        ];
        var found = HardwareCheck.Compare(slots, HardwareList.Read(List).Value.Parts, [Number("TW-4W6N-61201")]);
        found.Select(f => f.Slot).ShouldBe(["memory-a", "drive-a", "radio"]);
        found[0].ShouldBeOfType<HardwareFinding.Agrees>();
        found[1].ShouldBeOfType<HardwareFinding.Question>().Text.ShouldContain("exchanged without a repair");
        // One slip from a number that is known: nobody writes that down unasked.
        found[2].ShouldBeOfType<HardwareFinding.Question>().Text.ShouldContain("one slip from TW-4W6N-61201");
    }

    [Fact]
    public void What_the_machine_does_not_see_is_asked_about_and_a_moved_module_is_known_by_its_serial()
    {
        RecordedSlot[] slots =
        [
            new("memory-a", ItemKind.Memory, Memory, "B2"),
            new("memory-b", ItemKind.Memory, Memory, "A1"),
        ];
        var found = HardwareCheck.Compare(slots, [new ReportedPart(ItemKind.Memory, "TW 6m1r 80016", "A1", 16)], []);
        found[0].ShouldBeOfType<HardwareFinding.Question>().Text.ShouldContain("sees nothing there");
        found[1].ShouldBeOfType<HardwareFinding.Agrees>();
    }

    [Fact]
    public void Another_machines_list_is_known_by_its_serial()
    {
        var list = HardwareList.Read(List).Value;
        HardwareCheck.OfAnother("SK-00001", "5t4c7d2e", list).ShouldBeNull();
        HardwareCheck.OfAnother("SK-00001", "5T0X00X0", list)!.Message.ShouldContain("5T4C7D2E");
    }
}
