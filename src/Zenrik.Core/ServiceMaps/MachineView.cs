using Zenrik.Core.Teardown;

namespace Zenrik.Core.ServiceMaps;

/// <summary>How a thing stands on the drawing.</summary>
public enum Mark
{
    /// <summary>In its place, not touched.</summary>
    InPlace,

    /// <summary>What the current act is about: the only accent.</summary>
    Next,

    /// <summary>Out, undone, open or free.</summary>
    Out,

    /// <summary>Was out and is in its place again.</summary>
    Back,

    /// <summary>This unit is without it.</summary>
    Absent,

    /// <summary>Something is wrong with it: a count that differs, a group easily confused.</summary>
    Trouble,
}

/// <summary>The moment a drawing shows. Empty sets: the closed machine.</summary>
public sealed record MachineMoment
{
    /// <summary>Parts that are out, in the order they came out.</summary>
    public IReadOnlyList<PartId> PartsOut { get; init; } = [];

    /// <summary>Parts set aside on their leads, in the order they were.</summary>
    public IReadOnlyList<PartId> PartsAside { get; init; } = [];

    public IReadOnlySet<FastenerId> ScrewsOut { get; init; } = new HashSet<FastenerId>();

    public IReadOnlySet<JointId> JointsOpen { get; init; } = new HashSet<JointId>();

    public IReadOnlySet<TieId> TiesFree { get; init; } = new HashSet<TieId>();

    /// <summary>Ids of everything that has been out and is back.</summary>
    public IReadOnlySet<string> Back { get; init; } = new HashSet<string>();

    /// <summary>The ids the current act is about, or those done in one go with it.</summary>
    public IReadOnlySet<string> Next { get; init; } = new HashSet<string>();

    public IReadOnlySet<FastenerId> Trouble { get; init; } = new HashSet<FastenerId>();

    /// <summary>
    /// The side the eye looks at, base or deck: what is worked on from the other lies behind. Null, and always on a machine
    /// worked on from one side only: everything is drawn through, from the base side.
    /// </summary>
    public Side? Up { get; init; }

    /// <summary>True where the house lays parts out as they sit in the machine, false for trays in the order they came out.</summary>
    public bool LaidInShape { get; init; }

    internal bool HasBeenOut(PartId part) => PartsOut.Contains(part) || Back.Contains(part.Value);
}

/// <summary>Text on the drawing.</summary>
/// <param name="SizeMm">Height of the type in mm of the drawing.</param>
/// <param name="Upright">True when it reads from bottom to top.</param>
public sealed record DrawnLabel(string Text, Point At, double SizeMm, bool Upright)
{
    /// <summary>The room it takes.</summary>
    /// <param name="typeWidth">Mean advance of the typeface, in heights.</param>
    public Box Extent(double typeWidth)
    {
        var (along, across) = (Text.Length * SizeMm * typeWidth / 2, SizeMm / 2);
        var (x, y) = Upright ? (across, along) : (along, across);
        return new Box(At.X - x, At.Y - y, At.X + x, At.Y + y);
    }
}

/// <summary>One thing to paint. Painting in order of the list hides what lies beneath.</summary>
public abstract record DrawnThing(double Layer, Mark Mark)
{
    public sealed record OfPart(Part Part, double Layer, Mark Mark, DrawnLabel? Label) : DrawnThing(Layer, Mark);

    public sealed record OfScrews(FastenerGroup Group, double Layer, Mark Mark) : DrawnThing(Layer, Mark);

    public sealed record OfJoint(Joint Joint, double Layer, Mark Mark) : DrawnThing(Layer, Mark);

    public sealed record OfTie(Tie Tie, double Layer, Mark Mark) : DrawnThing(Layer, Mark);

    public sealed record OfDecoy(Decoy Decoy, double Layer) : DrawnThing(Layer, Mark.InPlace);
}

/// <summary>A wait that is only believed: an arrow from what waits to what it waits for, drawn with broken lines.</summary>
/// <param name="Number">Its place in the list beside the drawing, from 1.</param>
public sealed record DrawnWait(int Number, Point From, Point To)
{
    public Point Middle => new((From.X + To.X) / 2, (From.Y + To.Y) / 2);
}

/// <summary>A part laid down on the bench, drawn smaller.</summary>
/// <param name="At">Top left corner of its bounds.</param>
/// <param name="Scale">Against the machine.</param>
/// <param name="OnLeads">True when it is only set aside, still on its leads.</param>
public sealed record LaidPart(Part Part, Point At, double Scale, DrawnLabel? Label, bool OnLeads);

/// <summary>The machine at one moment, ready to be painted: what is where, in which state, in which order.</summary>
public sealed record MachineView(
    ServiceMap Map,
    IReadOnlyList<DrawnThing> Things,
    IReadOnlyList<LaidPart> Laid,
    double WidthMm,
    double HeightMm,
    double BenchTopMm,
    double TotalHeightMm
)
{
    private const double LargestType = 7.4;
    private const double SmallestType = 5.8;
    private const double TypeWidth = 0.52; // Mean advance of the interface's typeface, in heights.
    private const double LaidScale = 0.24;

    /// <summary>How much smaller what is laid in the machine's shape is drawn.</summary>
    public const double InShapeScale = 0.48;

    /// <summary>True where what is out lies in the machine's shape, drawn smaller by <see cref="InShapeScale"/>.</summary>
    public bool LaidInShape { get; init; }

    /// <summary>Where what is out lies from, mm from the top.</summary>
    public double LaidTopMm => BenchTopMm + Gap;

    /// <summary>
    /// The side seen. From the deck left and right are the other way round: a point at x is then painted at
    /// <see cref="WidthMm"/> − x.
    /// </summary>
    public Side Seen { get; init; } = Side.Base;

    private const double Gap = 6;
    private const double HeadRadius = 3.4;

    /// <summary>Parts drawn at this layer or above are covers: outside they hide, once out they leave no outline.</summary>
    internal const int CoverLayer = 60;

    /// <summary>Ids of what is believed to be there and was not seen: drawn with broken lines.</summary>
    public IReadOnlySet<string> Believed { get; init; } = new HashSet<string>();

    /// <summary>Waits that are drawn; empty where the drawing is no draft's.</summary>
    public IReadOnlyList<DrawnWait> Waits { get; private init; } = [];

    /// <summary>The same with waits drawn, numbered as they come; those whose ends overlap or have no place are not.</summary>
    public MachineView WithWaits(IEnumerable<SeenWait> waits) =>
        this with
        {
            Waits =
            [
                .. waits
                    .Index()
                    .SelectMany(w =>
                        PlaceOf(w.Item.Waiting, Map) is { } what
                        && PlaceOf(w.Item.First, Map) is { } after
                        && !what.Overlaps(after)
                            ?
                            [
                                new DrawnWait(
                                    w.Index + 1,
                                    what.EdgeTowards(after.Centre),
                                    after.EdgeTowards(what.Centre)
                                ),
                            ]
                            : Array.Empty<DrawnWait>()
                    ),
            ],
        };

    /// <summary>Where what an act works at lies in the machine; null where nobody has placed it.</summary>
    public static Box? PlaceOf(Act act, ServiceMap map)
    {
        var box = act.Kind switch
        {
            ActKind.LiftOut => map.Part(act.Part).Shape?.Bounds,
            ActKind.Undo => Around(map.Fastener(act.Fastener).Positions),
            ActKind.Free => Around([map.Tie(act.Tie).At]),
            _ => Around([map.Joint(act.Joint).At]),
        };
        // What is not placed yet lies in the strip beside the machine.
        var machine = map.Parts.First(p => p.Fixed).Shape?.Bounds;
        return box is { } b && machine is { } m && b.Right <= m.Right && b.Bottom <= m.Bottom ? b : null;
    }

    private static Box? Around(IReadOnlyList<Point> points) =>
        points.Count == 0
            ? null
            : new Box(
                points.Min(p => p.X) - 1,
                points.Min(p => p.Y) - 1,
                points.Max(p => p.X) + 1,
                points.Max(p => p.Y) + 1
            );

    /// <summary>True where nothing is called by its name, drawn or read out: for whoever is to know it by sight.</summary>
    public bool Nameless { get; init; }

    /// <summary>A photograph the drawing lies on; null: none.</summary>
    public Underlay? Underlay { get; init; }

    /// <summary>The machine with its covers off and nothing else touched.</summary>
    /// <param name="model">The model's map, optional parts included.</param>
    /// <param name="unit">The map of the unit.</param>
    /// <param name="seen">The side looked at, base or deck.</param>
    public static MachineView Opened(ServiceMap model, ServiceMap unit, Side seen = Side.Base) =>
        Of(
            model,
            unit,
            new MachineMoment
            {
                PartsOut = [.. unit.Parts.Where(p => p.Layer >= CoverLayer).Select(p => p.Id)],
                Up = seen,
            }
        ) with
        {
            Laid = [],
            TotalHeightMm = model.Drawing.HeightMm,
        };

    /// <summary>As <see cref="Opened"/>, from each side that something inside is worked on from.</summary>
    public static IReadOnlyList<MachineView> Faces(ServiceMap model, ServiceMap unit) =>
        model.IsTwoSided ? [Opened(model, unit), Opened(model, unit, Side.Deck)] : [Opened(model, unit)];

    /// <summary>Composes the view.</summary>
    /// <param name="model">The model's map, optional parts included.</param>
    /// <param name="unit">The map of the unit; optional parts it lacks are drawn as absent.</param>
    /// <param name="moment">What is out, open and next.</param>
    public static MachineView Of(ServiceMap model, ServiceMap unit, MachineMoment moment)
    {
        var present = unit.Parts.Select(p => p.Id).ToHashSet();
        IReadOnlyList<PartId> away = [.. moment.PartsAside.Except(moment.PartsOut), .. moment.PartsOut];
        var off = away.ToHashSet();
        var gone = unit.GoneWith(off);
        var things = new List<DrawnThing>();
        var up = model.IsTwoSided ? moment.Up : null;
        // The choice of a variant that this unit does not have lies where another does.
        var elsewhere = model.Variants.SelectMany(v => v.Choices).SelectMany(c => c.Parts).Except(present).ToHashSet();
        foreach (var p in model.Parts.Where(p => p.Shape is not null && !elsewhere.Contains(p.Id)))
        {
            if (!IsSeen(p.Side, p.Id.Value) && p.Layer > 0)
            {
                continue;
            }

            var mark =
                !present.Contains(p.Id) ? Mark.Absent
                : moment.Next.Contains(p.Id.Value) ? Mark.Next
                : unit.Vacant.Contains(p.Id) && !moment.HasBeenOut(p.Id) ? Mark.Absent
                : gone.Contains(p.Id) ? Mark.Out
                : moment.Back.Contains(p.Id.Value) ? Mark.Back
                : Mark.InPlace;
            if (mark == Mark.Out && p.Layer >= CoverLayer)
            {
                // An outline of a cover that is out would only clutter what it uncovers.
                continue;
            }

            // Under its own screws, when they are next too, a name could not be read; the act says it.
            var isNamed =
                mark == Mark.Next && !unit.Fasteners.Any(f => f.Holds == p.Id && moment.Next.Contains(f.Id.Value));
            things.Add(new DrawnThing.OfPart(p, p.Layer, mark, LabelFor(p, p.Shape!.Bounds, 1, isNamed)));
        }

        foreach (var f in unit.Fasteners)
        {
            var (holds, into) = (unit.Part(f.Holds), unit.Part(f.Into));
            var carriedOff =
                gone.Contains(f.Holds) && (f.Captive || gone.Contains(f.Into) || !moment.ScrewsOut.Contains(f.Id));
            if ((carriedOff && !moment.Next.Contains(f.Id.Value)) || !IsSeen(f.Side, f.Id.Value))
            {
                continue;
            }

            things.Add(
                new DrawnThing.OfScrews(
                    f,
                    // The head of a screw that reaches through to the other side sits in what it goes through.
                    (gone.Contains(f.Holds) || holds.Side != f.Side ? into.Layer : holds.Layer) + 0.5,
                    moment.Trouble.Contains(f.Id)
                    && moment.ScrewsOut.Contains(f.Id)
                    && !moment.Next.Contains(f.Id.Value)
                        ? Mark.Trouble
                        : MarkOf(f.Id.Value, moment.ScrewsOut.Contains(f.Id))
                )
            );
        }

        foreach (var j in unit.Joints.Where(j => IsSeen(j.Side, j.Id.Value)))
        {
            var ends = j.Between.Where(p => !gone.Contains(p)).Select(p => unit.Part(p).Layer).ToList();
            if (ends.Count > 0)
            {
                things.Add(
                    new DrawnThing.OfJoint(j, ends.Max() + 0.6, MarkOf(j.Id.Value, moment.JointsOpen.Contains(j.Id)))
                );
            }
        }

        foreach (var t in unit.Ties.Where(t => !gone.Contains(t.On) && IsSeen(t.Side, t.Id.Value)))
        {
            things.Add(
                new DrawnThing.OfTie(t, unit.Part(t.On).Layer + 0.7, MarkOf(t.Id.Value, moment.TiesFree.Contains(t.Id)))
            );
        }

        foreach (var d in model.Decoys.Where(d => !gone.Contains(d.On) && (up is null || d.Side == up)))
        {
            things.Add(new DrawnThing.OfDecoy(d, model.Part(d.On).Layer + 0.5));
        }

        var top = model.Drawing.HeightMm + (3 * Gap);
        var lying = moment
            .PartsOut.Concat(moment.PartsAside)
            .Distinct()
            .Select(unit.Part)
            // What is yet to be fitted has not come out of anything.
            .Where(p => p.Shape is not null && (!unit.Vacant.Contains(p.Id) || moment.Back.Contains(p.Id.Value)))
            .ToList();
        var laid = moment.LaidInShape
            ? LayInShape(model.Drawing, lying, moment, top)
            : LayInRows(lying, moment, top, model.Drawing.WidthMm);
        return new MachineView(
            model,
            // What is to be undone now is never painted over.
            WithLegibleLabels([
                .. things.OrderBy(t => t is { Mark: Mark.Next } and not DrawnThing.OfPart).ThenBy(t => t.Layer),
            ]),
            laid,
            model.Drawing.WidthMm,
            model.Drawing.HeightMm,
            model.Drawing.HeightMm + (2 * Gap),
            laid.Count == 0
                ? model.Drawing.HeightMm
                : Math.Max(
                    moment.LaidInShape ? top + (model.Drawing.HeightMm * InShapeScale) : 0,
                    laid.Max(l => l.At.Y + (l.Scale * l.Part.Shape!.Bounds.Height))
                ) + (2 * SmallestType)
        )
        {
            LaidInShape = moment.LaidInShape,
            Seen = up ?? Side.Base,
        };

        bool IsSeen(Side side, string id) => up is null || side == up || side == Side.Edge || moment.Next.Contains(id);

        Mark MarkOf(string id, bool isOut) =>
            moment.Next.Contains(id) ? Mark.Next
            : isOut ? Mark.Out
            : moment.Back.Contains(id) ? Mark.Back
            : Mark.InPlace;
    }

    /// <summary>
    /// Drops labels that would lie on one another: what is next keeps its name, then what is in its place, nearest to
    /// the eye first, then what is out.
    /// </summary>
    private static List<DrawnThing> WithLegibleLabels(List<DrawnThing> things)
    {
        var kept = new HashSet<DrawnThing>(ReferenceEqualityComparer.Instance);
        // Screw heads are not written over either.
        var taken = things
            .OfType<DrawnThing.OfScrews>()
            .Where(s => s.Mark != Mark.Out)
            .SelectMany(s => s.Group.Positions)
            .Select(at => new Box(at.X - HeadRadius, at.Y - HeadRadius, at.X + HeadRadius, at.Y + HeadRadius))
            .ToList();
        foreach (
            var part in things
                .OfType<DrawnThing.OfPart>()
                .Where(p => p.Label is not null)
                .OrderBy(p =>
                    p.Mark == Mark.Next ? 0
                    : p.Mark is Mark.Out or Mark.Absent ? 2
                    : 1
                )
                .ThenByDescending(p => p.Layer)
        )
        {
            var box = part.Label!.Extent(TypeWidth);
            if (part.Mark == Mark.Next || !taken.Exists(box.Overlaps))
            {
                taken.Add(box);
                kept.Add(part);
            }
        }

        return [.. things.Select(t => t is DrawnThing.OfPart p && !kept.Contains(t) ? p with { Label = null } : t)];
    }

    /// <summary>
    /// Rows of parts below the machine, in the order they came out; a name that does not fit inside stands beneath.
    /// </summary>
    private static List<LaidPart> LayInRows(IReadOnlyList<Part> parts, MachineMoment moment, double top, double width)
    {
        var laid = new List<LaidPart>();
        var (x, y, row) = (0.0, top, 0.0);
        foreach (var part in parts)
        {
            var b = part.Shape!.Bounds;
            // Small things keep a size that can still be told apart.
            var scale = Math.Clamp(16 / Math.Max(b.Width, b.Height), LaidScale, 0.6);
            var (w, h) = (b.Width * scale, b.Height * scale);
            // Openings leave no room for a name.
            var inside = part.Shape is Shape.Rings { Outlines.Count: > 1 } ? null : LabelFor(part, b, scale, false);
            var beneath = inside is null ? part.Name.Length * TypeWidth * SmallestType : 0;
            var column = Math.Max(w, beneath);
            if (x > 0 && x + column > width)
            {
                (x, y, row) = (0, y + row + Gap, 0);
            }

            var left = (column - w) / 2;
            laid.Add(
                new LaidPart(
                    part,
                    new Point(x + left, y),
                    scale,
                    inside ?? new DrawnLabel(part.Name, new Point(w / 2, h + SmallestType), SmallestType, false),
                    !moment.PartsOut.Contains(part.Id)
                )
            );
            (x, row) = (x + column + Gap, Math.Max(row, h + (inside is null ? 1.5 * SmallestType : 0)));
        }

        return laid;
    }

    /// <summary>
    /// What is out as it sits in the machine, at its place and angle, reduced; covers, which would lie over all the rest,
    /// stand beside it in the order they came out.
    /// </summary>
    private static List<LaidPart> LayInShape(
        Drawing drawing,
        IReadOnlyList<Part> parts,
        MachineMoment moment,
        double top
    )
    {
        var laid = new List<LaidPart>();
        var covers = parts.Where(p => p.Layer >= CoverLayer).ToList();
        foreach (var part in parts.Except(covers).OrderByDescending(p => p.Shape!.Bounds.Width * p.Shape.Bounds.Height))
        {
            var b = part.Shape!.Bounds;
            laid.Add(Lay(part, InShapeScale, new Point(b.Left * InShapeScale, top + (b.Top * InShapeScale))));
        }

        var beside = (drawing.WidthMm * InShapeScale) + Gap;
        var (x, y, row) = (beside, top, 0.0);
        foreach (var part in covers)
        {
            var (w, h) = (part.Shape!.Bounds.Width * LaidScale, part.Shape.Bounds.Height * LaidScale);
            if (x > beside && x + w > drawing.WidthMm)
            {
                (x, y, row) = (beside, y + row + Gap, 0);
            }

            laid.Add(Lay(part, LaidScale, new Point(x, y)));
            (x, row) = (x + w + Gap, Math.Max(row, h));
        }

        return laid;

        LaidPart Lay(Part part, double scale, Point at) =>
            new(
                part,
                at,
                scale,
                part.Shape is Shape.Rings { Outlines.Count: > 1 }
                    ? null
                    : LabelFor(part, part.Shape!.Bounds, scale, false),
                !moment.PartsOut.Contains(part.Id)
            );
    }

    /// <summary>The name, as large as its shape allows; none where it would be unreadable.</summary>
    private static DrawnLabel? LabelFor(Part part, Box b, double scale, bool always)
    {
        if (part.Fixed)
        {
            return null;
        }

        var (w, h) = (b.Width * scale * 0.92, b.Height * scale * 0.92);
        var upright = h > 1.5 * w;
        var (along, across) = upright ? (h, w) : (w, h);
        var size = Math.Min(Math.Min(along / (part.Name.Length * TypeWidth), across), LargestType);
        return size < SmallestType && !always
            ? null
            : new DrawnLabel(
                part.Name,
                scale < 1 ? new Point(w / 1.84, h / 1.84) : part.LabelAt ?? b.Centre,
                Math.Max(size, SmallestType),
                upright
            );
    }
}
