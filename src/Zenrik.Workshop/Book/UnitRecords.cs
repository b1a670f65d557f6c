using Zenrik.Core;
using Zenrik.Core.Repairs;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

public enum UnitEventKind
{
    Registered,

    /// <summary>Another site or user.</summary>
    Moved,
    State,
    Loan,
    Campaign,

    /// <summary>The machine said what is inside it.</summary>
    Heard,

    /// <summary>A person decided a question the machine had raised.</summary>
    Decided,

    /// <summary>Something that was entered wrongly was put right.</summary>
    Corrected,
}

/// <summary>One change of a unit that is no movement of a part. Rows are never changed or deleted.</summary>
public sealed class UnitEvent
{
    public const int MaxText = 240;

    public long Id { get; init; }

    public required UnitId UnitId { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    public required UnitEventKind Kind { get; init; }

    /// <summary>What changed, in a sentence's words.</summary>
    public required string Text { get; init; }

    public RepairId? RepairId { get; init; }

    public Repair? Repair { get; init; }

    internal static UnitEvent Of(UnitId unit, UnitEventKind kind, string text, Occasion occasion) =>
        new()
        {
            UnitId = unit,
            At = occasion.At,
            ById = occasion.By.Id,
            Kind = kind,
            Text = text.Length > MaxText ? text[..MaxText] : text,
            RepairId = occasion.Repair,
        };
}

/// <summary>A unit lent to somebody.</summary>
public sealed class Loan
{
    public required Guid Id { get; init; }

    public required UnitId UnitId { get; init; }

    public Unit Unit { get; init; } = null!;

    /// <summary>Who has it.</summary>
    public required string To { get; init; }

    public DateOnly? DueOn { get; init; }

    /// <summary>The repair whose user it helps out; null when it is lent for another reason.</summary>
    public RepairId? RepairId { get; init; }

    public Repair? Repair { get; init; }

    public required DateTimeOffset OutAt { get; init; }

    public required Guid OutById { get; init; }

    public Technician OutBy { get; init; } = null!;

    public DateTimeOffset? BackAt { get; set; }

    public Guid? BackById { get; set; }
}

/// <summary>A unit marked for something that is to be done to many: a recall, an update, a new charger.</summary>
public sealed class CampaignMark
{
    public const int MaxName = 60;

    public required UnitId UnitId { get; init; }

    public required string Campaign { get; init; }

    public required DateTimeOffset At { get; init; }

    public DateTimeOffset? DoneAt { get; set; }
}

/// <summary>What was agreed on how a campaign's units travel.</summary>
/// <param name="From">Nothing leaves a site before; null: from now on.</param>
/// <param name="Share">Of the bench's hours for it, in hundredths; 1 to 100.</param>
/// <param name="Carry">Days on the way, there or back; 0 to <see cref="MostCarry"/>.</param>
/// <param name="Spare">By site, how many units it can do without at a time; one that is missing can spare all.</param>
public sealed record WaveTerms(DateOnly? From, int Share, int Carry, IReadOnlyDictionary<string, int> Spare)
{
    public const int MostCarry = 14;

    /// <summary>Half of the hours, for repairs go on; a day on the way. Common practice, no published source.</summary>
    public static WaveTerms Usual { get; } = new(null, 50, 1, new Dictionary<string, int>());
}

/// <summary>Something to be done on many units, marked for it one by one.</summary>
public sealed class Campaign
{
    public const int MaxWhy = 80;
    public const int MaxEndedWhy = 200;

    /// <summary>As the marks name it.</summary>
    public required string Name { get; init; }

    /// <summary>What its units are taken in for; null: not said yet.</summary>
    public RepairPurpose? Purpose { get; set; }

    /// <summary>The assembly that is exchanged, by its id in the maps; null: none.</summary>
    public string? Assembly { get; set; }

    /// <summary>Why, as it stands on the repairs' lines: "recalled".</summary>
    public string? Why { get; set; }

    /// <summary>By when all of it is to be done.</summary>
    public DateOnly? EndsOn { get; set; }

    /// <summary>How its units travel; null: not said yet.</summary>
    public WaveTerms? Waves { get; set; }

    public required DateTimeOffset StartedAt { get; init; }

    public required Guid StartedById { get; init; }

    public Technician StartedBy { get; init; } = null!;

    public DateTimeOffset? EndedAt { get; set; }

    public Guid? EndedById { get; set; }

    /// <summary>Why nothing is done in it any more; null while it runs.</summary>
    public Refusal? Over =>
        EndedAt is null
            ? null
            : new Refusal(RefusalReason.Conflict, $"“{Name}” has ended. Take it up again on its page first.");

    /// <summary>Why it ended with units still to do.</summary>
    public string? EndedWhy { get; set; }
}

/// <summary>What a unit's battery said of itself, and when. Rows are never changed or deleted.</summary>
public sealed class BatteryRecord
{
    public long Id { get; init; }

    public required UnitId UnitId { get; init; }

    /// <summary>The battery the passport had in the unit then; null when it had none.</summary>
    public ItemId? ItemId { get; init; }

    public required DateTimeOffset At { get; init; }

    /// <summary>Full charge over design, as read.</summary>
    public required double Health { get; init; }

    /// <summary>Null where the pack counts charge and names no voltage.</summary>
    public double? FullWh { get; init; }

    public double? DesignWh { get; init; }

    public int? Cycles { get; init; }

    public string? Model { get; init; }

    public string? Serial { get; init; }
}

/// <summary>Something a machine said that a person has to decide.</summary>
public sealed class UnitQuestion
{
    public const int MaxText = 400;

    public required Guid Id { get; init; }

    public required UnitId UnitId { get; init; }

    public Unit Unit { get; init; } = null!;

    public required DateTimeOffset At { get; init; }

    public required string Text { get; init; }

    /// <summary>The slot it is about; null when it is about the whole unit.</summary>
    public string? Slot { get; init; }

    /// <summary>What the machine says is in the slot; null when it sees nothing there.</summary>
    public string? Number { get; init; }

    public string? Serial { get; init; }

    /// <summary>True when the passport can follow the machine by itself; otherwise a person puts it right by hand.</summary>
    public bool Writable { get; init; }

    public DateTimeOffset? DecidedAt { get; set; }

    public Guid? DecidedById { get; set; }

    /// <summary>True when the passport was made to follow the machine.</summary>
    public bool Accepted { get; set; }
}
