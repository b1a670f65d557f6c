using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>
/// Computes the way to the goals and back. Deterministic: the same map and goals give the same plan.
/// </summary>
public static class TeardownPlanner
{
    /// <summary>Plans the merged goals.</summary>
    /// <param name="map">The map of the unit, optional parts resolved (<see cref="ServiceMap.For"/>).</param>
    /// <param name="goals">At least one. Goals the map does not know are refused by name.</param>
    /// <param name="basis">House rules and times; null: defaults.</param>
    /// <param name="limit">How long to search; by itself until the plan is proved.</param>
    /// <exception cref="OperationCanceledException">The limit says that nothing is wanted any more.</exception>
    public static Outcome<Plan> Plan(
        ServiceMap map,
        IReadOnlyList<Goal> goals,
        Basis? basis = null,
        SearchLimit limit = default
    )
    {
        basis ??= Basis.Default;
        map = Under(map, basis.Practice);
        if (!TeardownProblem.Of(map, goals, basis).Try(out var problem, out var refusal))
        {
            return refusal;
        }

        var (solved, gap) = problem.Solve(limit);
        if (solved is not { } taken)
        {
            return new Refusal(RefusalReason.Conflict, "Nothing on this map makes that possible.");
        }

        // A plan is a continuation from nothing.
        var job = new Completion(map, [.. goals.Select(g => new StandingGoal(g))], [], basis.Practice);
        return Restore(map, goals, job.Of([], taken), basis, gap);
    }

    /// <summary>Plans what remains of a job from wherever it stands.</summary>
    /// <param name="map">The map of the unit, optional parts resolved.</param>
    /// <param name="goals">All goals of the job, met or not, each with when it was set.</param>
    /// <param name="done">The acts done so far, in their order.</param>
    /// <param name="basis">House rules and times; null: defaults.</param>
    /// <param name="limit">How long to search; by itself until it is proved.</param>
    /// <returns>
    /// What remains. Refused when a goal is unknown, or when what was done leaves no way that the simulator allows.
    /// </returns>
    public static Outcome<Rest> Remaining(
        ServiceMap map,
        IReadOnlyList<StandingGoal> goals,
        IReadOnlyList<Act> done,
        Basis? basis = null,
        SearchLimit limit = default
    )
    {
        basis ??= Basis.Default;
        return Continuation.Of(Under(map, basis.Practice), goals, done, basis, limit);
    }

    /// <summary>As <see cref="Remaining"/>: its acts alone.</summary>
    public static Outcome<IReadOnlyList<Act>> Resume(
        ServiceMap map,
        IReadOnlyList<StandingGoal> goals,
        IReadOnlyList<Act> done,
        Basis? basis = null,
        SearchLimit limit = default
    ) => Remaining(map, goals, done, basis, limit).Try(out var rest, out var refusal) ? rest.Acts.ToList() : refusal;

    /// <summary>
    /// The map as a house with these rules works by it: acts its rules leave out are gone, and ways it does not take.
    /// </summary>
    public static ServiceMap Under(ServiceMap map, HousePractice practice)
    {
        if (practice.Of(RuleBook.FirmwareBatteryOff) == FirmwareBatteryOff.NotNeeded)
        {
            map = map with { Preparations = [.. map.Preparations.Where(p => !p.FirmwareBatteryOff)] };
        }

        if (practice.Of(RuleBook.AntennaLeads) == AntennaLeads.UnsnapAlways)
        {
            bool KeepsLeads(PartWay way) => way.Keeps.Any(j => map.Joint(j).Kind == JointKind.CoaxSnap);
            map = map with
            {
                Parts = [.. map.Parts.Select(p => p with { Ways = [.. p.Ways.Where(w => !KeepsLeads(w))] })],
            };
        }

        return map;
    }

    /// <summary>A plan from its stored acts.</summary>
    /// <param name="map">The map the plan was made from.</param>
    /// <param name="goals">The goals it was made for.</param>
    /// <param name="acts">Its acts.</param>
    /// <param name="basis">The house rules it was made under, and times as they are known now; null: defaults.</param>
    /// <exception cref="InvalidOperationException">An act names something the map does not have.</exception>
    /// <param name="gap">By what share it may take longer than the quickest; 0 where that is proved, or was never asked.</param>
    public static Plan Restore(
        ServiceMap map,
        IReadOnlyList<Goal> goals,
        IReadOnlyList<Act> acts,
        Basis? basis = null,
        double gap = 0
    )
    {
        basis ??= Basis.Default;
        map = Under(map, basis.Practice);
        var replaced = map.Replaced(goals).Select(a => a.Part).ToHashSet();
        var reasons = new PlanReasons(TeardownGraph.Of(map), [.. goals.SelectMany(map.Needs)], acts, basis.Practice);
        var steps = new List<PlanStep>(acts.Count);
        var inHand = Tool.Fingers;
        var (stage, up, now) = (Stage.Out, Side.Deck, new WhatIsOut());
        var firmwareFirst = acts.Any(a =>
            a.Kind == ActKind.FillDrive || (a.Kind == ActKind.Check && map.Check(CheckId.Of(a.Target)).BeforeStart)
        );
        var lastClosing = LastClosing(acts);
        var lidIsOpen = false;
        foreach (var (i, act) in acts.Index())
        {
            stage = StageOf(act, stage, basis.Practice);
            if (act.Kind == ActKind.TurnOver)
            {
                (up, lidIsOpen) = (up == Side.Base ? Side.Deck : Side.Base, false);
            }

            var place = new Wording.Lie(
                up,
                HasLid(map, now),
                i < lastClosing,
                act.Kind is ActKind.LiftOut or ActKind.PutIn
                    && now.Acts.Any(a => a.Kind == ActKind.SetAside && a.Target == act.Target)
            );
            var opensLid = place.HasLid && !lidIsOpen && now.SideUp(map, act) == Side.Deck;
            lidIsOpen |= opensLid;
            var tool = ActTools.For(map, act, basis.Practice);
            var change = tool != Tool.Fingers && tool != inHand;
            inHand = tool == Tool.Fingers ? inHand : tool;
            steps.Add(
                new PlanStep(
                    steps.Count + 1,
                    stage,
                    act,
                    tool,
                    now.SideUp(map, act) is null ? null : up,
                    basis.Times.Seconds(map, act) + (change ? StandardTimes.ToolChange : 0),
                    act.Kind == ActKind.TurnOver
                        ? Wording.Turning(up)
                        : Wording.Title(
                            map,
                            act,
                            act.Kind == ActKind.PutIn && replaced.Contains(act.Part),
                            basis.Practice
                        ),
                    (opensLid ? "Open the lid first. " : "")
                        + Wording.How(map, act, basis.Practice, firmwareFirst, place),
                    CautionsOf(map, act, basis, replaced, now),
                    reasons.Why(act),
                    stage == Stage.Out ? reasons.Here(steps.Count) : ""
                )
            );
            now.After(act);
        }

        return new Plan(map, goals, steps, basis, gap);
    }

    private static int LastClosing(IReadOnlyList<Act> acts) =>
        acts.Index()
            .Where(a =>
                a.Item.Kind is ActKind.PutIn or ActKind.PutBack or ActKind.Close or ActKind.Fasten or ActKind.Lay
            )
            .Select(a => a.Index)
            .LastOrDefault(-1);

    /// <summary>Whether what shows the picture is on the machine.</summary>
    private static bool HasLid(ServiceMap map, WhatIsOut now)
    {
        bool IsDisplay(Part part) =>
            part.Slot == "display" || part.Contains.Contains("display") || part.Id.Value == "display";
        var off = now.Acts.Where(a => a.Kind == ActKind.LiftOut).Select(a => a.Part).ToHashSet();
        return map.Parts.FirstOrDefault(IsDisplay) is not { } display
            || !map.WithCarriers(display.Id).Any(off.Contains);
    }

    private static Stage StageOf(Act act, Stage before, HousePractice practice) =>
        act.Kind switch
        {
            ActKind.FillDrive => practice.Of(RuleBook.DriveContent) == DriveContent.Copy ? Stage.Back : Stage.CloseOut,
            ActKind.Isolate or ActKind.Undo or ActKind.Open or ActKind.Free or ActKind.SetAside or ActKind.LiftOut =>
                Stage.Out,
            ActKind.Check => Stage.CloseOut,
            ActKind.PutIn
            or ActKind.PutBack
            or ActKind.Lay
            or ActKind.Close
            or ActKind.Fasten
            or ActKind.Reconnect
            or ActKind.ReadFitted
            or ActKind.CleanAndPaste
            or ActKind.PowerTest => Stage.Back,
            _ => before,
        };

    /// <summary>What belongs to the act itself, then what this unit is handled under.</summary>
    private static IReadOnlyList<Caution> CautionsOf(
        ServiceMap map,
        Act act,
        Basis basis,
        IReadOnlySet<PartId> replaced,
        WhatIsOut now
    ) =>
        [
            .. Own(map, act, basis.Practice, now),
            .. HasCoinCell(map, act) ? [CoinCell] : Array.Empty<Caution>(),
            .. HasBareCells(map, act) ? [Hazards.Cells] : Array.Empty<Caution>(),
            .. basis
                .Hazards.Where(h => h == Hazard.CrackedGlass && TouchesGlass(map, act, replaced))
                .Select(h => h.Caution()),
        ];

    /// <summary>Common practice, no published source; local rules come first.</summary>
    private static IReadOnlyList<Caution> Adhesive(ServiceMap map, Tie tie) =>
        [
            .. map.WithCarriers(tie.Of).Append(tie.On).Any(p => map.Part(p).Cells)
                ?
                [
                    new Caution
                    {
                        Severity = Severity.Severe,
                        Text =
                            "A glued cell: no heat, no metal, never bent, levered or punctured. What does not come with patience stays. A dent, a hiss, warmth or a sweet smell: stop, out of the room, by the site's rules.",
                    },
                ]
                : Array.Empty<Caution>(),
            new Caution
            {
                Severity = Severity.Warning,
                Text = "Isopropyl alcohol burns: ventilate, no flame, no hot tools beside it. Site rules come first.",
            },
        ];

    private static bool IsOut(ServiceMap map, PartId part, WhatIsOut now) =>
        now.Acts.Any(a => a.Kind == ActKind.LiftOut && map.WithCarriers(part).Contains(a.Part));

    private static IReadOnlyList<Caution> Own(ServiceMap map, Act act, HousePractice practice, WhatIsOut now) =>
        act.Kind switch
        {
            ActKind.Undo => map.Fastener(act.Fastener).Cautions,
            ActKind.Fasten
                when map.Fastener(act.Fastener) is { NearMagnet: true } f
                    && !(f.Magnet is { } magnet && IsOut(map, magnet, now)) => [Magnet(practice)],
            ActKind.Free when map.Tie(act.Tie) is { Kind: var kind } tie && kind.IsAdhesive() => Adhesive(map, tie),
            ActKind.Open or ActKind.Isolate => map.Joint(act.Joint).Cautions,
            ActKind.LiftOut or ActKind.SetAside => map.Part(act.Part).Cautions,
            ActKind.CleanAndPaste =>
            [
                new Caution
                {
                    Severity = Severity.Warning,
                    Text = "Isopropyl alcohol burns: ventilate, no flame, no hot tools. Site rules come first.",
                },
            ],
            ActKind.BlowClean =>
            [
                new Caution
                {
                    Severity = Severity.Note,
                    Text = "Hold the blades still while blowing: spun by air they make current and wear.",
                },
            ],
            _ => [],
        };

    /// <summary>Common practice, no published source; local rules come first.</summary>
    private static readonly Caution CoinCell = new()
    {
        Severity = Severity.Warning,
        Text =
            "A coin cell burns through from inside within hours when swallowed: straight into a closed box, out of children's reach; the old one too. One swallowed is an emergency at once.",
    };

    private static bool HasCoinCell(ServiceMap map, Act act) =>
        (act.Kind is ActKind.Open or ActKind.Close && map.Joint(act.Joint).Kind == JointKind.CoinCellHolder)
        || act.Kind
            is ActKind.LiftOut
                or ActKind.SetAside
                or ActKind.PutIn
                or ActKind.PutBack
                or ActKind.ReadRemoved
                or ActKind.ReadFitted
            && (map.Takes(act.Part, SpecificationKind.CoinCell) || PartNames.IsCoinCell(map.Part(act.Part).Name));

    /// <summary>True where cells are moved of which the map says nothing.</summary>
    private static bool HasBareCells(ServiceMap map, Act act) =>
        act.Kind is ActKind.LiftOut or ActKind.SetAside
        && map.Part(act.Part) is { Cells: true } part
        && part.Cautions.All(c => c.Severity != Severity.Severe);

    /// <summary>Whether a hand comes near glass that is still the unit's own: the new one is whole.</summary>
    private static bool TouchesGlass(ServiceMap map, Act act, IReadOnlySet<PartId> replaced)
    {
        bool Glass(PartId part) => map.Part(part) is { Glass: true, Fixed: false };
        bool Moves(PartId part) => map.MovingWith(part).Any(Glass);
        return act.Kind switch
        {
            ActKind.Prepare or ActKind.TurnOver or ActKind.Isolate => map.Parts.Any(p => p.Glass),
            ActKind.LiftOut or ActKind.SetAside or ActKind.ReadRemoved => Moves(act.Part),
            ActKind.PutIn or ActKind.PutBack => Moves(act.Part) && !replaced.Contains(act.Part),
            ActKind.Undo => Moves(map.Fastener(act.Fastener).Holds),
            ActKind.Fasten => Glass(map.Fastener(act.Fastener).Holds)
                && !replaced.Contains(map.Fastener(act.Fastener).Holds),
            ActKind.Open => map.Joint(act.Joint).Between.Any(Glass),
            ActKind.Free => Glass(map.Tie(act.Tie).Of) || Glass(map.Tie(act.Tie).On),
            _ => false,
        };
    }

    private static Caution Magnet(HousePractice practice) =>
        new()
        {
            Severity = Severity.Warning,
            Text =
                "A magnet beside the hole steals the screw. "
                + (
                    practice.Of(RuleBook.MagneticDriver) == MagneticDriver.Wanted
                        ? "Hold it on the magnetic driver and slide in askew."
                        : "Start it in its plastic holder first, then slide in askew."
                ),
        };
}
