using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>
/// Which names mean the same thing of a machine, and which mean nothing: two people call a part differently, or one names a
/// part where there is none. What sessions showed and people said is read with that.
/// </summary>
internal sealed class Identities
{
    private readonly Dictionary<Act, Act> same = [];
    private readonly HashSet<Act> absent = [];

    public Identities(IEnumerable<Statement> statements)
    {
        foreach (var statement in statements)
        {
            switch (statement)
            {
                case Statement.Same s:
                    same[Act.Parse(s.What)] = Act.Parse(s.As);
                    break;
                case Statement.Absent s:
                    absent.Add(Of(Act.Parse(s.What)));
                    break;
                default:
                    break;
            }
        }
    }

    /// <summary>The act by which a thing is known.</summary>
    public Act Of(Act act)
    {
        // One at a time: what was once said the other way round too must not go on for ever.
        for (var steps = 0; same.TryGetValue(act, out var known) && steps <= same.Count; steps++)
        {
            act = known;
        }

        return act;
    }

    public bool IsAbsent(Act act) => absent.Contains(Of(act));

    public Sighting Of(Sighting sighting) =>
        same.Count == 0 && absent.Count == 0
            ? sighting
            : sighting with
            {
                Acts = [.. sighting.Acts.Select(a => Known(Act.Parse(a))).OfType<Act>().Select(a => a.ToString())],
                Things =
                [
                    .. sighting
                        .Things.Where(t => !IsAbsent(Act.Parse(t.Off)))
                        .Select(t => new SightedThing(Text(t.Off), Of(t.Thing))),
                ],
            };

    /// <summary>The same said of what is known; null of what does not exist.</summary>
    public Statement? Of(Statement statement) =>
        statement switch
        {
            Statement.NeedNot s => About(s.What, s.After) ? new Statement.NeedNot(Text(s.What), Text(s.After)) : null,
            Statement.Needs s => About(s.What, s.After) ? new Statement.Needs(Text(s.What), Text(s.After)) : null,
            Statement.CannotTell s => About(s.What, s.After)
                ? new Statement.CannotTell(Text(s.What), Text(s.After))
                : null,
            Statement.Holds s => About(s.What) && IsThere(s.Part)
                ? new Statement.Holds(Text(s.What), Part(s.Part))
                : null,
            Statement.Joins s => IsThere(s.Plug) && IsThere(s.Socket)
                ? new Statement.Joins(Joint(s.Joint), Part(s.Plug), Part(s.Socket))
                : null,
            Statement.Lead s => IsThere(s.Socket) && IsThere(s.OtherSocket)
                ? new Statement.Lead(
                    Joint(s.Joint),
                    s.Other is { } other ? Joint(other) : null,
                    Part(s.Socket),
                    Part(s.OtherSocket)
                )
                : null,
            Statement.Rides s => IsThere(s.Part) && (s.On is null || IsThere(s.On))
                ? new Statement.Rides(Part(s.Part), s.On is { } on ? Part(on) : null)
                : null,
            Statement.Brings s => IsThere(s.Part) && IsThere(s.What)
                ? new Statement.Brings(Part(s.Part), Part(s.What), s.Does)
                : null,
            Statement.InSlot s => IsThere(s.Part) ? s with { Part = Part(s.Part) } : null,
            Statement.Called s => About(s.What) ? s with { What = Text(s.What) } : null,
            Statement.Lies s => About(s.What) ? s with { What = Text(s.What) } : null,
            Statement.Seen s => About(s.What) ? new Statement.Seen(Text(s.What)) : null,
            Statement.Moved s => s with { What = [.. s.What.Where(w => About(w)).Select(Text)] },
            Statement.Runs s => s with { Joint = Joint(s.Joint) },
            Statement.Drawn s => IsThere(s.Part) ? s with { Part = Part(s.Part) } : null,
            Statement.Screws s => About(s.What) ? s with { What = Text(s.What) } : null,
            Statement.Opens s => s with { Joint = Joint(s.Joint) },
            _ => statement,
        };

    private bool About(params string[] acts) => acts.All(a => !IsAbsent(Act.Parse(a)));

    private bool IsThere(string part) => !IsAbsent(Act.LiftOut(PartId.Of(part)));

    private string Text(string act) => Of(Act.Parse(act)).ToString();

    private string Part(string part) => Of(Act.LiftOut(PartId.Of(part))).Target;

    private string Joint(string joint) => joint == FreeMap.Plug.Value ? joint : Of(Act.Open(JointId.Of(joint))).Target;

    private NamedThing Of(NamedThing thing) =>
        thing with
        {
            Held = thing.Held is { } held ? [.. held.Where(h => About(h)).Select(Text)] : null,
            Carries = thing.Carries is { } carried ? [.. carried.Where(IsThere).Select(Part)] : null,
            MovesFrom = thing.MovesFrom is { } from && IsThere(from) ? Part(from) : null,
        };

    /// <summary>An act, or the one that takes it back, by the name it is known by; null where the thing does not exist.</summary>
    private Act? Known(Act act)
    {
        if (Sighting.TakesOff(act))
        {
            return IsAbsent(act) ? null : Of(act);
        }

        foreach (var (name, known) in same)
        {
            if (name.Reverse == act)
            {
                return IsAbsent(known) ? null : Of(known).Reverse;
            }
        }

        return absent.Any(a => a.Reverse == act) ? null : act;
    }
}
