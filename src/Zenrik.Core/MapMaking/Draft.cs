using Zenrik.Core.BenchLedger;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>
/// The map of a model as far as benches have found it and people have said it. A pure function of sightings and statements:
/// the same ones, in whatever order they come to the book, give the same draft.
/// </summary>
/// <remarks>
/// What holds, joins and ties a part is known for good and never dropped. What else was off before is believed to be needed
/// until a session did without it or a person denies it, so a plan made from a draft takes nothing off earlier than it was
/// seen to come off.
/// </remarks>
public sealed class Draft
{
    /// <summary>Width of the strip beside the machine in which things lie that nobody has placed yet, mm.</summary>
    public const double Tray = 90;

    /// <summary>The outline of a machine nobody has measured, mm.</summary>
    public const double UsualWidth = 320;

    public const double UsualHeight = 220;

    /// <summary>The share of the outline from which on a part covers the machine.</summary>
    private const double CoversFrom = 0.5;

    /// <summary>What a map takes as one group.</summary>
    private const int MostScrews = 40;

    private const int MostCorners = 60;

    private const int MaxWhy = 200;

    private static readonly PartId Machine = FreeMap.Machine;
    private static readonly PartId Battery = PartId.Of("battery");
    private static readonly Act Isolate = Act.Isolate(FreeMap.Plug);

    private readonly Model model;
    private readonly List<Sighting> sightings;
    private readonly List<Statement> statements;

    // As they came to the book, before names were read as one another.
    private readonly List<Sighting> seen;
    private readonly List<Statement> said;
    private readonly CopiedMap? copied;
    private readonly Dictionary<Act, List<NamedThing>> named;
    private readonly Dictionary<PartId, PartId> carriers;
    private readonly Order order;
    private readonly Lazy<Dictionary<Act, IReadOnlyList<PartId>>> claims;
    private readonly Dictionary<Act, bool> outside = [];
    private readonly Lazy<ServiceMap> map;

    /// <param name="model">Whose map it is.</param>
    /// <param name="sightings">What sessions showed; of one session shown more than once, the longest counts.</param>
    /// <param name="statements">What people said, earliest first.</param>
    /// <param name="copied">The map of a like model it was begun with; null: none.</param>
    public Draft(
        Model model,
        IEnumerable<Sighting> sightings,
        IEnumerable<Statement> statements,
        CopiedMap? copied = null
    )
    {
        this.model = model;
        this.copied = copied;
        // A session may have been shown before it was closed: what it showed last has all of it.
        seen = [.. sightings.GroupBy(s => s.Session).Select(g => g.MaxBy(s => s.Acts.Count)!)];
        said = [.. statements];
        var identities = new Identities(said);
        this.sightings = [.. (copied?.Sightings ?? []).Concat(seen.OrderBy(s => s.Session)).Select(identities.Of)];
        this.statements = [.. (copied?.Statements ?? []).Concat(said).Select(identities.Of).OfType<Statement>()];
        named = this
            .sightings.SelectMany(s => s.Things)
            .GroupBy(t => Act.Parse(t.Off))
            .ToDictionary(g => g.Key, g => g.Select(t => t.Thing).ToList());
        carriers = Carriers();
        claims = new(AllClaims);
        order = new Order(this.sightings, this.statements, LeaveOn, MayWait, OwnOf);
        map = new Lazy<ServiceMap>(Build);
    }

    /// <summary>True while no session has taken anything off.</summary>
    public bool IsEmpty => order.Acts.Count == 0;

    /// <summary>The map to plan by. Its revision is 1; whoever keeps it numbers it.</summary>
    public ServiceMap Map => map.Value;

    /// <summary>How many sessions and how many people it comes from.</summary>
    public (int Sessions, int People) From => (seen.Count, seen.Select(s => s.By).Distinct().Count());

    /// <summary>The model it was begun from; null: from none.</summary>
    public string? Like => copied?.Name;

    /// <summary>What sessions of the model itself took off.</summary>
    public IReadOnlySet<Act> Met =>
        sightings.Where(s => s.By != CopiedMap.Nobody).SelectMany(s => s.Moments()).Select(m => m.Act).ToHashSet();

    /// <summary>True where a session did without something that is believed to be needed.</summary>
    public bool IsContradictedBy(Sighting sighting)
    {
        var moments = sighting.Moments().ToList();
        var taken = moments.Select(m => m.Act).ToHashSet();
        return moments.Exists(m => order.WaitsOf(m.Act).Any(w => taken.Contains(w) && !m.Off.Contains(w)));
    }

    /// <summary>Everything that comes off, in an order it can come off in.</summary>
    public IReadOnlyList<Act> InOrder()
    {
        var left = order.Acts.ToList();
        var off = new HashSet<Act>();
        var sorted = new List<Act>();
        while (left.Count > 0)
        {
            var next = left.First(a => order.WaitsOf(a).All(off.Contains));
            off.Add(next);
            sorted.Add(next);
            left.Remove(next);
        }

        return sorted;
    }

    /// <summary>The draft with one session more.</summary>
    public Draft With(Sighting sighting) => new(model, [.. seen, sighting], said, copied);

    /// <summary>What was copied and neither met in a session nor confirmed by a person, by the act that takes it off.</summary>
    public IReadOnlySet<Act> NotSeen =>
        copied is null
            ? new HashSet<Act>()
            : order
                .Acts.Except(Met)
                .Except(statements.OfType<Statement.Seen>().Select(s => Act.Parse(s.What)))
                .ToHashSet();

    /// <summary>What a part rides on, as it was said; null: on nothing.</summary>
    public PartId? RidesOn(PartId part) => carriers.TryGetValue(part, out var on) ? on : null;

    /// <summary>What rides on a part itself, by id.</summary>
    public IReadOnlyList<PartId> RidersOf(PartId part) =>
        [
            .. carriers
                .Where(c => c.Value == part && order.Acts.Contains(Act.LiftOut(c.Key)))
                .Select(c => c.Key)
                .OrderBy(p => p.Value, StringComparer.Ordinal),
        ];

    /// <summary>
    /// Whether a new part comes with one that rides on it: as said last, or false where a bench moved it over. Null: nobody
    /// has seen it; until somebody has, it is planned to move over.
    /// </summary>
    public bool? Brings(PartId part, PartId rider) =>
        Last<Statement.Brings>(s => s.Part == part.Value && s.What == rider.Value)?.Does
        ?? (
            named.TryGetValue(Act.LiftOut(rider), out var things) && things.Exists(t => t.MovesFrom == part.Value)
                ? false
                : null
        );

    /// <summary>A new part, and what it comes with.</summary>
    private List<PartId> Brought(PartId part)
    {
        var brought = new List<PartId> { part };
        for (var i = 0; i < brought.Count; i++)
        {
            brought.AddRange(RidersOf(brought[i]).Where(r => !brought.Contains(r) && Brings(part, r) == true));
        }

        return brought;
    }

    /// <summary>The photograph the drawing lies on; null: none was laid.</summary>
    public Underlay? Underlay => Last<Statement.Pictured>(_ => true)?.Picture;

    /// <summary>What the firmware offers, as it was said, or what such machines usually do; of <see cref="FirmwareOffers"/>.</summary>
    public IReadOnlyList<string> Offers =>
        Last<Statement.Firmware>(_ => true)?.Offers ?? FirmwareOffers.UsualOf(model.Class);

    /// <summary>Things nobody has placed on the drawing yet, by the act that takes them off.</summary>
    public IReadOnlyList<Act> Unplaced => [.. order.Acts.Where(a => Place(a) is null)];

    /// <summary>What is believed and was neither confirmed nor put aside by a person, the most doubtful first.</summary>
    public IReadOnlyList<SeenWait> Doubtful
    {
        get
        {
            var asked = statements
                .OfType<Statement.CannotTell>()
                .Select(s => (s.What, s.After))
                .Concat(statements.OfType<Statement.Needs>().Select(s => (s.What, s.After)))
                .ToHashSet();
            var met = Met;
            return
            [
                .. Map
                    .Waits.Where(w => !asked.Contains((w.What, w.After)))
                    .OrderBy(w => !met.Contains(w.Waiting))
                    .ThenBy(w => Belief.IsMust(w, Map))
                    .ThenBy(w => w.What, StringComparer.Ordinal)
                    .ThenBy(w => w.After, StringComparer.Ordinal),
            ];
        }
    }

    /// <summary>The draft with something more said; whether it may be said, <see cref="Refuse"/> tells.</summary>
    public Draft With(Statement statement) => new(model, seen, [.. said, statement], copied);

    /// <summary>The draft going on from the map of a like model.</summary>
    public Draft With(CopiedMap copied) => new(model, seen, said, copied);

    /// <summary>Why a statement cannot be taken; null when it can.</summary>
    public Refusal? Refuse(Statement statement)
    {
        var with = With(statement);
        return statement switch
        {
            Statement.NeedNot s when Known(s.What, s.After) is { } unknown => unknown,
            Statement.CannotTell s when Known(s.What, s.After) is { } unknown => unknown,
            Statement.Needs s when Known(s.What, s.After) is { } unknown => unknown,
            Statement.Needs s when s.What == s.After => Conflict("Nothing waits for itself."),
            Statement.Needs s when order.WaitsOf(Act.Parse(s.After)).Contains(Act.Parse(s.What)) => Conflict(
                $"{Name(s.After)} waits for {Name(s.What)} already; both cannot come first."
            ),
            Statement.Holds s when Known(s.What) is { } unknown => unknown,
            Statement.Holds s when !IsPart(s.Part) => NoPart(s.Part),
            Statement.Joins s when Known($"open:{s.Joint}") is { } unknown && s.Joint != FreeMap.Plug.Value => unknown,
            Statement.Joins s when !IsPart(s.Plug) && s.Plug != Machine.Value => NoPart(s.Plug),
            Statement.Joins s when !IsPart(s.Socket) && s.Socket != Machine.Value => NoPart(s.Socket),
            Statement.Joins s when s.Plug == s.Socket => Conflict("A joint connects two different parts."),
            Statement.Holds s when StillOn(Act.Parse(s.What), s.Part) is { } on => on,
            Statement.Joins s when StillOn(Joint(s.Joint), s.Plug, s.Socket) is { } on => on,
            Statement.Lead s when Known($"open:{s.Joint}") is { } unknown => unknown,
            Statement.Lead { Other: { } far } when Known($"open:{far}") is { } unknown => unknown,
            Statement.Lead { Other: not null } s
                when new[] { s.Socket, s.OtherSocket }.FirstOrDefault(p => !IsPart(p) && p != Machine.Value)
                    is { } part => NoPart(part),
            Statement.Lead { Other: { } far } s when far == s.Joint || s.Socket == s.OtherSocket => Conflict(
                "A lead has two ends, each in a part of its own."
            ),
            Statement.Lead { Other: { } far } s
                when new[] { s.Socket, s.OtherSocket }.FirstOrDefault(p =>
                    !ComesApart(Joint(s.Joint), Joint(far), PartId.Of(p))
                )
                    is { } part => Conflict(
                $"In some session {Wording.The(Name($"lift-out:{part}"))} came out with both ends still in, so they are no lead between these."
            ),
            Statement.Rides s when !IsPart(s.Part) => NoPart(s.Part),
            Statement.Rides { On: { } on } when !IsPart(on) => NoPart(on),
            Statement.Rides { On: { } on } s when Chain(PartId.Of(on)).Contains(PartId.Of(s.Part)) => Conflict(
                "It would ride on itself."
            ),
            Statement.Brings s when !IsPart(s.Part) => NoPart(s.Part),
            Statement.Brings s when !IsPart(s.What) => NoPart(s.What),
            Statement.Brings s when !Chain(PartId.Of(s.What)).Skip(1).Contains(PartId.Of(s.Part)) => Conflict(
                $"{Sentence.Capital(Name($"lift-out:{s.What}"))} does not ride on {Name($"lift-out:{s.Part}")}. Say first what it rides on."
            ),
            Statement.InSlot s when !IsPart(s.Part) => NoPart(s.Part),
            Statement.InSlot { Slot: { } slot } s when !FreeMap.IsId(slot) => new Refusal(
                RefusalReason.Invalid,
                "A slot is written in lower case words joined by hyphens: battery, memory-1."
            ),
            Statement.InSlot { Slot: { } slot } s when Map.PartInSlot(slot) is { } other && other.Id.Value != s.Part =>
                Conflict($"The slot {slot} is {Wording.The(other.Name)}'s already."),
            Statement.Called s when Known(s.What) is { } unknown => unknown,
            Statement.Called s
                when string.IsNullOrWhiteSpace(s.Name)
                    || s.Name.Trim().Length > NamedThing.MaxName
                    || s.Name.Any(char.IsControl) => new Refusal(
                RefusalReason.Invalid,
                $"A name has from 1 to {NamedThing.MaxName} characters."
            ),
            Statement.Called s when named.Keys.Any(a => a.ToString() != s.What && IsCalled(a, s.Name)) => Conflict(
                $"“{s.Name.Trim()}” is the name of something else here."
            ),
            Statement.Lies s when Known(s.What) is { } unknown => unknown,
            Statement.Lies { At: { } at } s
                when Act.Parse(s.What) is { Kind: ActKind.Undo } screws
                    && Map.Fastener(screws.Fastener).Count is var count
                    && count != at.Count => new Refusal(
                RefusalReason.Invalid,
                $"There are {count} of them: give {count} places, one for each screw; these are {at.Count}."
            ),
            Statement.Measures s when s.WidthMm is < 100 or > 600 || s.HeightMm is < 100 or > 600 => new Refusal(
                RefusalReason.Invalid,
                "The outline of a portable computer is between 100 and 600 mm wide and deep."
            ),
            Statement.Seen s when Known(s.What) is { } unknown => unknown,
            Statement.Moved s when s.What.Count == 0 => new Refusal(RefusalReason.Invalid, "Tick what is to be moved."),
            Statement.Moved s when Known([.. s.What]) is { } unknown => unknown,
            Statement.Moved s when s.What.FirstOrDefault(w => Place(Act.Parse(w)) is null) is { } nowhere => Conflict(
                $"{Name(nowhere)} is not placed yet, so it cannot be moved from there."
            ),
            Statement.Runs s when Known($"open:{s.Joint}") is { } unknown && s.Joint != FreeMap.Plug.Value => unknown,
            Statement.Runs s when s.Through.Count > MostCorners => TooMany(),
            Statement.Drawn s when !IsPart(s.Part) => NoPart(s.Part),
            Statement.Drawn s when s.Layer is < 1 or > 99 => new Refusal(
                RefusalReason.Invalid,
                "Layers run from 1, deepest, to 99, nearest."
            ),
            Statement.Stays s when FreeMap.Words(s.Name).Length == 0 || s.Name.Trim().Length > NamedThing.MaxName =>
                new Refusal(RefusalReason.Invalid, $"A name has from 1 to {NamedThing.MaxName} characters."),
            Statement.Stays s when string.IsNullOrWhiteSpace(s.Why) || s.Why.Trim().Length > MaxWhy => new Refusal(
                RefusalReason.Invalid,
                $"Say in at most {MaxWhy} characters why it stays: what it holds, or that it is no screw."
            ),
            Statement.Stays s when s.At.Count > MostScrews => TooMany(),
            Statement.Pictured s when s.Picture.Refuse() is { } askew => askew,
            Statement.Lies { Shape: Shape.Rings { Outlines: [var ring, ..] } } when ring.Count > MostCorners =>
                TooMany(),
            Statement.Screws s when Known(s.What) is { } unknown => unknown,
            Statement.Screws s when s.Count is < 1 or > MostScrews || s.LengthMm is <= 0 or > 30 => new Refusal(
                RefusalReason.Invalid,
                $"A group has from 1 to {MostScrews} screws of at most 30 mm. More than that are two groups."
            ),
            Statement.Opens s when Known($"open:{s.Joint}") is { } unknown && s.Joint != FreeMap.Plug.Value => unknown,
            Statement.Same s when Known(s.What, s.As) is { } unknown => unknown,
            Statement.Same s when s.What == s.As || Act.Parse(s.What).Kind != Act.Parse(s.As).Kind => Conflict(
                "Only two things of one kind can be one thing under two names."
            ),
            Statement.Same s when sightings.Exists(x => x.Acts.Contains(s.What) && x.Acts.Contains(s.As)) => Conflict(
                $"Some session took off both {Name(s.What)} and {Name(s.As)}, so they are two things."
            ),
            Statement.Absent s when Known(s.What) is { } unknown => unknown,
            Statement.Absent s when Act.Parse(s.What) == Isolate => Conflict(
                "Every machine has something that makes it dead: that stays."
            ),
            Statement.Takes { What.IsOutside: false } s when Map.PartInSlot(s.What.Slot) is null => new Refusal(
                RefusalReason.NotFound,
                $"No part here has the slot “{s.What.Slot}”. Give one the slot first."
            ),
            Statement.Firmware s when s.Offers.Any(o => FirmwareOffers.All.All(f => f.Id != o)) => new Refusal(
                RefusalReason.NotFound,
                "Firmware offers nothing of that name."
            ),
            _ => ServiceMapRules.Check("draft", with.Map) is [var first, ..]
                ? Conflict($"That contradicts what is known: {first.Reason}.")
                : null,
        };

        static Refusal Conflict(string message) => new(RefusalReason.Conflict, message);

        static Refusal TooMany() =>
            new(RefusalReason.Invalid, $"That are too many points; {MostCorners} do for anything.");

        static Refusal NoPart(string part) => new(RefusalReason.NotFound, $"The draft has no part “{part}”.");

        bool IsPart(string part) => named.ContainsKey(Act.LiftOut(PartId.Of(part)));

        bool IsCalled(Act act, string name) =>
            string.Equals(NameOf(act), name.Trim(), StringComparison.OrdinalIgnoreCase);

        string Name(string act) => Wording.The(NameOf(Act.Parse(act)));

        static Act Joint(string id) => id == FreeMap.Plug.Value ? Isolate : Act.Open(JointId.Of(id));

        // What was on while a part came out did not hold it.
        Refusal? StillOn(Act what, params string[] among) =>
            among.FirstOrDefault(p => p != Machine.Value && Sure(what, PartId.Of(p)) is null) is { } part
                ? Conflict(
                    $"What is called “{NameOf(what)}” was still on when {Name($"lift-out:{part}")} came out in some session, so it does not hold that."
                )
                : null;

        Refusal? Known(params string[] acts) =>
            acts.Any(a => !Act.TryParse(a, out var act) || !order.Acts.Contains(act))
                ? new Refusal(RefusalReason.NotFound, "The draft has no such thing.")
                : null;
    }

    /// <summary>Everything of one kind that the draft knows, by name.</summary>
    /// <param name="kind">Of the act that takes it off.</param>
    public IReadOnlyList<Act> Things(ActKind kind) =>
        [.. order.Acts.Where(a => a.Kind == kind).OrderBy(NameOf, StringComparer.OrdinalIgnoreCase)];

    /// <summary>What a thing is called: as said last, or as it was first named.</summary>
    public string NameOf(Act act) =>
        Last<Statement.Called>(s => s.What == act.ToString())?.Name.Trim()
        ?? (named.TryGetValue(act, out var things) ? things[0].Name.Trim() : act.Target.Replace('-', ' '));

    /// <summary>The thing as the next session would name it.</summary>
    public NamedThing? Thing(Act act) =>
        named.TryGetValue(act, out var things)
            ? new NamedThing
            {
                Kind = things[0].Kind,
                Name = NameOf(act),
                Count = ScrewsOf(act)?.Count ?? Most(things.Select(t => t.Count)),
                Drive = ScrewsOf(act)?.Drive ?? Most(things.Select(t => t.Drive)),
                LengthMm = ScrewsOf(act)?.LengthMm ?? Most(things.Select(t => t.LengthMm)),
                Joint = KindOf(act),
                Tie = Most(things.Select(t => t.Tie)),
                Check = Most(things.Select(t => t.Check)),
                Side = Most(things.Select(t => t.Side)),
                Exchanged = things.Exists(t => t.Exchanged),
                Identity = act.Target,
            }
            : null;

    /// <summary>
    /// Things a session may name next by picking: what the draft knows and is not off, what mostly came at this point first.
    /// </summary>
    /// <param name="off">What is off in the session.</param>
    public IReadOnlyList<NamedThing> Next(IReadOnlyList<Act> off)
    {
        var done = off.ToHashSet();
        return
        [
            .. order
                .Acts.Where(a => a != Isolate && !done.Contains(a) && named.ContainsKey(a))
                .OrderBy(a => order.WaitsOf(a).Count(w => !done.Contains(w)))
                .ThenByDescending(a => order.Seen(a).Sessions)
                .ThenBy(a => a.ToString(), StringComparer.Ordinal)
                .Select(a =>
                    Thing(a)! with
                    {
                        Held =
                            a.Kind == ActKind.LiftOut
                                ? [.. off.Where(o => On(o).Contains(a.Part)).Select(o => o.ToString())]
                                : null,
                    }
                ),
        ];
    }

    private ServiceMap Build()
    {
        var (width, height) = Last<Statement.Measures>(_ => true) is { } m
            ? (m.WidthMm, m.HeightMm)
            : (UsualWidth, UsualHeight);
        var usual = new UsualPractice(model.Class, Offers);
        var tray = new Strip(width + 8, height);
        var parts = new List<Part>
        {
            new()
            {
                Id = Machine,
                Name = "machine",
                Fixed = true,
                Shape = new Shape.Rect(0, 0, width, height),
            },
        };
        var lifts = order.Acts.Where(a => a.Kind == ActKind.LiftOut).OrderBy(a => a.Target, StringComparer.Ordinal);
        var fasteners = new List<FastenerGroup>();
        var joints = new List<Joint>();
        var ties = new List<Tie>();
        var waits = new List<SeenWait>();
        // A lead to the battery, until the part it belongs to has a name.
        var lead = EndsOf(Isolate) is [] ? FreeMap.Lead : null;
        if (lead is not null)
        {
            parts.Add(lead);
        }

        foreach (
            var act in order
                .Acts.Where(a => a.Kind != ActKind.LiftOut)
                .OrderBy(a => a.ToString(), StringComparer.Ordinal)
        )
        {
            var thing = named.TryGetValue(act, out var things) ? things[0] : null;
            var side = Most((things ?? []).Select(t => t.Side)) == Side.Deck ? Side.Deck : Side.Base;
            switch (act.Kind)
            {
                case ActKind.Undo:
                    var screws = ScrewsOf(act);
                    var count = screws?.Count ?? Math.Clamp(Most((things ?? []).Select(t => t.Count)), 1, MostScrews);
                    fasteners.Add(
                        new FastenerGroup
                        {
                            Id = act.Fastener,
                            Name = NameOf(act),
                            Count = count,
                            Screw = new Screw
                            {
                                Drive = screws?.Drive ?? Most((things ?? []).Select(t => t.Drive)) ?? Drive.PH0,
                                Thread = MetricThread.M2,
                                LengthMm = screws is not null
                                    ? screws.LengthMm ?? 0
                                    : Math.Min(Most((things ?? []).Select(t => t.LengthMm)) ?? 0, 30),
                            },
                            Holds = Sure(act, HeldBy(act)) ?? FreeMap.NotNamed,
                            Into = Machine,
                            Under = Under(act),
                            Side = side,
                            Positions = Place(act)?.At is { } at && at.Count == count ? at : tray.Row(count),
                        }
                    );
                    break;
                case ActKind.Open or ActKind.Isolate:
                    var loose = LeadOf(act);
                    joints.Add(
                        new Joint
                        {
                            Id = act.Joint,
                            Name = act == Isolate ? "battery plug" : NameOf(act),
                            Kind = KindOf(act) ?? JointKind.WirePlug,
                            Between = loose?.Ends ?? [.. Ends(act, KindOf(act) ?? JointKind.WirePlug)],
                            OtherEnd = loose?.Other.Joint,
                            Under = Under(act),
                            Side = side,
                            At = Place(act)?.At is [var place, ..] ? place : tray.Row(1)[0],
                            Route =
                                Last<Statement.Runs>(s => s.Joint == act.Target) is { Through: [_, ..] through }
                                && Place(act)?.At is [var end, ..]
                                    ? [.. through, end]
                                    : [],
                            Check =
                                thing?.Check is { } check ? CheckId.Of(check)
                                : act == Isolate ? CheckId.Of("charge")
                                : null,
                        }
                    );
                    break;
                default:
                    ties.Add(
                        new Tie
                        {
                            Id = act.Tie,
                            Name = NameOf(act),
                            Kind = Most((things ?? []).Select(t => t.Tie)) ?? TieKind.Tape,
                            Of = Sure(act, HeldBy(act)) ?? FreeMap.NotNamed,
                            On = Machine,
                            Under = Under(act),
                            Side = side,
                            At = Place(act)?.At is [var spot, ..] ? spot : tray.Row(1)[0],
                        }
                    );
                    break;
            }
        }

        if (!joints.Exists(j => j.Id == FreeMap.Plug))
        {
            joints.Add(FreeMap.Isolation);
        }

        var opened = order
            .Acts.Where(a => a.Kind == ActKind.Open)
            .OrderBy(a => a.Target, StringComparer.Ordinal)
            .ToList();
        var assemblies = new List<Assembly>();
        foreach (var act in lifts)
        {
            var things = named.GetValueOrDefault(act) ?? [];
            var slot = SlotOf(act);
            var name = NameOf(act);
            var shape = Place(act)?.Shape;
            var after = order.PartsFor(act).Where(a => Exists(a.Part)).ToList();
            parts.Add(
                new Part
                {
                    Id = act.Part,
                    Name = name,
                    Slot = slot,
                    Side = Most(things.Select(t => t.Side)) ?? Side.Base,
                    Outside = IsOutside(act),
                    BlockedBy = [.. after.Select(a => a.Part)],
                    // What waits for more lies deeper.
                    Layer =
                        Last<Statement.Drawn>(s => s.Part == act.Target)?.Layer
                        ?? (after.All(IsOutside) && IsWide(shape) ? MachineView.CoverLayer : 10)
                            + lifts.Count()
                            - order.WaitsOf(act).Count(a => a.Kind == ActKind.LiftOut),
                    Shape = shape ?? tray.Box(),
                    Cells = IsBattery(act),
                    Glass = PartNames.HoldsGlass(name),
                    Label = slot is null ? null : new Label { Where = "on it", Readable = Readable.Out },
                }
            );
            // Nothing else in the map says these, so they stand here even where a person has said them.
            waits.AddRange(order.OthersFor(act, Own(act, fasteners, joints, ties)).Select(a => Wait(act, a)));
            waits.AddRange(
                order
                    .OneOrOther(act, [.. opened.Where(j => EndsOf(j).Contains(act.Part))])
                    .Where(pair => LeadOf(pair.One)?.Other != pair.Other)
                    .Select(pair => Wait(act, pair.One, [pair.Other]))
            );
            if (slot is not null)
            {
                assemblies.Add(
                    new Assembly
                    {
                        Id = AssemblyId.Of(act.Target),
                        Name = name,
                        Part = act.Part,
                        Brings = Brought(act.Part).Skip(1).ToList(),
                        MovesOver = [.. Brought(act.Part).SelectMany(RidersOf).Except(Brought(act.Part))],
                        Faults = [$"{name} does not work"],
                        After = usual.After(slot),
                    }
                );
            }
        }

        if (joints.Exists(j => j.Between.Contains(FreeMap.LooseEnd)))
        {
            parts.Add(new Part { Id = FreeMap.LooseEnd, Name = "a card nobody has taken out yet" });
        }

        // What holds something nobody has lifted out yet holds this.
        if (
            fasteners.Exists(f => f.Holds == FreeMap.NotNamed)
            || ties.Exists(t => t.Of == FreeMap.NotNamed)
            || joints.Exists(j => j.Between.Contains(FreeMap.NotNamed))
        )
        {
            parts.Add(new Part { Id = FreeMap.NotNamed, Name = "what nobody has taken out yet" });
        }

        // A card leaves its slot, and contacts slide apart, only when what holds the card is off.
        foreach (var joint in joints.Where(j => j.Kind.IsSlot() || j.Kind == JointKind.SlideContacts))
        {
            var act = joint.Id == FreeMap.Plug ? Isolate : Act.Open(joint.Id);
            waits.AddRange(order.OthersFor(act, new HashSet<Act>()).Select(a => Wait(act, a)));
        }

        foreach (var act in order.Acts)
        {
            waits.AddRange(WaitsForParts(act));
            waits.AddRange(order.EitherFor(act).Select(e => Wait(act, e.Part, e.Or)));
        }

        return new ServiceMap
        {
            Format = ServiceMap.CurrentFormat,
            Model = model,
            Revision = 1,
            Drawing = new Drawing
            {
                WidthMm = width + (tray.IsUsed ? Tray : 0),
                HeightMm = Math.Max(height, tray.Depth),
            },
            Isolation = FreeMap.Plug,
            Preparations =
            [
                .. usual.Preparations,
                FreeMap.ShutDown,
                new Preparation
                {
                    Id = "photo",
                    Title = "Look it over and take a photograph",
                    How = "Marks, dents, missing feet: before anything moves. Strap on, mat down.",
                    Seconds = 60,
                },
            ],
            Parts = parts,
            Fasteners = fasteners,
            Joints = joints,
            Ties = ties,
            Assemblies = assemblies,
            Decoys = [.. Staying],
            Checks = [.. FreeMap.Checks, .. usual.Checks],
            Specifications = [.. Taken(parts)],
            Waits =
            [
                .. waits.OrderBy(w => w.What, StringComparer.Ordinal).ThenBy(w => w.After, StringComparer.Ordinal),
            ],
        };

        // What comes off first and lies over most of the machine is a cover.
        bool IsWide(Shape? placed) => placed?.Bounds is { } b && b.Width * b.Height >= CoversFrom * width * height;

        PartId[] Under(Act act) => [.. order.PartsFor(act).Where(a => Exists(a.Part)).Select(a => a.Part)];

        bool Exists(PartId part) => order.Acts.Contains(Act.LiftOut(part));

        // A card's own screws and leads come before its slot; where sessions did otherwise, it is not known whose card it is.
        PartId[] Ends(Act act, JointKind kind)
        {
            PartId[] ends = [.. EndsOf(act).Where(p => Sure(act, p) is not null)];
            if (kind.IsSlot() || kind == JointKind.SlideContacts)
            {
                ends = [.. ends.OrderBy(p => IsCard(p) ? 0 : 1)];
                return ends is [var card, ..] && IsCard(card)
                    ? [card, ends is [_, var at] ? at : Machine]
                    : [FreeMap.LooseEnd, ends is [var on, ..] ? on : Machine];
            }

            return ends switch
            {
                [var plug, var socket] => [plug, socket],
                [var one] => [one, Machine],
                _ => [act == Isolate ? lead?.Id ?? Machine : FreeMap.NotNamed, Machine],
            };

            bool IsCard(PartId part) =>
                OwnOf(Act.LiftOut(part)).Where(o => o != act && !IsSlotJoint(o)).All(order.WaitsOf(act).Contains);
        }
    }

    /// <summary>What was said last of every slot there is, and of the charger.</summary>
    private IEnumerable<Specification> Taken(List<Part> parts) =>
        parts
            .Select(p => p.Slot)
            .Append(Specification.Charger.Outside)
            .OfType<string>()
            .Distinct()
            .Select(slot => Last<Statement.Takes>(s => s.What.Slot == slot)?.What)
            .OfType<Specification>();

    private bool IsSlotJoint(Act act) => act.Kind == ActKind.Open && KindOf(act)?.IsSlot() == true;

    private Statement.Screws? ScrewsOf(Act act) => Last<Statement.Screws>(s => s.What == act.ToString());

    /// <summary>How a joint opens: as said last, or as most sessions had it.</summary>
    private JointKind? KindOf(Act act) =>
        Last<Statement.Opens>(s => s.Joint == act.Target)?.Kind
        ?? (named.TryGetValue(act, out var things) ? Most(things.Select(t => t.Joint)) : null);

    /// <summary>The other end of the loose lead a joint is said to be an end of, and the parts it joins; null: of none.</summary>
    private (Act Other, JointEnds Ends)? LeadOf(Act act)
    {
        Statement.Lead? Said(Act joint) =>
            Last<Statement.Lead>(s => s.Joint == joint.Target || s.Other == joint.Target);
        if (act.Kind != ActKind.Open || Said(act) is not { Other: { } far } said)
        {
            return null;
        }

        var isOther = far == act.Target;
        var other = Act.Open(JointId.Of(isOther ? said.Joint : far));
        var (socket, plug) = isOther ? (said.OtherSocket, said.Socket) : (said.Socket, said.OtherSocket);
        var ends = new JointEnds(PartId.Of(plug), PartId.Of(socket));
        // What is said of the other since, and sessions that did otherwise, count more.
        return
            order.Acts.Contains(other) && ReferenceEquals(Said(other), said) && ends.All(p => ComesApart(act, other, p))
            ? (other, ends)
            : null;
    }

    /// <summary>True where a part never came out with both ends of a lead still in.</summary>
    private bool ComesApart(Act end, Act other, PartId part)
    {
        var lift = Act.LiftOut(part);
        return part == Machine
            || !order.Acts.Contains(lift)
            || order.WaitsOf(lift).Contains(end)
            || order.WaitsOf(lift).Contains(other)
            || order.OneOrOther(lift, [end, other]).Any();
    }

    /// <summary>The part, where a thing was off in every session that lifted it: only then does the thing hold it.</summary>
    private PartId? Sure(Act act, PartId? part) =>
        part is { } p && (p == Machine || order.WaitsOf(Act.LiftOut(p)).Contains(act)) ? p : null;

    /// <summary>What holds, joins and ties a part: it never comes out before these.</summary>
    private static HashSet<Act> Own(Act lift, List<FastenerGroup> fasteners, List<Joint> joints, List<Tie> ties) =>
        [
            .. fasteners.Where(f => f.Holds == lift.Part).Select(f => Act.Undo(f.Id)),
            .. joints.Where(j => j.Between.Contains(lift.Part)).Select(j => Act.Open(j.Id)),
            .. ties.Where(t => t.Of == lift.Part).Select(t => Act.Free(t.Id)),
        ];

    /// <summary>A wait with how often it was seen.</summary>
    private SeenWait Wait(Act what, Act after, IReadOnlyList<Act>? or = null)
    {
        var (sessions, people) = order.Seen(what);
        return new SeenWait
        {
            What = what.ToString(),
            After = after.ToString(),
            Or = [.. (or ?? []).Select(o => o.ToString())],
            Sessions = Math.Max(1, sessions),
            People = Math.Max(1, people),
        };
    }

    /// <summary>Waits for parts, which the map's covers say as well; those that a person has said to be a must are not doubtful.</summary>
    private IEnumerable<SeenWait> WaitsForParts(Act what) =>
        order.PartsFor(what).Where(after => !IsSaidToWait(what, after)).Select(after => Wait(what, after));

    /// <summary>True where the last word of a person on a wait is that it is a must.</summary>
    public bool IsSaidToWait(Act what, Act after) =>
        Last<Statement>(s =>
            s is Statement.Needs n && n.What == what.ToString() && n.After == after.ToString()
            || s is Statement.NeedNot d && d.What == what.ToString() && d.After == after.ToString()
        ) is Statement.Needs;

    /// <summary>The part screws or a tie hold: as said, or as most sessions had it.</summary>
    private PartId? HeldBy(Act act) =>
        Last<Statement.Holds>(s => s.What == act.ToString()) is { } said ? PartId.Of(said.Part)
        : Claims(act) is [var most, ..] ? most
        : null;

    /// <summary>What a joint connects: as said, or the parts that were lifted after it.</summary>
    private PartId[] EndsOf(Act act) =>
        Last<Statement.Joins>(s => s.Joint == act.Target) is { } said ? [PartId.Of(said.Plug), PartId.Of(said.Socket)]
        : Claims(act) is [_, ..] claims ? [.. claims.Take(2)]
        // Nobody has said whose plug it is; of a part that is called so it goes without saying.
        : act == Isolate && named.ContainsKey(Act.LiftOut(Battery)) ? [Battery]
        : [];

    /// <summary>Parts of which sessions said that this holds or joins them, those said most often first.</summary>
    private IReadOnlyList<PartId> Claims(Act act) => claims.Value.GetValueOrDefault(act) ?? [];

    private Dictionary<Act, IReadOnlyList<PartId>> AllClaims() =>
        named
            .Where(n => n.Key.Kind == ActKind.LiftOut)
            .SelectMany(n =>
                n.Value.SelectMany(t => (t.Held ?? []).Distinct())
                    .GroupBy(h => h)
                    .Select(h => (Act: Act.Parse(h.Key), n.Key.Part, Times: h.Count()))
            )
            .GroupBy(c => c.Act)
            .ToDictionary(
                c => c.Key,
                c =>
                    (IReadOnlyList<PartId>)
                        [
                            .. c.OrderByDescending(n => n.Times)
                                .ThenBy(n => n.Part.Value, StringComparer.Ordinal)
                                .Select(n => n.Part),
                        ]
            );

    private Dictionary<PartId, PartId> Carriers()
    {
        var said = new Dictionary<PartId, PartId>();
        // Of several it was said to ride on, the one that carries least lies nearest.
        var loads = named
            .Where(n => n.Key.Kind == ActKind.LiftOut)
            .SelectMany(n =>
                n.Value.SelectMany(t => t.Carries ?? [])
                    .Distinct()
                    .Select(c => (Carrier: n.Key.Part, Rider: PartId.Of(c)))
                    .Concat(
                        n.Value.Select(t => t.MovesFrom)
                            .OfType<string>()
                            .Distinct()
                            .Select(from => (Carrier: PartId.Of(from), Rider: n.Key.Part))
                    )
            )
            .Where(c => c.Carrier != c.Rider)
            .ToList();
        foreach (var rider in loads.GroupBy(l => l.Rider))
        {
            said[rider.Key] = rider
                .OrderBy(l => loads.Count(o => o.Carrier == l.Carrier))
                .ThenBy(l => l.Carrier.Value, StringComparer.Ordinal)
                .First()
                .Carrier;
        }

        foreach (var s in statements.OfType<Statement.Rides>())
        {
            if (s.On is { } on)
            {
                said[PartId.Of(s.Part)] = PartId.Of(on);
            }
            else
            {
                said.Remove(PartId.Of(s.Part));
            }
        }

        return said;
    }

    /// <summary>A part and what it rides on.</summary>
    private IEnumerable<PartId> Chain(PartId part)
    {
        var seen = new HashSet<PartId>();
        for (PartId? at = part; at is { } id && seen.Add(id); at = carriers.TryGetValue(id, out var on) ? on : null)
        {
            yield return id;
        }
    }

    /// <summary>The acts by which a part leaves on what it rides on.</summary>
    private IEnumerable<Act> LeaveOn(Act lift) =>
        lift.Kind == ActKind.LiftOut ? Chain(lift.Part).Skip(1).Select(Act.LiftOut) : [];

    /// <summary>The parts an act is on.</summary>
    private PartId[] On(Act act) =>
        act.Kind switch
        {
            ActKind.LiftOut => [act.Part],
            ActKind.Open or ActKind.Isolate => EndsOf(act),
            _ => HeldBy(act) is { } part ? [part] : [],
        };

    private IEnumerable<Act> OwnOf(Act act) =>
        act.Kind == ActKind.LiftOut ? named.Keys.Where(a => a.Kind != ActKind.LiftOut && On(a).Contains(act.Part)) : [];

    /// <summary>What comes off a closed machine never waits for something inside it.</summary>
    private bool MayWait(Act what, Act after) => !IsOutside(what) || IsOutside(after);

    private bool IsOutside(Act act)
    {
        if (!outside.TryGetValue(act, out var known))
        {
            outside[act] = known =
                act.Kind == ActKind.LiftOut
                    ? named.TryGetValue(act, out var things) && Most(things.Select(t => (bool?)t.Outside)) == true
                    : On(act).Any(p => IsOutside(Act.LiftOut(p)));
        }

        return known;
    }

    private string? SlotOf(Act act) =>
        Last<Statement.InSlot>(s => s.Part == act.Target) is { } said ? said.Slot
        : named.TryGetValue(act, out var things) && things.Exists(t => t.Exchanged) ? act.Target
        : null;

    /// <summary>
    /// What the battery's plug is on, and whatever is called a battery: a caution too many does no harm.
    /// </summary>
    private bool IsBattery(Act act) =>
        (
            Last<Statement.Joins>(s => s.Joint == FreeMap.Plug.Value) is { } said
                ? said.Plug == act.Target
                : EndsOf(Isolate).Contains(act.Part)
        ) || PartNames.HoldsCells(NameOf(act));

    /// <summary>Where a thing lies: as said last, moved by what was said since.</summary>
    private Statement.Lies? Place(Act act)
    {
        var what = act.ToString();
        Statement.Lies? place = null;
        foreach (var statement in statements)
        {
            place = statement switch
            {
                Statement.Lies s when s.What == what => s,
                Statement.Moved s when place is not null && s.What.Contains(what) => place with
                {
                    Shape = place.Shape?.Moved(s.RightMm, s.DownMm),
                    At = place.At is { } at ? [.. at.Select(p => new Point(p.X + s.RightMm, p.Y + s.DownMm))] : null,
                },
                _ => place,
            };
        }

        return place;
    }

    /// <summary>What stays where it is, by name: as said last of each.</summary>
    private IEnumerable<Decoy> Staying =>
        statements
            .OfType<Statement.Stays>()
            .GroupBy(s => FreeMap.Words(s.Name))
            .Where(g => g.Last().At.Count > 0)
            .Select(g => new Decoy
            {
                Id = g.Key,
                Name = g.Last().Name.Trim(),
                Kind = g.Last().Kind,
                Side = g.Last().Side,
                On = Machine,
                Positions = g.Last().At,
                Why = g.Last().Why.Trim(),
            });

    private T? Last<T>(Predicate<T> which)
        where T : Statement => statements.OfType<T>().LastOrDefault(s => which(s));

    /// <summary>The value given most often; of those given as often, the one given last.</summary>
    private static T? Most<T>(IEnumerable<T?> values)
    {
        var given = values.Where(v => v is not null).ToList();
        return given.Count == 0
            ? default
            : given
                .GroupBy(v => v)
                .OrderByDescending(g => g.Count())
                .ThenByDescending(g => given.LastIndexOf(g.Key))
                .First()
                .Key;
    }

    /// <summary>Rows beside the machine for what nobody has placed.</summary>
    private sealed class Strip
    {
        private const double Pitch = 7;
        private readonly double left;
        private readonly double height;
        private double x;
        private double y = 6;

        public Strip(double left, double height)
        {
            (this.left, this.height) = (left, height);
            x = left;
        }

        public bool IsUsed => x > left || y > 6;

        public double Depth => Math.Min(1000, Math.Max(height, y + 20));

        public Point[] Row(int count)
        {
            var row = new Point[count];
            for (var i = 0; i < count; i++)
            {
                if (x > left + Tray - 14)
                {
                    (x, y) = (left, y + Pitch);
                }

                row[i] = new Point(x + 2, y);
                x += Pitch;
            }

            (x, y) = (left, y + Pitch);
            return row;
        }

        public Shape.Rect Box()
        {
            var box = new Shape.Rect(left, y, Tray - 16, 12);
            y += 15;
            return box;
        }
    }
}
