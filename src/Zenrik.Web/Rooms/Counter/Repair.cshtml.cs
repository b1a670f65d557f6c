using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Economics;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Mailing;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Practice;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.Counter;

[PostingNeeds(Policies.Counter)]
[RequestSizeLimit(Uploads.MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = Uploads.MostBytes)]
public sealed class RepairModel(
    RepairOf repairs,
    RecordOf record,
    ChooseItem chooseItem,
    WithdrawRepair withdraw,
    StartSession startSession,
    ReleaseStopped release,
    SignWaiver sign,
    AddPhoto photos,
    PlaceOrder orders,
    ReceiveOrder receive,
    BringOwn bring,
    NoteRepair notes,
    CorrectRepair correct,
    KeepPeople people,
    ReopenRepair reopen,
    EndCheckUp checkUp,
    Post post,
    ReadyFor ready,
    WhileItIsOpen whileOpen,
    IAuthorizationService authorization,
    TimeProvider clock
) : RoomPage
{
    private const string Here = "/Counter/Repair";

    public RepairView View { get; private set; } = null!;

    /// <summary>What was done at the bench, once it is finished.</summary>
    public IReadOnlyList<RecordLine> Record { get; private set; } = [];

    /// <summary>Whom it can be given to, while it is underway.</summary>
    public IReadOnlyList<Actor> Hands { get; private set; } = [];

    /// <summary>True where the workshop's own mail server can tell the user.</summary>
    public bool SendsMail => post.IsOn;

    public DateOnly Today => clock.Today();

    /// <summary>Where on its thread a repair is.</summary>
    public static string Now(RepairView view) =>
        view.Repair.State switch
        {
            RepairState.Closed or RepairState.Withdrawn => "history",
            RepairState.OnBench => view.Bench!.Ledger.IsFinished ? "close-out" : "bench",
            RepairState.Stopped => "symptom",
            _ when view.Repair.InTriage => "triage",
            _ when view.Repair.InCheckUp => "symptom",
            _ => view.Repair.HasGoals && view.Lines.All(l => l.Chosen is not null) ? "plan" : "what to fit",
        };

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number || !(await repairs.Run(number, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        View = view;
        Hands = view.Repair.IsUnderway && User.May(Policies.Counter) ? await people.AtBench(stop) : [];
        if (view is { Repair.State: RepairState.Open, Plan: not null } && User.May(Policies.Bench))
        {
            ViewData["Unready"] = await ready.Caution(User.Actor(), view.Repair.Unit.Model, stop);
        }

        if (view is { Bench: { } bench, Repair.State: RepairState.Closed })
        {
            Record = await record.Run(bench, stop);
        }

        return Page();
    }

    /// <summary>What else pays to exchange; reckoned after the page, which does not wait for its plans.</summary>
    public async Task<IActionResult> OnGetWhileOpen(string code, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : await whileOpen.Run(number, stop) is { } view
            ? Partial("_WhileOpen", (code, view, User.May(Policies.Counter)))
        : Content("");

    public Task<IActionResult> OnPostChoose(string code, string? slot, string? item, CancellationToken stop) =>
        Do(
            code,
            async number =>
                (await chooseItem.Run(number, slot ?? "", item ?? "", User.Actor(), stop)).Try(
                    out var taken,
                    out var why
                )
                    ? $"{taken} is promised to {Repair.CodeOf(number)}."
                    : why
        );

    public Task<IActionResult> OnPostSign(
        string code,
        string? slot,
        string? number,
        string? reason,
        CancellationToken stop
    ) => Do(code, repair => sign.Run(repair, slot ?? "", number ?? "", reason, User.Actor(), stop));

    public async Task<IActionResult> OnPostRelease(string code, string? why, CancellationToken stop) =>
        (await authorization.AuthorizeAsync(User, Policies.House)).Succeeded
            ? await Do(code, number => release.Run(number, why, User.Actor(), stop))
            : Forbid();

    public Task<IActionResult> OnPostReceive(
        string code,
        Guid request,
        Guid order,
        string? printed,
        CancellationToken stop
    ) => Do(code, _ => receive.Run(request, order, new Delivery(printed), User.Actor(), stop));

    public Task<IActionResult> OnPostCancelOrder(string code, Guid order, string? why, CancellationToken stop) =>
        Do(code, _ => orders.Cancel(order, why, User.Actor(), stop));

    /// <summary>A note, a correction, told, fetched.</summary>
    public Task<IActionResult> OnPostNote(
        string code,
        Guid request,
        RepairNoteKind kind,
        string? text,
        CancellationToken stop
    ) => Do(code, number => notes.Run(request, number, kind, text, User.Actor(), stop));

    public Task<IActionResult> OnPostTell(string code, Guid request, string? to, CancellationToken stop) =>
        Do(code, number => notes.TellByMail(request, number, to, User.Actor(), stop));

    public Task<IActionResult> OnPostCorrect(
        string code,
        Guid request,
        Priority priority,
        DateOnly? promised,
        Guid? who,
        CancellationToken stop
    ) => Do(code, number => correct.Run(request, number, priority, promised, who, User.Actor(), stop));

    public Task<IActionResult> OnPostReopen(string code, Guid request, string? why, CancellationToken stop) =>
        Do(code, number => reopen.Run(request, number, why, User.Actor(), stop));

    /// <summary>Ends a check-up: of each point "works", "fails" or "none", by its id.</summary>
    public Task<IActionResult> OnPostCheckUp(
        string code,
        Guid request,
        [FromForm] Dictionary<string, string> point,
        CancellationToken stop
    )
    {
        return Do(
            code,
            number => checkUp.Run(request, number, Of("works"), Of("fails"), Of("none"), User.Actor(), stop)
        );

        List<string> Of(string answer) => [.. point.Where(p => p.Value == answer).Select(p => p.Key)];
    }

    /// <summary>A consumable the stores need not have, because whoever works on it has one.</summary>
    public Task<IActionResult> OnPostOwn(string code, string? kind, string? note, CancellationToken stop) =>
        Do(code, number => bring.Run(number, kind, note, User.Actor(), stop));

    public Task<IActionResult> OnPostAskAgain(string code, Guid order, CancellationToken stop) =>
        Do(code, _ => orders.AskAgain(order, User.Actor(), stop));

    public Task<IActionResult> OnPostPhoto(string code, IFormFile? photo, CancellationToken stop) =>
        Do(
            code,
            async number =>
                photo is null ? new Refusal(RefusalReason.Invalid, "No photograph was sent. Choose one.")
                : (await photos.Run(number, await Uploads.Read(photo, stop), User.Actor(), stop: stop)).Try(
                    out _,
                    out var why
                )
                    ? "The photograph is kept."
                : why
        );

    public async Task<IActionResult> OnPostStart(string code, CancellationToken stop)
    {
        if (!(await authorization.AuthorizeAsync(User, Policies.Bench)).Succeeded)
        {
            return Forbid();
        }

        return Repair.NumberOf(code) is not { } number ? NotFound()
            : (await startSession.Run(number, User.Actor(), stop)).Try(out _, out var refusal)
                ? RedirectToPage("/Bench/Session", new { code })
            : Refused(refusal, Here, new { code });
    }

    public Task<IActionResult> OnPostWithdraw(string code, string? whyBack, CancellationToken stop) =>
        Do(
            code,
            async number =>
                (await withdraw.Run(number, whyBack, User.Actor(), stop)).Try(out var gone, out var why)
                    ? $"{gone} is withdrawn."
                    : why
        );

    private async Task<IActionResult> Do(string code, Func<long, Task<Outcome<string>>> act) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await act(number)).Try(out var done, out var refusal) ? Did(done, Here, new { code })
        : Refused(refusal, Here, new { code });
}
