using Zenrik.Core.BenchLedger;
using Zenrik.Core.Importing;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.MapMaking;

/// <summary>A thing of a model on paper, in the order in which things come off.</summary>
/// <param name="Line">Where it stands.</param>
/// <param name="Of">The part it holds, joins or ties, by name; null: the next part on the paper.</param>
public sealed record WrittenThing(int Line, NamedThing Thing, string? Of);

/// <summary>
/// What comes off a model, in order, as an organisation has it on paper or in a spreadsheet: read as a session that somebody
/// worked once, so whatever benches find goes with it or against it as with any other.
/// </summary>
public static class WrittenOrder
{
    /// <summary>Words for a kind of thing, as people write them, each with what it is.</summary>
    private static readonly Dictionary<string, NamedThing> Words = KnownWords();

    /// <summary>Reads a line.</summary>
    /// <param name="known">The model's draft as it stands: what it has by that name is that.</param>
    public static Outcome<WrittenThing> Read(RowValues row, Draft known)
    {
        var cells = new RowReader(row);
        var name = cells.Needed("thing", c => ReadName(c));
        var thing = cells.Needed("kind", c => ReadKind(c));
        var count = cells.Value("count", c => Sheets.ReadWhole(c, 1, Ledger.MaxCount, "a number of screws"));
        var drive = cells.Value("drive", ReadDrive);
        var length = cells.Value("length", ReadLength);
        var of = cells.Text("of", c => ReadName(c));
        if (thing is not null && name is not null)
        {
            var screws = thing.Kind == NamedKind.Screws;
            if (screws && count is null)
            {
                cells.Refuse("It is not said how many screws there are.");
            }

            if (!screws && (drive ?? (object?)length) is not null)
            {
                cells.Refuse("Only screws have a drive and a length.");
            }

            if (of is not null && thing.Kind == NamedKind.Part)
            {
                cells.Refuse("Only screws, joints and ties belong to a part. Leave that blank for a part.");
            }

            thing = thing with
            {
                Name = name,
                Count = screws ? count ?? 0 : 0,
                Drive = screws ? drive : null,
                LengthMm = length,
                Identity = IdIn(known, thing.Kind, name),
            };
            if (thing.Refuse() is { } no)
            {
                cells.Refuse(no.Message);
            }
        }

        return cells.Or(() => new WrittenThing(row.Line, thing!, of));
    }

    /// <summary>Why a line cannot stand where it does among the others of its model; null when it can.</summary>
    /// <param name="all">The model's lines, in their order.</param>
    public static string? Refuse(WrittenThing line, IReadOnlyList<WrittenThing> all)
    {
        if (all.First(w => IsSame(w, line)) is { } first && first.Line != line.Line)
        {
            return $"{line.Thing.Name} stands in line {first.Line} already.";
        }

        if (line.Of is not { } part)
        {
            return null;
        }

        var at = all.Index().FirstOrDefault(w => w.Item.Thing.Kind == NamedKind.Part && Is(w.Item.Thing.Name, part));
        return at.Item is null ? $"There is no part {part} in the list for it to belong to."
            : at.Item.Line < line.Line
                ? $"{part} is off by line {at.Item.Line}, before what holds it. Put the lines in the order things come off."
            : null;
    }

    /// <summary>The session that shows the order.</summary>
    /// <param name="session">What it is told apart by.</param>
    /// <param name="by">Who says so.</param>
    /// <param name="lines">Those of one model, none of which is refused.</param>
    public static Sighting Of(Guid session, Guid by, Model model, IReadOnlyList<WrittenThing> lines)
    {
        var map = FreeMap.Bare(model);
        var things = new List<SightedThing>();
        var waiting = new List<(string? Of, string Act)>();
        foreach (var line in lines)
        {
            var thing = line.Thing;
            if (thing.Kind == NamedKind.Part)
            {
                var own = waiting.Where(w => w.Of is null || Is(w.Of, thing.Name)).ToList();
                thing = thing with { Held = [.. own.Select(w => w.Act)] };
                _ = waiting.RemoveAll(own.Contains);
            }

            (map, var off, _) = map.With(thing);
            things.Add(new SightedThing(off.ToString(), thing));
            if (thing.Kind != NamedKind.Part)
            {
                waiting.Add((line.Of, off.ToString()));
            }
        }

        return new Sighting
        {
            Session = session,
            By = by,
            Acts = [.. things.Select(t => t.Off)],
            Things = things,
        };
    }

    /// <summary>A draft as such a list: what <see cref="Read"/> reads again.</summary>
    public static IReadOnlyList<WrittenThing> Of(Draft draft)
    {
        var map = draft.Map;
        var order = draft.InOrder();
        var lifted = order.Where(a => a.Kind == ActKind.LiftOut).Select(a => a.Part).ToHashSet();
        string? Named(PartId id) => lifted.Contains(id) ? map.Part(id).Name : null;
        return
        [
            .. order.Select(
                (act, i) =>
                {
                    var (thing, of) = Written(act);
                    return new WrittenThing(i + 1, thing, of);
                }
            ),
        ];

        (NamedThing Thing, string? Of) Written(Act act)
        {
            switch (act.Kind)
            {
                case ActKind.Undo:
                    var screws = map.Fastener(act.Fastener);
                    return (
                        new NamedThing
                        {
                            Kind = NamedKind.Screws,
                            Name = screws.Name,
                            Count = screws.Count,
                            Drive = screws.Screw.Drive,
                            LengthMm = screws.Screw.IsMeasured ? screws.Screw.LengthMm : null,
                        },
                        Named(screws.Holds)
                    );
                case ActKind.Open or ActKind.Isolate:
                    var joint = map.Joint(act.Joint);
                    return (
                        new NamedThing
                        {
                            Kind = act.Kind == ActKind.Isolate ? NamedKind.Isolation : NamedKind.Joint,
                            Name = joint.Name,
                            Joint = joint.Kind,
                        },
                        joint.Between.Select(Named).FirstOrDefault(n => n is not null)
                    );
                case ActKind.Free:
                    var tie = map.Tie(act.Tie);
                    return (
                        new NamedThing
                        {
                            Kind = NamedKind.Tie,
                            Name = tie.Name,
                            Tie = tie.Kind,
                        },
                        Named(tie.Of)
                    );
                default:
                    var part = map.Part(act.Part);
                    return (
                        new NamedThing
                        {
                            Kind = NamedKind.Part,
                            Name = part.Name,
                            Exchanged = part.Slot is not null,
                        },
                        null
                    );
            }
        }
    }

    /// <summary>What a thing is, in a word <see cref="Read"/> knows.</summary>
    public static string KindOf(NamedThing thing) =>
        thing switch
        {
            { Kind: NamedKind.Screws } => "screws",
            { Kind: NamedKind.Isolation, Joint: null or JointKind.WirePlug } => "battery plug",
            { Kind: NamedKind.Isolation, Joint: { } joint } => $"battery {joint.Handling().Name}",
            { Joint: { } joint } => joint.Handling().Name,
            { Tie: { } tie } => tie.Handling().Name,
            { Exchanged: true } => "exchanged part",
            _ => "part",
        };

    /// <summary>What a line says otherwise than the draft does; null where the draft does not have the thing.</summary>
    public static IReadOnlyList<FactChange>? Changes(Draft known, NamedThing thing)
    {
        var has = Like(known, thing.Kind, thing.Name);
        return has switch
        {
            null => null,
            FastenerGroup f =>
            [
                .. Change("count", $"{f.Count}", $"{thing.Count}"),
                .. thing.Drive is { } drive ? Change("drive", f.Screw.Drive.Name(), drive.Name()) : [],
                .. thing.LengthMm is { } mm
                    ? Change("length", f.Screw.IsMeasured ? Mm(f.Screw.LengthMm) : null, Mm(mm))
                    : [],
            ],
            Joint j when thing.Joint is { } kind => Change("kind", j.Kind.Handling().Name, kind.Handling().Name),
            Tie t when thing.Tie is { } kind => Change("kind", t.Kind.Handling().Name, kind.Handling().Name),
            _ => [],
        };

        static IReadOnlyList<FactChange> Change(string what, string? before, string after) =>
            before == after ? [] : [new FactChange(what, before, after)];

        static string Mm(double mm) => $"{mm.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture)} mm";
    }

    /// <summary>What is said of a thing the draft has otherwise, so that the list is the last word.</summary>
    public static Statement? Said(Draft known, NamedThing thing) =>
        (Like(known, thing.Kind, thing.Name), thing) switch
        {
            (FastenerGroup f, _) => new Statement.Screws(
                Act.Undo(f.Id).ToString(),
                thing.Count,
                thing.Drive ?? f.Screw.Drive,
                thing.LengthMm ?? (f.Screw.IsMeasured ? f.Screw.LengthMm : null)
            ),
            (Joint j, { Joint: { } kind }) => new Statement.Opens(j.Id.Value, kind),
            // A tie is what it was called most often; nobody has a word for it that counts more.
            _ => null,
        };

    private static bool IsSame(WrittenThing a, WrittenThing b) =>
        a.Thing.Kind == b.Thing.Kind && (a.Thing.Kind == NamedKind.Isolation || Is(a.Thing.Name, b.Thing.Name));

    private static bool Is(string name, string other) =>
        string.Equals(FreeMap.Words(name), FreeMap.Words(other), StringComparison.Ordinal);

    /// <summary>The thing of a kind and name in a draft: a group of screws, a joint, a tie or a part; null: there is none.</summary>
    private static object? Like(Draft draft, NamedKind kind, string name)
    {
        var map = draft.Map;
        return kind switch
        {
            NamedKind.Isolation => draft.Met.Contains(Act.Isolate(FreeMap.Plug)) ? map.Joint(FreeMap.Plug) : null,
            NamedKind.Screws => map.Fasteners.FirstOrDefault(f => Is(f.Name, name)),
            NamedKind.Joint => map.Joints.FirstOrDefault(j => j.Id != FreeMap.Plug && Is(j.Name, name)),
            NamedKind.Tie => map.Ties.FirstOrDefault(t => Is(t.Name, name)),
            _ => map.Parts.FirstOrDefault(p => !p.Fixed && Is(p.Name, name)),
        };
    }

    private static string? IdIn(Draft draft, NamedKind kind, string name) =>
        Like(draft, kind, name) switch
        {
            FastenerGroup f => f.Id.Value,
            Joint j when kind == NamedKind.Joint => j.Id.Value,
            Tie t => t.Id.Value,
            Part p => p.Id.Value,
            _ => null,
        };

    private static Outcome<string> ReadName(string? cell) =>
        cell is null ? new Refusal(RefusalReason.Invalid, "It has no name.")
        : FreeMap.Words(cell).Length == 0
            ? new Refusal(RefusalReason.Invalid, $"“{cell}” is no name: it has no letter and no digit.")
        : cell;

    /// <summary>A kind of thing as people write it: "screws", "ribbon", "tape", "part".</summary>
    private static Outcome<NamedThing> ReadKind(string? cell) =>
        cell is null ? new Refusal(RefusalReason.Invalid, "It is not said what kind of thing it is.")
        : Words.TryGetValue(ColumnMatch.Plain(cell), out var thing) ? thing
        : new Refusal(
            RefusalReason.Invalid,
            $"“{cell}” is no kind of thing. Kinds: screws, part, exchanged part, battery plug, {string.Join(", ", Enum.GetValues<JointKind>().Select(k => k.Handling().Name))}, {string.Join(", ", Enum.GetValues<TieKind>().Select(k => k.Handling().Name))}."
        );

    private static Outcome<Drive> ReadDrive(string cell)
    {
        var plain = ColumnMatch.Plain(cell);
        foreach (var drive in Enum.GetValues<Drive>())
        {
            if (plain == ColumnMatch.Plain(drive.Name()) || plain == ColumnMatch.Plain($"{drive}"))
            {
                return drive;
            }
        }

        return new Refusal(
            RefusalReason.Invalid,
            $"“{cell}” is no drive. Drives: {string.Join(", ", Enum.GetValues<Drive>().Select(d => d.Name()))}."
        );
    }

    /// <summary>A length under the head: "5", "5.0 mm", "M2x5".</summary>
    private static Outcome<double> ReadLength(string cell)
    {
        var text = cell.Trim().Replace(',', '.');
        text = text.EndsWith("mm", StringComparison.OrdinalIgnoreCase) ? text[..^2].Trim() : text;
        var cross = text.LastIndexOfAny(['x', 'X', '×']);
        return
            double.TryParse(
                text[(cross + 1)..],
                System.Globalization.NumberStyles.AllowDecimalPoint
                    | System.Globalization.NumberStyles.AllowLeadingWhite,
                System.Globalization.CultureInfo.InvariantCulture,
                out var mm
            ) && mm is > 0 and <= 30
            ? mm
            : new Refusal(
                RefusalReason.Invalid,
                $"“{cell}” is no length of a screw, in mm under the head: 5, 2.5 or M2×5, at most 30."
            );
    }

    private static Dictionary<string, NamedThing> KnownWords()
    {
        var words = new Dictionary<string, NamedThing>(StringComparer.Ordinal);
        Add(
            new NamedThing { Kind = NamedKind.Screws, Name = "" },
            "screws",
            "screw",
            "fasteners",
            "fastener",
            "screw group"
        );
        Add(
            new NamedThing { Kind = NamedKind.Part, Name = "" },
            "part",
            "cover",
            "bracket",
            "shield",
            "frame",
            "module"
        );
        Add(
            new NamedThing
            {
                Kind = NamedKind.Part,
                Name = "",
                Exchanged = true,
            },
            "exchanged part",
            "spare",
            "spare part",
            "exchanged",
            "field replaceable unit"
        );
        Add(
            new NamedThing { Kind = NamedKind.Isolation, Name = "" },
            "battery plug",
            "battery connector",
            "isolation",
            "isolation plug"
        );
        foreach (var kind in Enum.GetValues<JointKind>())
        {
            Add(
                new NamedThing
                {
                    Kind = NamedKind.Joint,
                    Name = "",
                    Joint = kind,
                },
                [kind.Handling().Name, $"{kind}", .. AlsoCalled(kind)]
            );
            // What makes the machine dead may be any of them: an outside battery slides off its contacts.
            Add(
                new NamedThing
                {
                    Kind = NamedKind.Isolation,
                    Name = "",
                    Joint = kind,
                },
                $"battery {kind.Handling().Name}"
            );
        }

        foreach (var kind in Enum.GetValues<TieKind>())
        {
            Add(
                new NamedThing
                {
                    Kind = NamedKind.Tie,
                    Name = "",
                    Tie = kind,
                },
                [kind.Handling().Name, $"{kind}"]
            );
        }

        return words;

        void Add(NamedThing thing, params string[] names)
        {
            foreach (var name in names)
            {
                words.TryAdd(ColumnMatch.Plain(name), thing);
            }
        }

        static string[] AlsoCalled(JointKind kind) =>
            kind switch
            {
                JointKind.FlipLockRibbon => ["ribbon", "flat cable", "flex"],
                JointKind.WirePlug => ["plug", "cable", "connector", "wire"],
                JointKind.CoaxSnap => ["coax", "antenna", "aerial"],
                JointKind.LeverLockDisplay => ["display plug", "display cable", "display joint"],
                JointKind.EdgeSlotMemory => ["memory"],
                JointKind.EdgeSlotM2 => ["m.2", "card slot"],
                JointKind.CoinCellHolder => ["coin cell"],
                _ => [],
            };
    }
}
