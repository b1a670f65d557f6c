using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Bench;

/// <summary>One line for the ledger as a form sends it.</summary>
public sealed record EntryForm
{
    public Guid Request { get; init; }

    public int Seen { get; init; }

    public int Step { get; init; }

    /// <summary>done, counted, differs, number, note or undo.</summary>
    public string? Do { get; init; }

    public int? Count { get; init; }

    public Difference? Why { get; init; }

    public string? Text { get; init; }

    public bool Confirmed { get; init; }

    /// <summary>The ledger's entry; null when the form was not one of ours.</summary>
    public Entry? ToEntry() =>
        Do switch
        {
            "done" => new Entry.Done(Step, Confirmed),
            "counted" when Count is { } count => new Entry.Counted(Step, count),
            "differs" when Count is { } count && Why is { } why => new Entry.CountDiffers(Step, count, why, Text),
            "number" => new Entry.NumberRead(Step, Text ?? "", Confirmed),
            "note" => new Entry.Noted(Step, Text ?? ""),
            "undo" => new Entry.TakenBack(),
            _ => null,
        };
}

[PostingNeeds(Policies.Bench)]
public sealed class SessionModel(BenchOf benches, RecordEntry recordEntry, CloseRepair closeRepair) : RoomPage
{
    private const string Here = "/Bench/Session";

    public BenchView Bench { get; private set; } = null!;

    /// <summary>Why the last act was refused.</summary>
    public Refusal? Refusal { get; private set; }

    /// <summary>Text to show again in the number's field: from the scan line, or as refused.</summary>
    public string? Number { get; private set; }

    /// <summary>Identifies whatever this page will send.</summary>
    public Guid RequestId { get; } = Guid.CreateVersion7();

    public Ledger Ledger => Bench.Ledger;

    public Plan Plan => Bench.Ledger.Brief.Plan;

    public MachineView Drawing => Ledger.Drawing(Bench.Model);

    /// <summary>How the joint of the current act is handled; null when it is about no joint.</summary>
    public JointHandling? Joint =>
        Ledger.Current?.Act is { Kind: ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect } act
            ? Plan.Map.Joint(act.Joint).Kind.Handling()
            : null;

    public Minutes Left => Minutes.Total(Plan.Steps.Skip(Ledger.DoneSteps).Select(s => s.Seconds));

    public async Task<IActionResult> OnGet(string code, string? number, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } repair)
        {
            return NotFound();
        }

        if (!(await benches.Run(repair, stop)).Try(out var bench, out var refusal))
        {
            return refusal.Reason == RefusalReason.NotFound
                ? NotFound()
                : Refused(refusal, "/Counter/Repair", new { code });
        }

        if (bench.Repair.State == RepairState.Closed)
        {
            return RedirectToPage("/Counter/Repair", new { code });
        }

        (Bench, Number) = (bench, number);
        return Page();
    }

    public async Task<IActionResult> OnPost(string code, EntryForm form, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } repair)
        {
            return NotFound();
        }

        Outcome<BenchView> outcome =
            ModelState.IsValid && form.Request != default && form.ToEntry() is { } entry
                ? await recordEntry.Run(repair, form.Request, form.Seen, entry, User.Actor(), stop)
                : new Refusal(RefusalReason.Invalid, "That could not be read. Nothing was changed; try it once more.");
        var fragment = IsFragment();
        if (outcome.Try(out var after, out var refusal))
        {
            Bench = after;
            return fragment ? Partial("_Bench", this) : RedirectToPage(Here, new { code });
        }

        if (!(await benches.Run(repair, stop)).Try(out var bench, out var gone))
        {
            return Refused(gone, "/Counter/Index");
        }

        (Bench, Refusal) = (bench, refusal);
        Number = form.Do == "number" ? form.Text : null;
        Response.StatusCode = Statuses.Of(refusal);
        return fragment ? Partial("_Bench", this) : Page();
    }

    public async Task<IActionResult> OnPostClose(string code, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } repair ? NotFound()
        : (await closeRepair.Run(repair, User.Actor(), stop)).Try(out var closed, out var refusal)
            ? Did(
                $"{closed} is closed. The old part is in quarantine; the passport names the new one.",
                "/Counter/Repair",
                new { code }
            )
        : Refused(refusal, Here, new { code });

    private bool IsFragment() => HttpContext.Request.Headers.ContainsKey("HX-Request");
}
