using System.Text.Json;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>
/// The map of another model that a draft was begun with: read as if somebody nobody knows had taken each of its parts out,
/// and said where everything lies. What sessions show of the machine itself goes against it as against any session.
/// </summary>
public sealed class CopiedMap
{
    /// <summary>Who worked the sessions that were none.</summary>
    internal static Guid Nobody { get; }

    private static readonly PartId Machine = FreeMap.Machine;

    private readonly ServiceMap map;
    private readonly Lazy<IReadOnlyList<Sighting>> sightings;

    /// <param name="map">The map copied from; what a unit may be without is left out, of variants the usual choice stays.</param>
    public CopiedMap(ServiceMap map)
    {
        Source = map;
        this.map = OneWay(map.Plain());
        sightings = new Lazy<IReadOnlyList<Sighting>>(() => [.. Worked()]);
    }

    public ServiceMap Source { get; }

    /// <summary>What it is called where something comes from it: "Sandpiper 14".</summary>
    public string Name => Source.Model.Name;

    /// <summary>Why it cannot be copied; null when it can: a draft knows parts as out, not as set aside on their leads.</summary>
    public Refusal? Refuse()
    {
        var shown = Sightings.SelectMany(s => s.Acts).Select(Act.Parse).ToHashSet();
        return TeardownGraph.Of(map).Acts.FirstOrDefault(a => !shown.Contains(Mine(a))) is { Target: not null } missing
            ? new Refusal(
                RefusalReason.Conflict,
                $"The {Name} cannot be copied: “{Wording.Title(map, missing)}” is possible there only while other parts are set aside on their leads, which a draft cannot say."
            )
            : null;
    }

    /// <summary>Sessions that show what the map says and no more.</summary>
    public IReadOnlyList<Sighting> Sightings => sightings.Value;

    /// <summary>What a session cannot show: outline, places, slots and what goes into them.</summary>
    public IEnumerable<Statement> Statements
    {
        get
        {
            // Beside the outline of a draft lies what nobody has placed.
            var outline = map.Parts.First(p => p.Fixed).Shape?.Bounds is { Left: 0, Top: 0 } machine
                ? machine
                : new Box(0, 0, map.Drawing.WidthMm, map.Drawing.HeightMm);
            if (outline is not { Width: >= 100 and <= 600, Height: >= 100 and <= 600 })
            {
                yield break;
            }

            yield return new Statement.Measures(outline.Width, outline.Height);
            bool Inside(Point p) => p.X >= 0 && p.Y >= 0 && p.X <= outline.Right && p.Y <= outline.Bottom;
            foreach (var part in map.Parts.Where(p => !p.Fixed))
            {
                var lift = Act.LiftOut(part.Id).ToString();
                if (part.Shape is { } shape && Inside(new Point(shape.Bounds.Right, shape.Bounds.Bottom)))
                {
                    yield return new Statement.Lies(lift, shape, null);
                }

                if (part.MountedOn is { } on && !map.Part(on).Fixed)
                {
                    yield return new Statement.Rides(part.Id.Value, on.Value);
                }

                if (part.Slot is { } slot && slot != part.Id.Value)
                {
                    yield return new Statement.InSlot(part.Id.Value, slot);
                }
            }

            // A draft has one way to order a part: the map's first.
            foreach (var assembly in map.Assemblies.DistinctBy(a => a.Part))
            {
                var brought = assembly.Brings.Append(assembly.Part).ToHashSet();
                foreach (var rider in map.Parts.Where(p => p.MountedOn is { } on && brought.Contains(on)))
                {
                    yield return new Statement.Brings(assembly.Part.Value, rider.Id.Value, brought.Contains(rider.Id));
                }
            }

            foreach (var screws in map.Fasteners.Where(f => f.Positions.All(Inside)))
            {
                yield return new Statement.Lies(Act.Undo(screws.Id).ToString(), null, screws.Positions);
            }

            foreach (var joint in map.Joints)
            {
                var id = Mine(TeardownGraph.Opening(map, joint.Id));
                yield return new Statement.Joins(id.Target, Mine(joint.Plug), Mine(joint.Socket));
                if (Inside(joint.At))
                {
                    yield return new Statement.Lies(id.ToString(), null, [joint.At]);
                }
            }

            foreach (var tie in map.Ties.Where(t => Inside(t.At)))
            {
                yield return new Statement.Lies(Act.Free(tie.Id).ToString(), null, [tie.At]);
            }

            foreach (
                var specification in map.Specifications.Where(s => s.IsOutside || map.PartInSlot(s.Slot) is not null)
            )
            {
                yield return new Statement.Takes(specification);
            }
        }
    }

    /// <summary>Text that <see cref="Parse"/> reads.</summary>
    public string ToText() => ServiceMapReader.Write(Source);

    /// <exception cref="JsonException">It is no map.</exception>
    public static CopiedMap Parse(string text) =>
        new(
            ServiceMapReader.Read("the map copied from", text).Map
                ?? throw new JsonException("The map copied from does not pass the checks.")
        );

    /// <summary>A free session knows one way to take a part out: plainly, or else the first way that takes it out.</summary>
    private static ServiceMap OneWay(ServiceMap map) =>
        map with
        {
            Parts =
            [
                .. map.Parts.Select(p =>
                    p with
                    {
                        Ways = [],
                        BlockedBy =
                        [
                            .. p.BlockedBy.Concat(p.Ways.FirstOrDefault(w => !w.SetsAside)?.Clears ?? []).Distinct(),
                        ],
                    }
                ),
            ],
        };

    /// <summary>
    /// For every act the least that comes before it, once with the first and once with the last of what is enough where the
    /// map leaves a choice: what these have in common is what the act waits for.
    /// </summary>
    private IEnumerable<Sighting> Worked()
    {
        var graph = TeardownGraph.Of(map);
        var number = 0;
        foreach (var act in graph.Acts)
        {
            foreach (var done in new[] { Least(false), Least(true) }.OfType<List<Act>>().DistinctBy(Text))
            {
                yield return new Sighting
                {
                    Session = new Guid(++number, 0, 0, new byte[8]),
                    By = Nobody,
                    Acts = [.. done.Select(a => Mine(a).ToString())],
                    Things =
                    [
                        .. done.Select(
                            (a, i) => new SightedThing(Mine(a).ToString(), Named(a, done.Take(i).ToHashSet()))
                        ),
                    ],
                };
            }

            List<Act>? Least(bool last)
            {
                var done = new List<Act>();
                return Do(act, []) ? done : null;

                bool Do(Act what, HashSet<Act> underway)
                {
                    if (done.Contains(what))
                    {
                        return true;
                    }

                    if (!underway.Add(what))
                    {
                        return false;
                    }

                    foreach (var needed in graph.RequirementsOf(what).Concat(TiesOfCard(what)))
                    {
                        var enough = last ? needed.AnyOf.Reverse() : needed.AnyOf;
                        if (!needed.AnyOf.Any(done.Contains) && !enough.Any(a => Do(a, underway)))
                        {
                            return false;
                        }
                    }

                    underway.Remove(what);
                    done.Add(what);
                    return true;
                }
            }
        }

        static string Text(List<Act> acts) => string.Join(' ', acts);
    }

    /// <summary>A draft takes a card for the card of its slot when all that holds it comes off before.</summary>
    private IEnumerable<Requirement> TiesOfCard(Act act) =>
        act.Kind == ActKind.Open && map.Joint(act.Joint) is var joint && joint.Kind.IsSlot()
            ? map.Ties.Where(t => t.Of == joint.Card(map)).Select(t => new Requirement([Act.Free(t.Id)]))
            : [];

    private NamedThing Named(Act act, HashSet<Act> off)
    {
        switch (act.Kind)
        {
            case ActKind.Undo:
                var screws = map.Fastener(act.Fastener);
                return Thing(NamedKind.Screws, screws.Name, screws.Side) with
                {
                    Count = screws.Count,
                    Drive = screws.Screw.Drive,
                    LengthMm = screws.Screw.IsMeasured ? screws.Screw.LengthMm : null,
                };
            case ActKind.Open or ActKind.Isolate:
                var joint = map.Joint(act.Joint);
                return Thing(
                    act.Kind == ActKind.Open ? NamedKind.Joint : NamedKind.Isolation,
                    joint.Name,
                    joint.Side
                ) with
                {
                    Joint = joint.Kind,
                    Check = FreeMap.Checks.Any(c => c.Id == joint.Check) ? joint.Check?.Value : null,
                };
            case ActKind.Free:
                var tie = map.Tie(act.Tie);
                return Thing(NamedKind.Tie, tie.Name, tie.Side) with { Tie = tie.Kind };
            default:
                var part = map.Part(act.Part);
                return Thing(NamedKind.Part, part.Name, part.Side) with
                {
                    Exchanged = part.Slot is not null,
                    Outside = part.Outside,
                    Held =
                    [
                        .. map
                            .Fasteners.Where(f => f.Holds == part.Id)
                            .Select(f => Act.Undo(f.Id))
                            .Concat(map.Ties.Where(t => t.Of == part.Id).Select(t => Act.Free(t.Id)))
                            .Where(off.Contains)
                            .Select(a => a.ToString()),
                    ],
                };
        }

        NamedThing Thing(NamedKind kind, string name, Side side) =>
            new()
            {
                Kind = kind,
                Name = name[..Math.Min(name.Length, NamedThing.MaxName)],
                Identity = Mine(act).Target,
                Side = side,
            };
    }

    private string Mine(PartId part) => map.Part(part).Fixed ? Machine.Value : part.Value;

    private static Act Mine(Act act) => act.Kind == ActKind.Isolate ? Act.Isolate(FreeMap.Plug) : act;
}
