using System.Text.Json;
using System.Text.Json.Serialization;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>A thing as a session named it.</summary>
/// <param name="Off">The act that takes it off, as "kind:target": its identity within the model.</param>
public sealed record SightedThing(string Off, NamedThing Thing);

/// <summary>What one session showed of a model: in which order things came off, and what they were called.</summary>
public sealed record Sighting
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>The session's id; sightings are told apart by it.</summary>
    public required Guid Session { get; init; }

    /// <summary>Who worked it: one person's habit is little evidence.</summary>
    public required Guid By { get; init; }

    /// <summary>Acts that took off and put back, in their order, as "kind:target".</summary>
    public required IReadOnlyList<string> Acts { get; init; }

    /// <summary>What got its name in this session; empty where a plan was followed.</summary>
    public required IReadOnlyList<SightedThing> Things { get; init; }

    /// <summary>What a session's ledger shows; null while nothing was taken off.</summary>
    public static Sighting? Of(Guid session, Guid by, Ledger ledger)
    {
        var acts = ledger.DoneActs.Where(a => a.Kind != ActKind.TurnOver && (TakesOff(a) || PutsBack(a))).ToList();
        return acts.Count == 0
            ? null
            : new Sighting
            {
                Session = session,
                By = by,
                Acts = [.. acts.Select(a => a.ToString())],
                Things =
                [
                    .. ledger.Named.Select(n => new SightedThing(n.Off.ToString(), n.Thing)),
                    .. ledger
                        .Counts.Where(c => c is { Why: Difference.MapWrong, Back: false })
                        .Select(c => new SightedThing(Act.Undo(c.Group.Id).ToString(), Counted(c))),
                ],
            };
    }

    /// <summary>A screw group as a session counted it.</summary>
    private static NamedThing Counted(CountNote note) =>
        new()
        {
            Kind = NamedKind.Screws,
            Name = note.Group.Name,
            Identity = note.Group.Id.Value,
            Count = note.Count,
            Drive = note.Group.Screw.Drive,
            LengthMm = note.Group.Screw.IsMeasured ? note.Group.Screw.LengthMm : null,
            Side = note.Group.Side,
        };

    public string ToText() => JsonSerializer.Serialize(this, Json);

    /// <summary>Reads what <see cref="ToText"/> wrote.</summary>
    public static Sighting Parse(string text) => JsonSerializer.Deserialize<Sighting>(text, Json)!;

    /// <summary>Every act that took something off, with what was off at that moment.</summary>
    internal IEnumerable<(Act Act, IReadOnlySet<Act> Off)> Moments()
    {
        var off = new HashSet<Act>();
        foreach (var act in Acts.Select(Act.Parse))
        {
            if (TakesOff(act))
            {
                yield return (act, off.ToHashSet());
                off.Add(act);
            }
            else if (off.FirstOrDefault(o => o.Reverse == act) is { Target: not null } back)
            {
                off.Remove(back);
            }
        }
    }

    internal static bool TakesOff(Act act) =>
        act.Kind is ActKind.Undo or ActKind.Open or ActKind.Isolate or ActKind.Free or ActKind.LiftOut;

    private static bool PutsBack(Act act) =>
        act.Kind is ActKind.Fasten or ActKind.Close or ActKind.Reconnect or ActKind.Lay or ActKind.PutIn;
}
