using System.Runtime.CompilerServices;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>The first act of a sequence the machine does not allow, and why.</summary>
/// <param name="Position">Index in the sequence, from 0; its length when the fault is what was left undone.</param>
public sealed record Violation(int Position, Act? Act, string Reason);

/// <summary>
/// A machine in some state of disassembly that accepts or refuses one act at a time. It reads the map alone and shares
/// no code with the planner, so that each checks the other.
/// </summary>
/// <remarks>
/// Parts that are lifted out become loose bodies; what is mounted on them stays on them. Parts that are set aside are
/// bodies of their own too, still tied to the machine by the joints their way keeps; they rest on what they were mounted on
/// and go along when that leaves, if nothing ties them to what stays. Covers hide, and blocking parts block, only within
/// the same body.
/// </remarks>
public sealed class Simulation
{
    private static readonly ConditionalWeakTable<ServiceMap, HashSet<object>> TowardsIsolation = [];

    private readonly ServiceMap map;
    private readonly HashSet<string> prepared;
    private readonly HashSet<FastenerId> undone;
    private readonly HashSet<JointId> open;
    private readonly HashSet<TieId> free;
    private readonly HashSet<PartId> loose;
    private readonly Dictionary<PartId, PartWay> aside;

    /// <summary>By part set aside, the body it rests on; null: the machine.</summary>
    private readonly Dictionary<PartId, PartId?> restsOn;
    private readonly HashSet<PartId> pasteNeeded;
    private readonly HashSet<object> onTheWayToIsolation;
    private Side up = Side.Deck;

    /// <summary>It was switched on for a test or a check and not shut down since.</summary>
    private bool running;

    /// <summary>A closed machine, deck up.</summary>
    public Simulation(ServiceMap map)
        : this(map, TowardsIsolation.GetValue(map, WayToIsolation)) { }

    private Simulation(ServiceMap map, HashSet<object> onTheWayToIsolation)
    {
        (this.map, this.onTheWayToIsolation) = (map, onTheWayToIsolation);
        (prepared, undone, open, free, loose, aside, restsOn, pasteNeeded) = ([], [], [], [], [], [], [], []);
    }

    private Simulation(Simulation other)
    {
        (map, onTheWayToIsolation, up, running) = (other.map, other.onTheWayToIsolation, other.up, other.running);
        (prepared, undone, open) = ([.. other.prepared], [.. other.undone], [.. other.open]);
        (free, loose, pasteNeeded) = ([.. other.free], [.. other.loose], [.. other.pasteNeeded]);
        aside = new Dictionary<PartId, PartWay>(other.aside);
        restsOn = new Dictionary<PartId, PartId?>(other.restsOn);
    }

    /// <summary>A machine of its own in the same state: what is done to one does not change the other.</summary>
    public Simulation Copy() => new(this);

    /// <summary>True once the isolation joint is open.</summary>
    public bool Isolated => open.Contains(map.Isolation);

    /// <summary>Runs a whole sequence from the closed machine and expects a closed machine at the end.</summary>
    /// <returns>The first violation, or null.</returns>
    public static Violation? Check(ServiceMap map, IReadOnlyList<Act> acts)
    {
        var machine = new Simulation(map);
        foreach (var (i, act) in acts.Index())
        {
            if (machine.Do(act) is { } reason)
            {
                return new Violation(i, act, reason);
            }
        }

        return machine.Unfinished() is { } left ? new Violation(acts.Count, null, left) : null;
    }

    /// <summary>Does one act.</summary>
    /// <returns>Null when done; otherwise why the machine does not allow it, and nothing has changed.</returns>
    public string? Do(Act act) => Attempt(act)?.Sentence;

    /// <summary>As <see cref="Do"/>: what stands against it by its kind as well as in words.</summary>
    public Objection? Attempt(Act act)
    {
        if (Unknown(act))
        {
            return new(Against.NoSuchThing, null, $"This model has nothing called \"{act.Target}\" to do that with.");
        }

        if (running && act.Reverse is not null && act.Kind != ActKind.TurnOver)
        {
            return new(
                Against.Running,
                null,
                "It has been switched on: shut it down and unplug it before anything is taken off again."
            );
        }

        if (
            act.Kind != ActKind.Prepare
            && map.Preparations.FirstOrDefault(p => p.For.Count == 0 && !prepared.Contains(p.Id)) is { } first
        )
        {
            return new(
                Against.NotPrepared,
                first.Id,
                $"Before the machine is touched: {Sentence.Uncapital(first.Title)}."
            );
        }

        return act.Kind switch
        {
            ActKind.Prepare => Prepare(act.Target),
            ActKind.TurnOver => Turn(),
            ActKind.Undo => Undo(map.Fastener(act.Fastener)),
            ActKind.Fasten => Fasten(map.Fastener(act.Fastener)),
            ActKind.Open or ActKind.Isolate => Open(map.Joint(act.Joint)),
            ActKind.Close or ActKind.Reconnect => Close(map.Joint(act.Joint)),
            ActKind.Free => Free(map.Tie(act.Tie)),
            ActKind.Lay => Lay(map.Tie(act.Tie)),
            ActKind.LiftOut => LiftOut(map.Part(act.Part), WayOf(act)),
            ActKind.SetAside => SetAside(map.Part(act.Part), WayOf(act)!),
            ActKind.PutIn => PutIn(map.Part(act.Part)),
            ActKind.PutBack => PutBack(map.Part(act.Part)),
            ActKind.ReadRemoved or ActKind.ReadFitted => loose.Contains(act.Part)
                ? null
                : new(Against.NotInPlace, null, $"The number is read while {Name(act.Part)} is out."),
            ActKind.CleanAndPaste => Paste(map.Part(act.Part)),
            ActKind.BlowClean => Isolated ? null : StillLive(),
            ActKind.FillDrive => loose.Contains(act.Part) ? null : StillApart() ?? SwitchOn(),
            ActKind.PowerTest => Isolated
                ? new(
                    Against.OpenUnderPower,
                    $"{map.Isolation}",
                    $"{Upper(map.Joint(map.Isolation).Name)} is still open."
                )
            : OpenInside() is { } joint
                ? new(Against.OpenUnderPower, $"{joint.Id}", $"{Upper(joint.Name)} is still open.")
            : SwitchOn(),
            ActKind.Check => StillApart() ?? SwitchOn(),
            _ => throw new ArgumentOutOfRangeException(nameof(act)),
        };
    }

    /// <summary>What keeps the machine from being whole; null when nothing does.</summary>
    public string? Unfinished() => StillApart()?.Sentence;

    private Objection? StillApart() =>
        loose.Count > 0 ? NotBack(loose.First(), $"{Upper(map.Part(loose.First()).Name)} is still out.")
        : aside.Count > 0
            ? NotBack(aside.Keys.First(), $"{Upper(map.Part(aside.Keys.First()).Name)} is still set aside.")
        : open.Count > 0 ? NotBack(open.First(), $"{Upper(map.Joint(open.First()).Name)} is still open.")
        : undone.Count > 0 ? NotBack(undone.First(), $"{Screws(map.Fastener(undone.First()))} still out.")
        : free.Count > 0 ? NotBack(free.First(), $"{Upper(map.Tie(free.First()).Name)} is still loose.")
        : null;

    private static Objection NotBack<TId>(TId thing, string sentence)
        where TId : struct => new(Against.NotBackYet, $"{thing}", sentence);

    private Objection StillLive() =>
        new(
            Against.UnderPower,
            $"{map.Isolation}",
            $"Isolate first: {Sentence.Uncapital(map.Joint(map.Isolation).Name)} is still closed."
        );

    private static Objection Already(string sentence) => new(Against.DoneAlready, null, sentence);

    /// <summary>Once it has run, everything that comes before opening is done again.</summary>
    private Objection? Prepare(string preparation)
    {
        if (running)
        {
            prepared.Clear();
            running = false;
        }

        return prepared.Add(preparation) ? null : Already("That has been done.");
    }

    private Objection? SwitchOn()
    {
        running = map.Preparations.Count > 0;
        return null;
    }

    private Objection? Turn()
    {
        up = up == Side.Base ? Side.Deck : Side.Base;
        return null;
    }

    private Objection? Undo(FastenerGroup f) =>
        undone.Contains(f.Id)
            ? Already($"{Screws(f)} out already.")
            : Hidden(f.Under, f.Holds)
                ?? Waits(Act.Undo(f.Id))
                ?? Facing(f.Side, f.Holds)
                ?? Live(f, f.Holds)
                ?? Did(undone.Add(f.Id));

    private Objection? Fasten(FastenerGroup f) =>
        !undone.Contains(f.Id)
            ? Already($"{Screws(f)} in already.")
            : Apart(f.Holds, f.Into)
                ?? NotHome(f)
                ?? Hidden(f.Under, f.Holds)
                ?? TooSoon(Act.Undo(f.Id))
                ?? Facing(f.Side, f.Holds)
                ?? Live(f, f.Holds)
                ?? Did(undone.Remove(f.Id));

    private Objection? Open(Joint j) =>
        open.Contains(j.Id)
            ? Already($"{Upper(j.Name)} is open already.")
            : Away(j)
                ?? Hidden(j.Under, j.Socket)
                ?? Facing(j.Side, Outer(j))
                ?? (j.Id == map.Isolation ? null : Live(j, Outer(j)))
                ?? HeldDown(j)
                ?? Waits(Opening(j))
                ?? Did(open.Add(j.Id));

    private Objection? Close(Joint j)
    {
        if (!open.Contains(j.Id))
        {
            return Already($"{Upper(j.Name)} is closed already.");
        }

        if (j.Id == map.Isolation && OpenInside() is { } other)
        {
            return new(
                Against.OpenUnderPower,
                $"{other.Id}",
                $"{Upper(other.Name)} would be closed under power: close it first."
            );
        }

        return Away(j)
            ?? Hidden(j.Under, j.Socket)
            ?? TooSoon(Opening(j))
            ?? Facing(j.Side, Outer(j))
            ?? (j.Id == map.Isolation ? null : Live(j, Outer(j)))
            ?? Did(open.Remove(j.Id));
    }

    private Objection? Free(Tie t) =>
        free.Contains(t.Id)
            ? Already($"{Upper(t.Name)} is free already.")
            : Hidden(t.Under, t.On)
                ?? Waits(Act.Free(t.Id))
                ?? Facing(t.Side, Outer(t))
                ?? Live(t, Outer(t))
                ?? Did(free.Add(t.Id));

    private Objection? Lay(Tie t) =>
        !free.Contains(t.Id)
            ? Already($"{Upper(t.Name)} lies where it belongs.")
            : Apart(t.Of, t.On)
                ?? NotHome(t)
                ?? Hidden(t.Under, t.On)
                ?? TooSoon(Act.Free(t.Id))
                ?? Facing(t.Side, Outer(t))
                ?? Live(t, Outer(t))
                ?? Did(free.Remove(t.Id));

    private Objection? LiftOut(Part part, PartWay? way)
    {
        if (Leave(part, way) is { } reason)
        {
            return reason;
        }

        var along = GoingAlong(part.Id);
        loose.Add(part.Id);
        Rest(along, part.Id);
        if (part.Thermal is not null)
        {
            pasteNeeded.Add(part.Id);
        }

        return null;
    }

    private Objection? SetAside(Part part, PartWay way)
    {
        if (aside.ContainsKey(part.Id))
        {
            return Already($"{Upper(part.Name)} is set aside already.");
        }

        if (Leave(part, way) is { } reason)
        {
            return reason;
        }

        var along = GoingAlong(part.Id);
        restsOn[part.Id] = Body(part.Id);
        aside.Add(part.Id, way);
        Rest(along, part.Id);
        return null;
    }

    private void Rest(IEnumerable<PartId> parts, PartId? on)
    {
        foreach (var part in parts)
        {
            restsOn[part] = on;
        }
    }

    /// <summary>
    /// The parts set aside that go along when a part they ride on leaves: tied by a closed joint to what moves.
    /// </summary>
    private List<PartId> GoingAlong(PartId leaving)
    {
        var (from, along) = (Body(leaving), new List<PartId>());
        var moving = map.MovingWith(leaving, Detached).ToHashSet();
        var riders = aside
            .Keys.Where(a => a != leaving && !loose.Contains(a) && restsOn[a] == from)
            .Where(a => map.WithCarriers(a).Contains(leaving))
            .ToList();
        for (var grown = true; grown; )
        {
            grown = false;
            foreach (var rider in riders.Except(along).ToList())
            {
                var group = map.MovingWith(rider, Detached);
                bool Ties(PartId a, PartId b) => group.Contains(a) && moving.Contains(b);
                if (map.Joints.Any(j => Connects(j) && (Ties(j.Plug, j.Socket) || Ties(j.Socket, j.Plug))))
                {
                    along.Add(rider);
                    moving.UnionWith(group);
                    grown = true;
                }
            }
        }

        return along;
    }

    /// <summary>What keeps a part from leaving its place in this way.</summary>
    private Objection? Leave(Part part, PartWay? way)
    {
        if (part.Fixed)
        {
            return new(Against.NoSuchThing, null, $"{Upper(part.Name)} stays where it is.");
        }

        if (loose.Contains(part.Id))
        {
            return Already($"{Upper(part.Name)} is out already.");
        }

        var body = Body(part.Id);
        var moving = map.MovingWith(part.Id, Detached);
        bool Parts(PartId a, PartId b) => moving.Contains(a) != moving.Contains(b);
        bool Holds(PartId a, PartId b) => Parts(a, b) && Body(a) == body && Body(b) == body;
        // A closed joint ties its two ends together wherever they lie.
        if (map.Fasteners.FirstOrDefault(f => Holds(f.Holds, f.Into) && !undone.Contains(f.Id)) is { } screws)
        {
            return new(Against.Screws, $"{screws.Id}", $"{Hold(screws)} it.");
        }

        var whole = GoingAlong(part.Id).SelectMany(a => map.MovingWith(a, Detached)).Concat(moving).ToHashSet();
        var joint = map.Joints.FirstOrDefault(j =>
            Connects(j) && way?.Keeps.Contains(j.Id) != true && whole.Contains(j.Plug) != whole.Contains(j.Socket)
        );
        if (joint is not null)
        {
            return new(Against.Joint, $"{joint.Id}", $"{Upper(joint.Name)} is still closed and would tear.");
        }

        if (map.Ties.FirstOrDefault(t => Holds(t.Of, t.On) && !free.Contains(t.Id)) is { } tie)
        {
            return new(Against.Tie, $"{tie.Id}", $"{Upper(tie.Name)} still holds it.");
        }

        if (Waits(Act.LiftOut(part.Id)) is { } waiting)
        {
            return waiting;
        }

        var blocker = map
            .Parts.Where(p => moving.Contains(p.Id))
            .SelectMany(p => p.BlockedBy)
            .Where(b => !moving.Contains(b))
            .Concat(way is null || aside.ContainsKey(part.Id) ? [] : way.Clears)
            .Where(b => IsInTheWay(b, body, moving))
            .Select(b => map.Part(b))
            .FirstOrDefault();
        return blocker is not null
            ? new(Against.InTheWay, $"{blocker.Id}", $"{Upper(blocker.Name)} is in the way.")
            : Facing(part.Side, part.Id) ?? Live(part, part.Id);
    }

    private Objection? PutIn(Part part)
    {
        if (!loose.Contains(part.Id))
        {
            return Already($"{Upper(part.Name)} is in already.");
        }

        if (pasteNeeded.Contains(part.Id))
        {
            return new(Against.NoPaste, null, $"{Upper(part.Name)} needs new paste first.");
        }

        loose.Remove(part.Id);
        if ((aside.ContainsKey(part.Id) ? null : Settle(part)) is { } reason)
        {
            loose.Add(part.Id);
            return reason;
        }

        Rest(RestingOn(part.Id), Body(part.Id));
        return null;
    }

    private Objection? PutBack(Part part)
    {
        if (loose.Contains(part.Id) || !aside.Remove(part.Id, out var way))
        {
            return Already($"{Upper(part.Name)} is not set aside.");
        }

        // It goes back where it came from only while what it rides on lies where it does itself.
        var body = Body(part.Id);
        var reason = restsOn[part.Id] == body ? Settle(part) : NotInPlace(body ?? restsOn[part.Id]!.Value);
        if (reason is not null)
        {
            aside.Add(part.Id, way);
            return reason;
        }

        restsOn.Remove(part.Id);
        Rest(RestingOn(part.Id), Body(part.Id));
        return null;
    }

    private List<PartId> RestingOn(PartId body) => [.. restsOn.Where(r => r.Value == body).Select(r => r.Key)];

    /// <summary>What keeps a part from going to its place now.</summary>
    private Objection? Settle(Part part) =>
        TooSoon(Act.LiftOut(part.Id))
        ?? Covered(part.Id)
        ?? Buried(part.Id)
        ?? Facing(part.Side, part.Id)
        ?? Live(part, part.Id);

    /// <summary>What a part that goes in now would lock out: a part, screw, joint or tie that belongs beneath it.</summary>
    private Objection? Buried(PartId cover)
    {
        var body = Body(cover);
        foreach (var other in Detached)
        {
            // Only what belongs into the same body; riders that are off by themselves are asked about themselves.
            var (group, into) = (map.MovingWith(other, Detached), map.Part(other).MountedOn);
            if (
                (into is { } carrier ? Body(carrier) : null) == body
                && !group.Contains(cover)
                && map.Parts.Any(p => group.Contains(p.Id) && p.BlockedBy.Contains(cover))
            )
            {
                return NotBack(other, $"{Upper(map.Part(other).Name)} goes in first.");
            }
        }

        bool Beneath(IReadOnlyList<PartId> under, PartId at) => under.Contains(cover) && Body(at) == body;
        return map.Joints.FirstOrDefault(j => open.Contains(j.Id) && Beneath(j.Under, j.Socket)) is { } joint
                ? NotBack(joint.Id, $"{Upper(joint.Name)} beneath it is still open.")
            : map.Fasteners.FirstOrDefault(f => undone.Contains(f.Id) && Beneath(f.Under, f.Holds)) is { } screws
                ? NotBack(
                    screws.Id,
                    $"{Sentence.Capital(Wording.ScrewsOf(screws))} beneath it {(screws.Count == 1 ? "is" : "are")} still out."
                )
            : map.Ties.FirstOrDefault(t => free.Contains(t.Id) && Beneath(t.Under, t.On)) is { } tie
                ? NotBack(tie.Id, $"{Upper(tie.Name)} beneath it is still loose.")
            : null;
    }

    /// <summary>Screws, a joint or a tie that an act was only ever seen to come after. A wait for a part is among the covers.</summary>
    private Objection? Waits(Act act) =>
        map
            .Waits.Where(w => w.Waiting == act && !w.IsCover && !w.AnyOf.Any(IsOff))
            .Select(w => new Objection(
                Against.SeenToWait,
                w.First.Target,
                $"In every session so far {Named(w.First)} came first."
            ))
            .FirstOrDefault();

    private Act Opening(Joint j) => j.Id == map.Isolation ? Act.Isolate(j.Id) : Act.Open(j.Id);

    private bool IsOff(Act act) =>
        act.Kind switch
        {
            ActKind.Undo => undone.Contains(act.Fastener),
            ActKind.Free => free.Contains(act.Tie),
            ActKind.LiftOut => loose.Contains(act.Part) || aside.ContainsKey(act.Part),
            _ => open.Contains(act.Joint),
        };

    private string Named(Act act) =>
        Sentence.Uncapital(
            act.Kind switch
            {
                ActKind.Undo => Wording.ScrewsOf(map.Fastener(act.Fastener)),
                ActKind.Free => Wording.The(map.Tie(act.Tie).Name),
                ActKind.LiftOut => Name(act.Part),
                _ => Wording.The(map.Joint(act.Joint).Name),
            }
        );

    /// <summary>What had to be off for something else goes back after it.</summary>
    private Objection? TooSoon(Act off) =>
        map
            .Waits.Where(w =>
                !w.IsCover && IsOff(w.Waiting) && w.AnyOf.Contains(off) && !w.AnyOf.Any(a => a != off && IsOff(a))
            )
            .Select(w =>
                NotBack(w.Waiting, $"What came off after it goes back first: {Named(w.Waiting)}.") with
                {
                    Thing = w.Waiting.Target,
                }
            )
            .FirstOrDefault();

    private Objection? Paste(Part part) =>
        part.Thermal is null ? new(Against.NoSuchThing, null, $"{Upper(part.Name)} takes no paste.")
        : !loose.Contains(part.Id) ? new(Against.NotInPlace, null, $"Paste goes on while {Name(part.Id)} is out.")
        : Did(pasteNeeded.Remove(part.Id));

    /// <summary>In its place in a body, or aside and lying on the very thing that is to be reached.</summary>
    private bool IsInTheWay(PartId cover, PartId? body, IReadOnlySet<PartId> reached) =>
        !loose.Contains(cover)
        && (
            aside.TryGetValue(cover, out var way)
                ? restsOn[cover] == body && way.Over.Any(reached.Contains)
                : Body(cover) == body
        );

    private Objection? Covered(PartId place) =>
        aside
            .Where(a => !loose.Contains(a.Key) && a.Value.Over.Contains(place))
            .Select(a => new Objection(Against.InTheWay, $"{a.Key}", $"{Upper(map.Part(a.Key).Name)} lies there."))
            .FirstOrDefault();

    private Objection? Hidden(IReadOnlyList<PartId> under, PartId at) =>
        under
            .Where(u => IsInTheWay(u, Body(at), new HashSet<PartId> { at }))
            .Select(u => new Objection(Against.Hidden, $"{u}", $"It lies under {Name(u)}."))
            .FirstOrDefault();

    private Objection? Facing(Side side, PartId at) =>
        Body(at) is not null || side == up || map.Part(at).Side == Side.Edge
            ? null
            : new(
                Against.OtherSide,
                null,
                $"It is reached from the {side.ToString().ToLowerInvariant()} side: turn the machine over."
            );

    /// <summary>Only what is out altogether is surely without power; what is set aside still hangs on its leads.</summary>
    private Objection? Live(object thing, PartId at) =>
        Isolated
        || (Body(at) is { } body && loose.Contains(body))
        || map.Part(at).Outside
        || onTheWayToIsolation.Contains(thing)
            ? null
            : StillLive();

    private Objection? Apart(PartId a, PartId b) => Body(a) == Body(b) ? null : NotInPlace(Body(a) ?? Body(b)!.Value);

    private Objection? Apart(Joint j) => Reached(j.Plug, j) == Reached(j.Socket, j) ? null : Apart(j.Plug, j.Socket);

    /// <summary>What keeps a plug from its socket: the other part is elsewhere, unless the lead is free of that at its other end.</summary>
    private Objection? Away(Joint j) => IsLooseBeyond(j) ? null : Apart(j);

    /// <summary>True while a joint ties its two parts together: closed, at both ends of the lead.</summary>
    private bool Connects(Joint j) => !open.Contains(j.Id) && !IsLooseBeyond(j);

    private bool IsLooseBeyond(Joint j) => map.OtherEnd(j.Id) is { } other && open.Contains(other.Id);

    private Objection NotInPlace(PartId part) =>
        new(Against.NotInPlace, $"{part}", $"{Upper(map.Part(part).Name)} is not in its place.");

    /// <summary>The body at which an end of a joint is: what lies aside and keeps the joint counts to what it rests on.</summary>
    private PartId? Reached(PartId end, Joint j)
    {
        var body = Body(end);
        while (body is { } b && !loose.Contains(b) && aside.TryGetValue(b, out var way) && way.Keeps.Contains(j.Id))
        {
            body = restsOn[b];
        }

        return body;
    }

    /// <summary>Where a hand works on a joint: at its socket, or at the end that is outside.</summary>
    private PartId Outer(Joint j) => j.Between.FirstOrDefault(p => map.Part(p).Outside, j.Socket);

    private PartId Outer(Tie t) => map.Part(t.Of).Outside ? t.Of : t.On;

    private HashSet<PartId> Detached => [.. loose, .. aside.Keys];

    /// <summary>An open joint that power must not reach; those on the way to isolation or outside cannot be helped.</summary>
    private Joint? OpenInside() =>
        map.Joints.FirstOrDefault(j =>
            open.Contains(j.Id)
            && j.Id != map.Isolation
            && !onTheWayToIsolation.Contains(j)
            && !map.Part(Outer(j)).Outside
        );

    /// <summary>
    /// A card cannot leave its slot while its own screws hold it down; contacts cannot slide apart while anything holds
    /// the part that slides.
    /// </summary>
    private Objection? HeldDown(Joint slot)
    {
        var (screws, ties) = Holding(map, slot);
        return screws.FirstOrDefault(f => !undone.Contains(f.Id)) is { } screw
                ? new(
                    Against.Screws,
                    $"{screw.Id}",
                    $"{Hold(screw)} it{(slot.Kind == JointKind.SlideContacts ? "" : " down")}."
                )
            : ties.FirstOrDefault(t => !free.Contains(t.Id)) is { } tie
                ? new(Against.Tie, $"{tie.Id}", $"{Upper(tie.Name)} still holds it.")
            : null;
    }

    /// <summary>What is held by this goes home first: a card into its slot, contacts together.</summary>
    private Objection? NotHome(object holds) =>
        map.Joints.FirstOrDefault(j =>
            open.Contains(j.Id)
            && Holding(map, j) is var (screws, ties)
            && (screws.Any(f => ReferenceEquals(f, holds)) || ties.Any(t => ReferenceEquals(t, holds)))
        )
            is { } joint
            ? NotBack(joint.Id, $"{Upper(joint.Name)} is still open: it goes home before anything holds it.")
            : null;

    /// <summary>The screws and ties that hold what goes into a slot or onto contacts.</summary>
    private static (IEnumerable<FastenerGroup> Screws, IEnumerable<Tie> Ties) Holding(ServiceMap map, Joint slot)
    {
        if (slot.Kind != JointKind.SlideContacts)
        {
            return (slot.Kind.IsSlot() ? map.Fasteners.Where(f => f.Holds == slot.Card(map)) : [], []);
        }

        var sliding = slot.Plug;
        while (map.Part(sliding).MountedOn is { } carrier && !map.MovingWith(carrier).Contains(slot.Socket))
        {
            sliding = carrier;
        }

        var moving = map.MovingWith(sliding);
        return (
            map.Fasteners.Where(f => moving.Contains(f.Holds) != moving.Contains(f.Into)),
            map.Ties.Where(t => moving.Contains(t.Of) && !moving.Contains(t.On))
        );
    }

    /// <summary>The part out or aside that a part rides on (or is); null while it is in its place in the machine.</summary>
    private PartId? Body(PartId part)
    {
        for (PartId? at = part; at is { } id; at = map.Part(id).MountedOn)
        {
            if (loose.Contains(id) || aside.ContainsKey(id))
            {
                return id;
            }
        }

        return null;
    }

    /// <summary>True when the model has what the act is about, whether it can be done now or not.</summary>
    public bool Knows(Act act) => !Unknown(act);

    private bool Unknown(Act act) =>
        act.Kind switch
        {
            ActKind.Prepare => map.Preparations.All(p => p.Id != act.Target),
            ActKind.TurnOver or ActKind.PowerTest => act.Target.Length > 0,
            ActKind.Undo or ActKind.Fasten => map.Fasteners.All(f => f.Id != act.Fastener),
            ActKind.Isolate or ActKind.Reconnect => act.Joint != map.Isolation,
            ActKind.Open or ActKind.Close => act.Joint == map.Isolation || map.Joints.All(j => j.Id != act.Joint),
            ActKind.Free or ActKind.Lay => map.Ties.All(t => t.Id != act.Tie),
            ActKind.Check => map.Checks.All(c => c.Id.Value != act.Target),
            ActKind.SetAside => WayOf(act) is not { SetsAside: true },
            ActKind.LiftOut => map.Parts.All(p => p.Id != act.Part)
                || (
                    act.Way is null
                        ? map.Part(act.Part).Ways.Any(w => !w.SetsAside)
                        : WayOf(act) is not { SetsAside: false }
                ),
            _ => map.Parts.All(p => p.Id != act.Part),
        };

    private PartWay? WayOf(Act act) =>
        map.Parts.FirstOrDefault(p => p.Id == act.Part)?.Ways.FirstOrDefault(w => w.Id == act.Way);

    private string Name(PartId part) => Wording.The(map.Part(part).Name);

    private static string Upper(string name) => Sentence.Capital(Wording.The(name));

    private static string Screws(FastenerGroup f) =>
        $"{Sentence.Capital(Wording.ScrewsOf(f))} {(f.Count == 1 ? "is" : "are")}";

    private static string Hold(FastenerGroup f) =>
        $"{Sentence.Capital(Wording.ScrewsOf(f))} still {(f.Count == 1 ? "holds" : "hold")}";

    private static Objection? Did(bool changed) => changed ? null : Already("Nothing changed.");

    /// <summary>
    /// What has to be moved to get at the isolation joint: the only things touched under power. A part that can be set aside
    /// is, so that what that keeps closed stays closed, unless isolation cannot be reached so.
    /// </summary>
    private static HashSet<object> WayToIsolation(ServiceMap map)
    {
        var keeping = WayToIsolation(map, keepsWhatItCan: true);
        return LeadsThere(map, keeping) ? keeping : WayToIsolation(map, keepsWhatItCan: false);
    }

    /// <summary>Whether isolation is reached by moving these things only.</summary>
    private static bool LeadsThere(ServiceMap map, HashSet<object> things)
    {
        var machine = new Simulation(map, things);
        machine.prepared.UnionWith(map.Preparations.Select(p => p.Id));
        List<Act> acts =
        [
            .. map.Fasteners.Where(things.Contains).Select(f => Act.Undo(f.Id)),
            .. map.Ties.Where(things.Contains).Select(t => Act.Free(t.Id)),
            .. map.Joints.Where(things.Contains).Select(j => Act.Open(j.Id)),
            .. map
                .Parts.Where(things.Contains)
                .SelectMany(p => p.Ways.OrderBy(w => w.SetsAside ? 0 : 1).Select(w => Act.Remove(p.Id, w))),
            .. map.Parts.Where(p => things.Contains(p) && p.Ways.All(w => w.SetsAside)).Select(p => Act.LiftOut(p.Id)),
        ];
        for (var left = acts.Count; left >= 0; left--)
        {
            if (EitherSideUp(Act.Isolate(map.Isolation)))
            {
                return true;
            }

            if (!acts.Exists(EitherSideUp))
            {
                return false;
            }
        }

        return false;

        bool EitherSideUp(Act act)
        {
            if (machine.Do(act) is null)
            {
                return true;
            }

            machine.Turn();
            return machine.Do(act) is null;
        }
    }

    private static HashSet<object> WayToIsolation(ServiceMap map, bool keepsWhatItCan)
    {
        var found = new HashSet<object>(ReferenceEqualityComparer.Instance);
        Uncover(map.Joint(map.Isolation).Under);
        Await(Act.Isolate(map.Isolation));
        var (screws, ties) = Holding(map, map.Joint(map.Isolation));
        foreach (var f in screws.Where(found.Add))
        {
            Uncover(f.Under);
        }

        foreach (var t in ties.Where(found.Add))
        {
            Uncover(t.Under);
        }

        return found;

        // What an act was only seen to come after, and what that was seen to come after.
        void Await(Act waiting)
        {
            foreach (var act in map.Waits.Where(w => w.Waiting == waiting).Select(w => w.First))
            {
                var (thing, under) = act.Kind switch
                {
                    ActKind.Undo => (map.Fastener(act.Fastener), map.Fastener(act.Fastener).Under),
                    ActKind.Free => (map.Tie(act.Tie), map.Tie(act.Tie).Under),
                    ActKind.Open => (map.Joint(act.Joint), map.Joint(act.Joint).Under),
                    _ => ((object?)null, (IReadOnlyList<PartId>)[]),
                };
                if (act.Kind == ActKind.LiftOut)
                {
                    Remove(map.Part(act.Part));
                }
                else if (thing is not null && found.Add(thing))
                {
                    Uncover(under);
                    Await(act);
                }
            }
        }

        void Uncover(IEnumerable<PartId> covers)
        {
            foreach (var cover in covers)
            {
                Remove(map.Part(cover));
            }
        }

        void Remove(Part part)
        {
            if (!found.Add(part))
            {
                return;
            }

            var kept = part.Ways.Where(w => keepsWhatItCan && w.Over.Count == 0).SelectMany(w => w.Keeps).ToHashSet();
            var moving = map.MovingWith(part.Id);
            bool Crosses(PartId a, PartId b) => moving.Contains(a) != moving.Contains(b);
            foreach (var f in map.Fasteners.Where(f => Crosses(f.Holds, f.Into) && found.Add(f)))
            {
                Uncover(f.Under);
            }

            foreach (
                var j in map.Joints.Where(j =>
                    Crosses(j.Plug, j.Socket) && !kept.Contains(j.Id) && j.Id != map.Isolation && found.Add(j)
                )
            )
            {
                Uncover(j.Under);
                foreach (
                    var rider in map.Parts.Where(p => moving.Contains(p.Id) && p.Ways.Any(w => w.Keeps.Contains(j.Id)))
                )
                {
                    Remove(rider);
                }
            }

            foreach (var t in map.Ties.Where(t => Crosses(t.Of, t.On) && found.Add(t)))
            {
                Uncover(t.Under);
            }

            Await(Act.LiftOut(part.Id));
            foreach (var rider in moving)
            {
                Uncover(map.Part(rider).BlockedBy.Where(b => !moving.Contains(b)));
            }

            Uncover(part.Ways.SelectMany(w => w.Clears));
        }
    }
}
