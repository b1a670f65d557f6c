namespace Zenrik.Core.Scheduling;

/// <summary>What the bench has for a campaign on one day.</summary>
/// <param name="Minutes">Of work; more than 0.</param>
public readonly record struct BenchDay(DateOnly Day, double Minutes);

/// <summary>What a campaign still has to do at one site.</summary>
/// <param name="Units">To do, those already at the workshop included; 0 or more.</param>
/// <param name="Here">Of them, how many are at the workshop; at most <paramref name="Units"/>.</param>
/// <param name="Minutes">Of work on each; more than 0.</param>
/// <param name="Spare">How many the site can do without at a time; at least 1.</param>
/// <param name="Parts">
/// Of each unit what it takes from the shelf, as an index of the supplies, those that are here first; −1: nothing. Null: none
/// takes anything.
/// </param>
public sealed record SiteUnits(
    string Site,
    int Units,
    int Here,
    double Minutes,
    int Spare,
    IReadOnlyList<int>? Parts = null
);

/// <summary>Parts of one kind, any of which will do.</summary>
/// <param name="Comes">How many more can be fitted from a day on, the first day first; what is on the shelf from any day that is gone.</param>
public sealed record PartSupply(IReadOnlyList<(DateOnly From, int Pieces)> Comes)
{
    /// <summary>
    /// What comes is fitted from the day after on, since a day's parcel comes in the course of it; what is overdue may come today.
    /// </summary>
    /// <param name="free">On the shelf.</param>
    /// <param name="coming">By the day each is expected.</param>
    public static PartSupply Of(int free, IEnumerable<(DateOnly Expected, int Pieces)> coming, DateOnly today) =>
        new([
            (DateOnly.MinValue, free),
            .. coming
                .Select(c => ((c.Expected < today ? today : c.Expected).AddDays(1), c.Pieces))
                .OrderBy(c => c.Item1),
        ]);

    public int Pieces => Comes.Sum(c => c.Pieces);

    /// <summary>The day from which so many can have been fitted; null: there are never so many.</summary>
    public DateOnly? For(int pieces)
    {
        var there = 0;
        foreach (var (from, more) in Comes)
        {
            there += more;
            if (there >= pieces)
            {
                return from;
            }
        }

        return null;
    }
}

/// <summary>Units of one site that travel together.</summary>
/// <param name="Here">True when they are at the workshop already.</param>
/// <param name="Leaves">The day they leave the site; of those that are here, the first day of all.</param>
/// <param name="Begins">The day the first of them is on the bench.</param>
/// <param name="Ready">The day the last of them is done.</param>
/// <param name="Back">The day they are at the site again.</param>
public sealed record Wave(
    string Site,
    int Units,
    bool Here,
    DateOnly Leaves,
    DateOnly Begins,
    DateOnly Ready,
    DateOnly Back
);

/// <summary>Something that would have a campaign done in time.</summary>
/// <param name="Share">Of the bench's hours for it, in hundredths.</param>
/// <param name="More">Units that each site would do without besides.</param>
public sealed record WaveWay(int Share, int More, DateOnly Done);

/// <summary>
/// A campaign in waves: no site is ever without more units than it can spare, the next wave leaves when the one before is
/// back, the bench works one wave after the other, and begins none before all it takes is on the shelf. Whose way back is the longest goes first: the rule for chains of jobs
/// with waiting times between them on one machine (longest tail first, as for release dates and delivery times in
/// J. R. Jackson, "Scheduling a production line to minimize maximum tardiness", 1955; from memory). It need not be the best
/// order; <see cref="Soonest"/> says how far off it can be.
/// </summary>
public sealed class CampaignWaves
{
    private const double Nothing = 1e-9;

    private CampaignWaves(
        IReadOnlyList<Wave> waves,
        int unplaced,
        IReadOnlyDictionary<string, IReadOnlyList<int>> leftOut,
        DateOnly? soonest
    ) => (Waves, Unplaced, LeftOut, Soonest) = (waves, unplaced, leftOut, soonest);

    /// <summary>In the order they are worked on.</summary>
    public IReadOnlyList<Wave> Waves { get; }

    /// <summary>Units for which the days given are not enough.</summary>
    public int Unplaced { get; }

    /// <summary>By site the units, as indices, that are in no wave: what they take is neither on the shelf nor to come.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<int>> LeftOut { get; }

    /// <summary>How many are left out so.</summary>
    public int Without => LeftOut.Values.Sum(u => u.Count);

    /// <summary>No order of these waves has all units back before; null when there are none, or not all can be placed.</summary>
    public DateOnly? Soonest { get; }

    /// <summary>The day all units in waves are back; null when there are none, or not all can be placed.</summary>
    public DateOnly? Done => Unplaced > 0 || Waves.Count == 0 ? null : Waves.Max(w => w.Back);

    /// <summary>Days without a unit, summed over units: what the campaign costs the sites.</summary>
    public int UnitDays => Waves.Sum(w => w.Units * (w.Back.DayNumber - w.Leaves.DayNumber));

    /// <param name="sites">Each site once.</param>
    /// <param name="bench">The days that are worked, the first first. On other days nothing is handed over either.</param>
    /// <param name="from">Nothing leaves a site before.</param>
    /// <param name="carry">Days on the way, there or back; 0 or more.</param>
    /// <param name="supplies">What the sites' units take; null where they take nothing.</param>
    /// <exception cref="ArgumentException">A figure is out of its range, or the days are out of order.</exception>
    public static CampaignWaves Of(
        IReadOnlyList<SiteUnits> sites,
        IReadOnlyList<BenchDay> bench,
        DateOnly from,
        int carry,
        IReadOnlyList<PartSupply>? supplies = null
    )
    {
        supplies ??= [];
        if (
            carry < 0
            || sites.Any(s => s.Units < 0 || s.Here < 0 || s.Here > s.Units || s.Spare < 1 || !(s.Minutes > 0))
            || sites.Any(s => s.Parts is { } parts && (parts.Count != s.Units || parts.Any(p => p >= supplies.Count)))
            || bench.Any(d => !(d.Minutes > 0))
            || bench.Zip(bench.Skip(1)).Any(d => d.First.Day >= d.Second.Day)
        )
        {
            throw new ArgumentException("A figure is out of its range, or the days are out of order.");
        }

        var (left, leftOut) = WithParts(sites, supplies);
        var (waves, unplaced) = Lay(left, bench, from, carry, supplies);
        return new CampaignWaves(
            waves,
            unplaced,
            leftOut,
            unplaced > 0 || left.Count == 0
                ? null
                : left.Select(s => Lay([s], bench, from, carry, supplies).Waves[^1].Back)
                    .Append(BenchAlone(left, bench, from, carry))
                    .Max()
        );
    }

    /// <summary>What would have all of it done by a day: more of the bench's hours, more units spared, or both.</summary>
    /// <param name="whole">All the hours of the bench.</param>
    /// <param name="share">Of them, what the campaign has now, in hundredths; 1 to 100.</param>
    /// <param name="supplies">As in <see cref="Of"/>.</param>
    /// <returns>The least of each that is enough; empty when nothing is, as long as parts are missing.</returns>
    public static IReadOnlyList<WaveWay> DoneBy(
        DateOnly day,
        IReadOnlyList<SiteUnits> sites,
        IReadOnlyList<BenchDay> whole,
        int share,
        DateOnly from,
        int carry,
        IReadOnlyList<PartSupply>? supplies = null
    )
    {
        supplies ??= [];
        var (left, leftOut) = WithParts(sites, supplies);
        if (leftOut.Count > 0)
        {
            return [];
        }

        var most = left.Select(s => s.Units).DefaultIfEmpty(0).Max();
        // One by one, then by tens: nobody asks a school for 47.
        var mores = Enumerable.Range(1, 9).Concat(Enumerable.Range(1, 100).Select(n => n * 10));
        int[] spared = [.. mores.Where(m => m < most)];
        int[] shares = [.. Enumerable.Range(1, 10).Select(n => n * 10).Where(n => n > share)];
        var hours = shares.Select(s => Try(s, 0)).FirstOrDefault(InTime);
        var units = spared.Select(m => Try(share, m)).FirstOrDefault(InTime);
        WaveWay?[] ways =
            hours is null && units is null && shares.Length > 0
                ? [spared.Select(m => Try(100, m)).FirstOrDefault(InTime)]
                : [hours, units];
        return [.. ways.OfType<WaveWay>()];

        WaveWay? Try(int hundredths, int more)
        {
            var (waves, unplaced) = Lay(
                [.. left.Select(s => s with { Spare = s.Spare + more })],
                Share(whole, hundredths),
                from,
                carry,
                supplies
            );
            return unplaced > 0 || waves.Count == 0 ? null : new WaveWay(hundredths, more, waves.Max(w => w.Back));
        }

        bool InTime(WaveWay? way) => way?.Done <= day;
    }

    /// <summary>A share of each day.</summary>
    /// <param name="hundredths">1 to 100.</param>
    public static IReadOnlyList<BenchDay> Share(IReadOnlyList<BenchDay> whole, int hundredths) =>
        [.. whole.Select(d => d with { Minutes = d.Minutes * hundredths / 100 })];

    /// <summary>The sites with the units for which there is what they take, some day; the first sites take first.</summary>
    private static (List<SiteUnits> Sites, Dictionary<string, IReadOnlyList<int>> LeftOut) WithParts(
        IEnumerable<SiteUnits> sites,
        IReadOnlyList<PartSupply> supplies
    )
    {
        var pieces = supplies.Select(s => s.Pieces).ToArray();
        var (with, leftOut) = (new List<SiteUnits>(), new Dictionary<string, IReadOnlyList<int>>());
        foreach (var site in sites)
        {
            var kept = site;
            if (site.Parts is { } parts)
            {
                var units = Enumerable.Range(0, site.Units).ToLookup(i => parts[i] < 0 || pieces[parts[i]]-- > 0);
                kept = site with
                {
                    Units = units[true].Count(),
                    Here = units[true].Count(i => i < site.Here),
                    Parts = [.. units[true].Select(i => parts[i])],
                };
                if (units.Contains(false))
                {
                    leftOut[site.Site] = [.. units[false]];
                }
            }

            if (kept.Units > 0)
            {
                with.Add(kept);
            }
        }

        return (with, leftOut);
    }

    /// <summary>The units of each wave of a site: as few waves as it takes, and about as many units in each.</summary>
    private static Queue<int> Sizes(SiteUnits site)
    {
        var sizes = new Queue<int>();
        var left = site.Units;
        if (site.Here > 0)
        {
            sizes.Enqueue(site.Here);
            left -= site.Here;
            // Those that are here are spared already.
            if (Math.Min(left, site.Spare - site.Here) is var besides and > 0)
            {
                sizes.Enqueue(besides);
                left -= besides;
            }
        }

        for (var waves = (left + site.Spare - 1) / site.Spare; waves > 0; waves--)
        {
            var size = (left + waves - 1) / waves;
            sizes.Enqueue(size);
            left -= size;
        }

        return sizes;
    }

    private sealed class Chain(SiteUnits site)
    {
        public readonly SiteUnits Site = site;
        public readonly Queue<int> Sizes = CampaignWaves.Sizes(site);
        public int Left = site.Units;
        public bool Here = site.Here > 0;

        /// <summary>The first morning on which its next wave can be at the bench.</summary>
        public DateOnly At;

        /// <summary>What its next wave takes, and how many of each.</summary>
        public IReadOnlyList<(int Part, int Pieces)> Takes = [];

        /// <summary>To be called when another wave is the next.</summary>
        public void Look() =>
            Takes =
                Site.Parts is { } parts && Sizes.TryPeek(out var units)
                    ?
                    [
                        .. parts
                            .Skip(Site.Units - Left)
                            .Take(units)
                            .Where(p => p >= 0)
                            .CountBy(p => p)
                            .Select(p => (p.Key, p.Value)),
                    ]
                    : [];
    }

    private static (List<Wave> Waves, int Unplaced) Lay(
        List<SiteUnits> sites,
        IReadOnlyList<BenchDay> bench,
        DateOnly from,
        int carry,
        IReadOnlyList<PartSupply> supplies
    )
    {
        var chains = sites.ConvertAll(s => new Chain(s) { At = First(bench, from, carry, s.Here) });
        chains.ForEach(c => c.Look());
        var taken = new int[supplies.Count];
        var perDay =
            bench.Count == 0 ? 1 : bench.Sum(d => d.Minutes) / (bench[^1].Day.DayNumber - bench[0].Day.DayNumber + 1);
        var waves = new List<Wave>();
        var (i, used) = (0, 0.0);
        while (chains.Count > 0)
        {
            if (i < bench.Count && used > bench[i].Minutes - Nothing)
            {
                (i, used) = (i + 1, 0);
            }

            if (i == bench.Count)
            {
                break;
            }

            var today = bench[i].Day;
            if (chains.Where(c => c.At <= today && HasParts(c, today)).MaxBy(Tail) is not { } next)
            {
                (i, used) = (i + 1, 0);
                continue;
            }

            var begins = today;
            var units = next.Sizes.Peek();
            var need = units * next.Site.Minutes;
            while (i < bench.Count && need > bench[i].Minutes - used + Nothing)
            {
                need -= bench[i].Minutes - used;
                (i, used) = (i + 1, 0);
            }

            if (i == bench.Count)
            {
                break;
            }

            used += need;
            var ready = bench[i].Day;
            var back = WorkedFrom(bench, ready.AddDays(carry));
            var leaves = next.Here
                ? (from < begins ? from : begins)
                : WorkedUntil(bench, begins.AddDays(-carry)) ?? begins;
            waves.Add(new Wave(next.Site.Site, units, next.Here, leaves, begins, ready, back));
            foreach (var (part, pieces) in next.Takes)
            {
                taken[part] += pieces;
            }

            next.Sizes.Dequeue();
            next.At =
                next.Here && units < next.Site.Spare ? First(bench, from, carry, here: 0)
                : carry == 0 ? ready.AddDays(1)
                : back.AddDays(carry);
            (next.Left, next.Here) = (next.Left - units, false);
            next.Look();
            if (next.Sizes.Count == 0)
            {
                chains.Remove(next);
            }
        }

        return (waves, chains.Sum(c => c.Left));

        bool HasParts(Chain c, DateOnly day) => c.Takes.All(t => supplies[t.Part].For(taken[t.Part] + t.Pieces) <= day);

        double Tail(Chain c) => (c.Left * c.Site.Minutes / perDay) + ((c.Sizes.Count - 1) * Math.Max(1, 2 * carry));
    }

    /// <summary>When the bench is done if it never waits, and the last units are back.</summary>
    private static DateOnly BenchAlone(List<SiteUnits> sites, IReadOnlyList<BenchDay> bench, DateOnly from, int carry)
    {
        var left = sites.Sum(s => s.Units * s.Minutes);
        var first = sites.Min(s => First(bench, from, carry, s.Here));
        foreach (var day in bench.Where(d => d.Day >= first))
        {
            left -= day.Minutes;
            if (left <= Nothing)
            {
                return WorkedFrom(bench, day.Day.AddDays(carry));
            }
        }

        return DateOnly.MinValue;
    }

    /// <summary>The first morning a site's first wave can be at the bench; what is here can at once.</summary>
    private static DateOnly First(IReadOnlyList<BenchDay> bench, DateOnly from, int carry, int here) =>
        here > 0 ? DateOnly.MinValue : WorkedFrom(bench, from).AddDays(carry);

    /// <summary>The day itself, or the next that is worked; after the last, the day itself.</summary>
    private static DateOnly WorkedFrom(IReadOnlyList<BenchDay> bench, DateOnly day) =>
        bench.Select(d => d.Day).FirstOrDefault(d => d >= day, day);

    /// <summary>The day itself, or the last before that is worked.</summary>
    private static DateOnly? WorkedUntil(IReadOnlyList<BenchDay> bench, DateOnly day) =>
        bench.Select(d => (DateOnly?)d.Day).LastOrDefault(d => d <= day);
}
