using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Web.Rooms.Counter;

[PostingNeeds(Policies.Counter)]
public sealed class RepairModel(
    RepairOf repairs,
    ChooseItem chooseItem,
    WithdrawRepair withdraw,
    StartSession startSession,
    IAuthorizationService authorization,
    TimeProvider clock
) : RoomPage
{
    private const string Here = "/Counter/Repair";

    public RepairView View { get; private set; } = null!;

    public DateOnly Today => DateOnly.FromDateTime(clock.GetLocalNow().DateTime);

    /// <summary>Where on its thread the repair is.</summary>
    public string Now =>
        View.Repair.State switch
        {
            RepairState.Closed or RepairState.Withdrawn => "history",
            RepairState.OnBench => View.Bench!.Ledger.IsFinished ? "close-out" : "bench",
            _ => View.Lines.All(l => l.Chosen is not null) ? "plan" : "what to fit",
        };

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number || !(await repairs.Run(number, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        View = view;
        return Page();
    }

    public async Task<IActionResult> OnPostChoose(string code, string slot, string item, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await chooseItem.Run(number, slot ?? "", item ?? "", User.Actor(), stop)).Try(out var taken, out var refusal)
            ? Did($"{taken} is promised to {Repair.CodeOf(number)}.", Here, new { code })
        : Refused(refusal, Here, new { code });

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

    public async Task<IActionResult> OnPostWithdraw(string code, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await withdraw.Run(number, User.Actor(), stop)).Try(out _, out var refusal)
            ? RedirectToPage(Here, new { code })
        : Refused(refusal, Here, new { code });
}
