using System.Security.Cryptography;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core.Fleet;
using Zenrik.Core.Scheduling;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.Practice;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Scheduling;

/// <summary>What a job of the calendar is: a repair, or a donor that parts are to come out of.</summary>
/// <param name="Code">Of the repair, or of the strip.</param>
/// <param name="Repair">Null for a strip, which is promised to nobody.</param>
/// <param name="Strip">Null for a repair.</param>
public sealed record BenchTask(string Code, string What, Unit Unit, Repair? Repair, StripJob? Strip)
{
    public static BenchTask Of(Repair repair, string what) => new(repair.Code, what, repair.Unit, repair, null);

    public static BenchTask Of(StripJob strip) => new(strip.Code, $"strip: {strip.Parts}", strip.Unit, null, strip);

    public DateOnly? PromisedOn => Repair?.PromisedOn;
}

/// <summary>A job of the calendar with what it is.</summary>
/// <param name="Underway">True while it is on the bench.</param>
/// <param name="Pinned">True when a person chose its place.</param>
public sealed record CalendarJob(PlacedJob Placed, BenchTask Task, bool Underway, bool Pinned);

/// <summary>What has no time, and why.</summary>
public sealed record UnplacedJob(BenchTask Task, string Why);

/// <summary>Who does what when.</summary>
/// <param name="Jobs">The first to begin first.</param>
/// <param name="Hands">Everybody who works at the bench, those without hours too.</param>
/// <param name="Cost">What it costs; see <see cref="ScheduleCost"/>.</param>
/// <param name="FirstCome">What taking the jobs as they came in would cost.</param>
/// <param name="Bound">No schedule has less weighted lateness, as far as has been proved.</param>
/// <param name="ReckonedAt">When somebody looked for a better one; null: nobody has, for this work.</param>
/// <param name="Rescues">By repair: what would keep a promise that is at risk.</param>
public sealed record BenchCalendar(
    IReadOnlyList<CalendarJob> Jobs,
    IReadOnlyList<UnplacedJob> Unplaced,
    IReadOnlyList<BenchHand> Hands,
    ScheduleCost Cost,
    ScheduleCost FirstCome,
    long Bound,
    DateTimeOffset? ReckonedAt,
    IReadOnlyDictionary<string, IReadOnlyList<Rescue>> Rescues
)
{
    /// <summary>True when it is proved that nothing is less late.</summary>
    public bool IsBest => Bound >= Cost.Late;

    /// <summary>The share of the lateness that a better order might still save, as far as is known, 0 to 1.</summary>
    public double Savable => IsBest ? 0 : (Cost.Late - Bound) / (double)Cost.Late;

    public IEnumerable<CalendarJob> AtRisk => Jobs.Where(j => j.Placed.AtRisk);
}

/// <summary>Lays what waits at the Counter on the hours of those who work at the bench.</summary>
public sealed class ViewCalendar(
    WorkshopDb db,
    ViewCounter counter,
    KeepHours hours,
    ReadyFor ready,
    TimeProvider clock
)
{
    /// <summary>How far ahead jobs are laid, days.</summary>
    public const int Ahead = 42;

    /// <summary>What is left of a job on the bench at least, in minutes.</summary>
    private const double LeastLeft = 5;

    /// <summary>Promises for which a way out is looked for: nobody swaps more in one look.</summary>
    private const int MostRescued = 10;

    private static readonly TimeSpan LooksForBetter = TimeSpan.FromSeconds(5);

    public async Task<BenchCalendar> Run(CancellationToken stop = default) =>
        Seen(await Lay(await counter.Run(stop), stop));

    /// <summary>For what the Counter has shown already: which promises are at risk, not what would keep them.</summary>
    public async Task<IReadOnlyList<CalendarJob>> AtRisk(CounterView now, CancellationToken stop = default)
    {
        var laid = await Lay(now, stop);
        return [.. Jobs(laid, laid.Work.Placed(laid.Orders)).Where(j => j.Placed.AtRisk)];
    }

    /// <summary>Looks for a better schedule for a few seconds and keeps it for everybody.</summary>
    /// <remarks>What nobody has changed since is not looked at again within the hour, nor what is proved to be best.</remarks>
    public async Task<BenchCalendar> Better(CancellationToken stop = default)
    {
        var laid = await Lay(await counter.Run(stop), stop);
        var cost = laid.Work.Cost(laid.Orders) ?? default;
        if (cost.Late == 0 || laid.Solved is { } s && (s.Bound >= cost.Late || s.At > clock.GetUtcNow().AddHours(-1)))
        {
            return Seen(laid);
        }

        var solved = await Task.Run(() => SolveSchedule.Run(laid.Work, laid.Orders, LooksForBetter), stop);
        var at = clock.GetUtcNow();
        var orders = laid
            .Work.Hands.Index()
            .ToDictionary(h => h.Item.Id, h => solved.Orders[h.Index].Select(j => laid.Work.Jobs[j].Id).ToList());
        // Figures, which anybody may reckon anew: the last to reckon is kept, and nothing stands in the audit trail.
        await db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO solved_work (id, of, orders, bound, late, at)
            VALUES ({SolvedWork.Only}, {laid.Fingerprint}, {StoredJson.Write(
                orders
            )}::jsonb, {solved.Bound}, {solved.Late}, {at})
            ON CONFLICT (id) DO UPDATE SET of = EXCLUDED.of, orders = EXCLUDED.orders, bound = EXCLUDED.bound, late = EXCLUDED.late, at = EXCLUDED.at
            """,
            stop
        );
        return Seen(
            laid with
            {
                Orders = solved.Orders,
                Solved = new SolvedWork
                {
                    Id = SolvedWork.Only,
                    Of = laid.Fingerprint,
                    Orders = orders,
                    Bound = solved.Bound,
                    Late = solved.Late,
                    At = at,
                },
            }
        );
    }

    private sealed record Job(BenchTask Task, bool Underway);

    private sealed record Laid(
        BenchWork Work,
        IReadOnlyList<IReadOnlyList<int>> Orders,
        byte[] Fingerprint,
        SolvedWork? Solved,
        IReadOnlyDictionary<string, Job> Jobs,
        IReadOnlyList<UnplacedJob> Unplaced,
        IReadOnlyList<BenchHand> Hands
    );

    private static IReadOnlyList<CalendarJob> Jobs(Laid laid, IReadOnlyList<PlacedJob> placed) =>
        [
            .. placed.Select(p =>
            {
                var job = laid.Jobs[p.Job.Id];
                return new CalendarJob(p, job.Task, job.Underway, p.Job.Pin is not null && !job.Underway);
            }),
        ];

    private static BenchCalendar Seen(Laid laid)
    {
        var placed = laid.Work.Placed(laid.Orders);
        return new BenchCalendar(
            Jobs(laid, placed),
            laid.Unplaced,
            laid.Hands,
            laid.Work.Cost(laid.Orders) ?? default,
            laid.Work.Cost(Dispatch.FirstComeFirstServed(laid.Work)) ?? default,
            laid.Solved?.Bound ?? 0,
            laid.Solved?.At,
            placed
                .Where(p => p.AtRisk)
                .Take(MostRescued)
                .ToDictionary(p => p.Job.Id, p => Rescue.Of(laid.Work, laid.Orders, p.Job.Id))
        );
    }

    private async Task<Laid> Lay(CounterView view, CancellationToken stop)
    {
        var now = clock.GetLocalNow();
        var kept = await hours.List(stop);
        var hands = kept.Select(h => Hand(h, now)).ToList();
        var pins = await db.BenchPins.AsNoTracking().ToDictionaryAsync(p => p.RepairId, p => p.Rank, stop);
        var jobs = new Dictionary<string, Job>();
        var waiting = new List<BenchJob>();
        var unplaced = new List<UnplacedJob>();
        foreach (var bench in view.OnBench)
        {
            var awaited = bench.Awaited.Where(p => !p.HasCome).ToList();
            if (awaited.Find(p => p.Due is null) is { } lacking)
            {
                unplaced.Add(
                    new UnplacedJob(
                        BenchTask.Of(bench.Repair, bench.Repair.What),
                        $"another {lacking.Name} is to be ordered"
                    )
                );
                continue;
            }

            var by = bench.Session.Entries.LastOrDefault()?.ById ?? bench.Session.StartedById;
            var theirs = hands.Exists(h => h.Id == by && h.Shifts.Minutes > 0);
            jobs[bench.Repair.Code] = new Job(
                BenchTask.Of(bench.Repair, bench.Session.IsFree ? "without a map" : bench.Repair.What),
                true
            );
            waiting.Add(
                JobOf(
                    bench.Repair,
                    Left(bench),
                    awaited.Max(p => p.Due) is { } day ? clock.MomentOf(day, BenchCustom.PostHour) : now
                ) with
                {
                    Only = theirs ? by : bench.Repair.AssignedToId,
                    // What is on the bench comes first, but where it waits for a part.
                    Pin = theirs && awaited.Count == 0 ? -1 : null,
                }
            );
        }

        foreach (var row in view.Ready.Concat(view.Waiting))
        {
            if (row.Blocks.Count > 0 && !row.CanBeLaid)
            {
                unplaced.Add(new UnplacedJob(BenchTask.Of(row.Repair, row.What), string.Join("; ", row.Blocks)));
                continue;
            }

            jobs[row.Repair.Code] = new Job(BenchTask.Of(row.Repair, row.What), false);
            waiting.Add(
                JobOf(
                    row.Repair,
                    row.Minutes,
                    row.Coming is { } day ? clock.MomentOf(day, BenchCustom.PostHour) : now
                ) with
                {
                    Only = row.Repair.AssignedToId,
                    Pin =
                        row.Repair.AssignedToId is not null && pins.TryGetValue(row.Repair.Id, out var rank)
                            ? rank
                            : null,
                }
            );
        }

        var strips = await db
            .StripJobs.AsNoTracking()
            .Include(s => s.Unit.Model)
            .Where(s => s.Unit.State == UnitState.Donor)
            .OrderBy(s => s.Unit.Tag)
            .ToListAsync(stop);
        var promised = view.Waiting.ToDictionary(r => r.Repair.Number, r => r.Repair.PromisedOn);
        foreach (var strip in strips)
        {
            var task = BenchTask.Of(strip);
            jobs[task.Code] = new Job(task, false);
            waiting.Add(JobOf(task, strip, promised, now));
        }

        var unpractised = await ready.Unpractised(
            [.. hands.Where(h => h.Shifts.Minutes > 0).Select(h => h.Id)],
            [.. waiting.Select(j => j.Model).Distinct()],
            stop
        );
        hands = hands.ConvertAll(h => h with { Unpractised = unpractised[h.Id].ToHashSet() });
        var (work, left) = BenchWork.Of(
            waiting.OrderBy(j => jobs[j.Id].Task.Repair?.Number ?? long.MaxValue).ThenBy(j => j.Id),
            hands,
            BenchCustom.SetUpMinutes
        );
        var fingerprint = Fingerprint(work, jobs, kept, now);
        var solved = await db.SolvedWork.AsNoTracking().SingleOrDefaultAsync(stop);
        solved = solved?.Of.AsSpan().SequenceEqual(fingerprint) == true ? solved : null;
        var orders = Best(work, solved);
        // Beside what cannot be laid at all, what no room was found for behind the others.
        var missing = Enumerable.Range(0, work.Jobs.Count).Except(orders.SelectMany(o => o)).Select(j => work.Jobs[j]);
        unplaced.AddRange(
            left.Concat(missing.Select(j => (Job: j, Why: $"Nobody has room for it within {Ahead / 7} weeks.")))
                .Select(l => new UnplacedJob(jobs[l.Job.Id].Task, l.Why))
        );
        return new Laid(work, orders, fingerprint, solved, jobs, unplaced, hands);
    }

    /// <summary>The rule's order, or the one that was found before for this work where that still is better.</summary>
    private static IReadOnlyList<IReadOnlyList<int>> Best(BenchWork work, SolvedWork? solved)
    {
        var orders = Dispatch.Lay(work);
        if (solved is null)
        {
            return orders;
        }

        var index = work.Jobs.Index().ToDictionary(j => j.Item.Id, j => j.Index);
        IReadOnlyList<IReadOnlyList<int>> found =
        [
            .. work.Hands.Select(h =>
                (IReadOnlyList<int>)
                    [.. solved.Orders.GetValueOrDefault(h.Id, []).Where(index.ContainsKey).Select(id => index[id])]
            ),
        ];
        return
            work.Cost(found) is { } cost
            && found.Sum(o => o.Count) == orders.Sum(o => o.Count)
            && cost < work.Cost(orders)
            ? found
            : orders;
    }

    private BenchJob JobOf(Repair repair, Minutes minutes, DateTimeOffset ready) =>
        new(
            repair.Code,
            repair.Unit.ModelCode,
            minutes,
            BenchCustom.Weight(
                repair.PromisedOn is not null,
                repair.Priority switch
                {
                    Priority.High => 1,
                    Priority.Low => -1,
                    _ => 0,
                }
            ),
            ready,
            // Until the end of the day.
            clock.MomentOf(
                (repair.PromisedOn ?? clock.DayOf(repair.OpenedAt).AddDays(BenchCustom.UsualDays)).AddDays(1)
            ),
            repair.PromisedOn is not null
        )
        {
            Slots = [.. repair.Lines.Select(l => l.Slot)],
        };

    private BenchJob JobOf(BenchTask task, StripJob strip, Dictionary<long, DateOnly?> promised, DateTimeOffset now)
    {
        var waits = strip.For.Where(promised.ContainsKey).ToList();
        var (before, weight) = BenchCustom.OfStrip(
            waits.Select(w => promised[w]).Min(),
            waits.Count > 0,
            clock.DayOf(strip.AskedAt)
        );
        return new BenchJob(
            task.Code,
            strip.Unit.ModelCode,
            strip.Minutes,
            weight,
            now,
            clock.MomentOf(before),
            Promised: false,
            strip.AssignedToId,
            strip.Rank
        );
    }

    private BenchHand Hand(HoursOf hand, DateTimeOffset now) =>
        new(hand.Who.Id, hand.Who.Name, hours.ShiftsOf(hand, now, Ahead), hand.Leaves);

    private static Minutes Left(BenchView bench)
    {
        var (all, worked) = (bench.Ledger.Plan.Minutes, bench.Worked.TotalMinutes);
        double Rest(double minutes) => Math.Max(LeastLeft, minutes - worked);
        return new Minutes(Rest(all.Expected), Rest(all.Low), Rest(all.High));
    }

    /// <summary>What the work is, whatever the time of day: the same until somebody changes something.</summary>
    private static byte[] Fingerprint(
        BenchWork work,
        IReadOnlyDictionary<string, Job> jobs,
        IReadOnlyList<HoursOf> hands,
        DateTimeOffset now
    )
    {
        var lines = work
            .Jobs.Select(j =>
                FormattableString.Invariant(
                    $"{j.Id} {j.Model} {string.Join(',', j.Slots)} {(jobs[j.Id].Underway ? 0 : j.Takes)} {j.Weight} {(j.Ready <= now ? "now" : j.Ready.ToString("O"))} {j.Due:O} {j.Only} {j.Pin}"
                )
            )
            .Concat(
                hands.Select(h =>
                    $"{h.Who.Id} {string.Join(',', work.Hands.Where(w => w.Id == h.Who.Id).SelectMany(w => w.Unpractised).Order())} {string.Join('|', [.. h.Leaves.Models, .. h.Leaves.Parts])} {string.Join('|', h.Days ?? [])} {string.Join('|', h.Away.Select(a => $"{a.From:O}{a.Until:O}"))}"
                )
            );
        return SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(string.Join('\n', lines)));
    }
}
