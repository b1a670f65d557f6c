using System.Globalization;
using System.Linq.Expressions;
using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;

namespace Zenrik.Workshop.Book;

/// <summary>Which of the waiting repairs come first.</summary>
public enum Priority
{
    Normal,
    High,
    Low,
}

/// <summary>A work order on one unit.</summary>
public sealed class Repair
{
    public required RepairId Id { get; init; }

    /// <summary>Counted up by the database; shown as "R-1001".</summary>
    public long Number { get; init; }

    public required UnitId UnitId { get; init; }

    public Unit Unit { get; init; } = null!;

    /// <summary>In the user's or technician's words.</summary>
    public string? Note { get; init; }

    /// <summary>Where it stands; it moves by <see cref="Go"/> and ends by <see cref="EndAs"/>.</summary>
    public RepairState State
    {
        get => state;
        init => state = value;
    }

    private RepairState state;

    public Priority Priority { get; set; }

    /// <summary>What it is taken in for.</summary>
    public RepairPurpose Purpose { get; init; }

    /// <summary>What is done besides its lines, as <see cref="GoalText"/> writes goals: "clean:fan".</summary>
    public List<string> AlsoGoals { get; init; } = [];

    /// <summary>Who is to do it; null: whoever takes it.</summary>
    public Guid? AssignedToId { get; set; }

    public Technician? AssignedTo { get; set; }

    /// <summary>The earlier repair whose trouble has come back; null: none.</summary>
    public RepairId? FollowsId { get; init; }

    public Repair? Follows { get; init; }

    /// <summary>The campaign it is part of; null: none.</summary>
    public string? Campaign { get; init; }

    /// <summary>Ids of the symptoms named at the counter; empty when the part was known already.</summary>
    public List<string> Symptoms { get; init; } = [];

    public List<string> Circumstances { get; init; } = [];

    /// <summary>Since when, as far as it is known.</summary>
    public DateOnly? Since { get; init; }

    /// <summary>How triage ended; null while it goes on, or when there was none.</summary>
    public TriageStanding? TriageEnd { get; set; }

    /// <summary>The fault triage found or the bench confirmed.</summary>
    public string? FaultId { get; set; }

    public DateTimeOffset? TriageEndedAt { get; set; }

    public RepairEnd? End { get; private set; }

    /// <summary>Longest <see cref="Decided"/>, in characters.</summary>
    public const int MaxDecided = 2000;

    /// <summary>What was decided to do with the unit, and why, in a sentence.</summary>
    public string? Decided { get; set; }

    /// <summary>When a lead said that what was dangerous in it is safe; null: nobody did, or had to.</summary>
    public DateTimeOffset? MadeSafeAt { get; set; }

    public DateOnly? PromisedOn { get; set; }

    public required DateTimeOffset OpenedAt { get; init; }

    public required Guid OpenedById { get; init; }

    public Technician OpenedBy { get; init; } = null!;

    public DateTimeOffset? ClosedAt { get; private set; }

    public Guid? ClosedById { get; private set; }

    public Technician? ClosedBy { get; set; }

    /// <summary>What the plan expected when the bench session began.</summary>
    public double? MinutesPlanned { get; set; }

    /// <summary>Hands-on minutes of the bench session.</summary>
    public double? MinutesTaken { get; set; }

    /// <summary>Consumables whoever works on it has of their own, by the name of the kind: with a note whose and which.</summary>
    public Dictionary<string, string> OwnConsumables { get; init; } = [];

    public List<RepairLine> Lines { get; init; } = [];

    public List<TriageStepRecord> Triage { get; init; } = [];

    /// <summary>What was added to it, oldest first.</summary>
    public List<RepairNote> Notes { get; init; } = [];

    public List<RepairPhoto> Photos { get; init; } = [];

    public BenchSession? Session { get; init; }

    /// <summary>Repairs whose unit is in the workshop for them, as a query: <see cref="RepairLife.Underway"/>.</summary>
    public static readonly Expression<Func<Repair, bool>> Underway = r =>
        r.State == RepairState.Open || r.State == RepairState.OnBench || r.State == RepairState.Stopped;

    /// <summary>
    /// True while a part may be ordered for one of its lines: before the bench, and there where a new part proved faulty.
    /// <c>WantedLines.WithoutPart</c> asks the database the same.
    /// </summary>
    public bool TakesOrderFor(RepairLine line) =>
        State == RepairState.Open || (State == RepairState.OnBench && line.AwaitsAnother);

    /// <summary>True while the unit is in the workshop for it.</summary>
    public bool IsUnderway => RepairLife.Underway.Contains(State);

    /// <summary>True while it is not known yet what to exchange.</summary>
    public bool InTriage =>
        State == RepairState.Open
        && Lines.Count == 0
        && TriageEnd is null
        && (Purpose == RepairPurpose.Fault || Symptoms.Count > 0);

    /// <summary>True while the machine is to be looked through, and nothing was found yet.</summary>
    public bool InCheckUp => State == RepairState.Open && Purpose == RepairPurpose.CheckUp && Symptoms.Count == 0;

    /// <summary>True when it is known what is done at the bench.</summary>
    public bool HasGoals => Lines.Count + AlsoGoals.Count > 0;

    public string Code => CodeOf(Number);

    /// <summary>Moves it on. Whoever calls has answered in a sentence what cannot be.</summary>
    /// <exception cref="InvalidOperationException">The step is none of <see cref="RepairLife"/>'s.</exception>
    public void Go(RepairState to)
    {
        Require(RepairLife.May(Code, State, to));
        state = to;
    }

    /// <summary>Closes it.</summary>
    /// <exception cref="InvalidOperationException">It cannot end so from where it stands.</exception>
    public void EndAs(RepairEnd end, Occasion occasion)
    {
        Require(RepairLife.MayEnd(Code, State, end));
        (state, End, ClosedAt, ClosedById) = (RepairState.Closed, end, occasion.At, occasion.By.Id);
    }

    /// <summary>Takes it up again where it ended; its triage goes on with what was found.</summary>
    /// <exception cref="InvalidOperationException">It has not ended, or what was done for it stays.</exception>
    public void Reopen(bool opened)
    {
        Require(RepairLife.MayReopen(Code, State, End, opened));
        (state, End, ClosedAt, ClosedById, ClosedBy) = (RepairState.Open, null, null, null, null);
        (TriageEnd, TriageEndedAt, FaultId, Decided, MinutesTaken) = (null, null, null, null, null);
    }

    /// <summary>Gives it up before anything was opened.</summary>
    /// <exception cref="InvalidOperationException">It is on the bench, or at its end.</exception>
    public void Withdraw(Occasion occasion)
    {
        Go(RepairState.Withdrawn);
        (ClosedAt, ClosedById) = (occasion.At, occasion.By.Id);
    }

    private static void Require(Refusal? none)
    {
        if (none is not null)
        {
            throw new InvalidOperationException(none.Message);
        }
    }

    /// <summary>What is done, in a few words; empty while that is being found.</summary>
    public string What =>
        Lines.Count > 0 ? string.Join(", ", Lines.OrderBy(l => l.Position).Select(l => l.What))
        : Purpose == RepairPurpose.Fault ? ""
        : RepairPurposes.Name(Purpose);

    public IReadOnlyList<Goal> Goals =>
        [.. Lines.OrderBy(l => l.Position).Select(l => l.Goal), .. GoalText.Read(AlsoGoals).Value];

    /// <summary>The goals it went to the bench with.</summary>
    public IReadOnlyList<Goal> GoalsAtStart =>
        [
            .. Lines.Where(l => !l.JoinedAtBench).OrderBy(l => l.Position).Select(l => l.Goal),
            .. GoalText.Read(AlsoGoals).Value,
        ];

    public static string CodeOf(long number) => string.Create(CultureInfo.InvariantCulture, $"R-{number}");

    /// <summary>The number in "R-1001" or "r 1001"; null when the text is no repair code.</summary>
    public static long? NumberOf(string? code) =>
        code is { Length: > 1 }
        && (code[0] is 'R' or 'r')
        && long.TryParse(code.AsSpan(1).TrimStart('-').Trim(), CultureInfo.InvariantCulture, out var number)
        && number > 0
            ? number
            : null;
}

/// <summary>One assembly a repair exchanges.</summary>
public sealed class RepairLine
{
    public required Guid Id { get; init; }

    public required RepairId RepairId { get; init; }

    /// <summary>From 0, in the order chosen.</summary>
    public required int Position { get; init; }

    /// <summary>The assembly's id in the model's map.</summary>
    public required string Assembly { get; init; }

    public required string AssemblyName { get; init; }

    public required string Slot { get; init; }

    /// <summary>What is wrong, one of the assembly's faults: "battery worn".</summary>
    public required string Fault { get; init; }

    /// <summary>True when it was found broken at the bench and joined the job there.</summary>
    public bool JoinedAtBench { get; init; }

    /// <summary>The number the passport gave when the session began.</summary>
    public string? ExpectedOut { get; set; }

    /// <summary>The number of the item promised.</summary>
    public string? ExpectedIn { get; set; }

    /// <summary>As printed on what came out.</summary>
    public string? NumberOut { get; set; }

    /// <summary>As printed on what went in.</summary>
    public string? NumberIn { get; set; }

    /// <summary>True when what came out was not what the passport said.</summary>
    public bool Surprise { get; set; }

    public ItemId? ItemOutId { get; set; }

    public Item? ItemOut { get; set; }

    public ItemId? ItemInId { get; set; }

    public Item? ItemIn { get; set; }

    /// <summary>
    /// What went in and proved faulty while another is awaited: on the bench in the book, in the machine until the other goes
    /// in. Null: nothing did.
    /// </summary>
    public ItemId? FaultyItemId { get; private set; }

    /// <summary>What was seen of it.</summary>
    public string? FaultySeen { get; private set; }

    /// <summary>The act it was seen at; null where a build from before this was kept wrote the line.</summary>
    public string? FaultyAt { get; private set; }

    public void AwaitAnother(ItemId faulty, string seen, string? at) =>
        (FaultyItemId, FaultySeen, FaultyAt) = (faulty, seen, at);

    public void AwaitNoMore() => (FaultyItemId, FaultySeen, FaultyAt) = (null, null, null);

    public bool AwaitsAnother => FaultyItemId is not null;

    /// <summary>Whether a number may go in, as far as the session has gone: where another is awaited, the same alone.</summary>
    public bool MayBe(string number) => !AwaitsAnother || number == ExpectedIn;

    /// <summary>The fault; of an upgrade, which would say nothing alone, with what is upgraded.</summary>
    public string What => Fault == RepairPurposes.ToBeUpgraded ? $"{AssemblyName} {Fault}" : Fault;

    /// <summary>True when what is in the slot works and is not enough.</summary>
    public bool IsTooSmall =>
        Fault == RepairPurposes.ToBeUpgraded
        || Fault.Contains("too small", StringComparison.OrdinalIgnoreCase)
        || Fault.Contains("too little", StringComparison.OrdinalIgnoreCase);

    public Goal Goal => new Goal.Replace(Core.ServiceMaps.AssemblyId.Of(Assembly));
}
