using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.Repairs;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Stock;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>From what failed to what one can fit.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class FitModel(
    RepairOf repairs,
    WhatToFit whatToFit,
    ChooseAssembly choose,
    NoteLook looks,
    IssueItem issue
) : RoomPage
{
    private const string Here = "/Counter/Fit";

    public RepairView View { get; private set; } = null!;

    public WhatToFitView What { get; private set; } = null!;

    /// <summary>What can be handed out, where what failed is no part of the machine.</summary>
    public OutsideChoice? Outside { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number || !(await repairs.Run(number, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        // Without a map there is nothing to choose from; the repair's page leads to the bench.
        if (view.Repair.State != RepairState.Open || view.Repair.InTriage || view.Passport.Model is null)
        {
            return RedirectToPage("/Counter/Repair", new { code });
        }

        (View, What) = (view, await whatToFit.Run(view, stop));
        Outside = await whatToFit.Outside(view.Passport, What.Component, stop);
        return Page();
    }

    public async Task<IActionResult> OnPostChoose(string code, string? assembly, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await choose.Run(number, assembly ?? "", User.Actor(), stop)).Try(out var name, out var refusal)
            ? Did($"The repair exchanges the {name}.", Here, new { code })
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostRemove(string code, string? assembly, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await choose.Remove(number, assembly ?? "", User.Actor(), stop)).Try(out _, out var refusal)
            ? RedirectToPage(Here, new { code })
        : Refused(refusal, Here, new { code });

    /// <summary>Hands a charger to whoever uses the unit.</summary>
    /// <param name="back">"triage" where it was asked for there.</param>
    public Task<IActionResult> OnPostSpare(
        string code,
        Guid request,
        string? number,
        string? to,
        string? back,
        CancellationToken stop
    ) =>
        Say(
            issue.Spare(request, number, to, User.Actor(), stop),
            back == "triage" ? "/Counter/Triage" : Here,
            new { code }
        );

    public async Task<IActionResult> OnPostLook(
        string code,
        string? trait,
        string? look,
        string? back,
        CancellationToken stop
    )
    {
        var next = back == "repair" ? "/Counter/Repair" : Here;
        if (Repair.NumberOf(code) is not { } number || !(await repairs.Run(number, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        return (await looks.Run(view.Repair.Unit.Tag, trait ?? "", look ?? "", User.Actor(), stop)).Try(
            out var said,
            out var refusal
        )
            ? Did(said, next, new { code })
            : Refused(refusal, next, new { code });
    }
}
