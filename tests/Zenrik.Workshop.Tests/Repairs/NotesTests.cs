using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Tests.Repairs;

/// <summary>What is added to a repair, and how it is handed over.</summary>
public sealed class NotesTests(TemplateDatabase databases)
{
    [Fact]
    public async Task A_repair_is_noted_promised_anew_told_fetched_once_and_corrected_by_an_addition()
    {
        await using var book = await databases.NewBook();
        var aled = await book.Person("aled");
        var repair = await book.OnBench(aled, "battery", "battery worn");
        (await Add(RepairNoteKind.Said, " ")).Refusal!.Message.ShouldContain("worth knowing");
        (await Add(RepairNoteKind.Said, "the user telephoned")).Value.ShouldContain("Noted");
        (await Add(RepairNoteKind.Told, null)).Refusal!.Message.ShouldContain("not finished");
        (await Add(RepairNoteKind.Corrected, "it was the left one")).Refusal!.Message.ShouldContain("still underway");
        var day = DateOnly.FromDateTime(DateTime.Today).AddDays(3);
        (await Promise(day.AddDays(-9))).Refusal!.Message.ShouldContain("today or a day within a year");
        (await Promise(day)).Value.ShouldContain("high priority");
        (await book.View(repair)).Repair.PromisedOn.ShouldBe(day);

        await book.Work(aled, repair);
        _ = (await book.Close(aled, repair)).Value;
        (await Promise(day)).Refusal!.Message.ShouldContain("add a correction");
        (await Waiting()).ShouldContain(r => r.Code == Repair.CodeOf(repair) && r.ToldAt == null);
        _ = (await Add(RepairNoteKind.Told, null)).Value;
        (await Waiting()).ShouldContain(r => r.Code == Repair.CodeOf(repair) && r.ToldBy == aled.Name);
        (await Add(RepairNoteKind.Collected, "")).Refusal!.Message.ShouldContain("who fetched it");
        // Two at two counters: one machine is fetched once.
        var both = await Task.WhenAll(
            Add(RepairNoteKind.Collected, "P. Quill"),
            Add(RepairNoteKind.Collected, "R. Marsh")
        );
        both.Count(o => o.Refusal is null).ShouldBe(1);
        (await Waiting()).ShouldNotContain(r => r.Code == Repair.CodeOf(repair));
        (await Add(RepairNoteKind.Told, null)).Refusal!.Message.ShouldContain("fetched already");
        (await Add(RepairNoteKind.Corrected, "The screw on the left was missing before")).Value.ShouldContain(
            "beside what it said"
        );
        (await book.View(repair))
            .Repair.Notes.Select(n => n.Kind)
            .ShouldBe([RepairNoteKind.Said, RepairNoteKind.Told, RepairNoteKind.Collected, RepairNoteKind.Corrected]);
        (await book.Sql("UPDATE repair_notes SET text = ''"))!.ShouldContain("never changed or deleted");

        Task<Outcome<string>> Add(RepairNoteKind kind, string? text) =>
            book.Do<NoteRepair, Outcome<string>>(n => n.Run(Guid.NewGuid(), repair, kind, text, aled));
        Task<Outcome<string>> Promise(DateOnly? on) =>
            book.Do<CorrectRepair, Outcome<string>>(c => c.Run(Guid.NewGuid(), repair, Priority.High, on, null, aled));
        Task<IReadOnlyList<ToFetch>> Waiting() => book.Do<NoteRepair, IReadOnlyList<ToFetch>>(n => n.Waiting());
    }
}
