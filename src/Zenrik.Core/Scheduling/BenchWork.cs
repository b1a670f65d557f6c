using MathNet.Numerics.Distributions;
using Zenrik.Core.Teardown;

namespace Zenrik.Core.Scheduling;

/// <summary>A job that waits for somebody at the bench.</summary>
/// <param name="Id">Unique among the jobs.</param>
/// <param name="Model">Jobs on one model that follow each other are set up for once.</param>
/// <param name="Minutes">Hands on, without setting up.</param>
/// <param name="Weight">What a minute too late counts, against one of the others; positive.</param>
/// <param name="Ready">From when on it can be begun.</param>
/// <param name="Due">When it should be done.</param>
/// <param name="Promised">True when somebody was told so; false where it is only how the house would have it.</param>
/// <param name="Only">Who alone may do it; null: anybody.</param>
/// <param name="Pin">
/// Its place among the jobs that are pinned to <paramref name="Only"/>, smallest first; null: it is not. What is pinned is
/// done as early as if there were nothing else.
/// </param>
public sealed record BenchJob(
    string Id,
    string Model,
    Minutes Minutes,
    int Weight,
    DateTimeOffset Ready,
    DateTimeOffset Due,
    bool Promised,
    Guid? Only = null,
    int? Pin = null
)
{
    /// <summary>The slots whose parts are exchanged.</summary>
    public IReadOnlyList<string> Slots { get; init; } = [];

    /// <summary>Whole minutes that are laid out for it, at least one.</summary>
    public int Takes => Whole(Minutes.Expected);

    internal static int Whole(double minutes) => Math.Max(1, (int)Math.Ceiling(minutes));
}

/// <summary>Somebody who works at the bench.</summary>
/// <param name="Leaves">What they do only where a person chose them for it.</param>
public sealed record BenchHand(Guid Id, string Name, Shifts Shifts, LeftToOthers? Leaves = null)
{
    /// <summary>True when they may do a job: it was given to them, or to nobody and they leave no such work to others.</summary>
    public bool May(BenchJob job) => job.Only is { } only ? only == Id : Leaves?.Covers(job) != true;

    /// <summary>Codes of models they have not practised.</summary>
    public IReadOnlySet<string> Unpractised { get; init; } = new HashSet<string>();

    /// <summary>
    /// What a second time takes of a first, by the usual learning curve (T. P. Wright, Journal of the Aeronautical Sciences 3
    /// (1936) 122, from memory).
    /// </summary>
    private const double SecondTime = 0.8;

    /// <summary>How many times as long as usual they take for a job: longer on a model they have not practised.</summary>
    public double Longer(BenchJob job) => Unpractised.Contains(job.Model) ? 1 / SecondTime : 1;

    /// <summary>Whole minutes that are laid out for a job of theirs, at least one.</summary>
    public int Takes(BenchJob job) => BenchJob.Whole(job.Minutes.Expected * Longer(job));
}

/// <summary>What a schedule costs: minutes too late, each by its weight; then, of two that cost the same, minutes until each is done.</summary>
/// <remarks>Minutes are those at which anybody works: a night costs nothing, a day on which only others work does.</remarks>
public readonly record struct ScheduleCost(long Late, long Done) : IComparable<ScheduleCost>
{
    public int CompareTo(ScheduleCost other) =>
        Late != other.Late ? Late.CompareTo(other.Late) : Done.CompareTo(other.Done);

    public static bool operator <(ScheduleCost a, ScheduleCost b) => a.CompareTo(b) < 0;

    public static bool operator >(ScheduleCost a, ScheduleCost b) => a.CompareTo(b) > 0;

    public static bool operator <=(ScheduleCost a, ScheduleCost b) => a.CompareTo(b) <= 0;

    public static bool operator >=(ScheduleCost a, ScheduleCost b) => a.CompareTo(b) >= 0;

    public static ScheduleCost operator +(ScheduleCost a, ScheduleCost b) => new(a.Late + b.Late, a.Done + b.Done);
}

/// <summary>A job with its time.</summary>
/// <param name="Takes">Whole minutes that are laid out for it, without setting up.</param>
/// <param name="SetUp">True when it is set up for; false where the job before was on the same model.</param>
/// <param name="MinutesLate">0 when it is done in time.</param>
/// <param name="ChanceLate">That it is done too late, from 0 to 1, by how far the jobs before it vary.</param>
public sealed record PlacedJob(
    BenchJob Job,
    BenchHand Hand,
    DateTimeOffset Begins,
    DateTimeOffset Ends,
    int Takes,
    bool SetUp,
    int MinutesLate,
    double ChanceLate
)
{
    /// <summary>From this chance on a promise is at risk. Common practice, no published source.</summary>
    public const double Risky = 0.2;

    /// <summary>True when it is laid on somebody who has not practised the model, and takes them longer.</summary>
    public bool Unpractised => Hand.Unpractised.Contains(Job.Model);

    /// <summary>True when it cannot even be begun before it should be done: its part comes too late.</summary>
    public bool ReadyTooLate => Job.Ready >= Job.Due;

    /// <summary>True when somebody was promised a day and may wait in vain.</summary>
    public bool AtRisk => Job.Promised && (MinutesLate > 0 || ChanceLate >= Risky);
}

/// <summary>
/// Jobs, and who there is to do them, in whole minutes of each one's own work: minute 0 is the first of their first shift.
/// A schedule is an order of jobs for each of them; every job begins as soon as it is ready and the one before is done.
/// </summary>
public sealed class BenchWork
{
    private readonly Shifts house;

    // By hand, then shift: minutes at which anybody has worked when it begins, and of their own when it ends.
    private readonly int[][] houseAt;
    private readonly int[][] endsAt;

    private BenchWork(IReadOnlyList<BenchJob> jobs, IReadOnlyList<BenchHand> hands, int setUpMinutes)
    {
        (Jobs, Hands, SetUpMinutes) = (jobs, hands, setUpMinutes);
        house = Shifts.Together(hands.Select(h => h.Shifts));
        ReadyAt = [.. jobs.Select(j => hands.Select(h => h.Shifts.Before(j.Ready)).ToArray())];
        DueAt = [.. jobs.Select(j => house.Before(j.Due))];
        houseAt = [.. hands.Select(h => h.Shifts.All.Select(s => house.Before(s.From)).ToArray())];
        endsAt = [.. hands.Select(h => h.Shifts.All.Select(s => h.Shifts.Before(s.Until)).ToArray())];
        var pinnedAt = new int[jobs.Count];
        Array.Fill(pinnedAt, int.MaxValue);
        for (var h = 0; h < hands.Count; h++)
        {
            foreach (var (j, begins, _) in Walk(h, Pinned(h)))
            {
                pinnedAt[j] = begins;
            }
        }

        PinnedAt = pinnedAt;
    }

    /// <summary>Jobs that can be laid at all.</summary>
    public IReadOnlyList<BenchJob> Jobs { get; }

    public IReadOnlyList<BenchHand> Hands { get; }

    /// <summary>Minutes to lay out tools, trays and drawing for another model than before.</summary>
    public int SetUpMinutes { get; }

    /// <summary>By job, then hand: the first minute of theirs at which it can begin.</summary>
    public IReadOnlyList<IReadOnlyList<int>> ReadyAt { get; }

    /// <summary>By job: minutes at which anybody works until it should be done.</summary>
    public IReadOnlyList<int> DueAt { get; }

    /// <summary>By job: the minute by which it has begun if nothing but what is pinned is done; the largest number for others.</summary>
    public IReadOnlyList<int> PinnedAt { get; }

    /// <summary>Sorts out what cannot be laid and why, and sets up the rest.</summary>
    /// <param name="jobs">In an order that settles ties.</param>
    /// <param name="hands">Whoever has no shifts gets no job.</param>
    /// <param name="setUpMinutes">0 to 60.</param>
    public static (BenchWork Work, IReadOnlyList<(BenchJob Job, string Why)> Unplaced) Of(
        IEnumerable<BenchJob> jobs,
        IEnumerable<BenchHand> hands,
        int setUpMinutes
    )
    {
        var all = hands.ToList();
        var working = all.FindAll(h => h.Shifts.Minutes > 0);
        var (laid, unplaced) = (new List<BenchJob>(), new List<(BenchJob, string)>());
        foreach (var job in jobs)
        {
            var those = working.FindAll(h => h.May(job));
            if (those.Exists(h => h.Shifts.Minutes - h.Shifts.Before(job.Ready) >= h.Takes(job) + setUpMinutes))
            {
                laid.Add(job);
            }
            else
            {
                unplaced.Add((job, Why(job, those)));
            }
        }

        // What is pinned comes one after the other; behind the last that has room there is none.
        foreach (var hand in working)
        {
            var (at, before) = (0, (BenchJob?)null);
            foreach (var job in laid.FindAll(j => j.Pin is not null && j.Only == hand.Id).OrderBy(j => j.Pin))
            {
                var ends =
                    Math.Max(at, hand.Shifts.Before(job.Ready))
                    + hand.Takes(job)
                    + (before?.Model == job.Model ? 0 : setUpMinutes);
                if (ends > hand.Shifts.Minutes)
                {
                    laid.Remove(job);
                    unplaced.Add(
                        (job, $"It takes {hand.Takes(job)} minutes; behind what is pinned {hand.Name} has not so many.")
                    );
                    continue;
                }

                (at, before) = (ends, job);
            }
        }

        return (new BenchWork(laid, working, setUpMinutes), unplaced);

        string Why(BenchJob job, List<BenchHand> those) =>
            working.Count == 0 ? "Nobody has hours at the bench."
            : those.Count == 0 && job.Only is null
                ? $"{(working.Count == 1 ? $"{working[0].Name} leaves" : "All who have hours leave")} such work to others."
            : those.Count == 0
                ? $"{all.Find(h => h.Id == job.Only)?.Name ?? "Whoever is to do it"} has no hours at the bench."
            : $"It takes {those.Min(h => h.Takes(job))} minutes; {(those.Count == working.Count && job.Only is null ? "nobody has" : those.Count > 1 ? "nobody who may do it has" : $"{those[0].Name} has not")} so many from when it can begin.";
    }

    /// <summary>True when somebody may do a job.</summary>
    public bool May(int job, int hand) => Hands[hand].May(Jobs[job]);

    /// <summary>Minutes of a job after another; after none, or one on another model, with setting up.</summary>
    /// <param name="before">−1: it is the first.</param>
    public int Takes(int hand, int job, int before) =>
        Hands[hand].Takes(Jobs[job]) + (before >= 0 && Jobs[before].Model == Jobs[job].Model ? 0 : SetUpMinutes);

    /// <summary>An order with its minutes: each job begins as soon as it is ready and the one before is done.</summary>
    public IEnumerable<(int Job, int Begins, int Ends)> Walk(int hand, IEnumerable<int> order)
    {
        var (at, before) = (0, -1);
        foreach (var j in order)
        {
            var begins = Math.Max(at, ReadyAt[j][hand]);
            at = begins + Takes(hand, j, before);
            before = j;
            yield return (j, begins, at);
        }
    }

    /// <summary>Minutes at which anybody has worked when a hand has done so many.</summary>
    public int HouseAt(int hand, int minutes)
    {
        // The first of their shifts that ends no sooner.
        var s = Array.BinarySearch(endsAt[hand], minutes);
        s = s < 0 ? ~s : s;
        return houseAt[hand][s] + minutes - (s == 0 ? 0 : endsAt[hand][s - 1]);
    }

    /// <summary>
    /// What <see cref="HouseAt"/> is of a hand: minutes of others before their first, and after how many of theirs how many
    /// others work without them.
    /// </summary>
    public (int First, IReadOnlyList<(int After, int Minutes)> Gaps) Away(int hand)
    {
        var shifts = Hands[hand].Shifts.All;
        var (at, gaps) = (0, new List<(int, int)>());
        for (var s = 0; s + 1 < shifts.Count; s++)
        {
            at += shifts[s].Minutes;
            var gap = houseAt[hand][s + 1] - houseAt[hand][s] - shifts[s].Minutes;
            if (gap > 0)
            {
                gaps.Add((at, gap));
            }
        }

        return (houseAt[hand][0], gaps);
    }

    /// <summary>The jobs pinned to a hand, in their order.</summary>
    public IEnumerable<int> Pinned(int hand) =>
        Enumerable
            .Range(0, Jobs.Count)
            .Where(j => Jobs[j].Pin is not null && Jobs[j].Only == Hands[hand].Id)
            .OrderBy(j => Jobs[j].Pin)
            .ThenBy(j => j);

    /// <summary>What an order costs one hand; null when it cannot be: beyond their shifts, not theirs, or past a pin.</summary>
    internal ScheduleCost? Cost(int hand, IReadOnlyList<int> order)
    {
        var pin = int.MinValue;
        var cost = default(ScheduleCost);
        foreach (var (j, begins, ends) in Walk(hand, order))
        {
            if (ends > Hands[hand].Shifts.Minutes || begins > PinnedAt[j] || !May(j, hand) || Jobs[j].Pin < pin)
            {
                return null;
            }

            pin = Jobs[j].Pin ?? pin;
            var done = HouseAt(hand, ends);
            cost += new ScheduleCost(Jobs[j].Weight * (long)Math.Max(0, done - DueAt[j]), Jobs[j].Weight * (long)done);
        }

        return cost;
    }

    /// <summary>What a schedule costs; null when it cannot be.</summary>
    /// <param name="orders">Of each hand the jobs, in the order of <see cref="Hands"/>.</param>
    public ScheduleCost? Cost(IReadOnlyList<IReadOnlyList<int>> orders)
    {
        var cost = default(ScheduleCost);
        for (var h = 0; h < orders.Count; h++)
        {
            if (Cost(h, orders[h]) is not { } own)
            {
                return null;
            }

            cost += own;
        }

        return cost;
    }

    /// <summary>The jobs with their times, the first to begin first.</summary>
    /// <param name="orders">A schedule that can be.</param>
    public IReadOnlyList<PlacedJob> Placed(IReadOnlyList<IReadOnlyList<int>> orders)
    {
        const double Decile = 1.2816; // Standard normal quantile at 0.9: as far as the interval of minutes reaches.
        var placed = new List<PlacedJob>();
        foreach (var (h, order) in orders.Index())
        {
            var (at, variance) = (0, 0.0);
            foreach (var (j, begins, ends) in Walk(h, order))
            {
                var job = Jobs[j];
                // Waiting takes up what the jobs before ran over.
                variance = begins > at ? 0 : variance;
                var reach = Hands[h].Longer(job) * (job.Minutes.High - job.Minutes.Low) / (2 * Decile);
                variance += reach * reach;
                at = ends;
                var slack = DueAt[j] - HouseAt(h, ends);
                var takes = Hands[h].Takes(job);
                placed.Add(
                    new PlacedJob(
                        job,
                        Hands[h],
                        Hands[h].Shifts.Begins(begins),
                        Hands[h].Shifts.Ends(ends),
                        takes,
                        ends - begins > takes,
                        Math.Max(0, -slack),
                        variance > 0 ? 1 - Normal.CDF(0, Math.Sqrt(variance), slack + 0.5)
                            : slack < 0 ? 1
                            : 0
                    )
                );
            }
        }

        return [.. placed.OrderBy(p => p.Begins).ThenBy(p => p.Hand.Name, StringComparer.Ordinal)];
    }
}
