using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Triage;

namespace Zenrik.Web.Rooms.Counter;

/// <summary>Finding out what is wrong: one act at a time, the best one first.</summary>
[PostingNeeds(Policies.Counter)]
public sealed class TriageModel(
    TriageOf triage,
    OrderBeforeSure ahead,
    AnswerTriage answers,
    EndTriage ends,
    LearnedFaults learned,
    WhatToFit whatToFit
) : RoomPage
{
    private const string Here = "/Counter/Triage";

    public TriageView View { get; private set; } = null!;

    /// <summary>Closed repairs of the model that weigh in.</summary>
    public int Learned { get; private set; }

    /// <summary>Parts that may be needed, weighed for ordering now.</summary>
    public IReadOnlyList<MaybeNeeded> Ahead { get; private set; } = [];

    /// <summary>What can be handed out, where the best act exchanges what is no part of the machine.</summary>
    public OutsideChoice? Outside { get; private set; }

    /// <summary>What charger it takes, while its charger may be what is wrong; null: not said, or no matter.</summary>
    public Specification.Charger? Charger =>
        View.Repair.InTriage
        && View.Advice.Faults.Any(f => f.Chance >= Doubtful && f.Fault.Component == Specification.Charger.Outside)
            ? View.Passport.Model?.Charger()
            : null;

    private const double Doubtful = 0.01;

    public string Ended =>
        View.Repair.End is { } end ? $"Ended: {RepairLife.Name(end)}."
        : View.Repair.TriageEnd == TriageStanding.BeyondBench ? "Beyond the bench: a specialist, or a new board."
        : View.Repair.TriageEnd == TriageStanding.NotExplained ? View.Repair.Decided ?? "Nothing known explains it."
        : View.Repair.State == RepairState.Stopped ? "Set apart: see the repair's page."
        : View.Repair.FaultId is { } fault ? $"To act on: {View.Knowledge.Fault(fault)?.Name}."
        : $"{View.Repair.Code} is past triage.";

    public string? How(TriageAct act) =>
        act.IsTest ? View.Knowledge.Test(act.Id)!.How : View.Knowledge.Remedy(act.Id)!.How;

    public string Title(TriageStepRecord step) =>
        step.Test is { } test
            ? View.Knowledge.Test(test)?.Title ?? test
            : View.Knowledge.Remedy(step.Remedy!)?.Title ?? step.Remedy!;

    public string Answer(TriageStepRecord step) =>
        step.Remedy is not null ? (step.Answer is null ? "did not help" : "cured it")
        : step.Answer is { } answer
            ? View.Knowledge.Test(step.Test!)?.Outcomes.FirstOrDefault(o => o.Id == answer)?.Name ?? answer
        : "could not tell";

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (Repair.NumberOf(code) is not { } number)
        {
            return NotFound();
        }

        if (!(await triage.Run(number, stop)).Try(out var view, out var refusal))
        {
            return refusal.Reason == RefusalReason.NotFound
                ? NotFound()
                : Refused(refusal, "/Counter/Repair", new { code });
        }

        View = view;
        Ahead = view.Repair.InTriage ? await ahead.Run(view, stop) : [];
        Outside =
            view.Repair.InTriage
            && view.Advice.Best is { IsTest: false } best
            && view.Knowledge.Remedy(best.Id)!.Exchanges is { } exchanged
                ? await whatToFit.Outside(view.Passport, view.Knowledge.Component(exchanged), stop)
                : null;
        var model = view.Repair.Unit.Model;
        Learned = (await learned.Counts(model.Class, stop)).Where(c => c.ModelCode == model.Code).Sum(c => c.Count);
        return Page();
    }

    public Task<IActionResult> OnPostTest(
        string code,
        Guid request,
        string? test,
        string? outcome,
        CancellationToken stop
    ) => Step(code, request, new TriageStep.Tested(test ?? "", string.IsNullOrEmpty(outcome) ? null : outcome), stop);

    public Task<IActionResult> OnPostRemedy(
        string code,
        Guid request,
        string? remedy,
        bool cured,
        CancellationToken stop
    ) => Step(code, request, new TriageStep.Tried(remedy ?? "", cured), stop);

    public async Task<IActionResult> OnPostTakeBack(string code, long step, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await answers.TakeBack(number, step, User.Actor(), stop)).Try(out _, out var refusal)
            ? RedirectToPage(Here, new { code })
        : Refused(refusal, Here, new { code });

    /// <summary>Asks suppliers for what may be needed.</summary>
    public async Task<IActionResult> OnPostAsk(string code, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await triage.Run(number, stop)).Try(out var view, out var refusal)
            ? Did(await ahead.Ask(view, stop), Here, new { code })
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostEnd(
        string code,
        TriageStanding end,
        string? fault,
        CancellationToken stop
    ) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await ends.With(number, end, fault ?? "", User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(
                done,
                end == TriageStanding.SureEnough ? "/Counter/Fit"
                    : end is TriageStanding.BeyondBench or TriageStanding.NotExplained ? "/Counter/Decide"
                    : "/Counter/Repair",
                new { code }
            )
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostStop(string code, string? symptom, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await answers.Stop(number, symptom ?? "", User.Actor(), stop)).Try(out var stopped, out var refusal)
            ? Did(stopped, "/Counter/Repair", new { code })
        : Refused(refusal, Here, new { code });

    public async Task<IActionResult> OnPostReopen(string code, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await ends.TakeBack(number, User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(done, Here, new { code })
        : Refused(refusal, Here, new { code });

    private async Task<IActionResult> Step(string code, Guid request, TriageStep step, CancellationToken stop) =>
        Repair.NumberOf(code) is not { } number ? NotFound()
        : (await answers.Run(number, request, step, User.Actor(), stop)).Try(out _, out var refusal)
            ? RedirectToPage(
                step is TriageStep.Tested { Outcome: { } seen } tested
                && ShippedTriage.Knowledge.Test(tested.Test)?.Outcomes.FirstOrDefault(o => o.Id == seen)?.Stop
                    is not null
                    ? "/Counter/Repair"
                    : Here,
                new { code }
            )
        : Refused(refusal, Here, new { code });
}
