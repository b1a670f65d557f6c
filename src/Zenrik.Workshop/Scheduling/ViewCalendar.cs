using System.Security.Cryptography;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Scheduling;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.BenchLedger;
using Zenrik.Workshop.People;
using Zenrik.Workshop.Repairs;

namespace Zenrik.Workshop.Scheduling;

/// <summary>A job of the calendar with the repair behind it.</summary>
/// <param name="Underway">True while it is on the bench.</param>
/// <param name="Pinned">True when a person chose its place.</param>
public sealed record CalendarJob(PlacedJob Placed, Repair Repair, string What, bool Underway, bool Pinned);

/// <summary>A repair that has no time, and why.</summary>
public sealed record UnplacedJob(Repair Repair, string What, string Why);

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
    IReadOnlyList<UnplacedJob> Not,
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

    public IEnumerable<CalendarJob> AtRisk => Jobs.Where(j => j.Placed.AtRisk);
}

/// <summary>Lays what waits at the Counter on the hours of those who work at the bench.</summary>
public sealed class ViewCalendar(WorkshopDb db, ViewCounter counter, KeepPeople people, TimeProvider clock)
{
    /// <summary>How far ahead jobs are laid, days.</summary>
    public const int Ahead = 42;

    /// <summary>Minutes to lay out tools, mat and drawing for another model. Common practice, no published source.</summary>
    public const int SetUpMinutes = 4;

    /// <summary>Within how many days the house would have done what is promised for no day. Common practice, no published source.</summary>
    public const int UsualDays = 10;

    /// <summary>The hour of the day from which on a part that is due can be counted on. Common practice, no published source.</summary>
    private const int PostHour = 12;

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
            VALUES ({SolvedWork.Only}, {laid.Of}, {StoredJson.Write(
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
                    Of = laid.Of,
                    Orders = orders,
                    Bound = solved.Bound,
                    Late = solved.Late,
                    At = at,
                },
            }
        );
    }

    private sealed record Job(Repair Repair, string What, bool Underway);

    private sealed record Laid(
        BenchWork Work,
        IReadOnlyList<IReadOnlyList<int>> Orders,
        byte[] Of,
        SolvedWork? Solved,
        IReadOnlyDictionary<string, Job> Jobs,
        IReadOnlyList<UnplacedJob> Not,
        IReadOnlyList<BenchHand> Hands
    );

    private static IReadOnlyList<CalendarJob> Jobs(Laid laid, IReadOnlyList<PlacedJob> placed) =>
        [
            .. placed.Select(p =>
            {
                var job = laid.Jobs[p.Job.Id];
                return new CalendarJob(p, job.Repair, job.What, job.Underway, p.Job.Pin is not null && !job.Underway);
            }),
        ];

    private static BenchCalendar Seen(Laid laid)
    {
        var placed = laid.Work.Placed(laid.Orders);
        return new BenchCalendar(
            Jobs(laid, placed),
            laid.Not,
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
        var (hands, week) = await Hands(now, stop);
        var pins = await db.BenchPins.AsNoTracking().ToDictionaryAsync(p => p.RepairId, p => p.Rank, stop);
        var jobs = new Dictionary<string, Job>();
        var laid = new List<BenchJob>();
        var not = new List<UnplacedJob>();
        foreach (var bench in view.OnBench)
        {
            var by = bench.Session.Entries.LastOrDefault()?.ById ?? bench.Session.StartedById;
            var theirs = hands.Any(h => h.Id == by && h.Shifts.Minutes > 0);
            jobs[bench.Repair.Code] = new Job(bench.Repair, bench.Repair.What, true);
            laid.Add(
                Of(bench.Repair, Left(bench), now) with
                {
                    Only = theirs ? by : bench.Repair.AssignedToId,
                    Pin = theirs ? -1 : null,
                }
            );
        }

        foreach (var row in view.Ready.Concat(view.Waiting))
        {
            if (row.Blocks.Count > 0 && !row.CanBeLaid)
            {
                not.Add(new UnplacedJob(row.Repair, row.What, string.Join("; ", row.Blocks)));
                continue;
            }

            jobs[row.Repair.Code] = new Job(row.Repair, row.What, false);
            laid.Add(
                Of(row.Repair, row.Minutes, row.Coming is { } day ? Moment(day, PostHour) : now) with
                {
                    Only = row.Repair.AssignedToId,
                    Pin =
                        row.Repair.AssignedToId is not null && pins.TryGetValue(row.Repair.Id, out var rank)
                            ? rank
                            : null,
                }
            );
        }

        var (work, left) = BenchWork.Of(laid.OrderBy(j => jobs[j.Id].Repair.Number), hands, SetUpMinutes);
        not.AddRange(left.Select(l => new UnplacedJob(jobs[l.Job.Id].Repair, jobs[l.Job.Id].What, l.Why)));
        var of = Mark(work, jobs, week, now);
        var orders = Dispatch.Lay(work);
        var kept = await db.SolvedWork.AsNoTracking().SingleOrDefaultAsync(stop);
        var solved = kept?.Of.AsSpan().SequenceEqual(of) == true ? kept : null;
        if (solved is not null)
        {
            var index = work.Jobs.Index().ToDictionary(j => j.Item.Id, j => j.Index);
            IReadOnlyList<IReadOnlyList<int>> then =
            [
                .. work.Hands.Select(h =>
                    (IReadOnlyList<int>)
                        [.. solved.Orders.GetValueOrDefault(h.Id, []).Where(index.ContainsKey).Select(id => index[id])]
                ),
            ];
            orders =
                work.Cost(then) is { } cost
                && then.Sum(o => o.Count) == orders.Sum(o => o.Count)
                && cost < work.Cost(orders)
                    ? then
                    : orders;
        }

        // What the rule found no room for behind the others.
        var missing = Enumerable.Range(0, work.Jobs.Count).Except(orders.SelectMany(o => o));
        not.AddRange(
            missing.Select(j => new UnplacedJob(
                jobs[work.Jobs[j].Id].Repair,
                jobs[work.Jobs[j].Id].What,
                $"Nobody has room for it within {Ahead / 7} weeks."
            ))
        );
        return new Laid(work, orders, of, solved, jobs, not, hands);

        BenchJob Of(Repair repair, Minutes minutes, DateTimeOffset ready) =>
            new(
                repair.Code,
                repair.Unit.ModelCode,
                minutes,
                (repair.PromisedOn is null ? 1 : 3)
                    * (
                        repair.Priority switch
                        {
                            Priority.High => 4,
                            Priority.Low => 1,
                            _ => 2,
                        }
                    ),
                ready,
                repair.PromisedOn is { } day
                    ? Moment(day.AddDays(1), 0)
                    : Moment(
                        DateOnly.FromDateTime(repair.OpenedAt.ToOffset(now.Offset).DateTime).AddDays(UsualDays + 1),
                        0
                    ),
                repair.PromisedOn is not null
            );
    }

    /// <summary>Everybody who works at the bench with the times from now on; and their hours and absences, to tell a change.</summary>
    private async Task<(IReadOnlyList<BenchHand>, IReadOnlyList<string>)> Hands(
        DateTimeOffset now,
        CancellationToken stop
    )
    {
        var bench = await people.AtBench(stop);
        var hours = await db.BenchHours.AsNoTracking().ToDictionaryAsync(h => h.TechnicianId, h => h.Days, stop);
        var until = now.AddDays(Ahead);
        var away = (
            await db
                .Absences.AsNoTracking()
                .Where(a => a.Until > now.ToUniversalTime() && a.From < until.ToUniversalTime())
                .OrderBy(a => a.From)
                .ToListAsync(stop)
        ).ToLookup(a => a.TechnicianId);
        var today = DateOnly.FromDateTime(now.DateTime);
        var past = new Shift(now.AddDays(-2), now);
        List<BenchHand> hands =
        [
            .. bench.Select(p => new BenchHand(
                p.Id,
                p.Name,
                Shifts.Of(
                    hours.TryGetValue(p.Id, out var days)
                        ? WeekHours.Read(days).Value.Shifts(today, Ahead, clock.LocalTimeZone)
                        : [],
                    away[p.Id].Select(a => new Shift(a.From, a.Until)).Append(past)
                )
            )),
        ];
        return (
            hands,
            [
                .. bench.Select(p =>
                    $"{p.Id} {string.Join('|', hours.GetValueOrDefault(p.Id, []))} {string.Join('|', away[p.Id].Select(a => $"{a.From:O}{a.Until:O}"))}"
                ),
            ]
        );
    }

    private DateTimeOffset Moment(DateOnly day, int hour)
    {
        var local = day.ToDateTime(new TimeOnly(hour, 0));
        return new DateTimeOffset(local, clock.LocalTimeZone.GetUtcOffset(local));
    }

    private static Minutes Left(BenchView bench)
    {
        var (all, worked) = (bench.Ledger.Plan.Minutes, bench.Worked.TotalMinutes);
        double Rest(double minutes) => Math.Max(LeastLeft, minutes - worked);
        return new Minutes(Rest(all.Expected), Rest(all.Low), Rest(all.High));
    }

    /// <summary>What the work is, whatever the time of day: the same until somebody changes something.</summary>
    private static byte[] Mark(
        BenchWork work,
        IReadOnlyDictionary<string, Job> jobs,
        IReadOnlyList<string> week,
        DateTimeOffset now
    ) =>
        SHA256.HashData(
            System.Text.Encoding.UTF8.GetBytes(
                string.Join(
                    '\n',
                    work.Jobs.Select(j =>
                            FormattableString.Invariant(
                                $"{j.Id} {j.Model} {(jobs[j.Id].Underway ? 0 : j.Takes)} {j.Weight} {(j.Ready <= now ? "now" : j.Ready.ToString("O"))} {j.Due:O} {j.Only} {j.Pin}"
                            )
                        )
                        .Concat(week)
                )
            )
        );
}
