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
/// Parts that are lifted out become loose bodies; what is mounted on them stays on them. Covers hide, and blocking
/// parts block, only within the same body.
/// </remarks>
public sealed class Simulation(ServiceMap map)
{
    private readonly HashSet<string> prepared = [];
    private readonly HashSet<FastenerId> undone = [];
    private readonly HashSet<JointId> open = [];
    private readonly HashSet<TieId> free = [];
    private readonly HashSet<PartId> loose = [];
    private readonly HashSet<PartId> pasteNeeded = [];
    private readonly HashSet<object> onTheWayToIsolation = WayToIsolation(map);
    private Side up = Side.Deck;

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
    public string? Do(Act act)
    {
        if (Unknown(act))
        {
            return $"This model has nothing called \"{act.Target}\" to do that with.";
        }

        if (act.Kind != ActKind.Prepare && map.Preparations.FirstOrDefault(p => !prepared.Contains(p.Id)) is { } first)
        {
            return $"Before the machine is touched: {Lower(first.Title)}.";
        }

        return act.Kind switch
        {
            ActKind.Prepare => prepared.Add(act.Target) ? null : "That has been done.",
            ActKind.TurnOver => Turn(),
            ActKind.Undo => Undo(map.Fastener(act.Fastener)),
            ActKind.Fasten => Fasten(map.Fastener(act.Fastener)),
            ActKind.Open or ActKind.Isolate => Open(map.Joint(act.Joint)),
            ActKind.Close or ActKind.Reconnect => Close(map.Joint(act.Joint)),
            ActKind.Free => Free(map.Tie(act.Tie)),
            ActKind.Lay => Lay(map.Tie(act.Tie)),
            ActKind.LiftOut => LiftOut(map.Part(act.Part)),
            ActKind.PutIn => PutIn(map.Part(act.Part)),
            ActKind.ReadRemoved or ActKind.ReadFitted => loose.Contains(act.Part)
                ? null
                : $"The number is read while {Name(act.Part)} is out.",
            ActKind.CleanAndPaste => Paste(map.Part(act.Part)),
            ActKind.PowerTest => Isolated ? $"{Upper(map.Joint(map.Isolation).Name)} is still open."
            : OpenInside() is { } joint ? $"{Upper(joint.Name)} is still open."
            : null,
            ActKind.Check => Unfinished(),
            _ => throw new ArgumentOutOfRangeException(nameof(act)),
        };
    }

    /// <summary>What keeps the machine from being whole; null when nothing does.</summary>
    public string? Unfinished() =>
        loose.Count > 0 ? $"{Upper(map.Part(loose.First()).Name)} is still out."
        : open.Count > 0 ? $"{Upper(map.Joint(open.First()).Name)} is still open."
        : undone.Count > 0 ? $"The {map.Fastener(undone.First()).Name} screws are still out."
        : free.Count > 0 ? $"{Upper(map.Tie(free.First()).Name)} is still loose."
        : null;

    private string? Turn()
    {
        up = up == Side.Base ? Side.Deck : Side.Base;
        return null;
    }

    private string? Undo(FastenerGroup f) =>
        undone.Contains(f.Id)
            ? $"The {f.Name} screws are out already."
            : Hidden(f.Under, f.Holds) ?? Facing(f.Side, f.Holds) ?? Live(f, f.Holds) ?? Did(undone.Add(f.Id));

    private string? Fasten(FastenerGroup f) =>
        !undone.Contains(f.Id)
            ? $"The {f.Name} screws are in already."
            : Apart(f.Holds, f.Into)
                ?? Hidden(f.Under, f.Holds)
                ?? Facing(f.Side, f.Holds)
                ?? Live(f, f.Holds)
                ?? Did(undone.Remove(f.Id));

    private string? Open(Joint j) =>
        open.Contains(j.Id)
            ? $"{Upper(j.Name)} is open already."
            : Apart(j.Between[0], j.Between[1])
                ?? Hidden(j.Under, j.Between[0])
                ?? Facing(j.Side, j.Between[0])
                ?? (j.Id == map.Isolation ? null : Live(j, j.Between[0]))
                ?? HeldDown(j)
                ?? Did(open.Add(j.Id));

    private string? Close(Joint j)
    {
        if (!open.Contains(j.Id))
        {
            return $"{Upper(j.Name)} is closed already.";
        }

        if (j.Id == map.Isolation && OpenInside() is { } other)
        {
            return $"{Upper(other.Name)} would be closed under power: close it first.";
        }

        return Apart(j.Between[0], j.Between[1])
            ?? Hidden(j.Under, j.Between[0])
            ?? Facing(j.Side, j.Between[0])
            ?? (j.Id == map.Isolation ? null : Live(j, j.Between[0]))
            ?? Did(open.Remove(j.Id));
    }

    private string? Free(Tie t) =>
        free.Contains(t.Id)
            ? $"{Upper(t.Name)} is free already."
            : Hidden(t.Under, t.On) ?? Facing(t.Side, t.On) ?? Live(t, t.On) ?? Did(free.Add(t.Id));

    private string? Lay(Tie t) =>
        !free.Contains(t.Id)
            ? $"{Upper(t.Name)} lies where it belongs."
            : Apart(t.Of, t.On)
                ?? Hidden(t.Under, t.On)
                ?? Facing(t.Side, t.On)
                ?? Live(t, t.On)
                ?? Did(free.Remove(t.Id));

    private string? LiftOut(Part part)
    {
        if (part.Fixed)
        {
            return $"{Upper(part.Name)} stays where it is.";
        }

        if (loose.Contains(part.Id))
        {
            return $"{Upper(part.Name)} is out already.";
        }

        var body = Body(part.Id);
        var moving = map.MovingWith(part.Id, loose);
        bool Holds(PartId a, PartId b) =>
            moving.Contains(a) != moving.Contains(b) && Body(a) == body && Body(b) == body;
        if (map.Fasteners.FirstOrDefault(f => Holds(f.Holds, f.Into) && !undone.Contains(f.Id)) is { } screws)
        {
            return $"The {screws.Name} screws still hold it.";
        }

        if (map.Joints.FirstOrDefault(j => Holds(j.Between[0], j.Between[1]) && !open.Contains(j.Id)) is { } joint)
        {
            return $"{Upper(joint.Name)} is still closed and would tear.";
        }

        if (map.Ties.FirstOrDefault(t => Holds(t.Of, t.On) && !free.Contains(t.Id)) is { } tie)
        {
            return $"{Upper(tie.Name)} still holds a cable to it.";
        }

        var blocker = map
            .Parts.Where(p => moving.Contains(p.Id))
            .SelectMany(p => p.BlockedBy)
            .Where(b => !moving.Contains(b) && Body(b) == body)
            .Select(b => map.Part(b))
            .FirstOrDefault();
        if (blocker is not null)
        {
            return $"{Upper(blocker.Name)} is in the way.";
        }

        if ((Facing(part.Side, part.Id) ?? Live(part, part.Id)) is { } reason)
        {
            return reason;
        }

        loose.Add(part.Id);
        if (part.Thermal is not null)
        {
            pasteNeeded.Add(part.Id);
        }

        return null;
    }

    private string? PutIn(Part part)
    {
        if (!loose.Contains(part.Id))
        {
            return $"{Upper(part.Name)} is in already.";
        }

        if (pasteNeeded.Contains(part.Id))
        {
            return $"{Upper(part.Name)} needs new paste first.";
        }

        loose.Remove(part.Id);
        var reason = Buried(part.Id) ?? Facing(part.Side, part.Id) ?? Live(part, part.Id);
        if (reason is not null)
        {
            loose.Add(part.Id);
        }

        return reason;
    }

    /// <summary>What a part that goes in now would lock out: a part, screw, joint or tie that belongs beneath it.</summary>
    private string? Buried(PartId cover)
    {
        foreach (var other in loose)
        {
            var group = map.MovingWith(other, loose);
            if (!group.Contains(cover) && map.Parts.Any(p => group.Contains(p.Id) && p.BlockedBy.Contains(cover)))
            {
                return $"{Upper(map.Part(other).Name)} goes in first.";
            }
        }

        var body = Body(cover);
        bool Beneath(IReadOnlyList<PartId> under, PartId at) => under.Contains(cover) && Body(at) == body;
        return map.Joints.FirstOrDefault(j => open.Contains(j.Id) && Beneath(j.Under, j.Between[0])) is { } joint
                ? $"{Upper(joint.Name)} beneath it is still open."
            : map.Fasteners.FirstOrDefault(f => undone.Contains(f.Id) && Beneath(f.Under, f.Holds)) is { } screws
                ? $"The {screws.Name} screws beneath it are still out."
            : map.Ties.FirstOrDefault(t => free.Contains(t.Id) && Beneath(t.Under, t.On)) is { } tie
                ? $"{Upper(tie.Name)} beneath it is still loose."
            : null;
    }

    private string? Paste(Part part) =>
        part.Thermal is null ? $"{Upper(part.Name)} takes no paste."
        : !loose.Contains(part.Id) ? $"Paste goes on while {Name(part.Id)} is out."
        : Did(pasteNeeded.Remove(part.Id));

    private string? Hidden(IReadOnlyList<PartId> under, PartId at) =>
        under.Where(u => Body(u) == Body(at)).Select(u => $"It lies under {Name(u)}.").FirstOrDefault();

    private string? Facing(Side side, PartId at) =>
        Body(at) is not null || side == up || map.Part(at).Outside
            ? null
            : $"It is reached from the {side.ToString().ToLowerInvariant()} side: turn the machine over.";

    private string? Live(object thing, PartId at) =>
        Isolated || Body(at) is not null || map.Part(at).Outside || onTheWayToIsolation.Contains(thing)
            ? null
            : $"Isolate first: {Lower(map.Joint(map.Isolation).Name)} is still closed.";

    private string? Apart(PartId a, PartId b) =>
        Body(a) == Body(b) ? null : $"{Upper(map.Part(Body(a) ?? Body(b)!.Value).Name)} is not in its place.";

    /// <summary>An open joint that power must not reach; joints on the way to isolation cannot be helped.</summary>
    private Joint? OpenInside() =>
        map.Joints.FirstOrDefault(j =>
            open.Contains(j.Id) && j.Id != map.Isolation && !onTheWayToIsolation.Contains(j)
        );

    /// <summary>A card cannot leave its slot while its own screws hold it down.</summary>
    private string? HeldDown(Joint slot) =>
        slot.Kind.IsSlot()
        && map.Fasteners.FirstOrDefault(f => f.Holds == slot.Card(map) && !undone.Contains(f.Id)) is { } screws
            ? $"The {screws.Name} screws still hold it down."
            : null;

    /// <summary>The loose part a part rides on (or is); null while it is in the machine.</summary>
    private PartId? Body(PartId part)
    {
        for (PartId? at = part; at is { } id; at = map.Part(id).MountedOn)
        {
            if (loose.Contains(id))
            {
                return id;
            }
        }

        return null;
    }

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
            _ => map.Parts.All(p => p.Id != act.Part),
        };

    private string Name(PartId part) => Wording.The(map.Part(part).Name);

    private static string Upper(string name) => Wording.The(name) is var s ? char.ToUpperInvariant(s[0]) + s[1..] : s;

    private static string Lower(string title) => char.ToLowerInvariant(title[0]) + title[1..];

    private static string? Did(bool changed) => changed ? null : "Nothing changed.";

    /// <summary>What has to be moved to get at the isolation joint: the only things touched under power.</summary>
    private static HashSet<object> WayToIsolation(ServiceMap map)
    {
        var found = new HashSet<object>(ReferenceEqualityComparer.Instance);
        Uncover(map.Joint(map.Isolation).Under);
        return found;

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

            var moving = map.MovingWith(part.Id);
            bool Crosses(PartId a, PartId b) => moving.Contains(a) != moving.Contains(b);
            foreach (var f in map.Fasteners.Where(f => Crosses(f.Holds, f.Into) && found.Add(f)))
            {
                Uncover(f.Under);
            }

            foreach (var j in map.Joints.Where(j => Crosses(j.Between[0], j.Between[1]) && found.Add(j)))
            {
                Uncover(j.Under);
            }

            foreach (var t in map.Ties.Where(t => Crosses(t.Of, t.On) && found.Add(t)))
            {
                Uncover(t.Under);
            }

            foreach (var rider in moving)
            {
                Uncover(map.Part(rider).BlockedBy.Where(b => !moving.Contains(b)));
            }
        }
    }
}
