using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Workshop.BenchLedger;

/// <summary>What is to change in what remains of a session; as sent, not checked yet.</summary>
public abstract record PlanChange
{
    private PlanChange() { }

    /// <summary>Another act comes next.</summary>
    public sealed record Instead(string? Act) : PlanChange;

    /// <summary>Another goal joins while the machine is open.</summary>
    public sealed record Join(string? Goal, string? Reason) : PlanChange;

    /// <summary>The current check failed; its joint is seated again and the check made once more.</summary>
    public sealed record Reseat(string? Joint, string? SeenWrong) : PlanChange;

    /// <summary>What went in is faulty itself: another of its number goes in.</summary>
    /// <param name="Item">Label of the other one.</param>
    public sealed record Another(string? Slot, string? Item, string? SeenWrong) : PlanChange;

    /// <summary>What is worth trying is tried: a lifting out, before the one it was only ever seen to come after.</summary>
    public sealed record Try(string? What, string? After) : PlanChange;

    /// <summary>What is being tried does not come: the other first.</summary>
    public sealed record Stays : PlanChange;

    /// <summary>A new part comes with another that was to move over to it.</summary>
    public sealed record Brings(string? On, string? Part) : PlanChange;
}

/// <summary>
/// Plans what remains of a session anew: another order, another goal, a joint to seat again, another part for one that
/// proved faulty, a map that is otherwise.
/// </summary>
public sealed class ChangePlan(
    BenchOf benches,
    RecordEntry record,
    AskAtBench ask,
    PromiseAnother another,
    PlanningTime time,
    TimeProvider clock
)
{
    /// <param name="repair">The repair on the bench.</param>
    /// <param name="request">As in <see cref="RecordEntry"/>.</param>
    /// <param name="seen">As in <see cref="RecordEntry"/>.</param>
    /// <param name="change">What changes.</param>
    /// <returns>The session with its new plan.</returns>
    public async Task<Outcome<BenchView>> Run(
        long repair,
        Guid request,
        int seen,
        PlanChange change,
        Actor by,
        CancellationToken stop = default
    )
    {
        if (!(await benches.Run(repair, stop)).Try(out var bench, out var missing))
        {
            return missing;
        }

        // Sent again after it was stored: answered as it stands.
        if (bench.Session.Entries.Exists(e => e.RequestId == request))
        {
            return bench;
        }

        using var enough = new CancellationTokenSource(time.Each, clock);
        var limit = new SearchLimit(enough.Token, stop);
        var replanned = change is PlanChange.Try wanted
            ? await Try(bench, wanted, limit, stop)
            : Replan(bench.Ledger, change, limit);
        return replanned.Try(out var entry, out var refusal)
            ? await record.Run(repair, request, seen, entry, With(), by, stop)
            : refusal;

        Func<Repair, Task<Refusal?>>? With() =>
            change is PlanChange.Another to
                ? held => another.Run(held, to.Slot!, to.Item ?? "", to.SeenWrong!.Trim(), by, stop)
                : null;
    }

    /// <summary>Whether it is worth it the draft says as it stands now, not the page.</summary>
    private async Task<Outcome<Entry.Replanned>> Try(
        BenchView bench,
        PlanChange.Try wanted,
        SearchLimit limit,
        CancellationToken stop
    ) =>
        (await ask.Run(bench.Session.ModelCode, bench.Ledger, stop))?.Probe is { } probe
        && probe.Wait.What == wanted.What
        && probe.Wait.After == wanted.After
            ? bench.Ledger.Correct(probe.Correction, limit)
            : new Refusal(RefusalReason.Conflict, "That is not worth trying any more. Nothing was changed.");

    private static Outcome<Entry.Replanned> Replan(Ledger ledger, PlanChange change, SearchLimit limit)
    {
        switch (change)
        {
            case PlanChange.Instead instead:
                return Act.TryParse(instead.Act, out var wanted)
                    ? ledger.Instead(wanted, limit)
                    : new Refusal(RefusalReason.Invalid, "That is no act of this plan. Choose one from the list.");
            case PlanChange.Join join:
                return !GoalText.Read([join.Goal ?? ""]).Try(out var goals, out var unread) ? unread
                    : Unusable(join.Reason) is { } wrong ? wrong
                    : ledger.Join(goals[0], join.Reason!.Trim(), limit);
            case PlanChange.Reseat reseat:
                return ledger.Current is not { Act.Kind: ActKind.Check or ActKind.PowerTest } step
                        ? new Refusal(RefusalReason.Conflict, "No check is being made now.")
                    : Unusable(reseat.SeenWrong) is { } unusable ? unusable
                    : ledger.Join(
                        new Goal.Reseat(JointId.Of(reseat.Joint ?? "")),
                        Shortened($"{step.Title}: failed. {reseat.SeenWrong!.Trim()}"),
                        limit
                    );
            case PlanChange.Another another:
                return (FaultText.Check(another.SeenWrong) ?? Hazards.CheckExchange(another.SeenWrong)) is { } unsaid
                    ? unsaid
                    : ledger.Another(another.Slot ?? "", $"faulty: {another.SeenWrong!.Trim()}", limit);
            case PlanChange.Stays:
                return ledger.Trying is { } trying
                    ? ledger.Correct(new MapCorrection.Stays(trying.Tried.Part, trying.Cover), limit)
                    : new Refusal(RefusalReason.Conflict, "Nothing is being tried now.");
            case PlanChange.Brings brings:
                return ledger.Correct(
                    new MapCorrection.Brings(PartId.Of(brings.On ?? ""), PartId.Of(brings.Part ?? "")),
                    limit
                );
            default:
                throw new ArgumentOutOfRangeException(nameof(change));
        }
    }

    private static Refusal? Unusable(string? reason) =>
        string.IsNullOrWhiteSpace(reason) ? new Refusal(RefusalReason.Invalid, "Say what you saw, in a few words.")
        : reason.Length > Ledger.MaxNote
            ? new Refusal(RefusalReason.Invalid, $"At most {Ledger.MaxNote} characters; this has {reason.Length}.")
        : null;

    private static string Shortened(string text) => text.Length > Ledger.MaxNote ? text[..Ledger.MaxNote] : text;
}
