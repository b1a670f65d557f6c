using CsCheck;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Tests.BenchLedger;

public sealed class LedgerTests
{
    private static readonly PartNumber Old = PartNumber.Read("TW-5R0Q-21847").Value;
    private static readonly PartNumber New = PartNumber.Read("TW-5R0Q-22011").Value;

    private static Ledger Begin(string assembly = "battery") =>
        Ledger.Begin(
            new Brief(
                TeardownPlanner.Plan(Maps.Sandpiper, [new Goal.Replace(AssemblyId.Of(assembly))]).Value,
                new Dictionary<string, PartNumber> { [assembly] = Old },
                new Dictionary<string, PartNumber> { [assembly] = New }
            )
        );

    /// <summary>The entry a careful technician makes at the current act.</summary>
    private static Entry Proper(Ledger ledger)
    {
        var step = ledger.Current!;
        return step.Act.Kind switch
        {
            ActKind.ReadRemoved => new Entry.NumberRead(step.Number, Old.Text, false),
            ActKind.ReadFitted => new Entry.NumberRead(step.Number, New.Text, false),
            ActKind.PutIn when ledger.ToTick is [var item, ..] => new Entry.Moved(step.Number, item.Item),
            _ => new Entry.Done(step.Number, CautionRead: true),
        };
    }

    [Fact]
    public void Done_in_one_go_is_the_same_as_done_one_by_one_with_fewer_confirmations()
    {
        foreach (var assembly in Maps.Sandpiper.Assemblies.Where(a => Maps.Sandpiper.Parts.Any(p => p.Id == a.Part)))
        {
            var (single, joined) = (Begin(assembly.Id.Value), Begin(assembly.Id.Value));
            var confirmations = 0;
            while (joined.Current is { } step)
            {
                confirmations++;
                var together = joined.Together;
                var before = Fingerprint(joined);
                var entry = Proper(joined) is Entry.Done done ? done with { Acts = together.Count } : Proper(joined);
                joined = joined.Add(entry).Value;
                Fingerprint(joined.Add(new Entry.TakenBack()).Value).ShouldBe(before, "it is one line");
                while (single.DoneSteps < joined.DoneSteps || single.Moved.Count < joined.Moved.Count)
                {
                    single = single.Add(Proper(single)).Value;
                }

                Fingerprint(single).ShouldBe(Fingerprint(joined), step.Title);
            }

            // What must be moved is ticked by itself.
            (confirmations - joined.Moved.Count).ShouldBe(InOneGo.Confirmations(joined.Plan));
        }

        var board = TeardownPlanner.Plan(Maps.Sandpiper, [new Goal.Replace(AssemblyId.Of("board"))]).Value;
        InOneGo.Confirmations(board).ShouldBeLessThan(board.Steps.Count * 2 / 3);
    }

    [Fact]
    public void What_is_read_tried_or_turned_stands_alone()
    {
        var ledger = Begin();
        ledger.Add(new Entry.Done(1, Acts: 2)).Refusal!.Message.ShouldContain("not done in one go");
        ledger.Add(new Entry.Done(1, Acts: 99)).Refusal!.Message.ShouldContain("from one to");

        // What is sent new does no more than belongs together; what was stored is read as it was taken.
        var drive = Until(Begin("board"), "undo:shroud-screw");
        var three = new Entry.Done(drive.Current!.Number, CautionRead: true, Acts: 3);
        drive.AddNew(three).Refusal!.Message.ShouldContain("two can be done in one go");
        drive.AddNew(three with { Acts = 2 }).Refusal.ShouldBeNull();
        drive.Add(three).Refusal.ShouldBeNull();

        // Nor is a severe caution read in passing.
        var before = Until(Begin(), "undo:battery-screws");
        before.Add(new Entry.Done(before.Current!.Number, CautionRead: true, Acts: 2)).Refusal.ShouldNotBeNull();
        before.Together.ShouldHaveSingleItem();
    }

    private static Ledger Until(Ledger ledger, string act)
    {
        while (ledger.Current is { } step && step.Act != Act.Parse(act))
        {
            ledger = ledger.Add(Proper(ledger)).Value;
        }

        return ledger;
    }

    private static string Fingerprint(Ledger l) =>
        $"{l.DoneSteps}/{l.Count}/{string.Join(',', l.Screws)}/{string.Join(',', l.JointsOpen)}/"
        + $"{string.Join(',', l.TiesFree)}/{string.Join(',', l.PartsOut)}/{string.Join(',', l.Numbers)}/"
        + $"{string.Join(',', l.Counts)}/{string.Join(',', l.Notes)}/{string.Join(',', l.Left)}/"
        + $"{string.Join(',', l.Moved)}/{string.Join(',', l.Plan.Acts)}/{string.Join(',', l.Goals)}";

    private static Goal Some(Ledger l, int n)
    {
        var map = l.Plan.Map;
        List<Goal> goals =
        [
            .. map.Joints.Select(Goal (j) => new Goal.Reseat(j.Id)),
            .. map.Parts.Where(p => !p.Fixed).Select(Goal (p) => new Goal.LiftOut(p.Id)),
            .. map.Parts.Where(p => p.Dusty).Select(Goal (p) => new Goal.Clean(p.Id)),
        ];
        return goals[n % goals.Count];
    }

    /// <summary>
    /// Anything a page could send: right and wrong steps, counts, numbers, notes, undo, another order, more goals.
    /// </summary>
    private static readonly Gen<Func<Ledger, Entry>> AnyEntry = Gen.OneOf<Func<Ledger, Entry>>(
        Gen.Const<Func<Ledger, Entry>>(l => l.IsFinished ? new Entry.TakenBack() : Proper(l)),
        Gen.Const<Func<Ledger, Entry>>(l => l.IsFinished ? new Entry.TakenBack() : Proper(l)),
        Gen.Const<Func<Ledger, Entry>>(_ => new Entry.TakenBack()),
        Gen.Int[-2, 130].Select<int, Func<Ledger, Entry>>(n => l => new Entry.Done(n)),
        Gen.Int[-1, 9]
            .Select<int, Func<Ledger, Entry>>(n => l => new Entry.Done(l.Current?.Number ?? 1, CautionRead: true, n)),
        Gen.Int[-5, 12].Select<int, Func<Ledger, Entry>>(n => l => new Entry.Counted(l.Current?.Number ?? 1, n)),
        Gen.Select(Gen.Int[-1, 12], Gen.Enum<Difference>())
            .Select<(int N, Difference Why), Func<Ledger, Entry>>(d =>
                l => new Entry.CountDiffers(l.Current?.Number ?? 1, d.N, d.Why, null)
            ),
        Gen.String[Gen.Char.AlphaNumeric, 0, 80]
            .Select<string, Func<Ledger, Entry>>(s =>
                l => new Entry.NumberRead(l.Current?.Number ?? 1, s, true, NumberDifference.Surprise)
            ),
        Gen.Enum<Leaving>()
            .Select<Leaving, Func<Ledger, Entry>>(how => l => new Entry.Left(l.Current?.Number ?? 1, how, "because")),
        Gen.Int[0, 40]
            .Select<int, Func<Ledger, Entry>>(n =>
                l =>
                    l.CouldBeNext() is { Count: > 0 } others
                    && l.Instead(others[n % others.Count].Act).Try(out var e, out _)
                        ? e
                        : new Entry.TakenBack()
            ),
        Gen.Int[0, 60]
            .Select<int, Func<Ledger, Entry>>(n =>
                l => l.Join(Some(l, n), "found under way").Try(out var e, out _) ? e : new Entry.TakenBack()
            ),
        Gen.Const<Func<Ledger, Entry>>(l =>
            l.ToMove.FirstOrDefault(m => !m.ByAct && !m.Moved) is { } item
                ? new Entry.Moved(l.Current?.Number ?? 1, item.Item)
                : new Entry.TakenBack()
        ),
        Gen.String[0, 600].Select<string, Func<Ledger, Entry>>(s => l => new Entry.Noted(l.Current?.Number ?? 1, s))
    );

    [Fact]
    public void Whatever_is_sent_undo_is_exact_replay_agrees_and_nothing_closes_open() =>
        AnyEntry
            .Array[0, 120]
            .Sample(
                entries =>
                {
                    var ledger = Begin();
                    var accepted = new List<Entry>();
                    foreach (var make in entries)
                    {
                        var entry = make(ledger);
                        var before = Fingerprint(ledger);
                        if (!ledger.Add(entry).Try(out var next, out _))
                        {
                            Fingerprint(ledger).ShouldBe(before);
                            continue;
                        }

                        if (entry is not Entry.TakenBack)
                        {
                            Fingerprint(next.Add(new Entry.TakenBack()).Value).ShouldBe(before);
                        }

                        accepted.Add(entry);
                        ledger = next;
                        if (ledger.IsFinished)
                        {
                            ledger.Open.ShouldBeEmpty();
                            Simulation.Check(ledger.Plan.Map, [.. ledger.Plan.Acts]).ShouldBeNull();
                        }
                    }

                    Fingerprint(Ledger.Replay(ledger.Brief, accepted)).ShouldBe(Fingerprint(ledger));
                },
                iter: 2000
            );

    [Theory]
    [InlineData("battery")]
    [InlineData("board")]
    [InlineData("keyboard")]
    public void A_careful_technician_ends_with_everything_in_and_both_numbers_read(string assembly)
    {
        var ledger = Begin(assembly);
        while (ledger.Current is not null)
        {
            ledger = ledger.Add(Proper(ledger)).Value;
        }

        ledger.Open.ShouldBeEmpty();
        ledger.Numbers.Select(n => (n.Fitted, n.Number)).ShouldBe([(false, Old), (true, New)]);
    }

    /// <summary>On every assembly of every shipped model, at the first thing tried after it went in.</summary>
    [Fact]
    public void A_new_part_that_proves_faulty_comes_out_again_and_another_goes_in()
    {
        var tried = 0;
        foreach (var map in Maps.ShippedFiles.Select(f => Maps.Shipped(Path.GetFileName(f).Split('.')[0]).Plain()))
        {
            foreach (var assembly in map.Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part)))
            {
                var goal = new Goal.Replace(assembly.Id);
                if (!TeardownPlanner.Plan(map, [goal]).Try(out var plan, out _))
                {
                    continue;
                }

                var slot = map.Part(assembly.Part).Slot!;
                var numbers = new Dictionary<string, PartNumber> { [slot] = New };
                var ledger = Ledger.Begin(
                    new Brief(plan, new Dictionary<string, PartNumber> { [slot] = Old }, numbers)
                );
                ledger.Another(slot, "dead").Refusal!.Message.ShouldContain("No new part was put in");
                while (ledger.Current is { Act.Kind: not (ActKind.Check or ActKind.PowerTest) })
                {
                    ledger = ledger.Add(Proper(ledger)).Value;
                }

                if (ledger.Current is null)
                {
                    continue;
                }

                tried++;
                var what = $"{map.Model.Name}, {assembly.Name}";
                var entry = ledger.Another(slot, "dead").Value;
                ledger
                    .Add(entry with { Rest = [.. entry.Rest.Where(a => a.Kind != ActKind.ReadFitted)] })
                    .Refusal!.Message.ShouldContain("numbers read", Case.Sensitive, what);
                ledger = ledger.Add(entry).Value;
                ledger.CanTakeBack.ShouldBeFalse();
                ledger.Add(new Entry.TakenBack()).Refusal!.Message.ShouldContain("not taken back");
                var since = ledger.DoneSteps;
                while (ledger.Current is not null)
                {
                    ledger = ledger.Add(Proper(ledger)).Value;
                }

                ledger.Open.ShouldBeEmpty(what);
                var again = ledger.Plan.Acts.Skip(since).ToList();
                again.ShouldContain(a => a.Kind == ActKind.LiftOut && a.Part == assembly.Part, what);
                // It has been switched on, whether the check failed or that: first the power goes.
                again[0].Kind.ShouldBe(ActKind.Prepare, what);
                again.ShouldContain(Act.ReadFitted(assembly.Part), what);
                again.ShouldNotContain(Act.ReadRemoved(assembly.Part), what);
                again
                    .Where(a => a.Kind == ActKind.FillDrive)
                    .ShouldBe(plan.Acts.Where(a => a.Kind == ActKind.FillDrive));
                again
                    .Where(a => a.Kind == ActKind.Check)
                    .ShouldBeSubsetOf(plan.Acts.Where(a => a.Kind == ActKind.Check).Concat(Called(map, again)), what);
                plan.Acts.Where(a => a.Kind == ActKind.Check).ShouldBeSubsetOf(again, what);
                ledger.ToMove.ShouldAllBe(m => m.Moved, what);
                ledger.Plan.Replaced.ShouldHaveSingleItem();
                ledger.Numbers.Count(n => n.Fitted).ShouldBe(2, what);
            }
        }

        tried.ShouldBeGreaterThan(60);

        static IEnumerable<Act> Called(ServiceMap map, IEnumerable<Act> acts) =>
            acts.Where(a => a.Kind is ActKind.Open or ActKind.Isolate)
                .Select(a => map.Joint(a.Joint).Check)
                .OfType<CheckId>()
                .Select(Act.Check);
    }

    /// <summary>Every assembly of every shipped model, found broken a third, half and two thirds of the way into another's exchange.</summary>
    [Fact]
    public void What_is_found_broken_inside_is_exchanged_in_the_same_opening()
    {
        var (joined, cheaper) = (0, 0);
        foreach (var map in Maps.ShippedFiles.Select(f => Maps.Shipped(Path.GetFileName(f).Split('.')[0]).Plain()))
        {
            // The one that most has to come out for: much of what is broken too is on the bench then.
            var first = map
                .Assemblies.Where(a => map.Parts.Any(p => p.Id == a.Part))
                .MaxBy(a => TeardownPlanner.Plan(map, [new Goal.Replace(a.Id)]).Value.Steps.Count)!;
            var numbers = map
                .Parts.Where(p => p.Slot is not null)
                .Select(p => p.Slot!)
                .Distinct()
                .ToDictionary(s => s, _ => New);
            var old = numbers.ToDictionary(n => n.Key, _ => Old);
            var plan = TeardownPlanner.Plan(map, [new Goal.Replace(first.Id)]).Value;
            var start = Ledger.Begin(new Brief(plan, old, numbers));
            start.Exchange(first.Id, "broken").Refusal!.Message.ShouldContain("Nothing of that name");
            foreach (var assembly in start.Exchangeable)
            {
                foreach (var share in new[] { 0.33, 0.5, 0.67 })
                {
                    var ledger = start;
                    while (ledger.DoneSteps < plan.Steps.Count * share)
                    {
                        ledger = ledger.Add(Proper(ledger)).Value;
                    }

                    var what = $"{assembly.Name} at {share:0.##} of the {first.Name} of the {map.Model.Name}";
                    var before = Fingerprint(ledger);
                    var entry = ledger.Exchange(assembly.Id, "broken").Value;
                    var with = ledger.Add(entry).Value;
                    Fingerprint(with.Add(new Entry.TakenBack()).Value).ShouldBe(before, what);
                    while (with.Current is not null)
                    {
                        with = with.Add(Proper(with)).Value;
                    }

                    with.Open.ShouldBeEmpty(what);
                    with.Numbers.Select(n => (n.Slot, n.Fitted))
                        .ShouldBe(
                            new[] { first, assembly }
                                .Select(a => map.Part(a.Part).Slot!)
                                .SelectMany(s => new[] { (s, false), (s, true) }),
                            ignoreOrder: true,
                            what
                        );
                    with.ToMove.ShouldAllBe(m => m.Moved, what);
                    joined++;
                    var alone = TeardownPlanner.Plan(map, [new Goal.Replace(assembly.Id)]).Value;
                    cheaper +=
                        with.Plan.Steps.Sum(s => s.Seconds)
                        < plan.Steps.Sum(s => s.Seconds) + alone.Steps.Sum(s => s.Seconds)
                            ? 1
                            : 0;
                }
            }
        }

        joined.ShouldBeGreaterThan(100);
        cheaper.ShouldBe(joined, "one opening is always cheaper than two");
    }

    [Fact]
    public void An_act_for_another_moment_changes_nothing()
    {
        var refusal = Begin().Add(new Entry.Done(9)).Refusal!;
        refusal.Reason.ShouldBe(RefusalReason.Stale);
        refusal.Message.ShouldContain("act 1");
    }

    [Fact]
    public void A_partial_count_must_be_completed_or_explained()
    {
        var ledger = Until(Begin(), "undo:base-screws");
        var step = ledger.Current!.Number;
        ledger = ledger.Add(new Entry.Counted(step, 5)).Value;
        ledger.Add(new Entry.Done(step)).Refusal!.Message.ShouldContain("5 of 7");

        ledger = ledger.Add(new Entry.CountDiffers(step, 6, Difference.MissingBefore, "rear left hole empty")).Value;
        ledger.Screws.ShouldHaveSingleItem().Out.ShouldBe(6);
        Until(ledger, "fasten:base-screws").Expected.ShouldBe(6);
    }

    [Theory]
    [InlineData(7, Difference.Lost, "nothing differs")]
    [InlineData(8, Difference.Lost, "extra found")]
    [InlineData(5, Difference.Extra, "missing before")]
    [InlineData(-1, Difference.Lost, "cannot be right")]
    [InlineData(900, Difference.Extra, "cannot be right")]
    public void A_count_and_its_reason_must_agree(int count, Difference why, string says)
    {
        var ledger = Until(Begin(), "undo:base-screws");
        ledger
            .Add(new Entry.CountDiffers(ledger.Current!.Number, count, why, null))
            .Refusal!.Message.ShouldContain(says, Case.Insensitive);
    }

    [Fact]
    public void A_cell_is_not_lifted_before_its_caution_is_read()
    {
        var ledger = Until(Begin(), "lift-out:battery");
        var step = ledger.Current!.Number;
        ledger.Add(new Entry.Done(step)).Refusal!.Reason.ShouldBe(RefusalReason.NeedsConfirmation);
        ledger.Add(new Entry.Done(step, CautionRead: true)).Refusal.ShouldBeNull();
    }

    [Fact]
    public void Frame_screws_of_two_lengths_raise_a_warning_naming_both()
    {
        var mixUp = Until(Begin("board"), "lift-out:frame").MixUps.ShouldHaveSingleItem();
        (mixUp.Longer.Id.Value, mixUp.Shorter.Id.Value).ShouldBe(("frame-upper", "frame-lower"));
    }

    [Theory]
    [InlineData("TW-5R0Q-22011", null)]
    [InlineData("tw 5r0q 22011", null)]
    [InlineData("TW-5ROQ-22O11", RefusalReason.NeedsConfirmation)] // O for 0.
    [InlineData("TW-5R0Q-22012", RefusalReason.NeedsConfirmation)] // One slip.
    [InlineData("MB 2207-0118-C", RefusalReason.Conflict)]
    [InlineData("", RefusalReason.Invalid)]
    [InlineData("  \t ", RefusalReason.Invalid)]
    [InlineData("TW\u00005R0Q", RefusalReason.Invalid)]
    public void The_number_fitted_is_held_against_the_item_promised(string typed, RefusalReason? refused)
    {
        var ledger = Until(Begin(), "read-fitted:battery");
        var refusal = ledger.Add(new Entry.NumberRead(ledger.Current!.Number, typed, false)).Refusal;
        (refusal?.Reason).ShouldBe(refused);
    }

    [Fact]
    public void A_number_of_5000_characters_is_refused_in_a_sentence()
    {
        var ledger = Until(Begin(), "read-removed:battery");
        ledger
            .Add(new Entry.NumberRead(ledger.Current!.Number, new string('7', 5000), false))
            .Refusal!.Message.ShouldBe(
                "That is 5000 characters; part numbers have at most 64. Scan the label once more."
            );
    }

    [Fact]
    public void A_surprise_in_the_machine_is_recorded_as_printed_once_confirmed()
    {
        var ledger = Until(Begin(), "read-removed:battery");
        var step = ledger.Current!.Number;
        ledger.Add(new Entry.NumberRead(step, "XX-1", false)).Refusal!.Reason.ShouldBe(RefusalReason.NeedsConfirmation);
        ledger.Add(new Entry.NumberRead(step, "XX-1", true)).Refusal!.Message.ShouldContain("Say why");
        var read = ledger
            .Add(new Entry.NumberRead(step, "XX-1", true, NumberDifference.Surprise))
            .Value.Numbers.ShouldHaveSingleItem();
        (read.Number.Text, read.Likeness).ShouldBe(("XX-1", Likeness.Different));
    }

    [Fact]
    public void Lunch_is_not_working_time()
    {
        var start = new DateTimeOffset(2026, 3, 2, 11, 50, 0, TimeSpan.Zero);
        var acts = new[] { 2, 5, 65, 68 }.Select(minutes => start.AddMinutes(minutes));
        WorkingTime.Of(start, acts).ShouldBe(TimeSpan.FromMinutes(2 + 3 + 3));
    }
}
