using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Workshop.BenchLedger;

namespace Zenrik.Web.Rooms.Bench;

/// <summary>One line for the ledger as a form sends it.</summary>
public sealed record EntryForm
{
    public Guid Request { get; init; }

    public int Seen { get; init; }

    public int Step { get; init; }

    /// <summary>
    /// done, counted, differs, number, note, left, moved, named or undo; instead, join, exchange, reseat, another, try, stays
    /// or brings where what remains is planned anew.
    /// </summary>
    public string? Do { get; init; }

    public int? Count { get; init; }

    public Difference? Why { get; init; }

    public string? Text { get; init; }

    public bool Confirmed { get; init; }

    public NumberDifference? Because { get; init; }

    public Leaving? How { get; init; }

    /// <summary>The act, goal, joint or part that a change of plan is about; an assembly with the label of what goes in behind it.</summary>
    public string? What { get; init; }

    /// <summary>What it is tried before, the exchanged part it comes with, or the label of what takes its place.</summary>
    public string? Other { get; init; }

    public NamedKind? Kind { get; init; }

    public Drive? Drive { get; init; }

    public TieKind? Tie { get; init; }

    public double? Length { get; init; }

    public JointKind? Joint { get; init; }

    public string? Check { get; init; }

    public bool Exchanged { get; init; }

    public bool Outside { get; init; }

    public Side? Side { get; init; }

    /// <summary>Its identity in the model's draft, where it was picked from there.</summary>
    public string? Identity { get; init; }

    public IReadOnlyList<string>? Held { get; init; }

    /// <summary>The exchanged part it was taken off, to go onto the new one.</summary>
    public string? MovesFrom { get; init; }

    /// <summary>The ledger's entry; null when the form was not one of ours, or is a change of plan.</summary>
    public Entry? ToEntry() =>
        Do switch
        {
            "done" => new Entry.Done(Step, Confirmed, Count ?? 1),
            "counted" when Count is { } count => new Entry.Counted(Step, count),
            "differs" when Count is { } count && Why is { } why => new Entry.CountDiffers(Step, count, why, Text),
            "number" => new Entry.NumberRead(Step, Text ?? "", Confirmed, Because),
            "note" => new Entry.Noted(Step, Text ?? ""),
            "left" when How is { } how => new Entry.Left(Step, how, Text ?? ""),
            "moved" => new Entry.Moved(Step, What ?? ""),
            "named" when Kind is { } kind => new Entry.Named(Step, ToThing(kind)),
            "undo" => new Entry.TakenBack(),
            _ => null,
        };

    /// <summary>The change of plan; null when the form is none.</summary>
    public PlanChange? ToChange() =>
        Do switch
        {
            "instead" => new PlanChange.Instead(What),
            "join" => new PlanChange.Join(What, Text),
            "reseat" => new PlanChange.Reseat(What, Text),
            "another" => new PlanChange.Another(What, Other, Text),
            "try" => new PlanChange.Try(What, Other),
            "stays" => new PlanChange.Stays(),
            "brings" => new PlanChange.Brings(Other, What),
            _ => null,
        };

    /// <summary>The assembly that is broken too and the label of what goes in; null when the form is about something else.</summary>
    public (string Assembly, string Item)? ToExchange() =>
        Do == "exchange" && (What ?? "").Split(' ', 2) is [var assembly, var item] ? (assembly, item) : null;

    private NamedThing ToThing(NamedKind kind) =>
        new()
        {
            Kind = kind,
            Name = kind == NamedKind.Isolation ? "battery plug" : Text?.Trim() ?? "",
            Count = kind == NamedKind.Screws ? Count ?? 0 : 0,
            Drive = kind == NamedKind.Screws ? Drive : null,
            LengthMm = kind == NamedKind.Screws ? Length : null,
            Joint = kind == NamedKind.Joint ? Joint : null,
            Tie = kind == NamedKind.Tie ? Tie : null,
            Check = kind == NamedKind.Joint && !string.IsNullOrEmpty(Check) ? Check : null,
            Exchanged = kind == NamedKind.Part && Exchanged,
            Outside = kind == NamedKind.Part && Outside,
            Side = Side == Core.ServiceMaps.Side.Deck ? Side : null,
            Identity = string.IsNullOrEmpty(Identity) ? null : Identity,
            Held = kind == NamedKind.Part ? Held ?? [] : null,
            MovesFrom = kind == NamedKind.Part && !string.IsNullOrEmpty(MovesFrom) ? MovesFrom : null,
        };
}
