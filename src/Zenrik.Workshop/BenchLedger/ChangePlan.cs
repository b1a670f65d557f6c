using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
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

    /// <summary>The map says otherwise: what a new part brings, or what came although it was believed to wait.</summary>
    public sealed record Finding(Found? What) : PlanChange;
}

/// <summary>Plans what remains of a session anew: another order, another goal, a joint to seat again.</summary>
public sealed class ChangePlan(BenchOf benches, RecordEntry record, PlanningTime time, TimeProvider clock)
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
        return Replan(bench.Ledger, change, new SearchLimit(enough.Token, stop)).Try(out var entry, out var refusal)
            ? await record.Run(repair, request, seen, entry, by, stop)
            : refusal;
    }

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
            case PlanChange.Finding finding:
                return finding.What is { } found
                    ? ledger.Finding(found, limit)
                    : new Refusal(RefusalReason.Invalid, "That could not be read. Nothing was changed.");
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
