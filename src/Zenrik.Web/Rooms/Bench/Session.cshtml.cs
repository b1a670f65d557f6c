using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Web.Rooms.Maps;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Web.Rooms.Bench;

[PostingNeeds(Policies.Bench)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class SessionModel(
    BenchOf benches,
    RecordEntry recordEntry,
    ReadLabel readLabel,
    ChangePlan changePlan,
    CloseRepair closeRepair,
    StopAtBench stopAtBench,
    PromiseAnother another,
    AwaitAnother awaitAnother,
    ExchangeBesides besides,
    NoteOrder noteOrder,
    PlaceAtBench placeAtBench,
    AddPhoto photos,
    ViewDraft drafts,
    AskAtBench ask,
    SayOfModel say,
    PlanningTime time,
    TimeProvider clock
) : RoomPage
{
    private const string Here = "/Bench/Session";

    public BenchView Bench { get; private set; } = null!;

    /// <summary>Why the last act was refused.</summary>
    public Refusal? Refusal { get; private set; }

    /// <summary>The act that was wished for and is not possible yet: what the map says may be wrong.</summary>
    public PlanStep? NotYet { get; private set; }

    /// <summary>Text to show again in the number's field: from the scan line, or as refused.</summary>
    public string? Number { get; private set; }

    /// <summary>True when what was refused is the name of something that came off.</summary>
    public bool IsNaming { get; private set; }

    /// <summary>Photographs taken at the current act, or at the one it undoes.</summary>
    public IReadOnlyList<(Guid Id, string Act, DateTimeOffset At)> PhotosHere { get; private set; } = [];

    /// <summary>What the draft would like to know while this act is next; null: nothing.</summary>
    public BenchQuestion? Question { get; private set; }

    /// <summary>What may be on the new part already; null: nothing is moved over now, or it is known.</summary>
    public TransferQuestion? Transfer { get; private set; }

    /// <summary>Exchanged parts that are out: what is taken off one of them goes onto the new one.</summary>
    public IEnumerable<Part> ExchangedOut =>
        Plan.Replaced.Where(a => Ledger.PartsOut.Contains(a.Part)).Select(a => Plan.Map.Part(a.Part));

    /// <summary>What the model's draft knows by name and is not off here; for sessions that name what comes off.</summary>
    public IReadOnlyList<NamedThing> Known { get; private set; } = [];

    /// <summary>What such things are usually called: by these names triage, fit and ordering know them.</summary>
    public static IEnumerable<string> UsualNames =>
        ShippedTriage
            .Knowledge.Components.Where(c => !c.Outside && c.Parts.Count > 0)
            .Select(c => c.Parts[0].Replace('-', ' '));

    /// <summary>The model's draft with what this session has shown so far; null while nothing came off, or where a map is followed.</summary>
    public Draft? Grown { get; private set; }

    /// <summary>All of that draft, over its photograph; what nobody has placed lies in the strip beside.</summary>
    public MachineView GrownDrawing => MachineView.Opened(Grown!.Map, Grown.Map) with { Underlay = Grown.Underlay };

    /// <summary>What is off and holds nothing that has come out, last first; true: off since the last part came out.</summary>
    public IReadOnlyList<(Act Act, string Name, bool Since)> MayHold { get; private set; } = [];

    /// <summary>While something is tried: the new parts that are in and may prove faulty themselves.</summary>
    public IReadOnlyList<MayProveFaulty> MayBeFaulty { get; private set; } = [];

    /// <summary>What could be done while the machine is open.</summary>
    public IReadOnlyList<JoinableGoal> Joinable { get; private set; } = [];

    /// <summary>What could be exchanged besides and lies on a shelf.</summary>
    public IReadOnlyList<Exchangeable> Exchangeable { get; private set; } = [];

    /// <summary>Identifies whatever this page will send.</summary>
    public Guid RequestId { get; } = Guid.CreateVersion7();

    public Ledger Ledger => Bench.Ledger;

    public Plan Plan => Bench.Ledger.Plan;

    public MachineView Drawing => Ledger.Drawing(Bench.Model);

    /// <summary>The joint of the current act; null when it is about none.</summary>
    public Joint? Joint =>
        Ledger.Current?.Act is { Kind: ActKind.Open or ActKind.Close or ActKind.Isolate or ActKind.Reconnect } act
            ? Plan.Map.Joint(act.Joint)
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

        if (bench.Repair.State != RepairState.OnBench)
        {
            return Elsewhere(code);
        }

        Number = number;
        return await Show(bench, stop);
    }

    /// <summary>What could be done while the machine is open; worked out only when somebody asks.</summary>
    public async Task<IActionResult> OnGetMore(string code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } repair || !(await benches.Run(repair, stop)).Try(out var bench, out _))
        {
            return NotFound();
        }

        Bench = bench;
        using var enough = new CancellationTokenSource(time.Each, clock);
        Joinable = Ledger.Joinable(new SearchLimit(enough.Token, stop));
        Exchangeable = await besides.Of(bench, stop);
        return Partial("_More", this);
    }

    /// <summary>
    /// True when something has just been named as off. Putting it back is then done deliberately: the key that says done at
    /// every other act asks first.
    /// </summary>
    public bool JustNamed =>
        Bench.Session.IsFree
        && Bench.Session.Entries.Select(e => e.ToEntry()).LastOrDefault(e => e is not Entry.Noted) is Entry.Named;

    /// <summary>What the button that confirms says: with screws among the acts, how many.</summary>
    public string DoneSaid
    {
        get
        {
            var together = Ledger.Together;
            if (together.FirstOrDefault(s => s.Act.Kind is ActKind.Undo or ActKind.Fasten) is not { } screws)
            {
                return Wording.IsRow(together) ? $"{All(together.Count)}, done" : "Done";
            }

            if (screws != together[0])
            {
                var count = Plan.Map.Fastener(screws.Act.Fastener).Count;
                return count == 1 ? "In, and its screw" : $"In, and {Sentence.Uncapital(All(count))} screws";
            }

            var expected = Ledger.Expected!.Value;
            var and = together.Count > 1 ? "and it is off" : "done";
            return expected > 1 && Ledger.Count is null or 0 ? $"{All(expected)}, {and}" : "Done";
        }
    }

    private static string All(int count) => count == 2 ? "Both" : $"All {Wording.Count(count)}";

    public async Task<IActionResult> OnPost(string code, EntryForm form, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } repair)
        {
            return NotFound();
        }

        var outcome =
            form.Request != default
                ? await Record(repair, form, stop)
                : new Refusal(RefusalReason.Invalid, "That could not be read. Nothing was changed; try it once more.");
        if (outcome.Try(out var after, out var refusal))
        {
            return Request.IsFragment() ? await Show(after, stop) : RedirectToPage(Here, new { code });
        }

        if (!(await benches.Run(repair, stop)).Try(out var bench, out var gone))
        {
            return Refused(gone, "/Counter/Index");
        }

        if (bench.Repair.State != RepairState.OnBench)
        {
            TempData["Notice"] = refusal.Message;
            return Elsewhere(code);
        }

        Refusal = refusal;
        (Number, IsNaming) = (form.Do == "number" ? form.Text : null, form.Do == "named");
        NotYet =
            form.Do == "instead"
            && Act.TryParse(form.What, out var wish)
            && bench.Ledger.Plan.Map.OnlyWait([.. bench.Ledger.DoneActs], wish) is not null
                ? bench.Ledger.Plan.Steps.FirstOrDefault(s => s.Act == wish)
                : null;
        Response.StatusCode = Statuses.OnPage(refusal);
        return await Show(bench, stop);
    }

    public async Task<IActionResult> OnPostClose(string code, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } repair ? NotFound()
        : (await closeRepair.Run(repair, User.Actor(), stop)).Try(out var closed, out var refusal)
            ? Did(
                $"{closed} is closed. What came out is in quarantine; the passport is up to date.",
                "/Counter/Repair",
                new { code }
            )
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostStop(string code, string? what, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } repair ? NotFound()
        : (await stopAtBench.Run(repair, what, User.Actor(), stop)).Try(out var stopped, out var refusal)
            ? Did(stopped, "/Counter/Repair", new { code })
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostAwait(
        string code,
        Guid request,
        string? slot,
        string? seen,
        CancellationToken stop
    ) =>
        Repair.NumberOf(code) is not { } repair ? NotFound()
        : (await awaitAnother.Run(request, repair, slot, seen, User.Actor(), stop)).Try(
            out var awaited,
            out var refusal
        )
            ? Did(awaited, Here, new { code })
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostSooner(string code, string? act, string? note, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } repair ? NotFound()
        : (await noteOrder.Run(repair, act, note, User.Actor(), stop)).Try(out var noted, out var refusal)
            ? Did(noted, Here, new { code })
        : Refused(refusal, Here, new { code });

    /// <summary>An answer to what the draft would like to know.</summary>
    public async Task<IActionResult> OnPostAnswer(string code, SayForm form, CancellationToken stop) =>
        Repair.NumberOf(code) is { } repair && (await benches.Run(repair, stop)).Try(out var bench, out _)
            ? await Say(form.Send(say, bench.Session.ModelCode, User.Actor(), stop), Here, new { code })
            : NotFound();

    /// <summary>Where something lies that came off in this session.</summary>
    public async Task<IActionResult> OnPostPlace(string code, SayForm form, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } repair ? NotFound()
        : form.ToStatement() is Statement.Lies place
            ? await Say(placeAtBench.Run(form.Request, repair, place, User.Actor(), stop), Here, new { code })
        : Refused(SayForm.Unread("lies"), Here, new { code });

    public async Task<IActionResult> OnPostPhoto(string code, string? act, IFormFile? photo, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } repair)
        {
            return NotFound();
        }

        if (photo is null)
        {
            return Refused(
                new Refusal(RefusalReason.Invalid, "No photograph was sent. Choose one."),
                Here,
                new { code }
            );
        }

        var kept = await photos.Run(repair, await Uploads.Read(photo, stop), User.Actor(), act, stop);
        return kept.Refusal is { } refusal
            ? Refused(refusal, Here, new { code })
            : Did("The photograph is kept with this act.", Here, new { code });
    }

    private Task<Outcome<BenchView>> Record(long repair, EntryForm form, CancellationToken stop)
    {
        var by = User.Actor();
        return form.ToChange() is { } change ? changePlan.Run(repair, form.Request, form.Seen, change, by, stop)
            : form.ToExchange() is var (assembly, item)
                ? besides.Run(repair, form.Request, form.Seen, assembly, item, form.Text, by, stop)
            : form.ToEntry() is Entry.NumberRead read ? readLabel.Run(repair, form.Request, form.Seen, read, by, stop)
            : form.ToEntry() is { } entry ? recordEntry.Run(repair, form.Request, form.Seen, entry, by, stop)
            : Task.FromResult<Outcome<BenchView>>(
                new Refusal(
                    RefusalReason.Invalid,
                    "Something is missing there. Nothing was changed; fill it in and send it once more."
                )
            );
    }

    private async Task<IActionResult> Show(BenchView bench, CancellationToken stop)
    {
        Bench = bench;
        if (bench.Ledger.Current?.Act is { } act)
        {
            var here = await photos.AtActs(bench.Repair.Id, stop);
            PhotosHere =
            [
                .. here.Where(p => Act.TryParse(p.Act, out var taken) && (taken == act || taken.Reverse == act)),
            ];
        }

        if (bench.Ledger.Current?.Act.Kind is ActKind.Check or ActKind.PowerTest)
        {
            MayBeFaulty = await another.Of(bench, stop);
        }

        Transfer = await ask.Transfer(bench.Session.ModelCode, bench.Ledger, stop);
        // One question an act.
        Question = Transfer is null ? await ask.Run(bench.Session.ModelCode, bench.Ledger, stop) : null;

        if (bench.Session.IsFree && bench.Ledger.Current is not null)
        {
            await Naming(bench, stop);
        }

        return Request.IsFragment() ? Partial("_Bench", this) : Page();
    }

    /// <summary>What makes naming a tap: names from earlier sessions, and what may have held the next part.</summary>
    private async Task Naming(BenchView bench, CancellationToken stop)
    {
        var off = bench.Ledger.Off;
        if ((await drafts.Run(bench.Session.ModelCode, stop)).Try(out var view, out _))
        {
            Known = view.Draft.Next(off);
            Grown =
                view.IsOpen && Sighting.Of(bench.Session.Id, bench.Session.StartedById, bench.Ledger) is { } shown
                    ? view.Draft.With(shown)
                    : null;
        }

        MayHold = bench.Ledger.MayHold();
    }

    /// <summary>The session is closed or set apart: its repair's page says how it stands.</summary>
    private IActionResult Elsewhere(string code)
    {
        if (!Request.IsFragment())
        {
            return RedirectToPage("/Counter/Repair", new { code });
        }

        Response.Headers["HX-Redirect"] = $"/repairs/{code}";
        return new EmptyResult();
    }
}
