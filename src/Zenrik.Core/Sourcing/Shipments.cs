namespace Zenrik.Core.Sourcing;

/// <summary>
/// Chooses for all that is to be ordered, together, of whom and by which way of sending. Freight and clearing are paid
/// once for a shipment, each day a machine waits costs a loan's day, and a line may wait at its supplier for a later
/// sailing that others go by. With the shipments that are sent at all given, every line takes the cheapest of them, so that
/// the best choice is found over all sets of shipments (uncapacitated facility location, here by enumeration); a machine
/// that waits for several lines is weighed by the last of them. Where a supplier sells only from some sum on, what is found
/// is improved line by line and is the best where it costs no more than it would without such sums; of more than
/// <see cref="MostEnumerated"/> shipments to choose from, sets are improved step by step instead.
/// </summary>
public static class Shipments
{
    /// <summary>Of so many shipments every set is tried.</summary>
    public const int MostEnumerated = 14;

    /// <param name="lines">Those that come first go first where a supplier has too few for all.</param>
    /// <param name="loanPerDay">What a day a machine waits costs, in the workshop's currency; 0 or more.</param>
    /// <param name="lately">By supplier, how often it was ordered of; null: not known.</param>
    public static ShipmentPlan Best(
        IReadOnlyList<WantedLine> lines,
        DateOnly today,
        TimeOnly now,
        Exchange exchange,
        decimal loanPerDay,
        IReadOnlyDictionary<string, OrderedLately>? lately = null
    )
    {
        var left = new List<(WantedLine, string)>();
        var offered = new List<(WantedLine Line, List<Way> Ways)>();
        foreach (var line in lines)
        {
            var ways = new List<Way>();
            string? why = null;
            foreach (var (bid, risk) in line.Ways)
            {
                if (Way.Of(line, bid, risk, today, now, exchange).Try(out var way, out var refusal))
                {
                    ways.Add(way);
                }

                why ??= refusal?.Message;
            }

            if (ways.Count > 0)
            {
                offered.Add((line, ways));
            }
            else
            {
                left.Add((line, why ?? line.Without ?? "No supplier has it now."));
            }
        }

        // Each line by itself asks for no more than is there; together they may. The last of them then go another way.
        var plan = Chosen();
        while (TooMany(plan) is { } taken)
        {
            var last = offered.FindLastIndex(o => plan.LinesOf(taken).Any(l => ReferenceEquals(l.Line, o.Line)));
            var (line, ways) = offered[last];
            ways.RemoveAll(w => w.Bid.Offer.Supplier == taken.Supplier && w.Bid.Offer.Number == taken.Number);
            if (ways.Count == 0)
            {
                offered.RemoveAt(last);
                left.Add((line, $"{taken.Supplier} has {taken.InStock} of {taken.Number}, which others take."));
            }

            plan = Chosen() with { IsBest = false };
        }

        return plan;

        ShipmentPlan Chosen() => new Choice(offered, today, exchange, loanPerDay, lately).Best(left);
    }

    /// <summary>An offer of which more is taken than there is.</summary>
    private static Offer? TooMany(ShipmentPlan plan) =>
        plan
            .Shipments.SelectMany(s => s.Lines)
            .Select(l => l.Bid.Offer)
            .FirstOrDefault(o => o.InStock is { } there && plan.LinesOf(o).Sum(l => l.Quantity) > there);

    /// <summary>What all ways have in common that go off together. Other duty, tax or prices of sending make another shipment.</summary>
    private sealed record Road(
        string Supplier,
        string Freight,
        Money Base,
        Money PerKg,
        Money Brokerage,
        decimal Duty,
        decimal Tax,
        Money? Least,
        int Transit
    );

    /// <summary>One line by one offer and one way of sending, in the workshop's currency.</summary>
    /// <param name="PerKg">Of all pieces.</param>
    /// <param name="Costs">What the line adds to a shipment: goods, its weight, duty and tax on them, and the risk.</param>
    private sealed record Way(
        Road Road,
        Bid Bid,
        int Quantity,
        Money Goods,
        decimal PerKg,
        DateOnly Leaves,
        double Costs,
        decimal Fixed,
        decimal Least
    )
    {
        public static Outcome<Way> Of(
            WantedLine line,
            Bid bid,
            decimal risk,
            DateOnly today,
            TimeOnly now,
            Exchange exchange
        )
        {
            var (offer, by) = (bid.Offer, bid.Freight);
            var nothing = new Money(0, by.Brokerage.Currency);
            if (
                !LandedCost
                    .Of(offer with { MinimumOrder = null }, by, line.Quantity, today, exchange, now)
                    .Try(out var landed, out var wrong)
                || !exchange.ToHome(by.Base).Try(out var fixedPart, out wrong)
                || !exchange.ToHome(by.PerKg * (offer.WeightKg * landed.Quantity)).Try(out var weight, out wrong)
                || !exchange.ToHome(by.BrokerageIncluded ? nothing : by.Brokerage).Try(out var brokerage, out wrong)
                || !exchange.ToHome(offer.MinimumOrder ?? nothing).Try(out var least, out wrong)
            )
            {
                return wrong;
            }

            if (offer.TooFew(landed.Quantity) is { } few)
            {
                return few;
            }

            var (duty, tax) = (1 + offer.DutyShare, offer.TaxIncluded ? 1 : 1 + offer.TaxShare);
            return new Way(
                new Road(
                    offer.Supplier,
                    by.Name,
                    by.Base,
                    by.PerKg,
                    by.BrokerageIncluded ? nothing : by.Brokerage,
                    duty,
                    tax,
                    offer.MinimumOrder,
                    by.Carrier.TransitDays
                ),
                bid,
                landed.Quantity,
                landed.Goods,
                weight.Amount,
                landed.Leaves,
                (double)(((landed.Goods.Amount + weight.Amount) * duty * tax) + risk),
                ((fixedPart.Amount * duty) + brokerage.Amount) * tax,
                least.Amount
            );
        }
    }

    /// <summary>A shipment that could be sent.</summary>
    private sealed record Candidate(Road Road, DateOnly Leaves, double Fixed, double Least)
    {
        public DateOnly Arrives => Leaves.AddDays(Road.Transit);

        /// <summary>What a unit of goods is with duty and tax.</summary>
        public double Border => (double)(Road.Duty * Road.Tax);
    }

    private sealed class Choice
    {
        private const double Same = 1e-9;

        private readonly List<WantedLine> lines;
        private readonly List<Candidate> candidates;

        /// <summary>By line and candidate, the cheapest way; null where it cannot go so.</summary>
        private readonly Way?[][] ways;

        /// <summary>
        /// By line and candidate, what the line adds, with the waiting where a machine waits for it alone; infinite where it
        /// cannot go so.
        /// </summary>
        private readonly double[][] costs;

        /// <summary>Lines that nobody waits for, or a machine for it alone.</summary>
        private readonly List<int> single;

        /// <summary>Of each machine that waits for several lines, these.</summary>
        private readonly List<List<int>> together;
        private readonly DateOnly today;
        private readonly Exchange exchange;
        private readonly double perDay;
        private readonly IReadOnlyDictionary<string, OrderedLately>? lately;

        public Choice(
            List<(WantedLine Line, List<Way> Ways)> offered,
            DateOnly today,
            Exchange exchange,
            decimal loanPerDay,
            IReadOnlyDictionary<string, OrderedLately>? lately
        )
        {
            (this.today, this.exchange, perDay, this.lately) = (today, exchange, (double)loanPerDay, lately);
            lines = offered.ConvertAll(o => o.Line);
            candidates =
            [
                .. offered
                    .SelectMany(o => o.Ways)
                    .DistinctBy(w => (w.Road, w.Leaves))
                    .Select(w => new Candidate(w.Road, w.Leaves, (double)w.Fixed, (double)w.Least))
                    .OrderBy(c => c.Arrives)
                    .ThenBy(c => c.Road.Supplier, StringComparer.Ordinal)
                    .ThenBy(c => c.Road.Freight, StringComparer.Ordinal),
            ];
            // What is ready earlier may wait for a later sailing of the same road.
            ways =
            [
                .. offered.Select(o =>
                    candidates
                        .Select(c => o.Ways.Where(w => w.Road == c.Road && w.Leaves <= c.Leaves).MinBy(w => w.Costs))
                        .ToArray()
                ),
            ];
            var machines = Enumerable
                .Range(0, lines.Count)
                .GroupBy(i => lines[i].Waits is { } machine ? (machine, -1) : ("", i))
                .Select(g => g.ToList())
                .ToList();
            single = [.. machines.Where(m => m.Count == 1).Select(m => m[0])];
            together = [.. machines.Where(m => m.Count > 1)];
            costs =
            [
                .. ways.Select(
                    (of, i) =>
                        of.Select(
                                (way, c) =>
                                    way is null ? double.PositiveInfinity
                                    : lines[i].Waits is null || !single.Contains(i) ? way.Costs
                                    : way.Costs + Waiting(candidates[c].Arrives)
                            )
                            .ToArray()
                ),
            ];
        }

        public ShipmentPlan Best(IReadOnlyList<(WantedLine, string)> left)
        {
            var nothing = new Money(0, exchange.Home);
            if (lines.Count == 0)
            {
                return new ShipmentPlan([], left, nothing, nothing, true);
            }

            var (chosen, atLeast) = candidates.Count <= MostEnumerated ? Enumerated() : (Stepwise(), 0);
            if (Cost(chosen) > atLeast + Same)
            {
                Improve(chosen);
            }

            var shipments = chosen.Distinct().Order().Select(c => Shipped(chosen, c)).ToList();
            var total = shipments.Aggregate(nothing, (sum, s) => sum + s.Total);
            return new ShipmentPlan(
                shipments,
                left,
                total,
                Home(Math.Max(0, Apart() - Cost(chosen))),
                Cost(chosen) <= atLeast + Same
            );
        }

        /// <returns>The best set, and what no choice costs less than: the best there would be if nobody sold from a least sum on.</returns>
        private (int[] Chosen, double AtLeast) Enumerated()
        {
            int[]? best = null;
            var (least, atLeast) = (double.PositiveInfinity, double.PositiveInfinity);
            var open = new bool[candidates.Count];
            for (var set = 1; set < 1 << candidates.Count; set++)
            {
                for (var c = 0; c < open.Length; c++)
                {
                    open[c] = (set & (1 << c)) != 0;
                }

                if (Assigned(open) is { } chosen)
                {
                    var cost = Cost(chosen);
                    (best, least) = cost < least - Same ? (chosen, cost) : (best, least);
                    atLeast = Math.Min(atLeast, cost - ToLeast(chosen));
                }
            }

            return (best!, atLeast);
        }

        /// <summary>Shipments are left out or taken in again as long as that costs less.</summary>
        private int[] Stepwise()
        {
            var open = Enumerable.Repeat(true, candidates.Count).ToArray();
            var best = Assigned(open)!;
            var least = Cost(best);
            for (var better = true; better; )
            {
                better = false;
                for (var c = 0; c < candidates.Count; c++)
                {
                    open[c] = !open[c];
                    if (Assigned(open) is { } chosen && Cost(chosen) is var cost && cost < least - Same)
                    {
                        (best, least, better) = (chosen, cost, true);
                    }
                    else
                    {
                        open[c] = !open[c];
                    }
                }
            }

            return best;
        }

        /// <summary>Every line in the cheapest shipment that is sent; of a machine that waits for several, by the day the last is here.</summary>
        /// <returns>By line, its candidate; null where a line can go by none of them.</returns>
        private int[]? Assigned(bool[] open)
        {
            var chosen = new int[lines.Count];
            foreach (var line in single)
            {
                chosen[line] = Cheapest(line, open, open.Length - 1);
                if (chosen[line] < 0)
                {
                    return null;
                }
            }

            foreach (var machine in together)
            {
                var least = double.PositiveInfinity;
                // Candidates stand in the order of arrival: by each of them as the last.
                for (var last = 0; last < open.Length; last++)
                {
                    if (!open[last])
                    {
                        continue;
                    }

                    var cost = Waiting(candidates[last].Arrives);
                    foreach (var line in machine)
                    {
                        cost += Cheapest(line, open, last) is >= 0 and var c ? costs[line][c] : double.PositiveInfinity;
                    }

                    if (cost < least)
                    {
                        least = cost;
                        machine.ForEach(line => chosen[line] = Cheapest(line, open, last));
                    }
                }

                if (double.IsInfinity(least))
                {
                    return null;
                }
            }

            return chosen;
        }

        /// <summary>The cheapest open candidate up to one; -1: none.</summary>
        private int Cheapest(int line, bool[] open, int last)
        {
            var (of, cheapest, least) = (costs[line], -1, double.PositiveInfinity);
            for (var c = 0; c <= last; c++)
            {
                if (open[c] && of[c] < least)
                {
                    (cheapest, least) = (c, of[c]);
                }
            }

            return cheapest;
        }

        /// <summary>Lines, one or all of a shipment, go over to another as long as that costs less.</summary>
        private void Improve(int[] chosen)
        {
            var least = Cost(chosen);
            for (var better = true; better; )
            {
                better = false;
                foreach (
                    var moved in Enumerable
                        .Range(0, lines.Count)
                        .Select(i => new[] { i })
                        .Concat(chosen.Distinct().Select(c => LinesOf(chosen, c)))
                        .ToList()
                )
                {
                    for (var to = 0; to < candidates.Count; to++)
                    {
                        if (Moved(chosen, moved, to) is { } other && Cost(other) is var cost && cost < least - Same)
                        {
                            other.CopyTo(chosen, 0);
                            (least, better) = (cost, true);
                        }
                    }
                }
            }
        }

        private static int[] LinesOf(int[] chosen, int candidate) =>
            [.. Enumerable.Range(0, chosen.Length).Where(i => chosen[i] == candidate)];

        private int[]? Moved(int[] chosen, int[] moved, int to)
        {
            if (!Array.TrueForAll(moved, i => ways[i][to] is not null))
            {
                return null;
            }

            var other = (int[])chosen.Clone();
            foreach (var i in moved)
            {
                other[i] = to;
            }

            return other;
        }

        /// <summary>Money, risk and waiting; what is missing to a least sum is bought too.</summary>
        private double Cost(int[] chosen)
        {
            var cost = ToLeast(chosen);
            Span<bool> sent = stackalloc bool[candidates.Count];
            for (var i = 0; i < chosen.Length; i++)
            {
                cost += costs[i][chosen[i]] + (sent[chosen[i]] ? 0 : candidates[chosen[i]].Fixed);
                sent[chosen[i]] = true;
            }

            foreach (var machine in together)
            {
                cost += Waiting(machine.Max(i => candidates[chosen[i]].Arrives));
            }

            return cost;
        }

        private double ToLeast(int[] chosen)
        {
            var missing = 0.0;
            for (var c = 0; c < candidates.Count; c++)
            {
                if (candidates[c].Least > 0 && LinesOf(chosen, c) is { Length: > 0 } mine)
                {
                    missing +=
                        Math.Max(0, candidates[c].Least - mine.Sum(i => (double)ways[i][c]!.Goods.Amount))
                        * candidates[c].Border;
                }
            }

            return missing;
        }

        private double Waited(int[] chosen) => Waited(i => candidates[chosen[i]].Arrives);

        /// <param name="arrives">By line.</param>
        private double Waited(Func<int, DateOnly> arrives) =>
            lines
                .Select((l, i) => (l.Waits, Arrives: arrives(i)))
                .Where(l => l.Waits is not null)
                .GroupBy(l => l.Waits)
                .Sum(g => Waiting(g.Max(l => l.Arrives)));

        private double Waiting(DateOnly arrives) => perDay * (arrives.DayNumber - today.DayNumber);

        /// <summary>What it costs when every line is ordered by itself.</summary>
        private double Apart() =>
            single.Sum(i => Alone(i, candidates.Count - 1))
            + together.Sum(machine =>
                Enumerable
                    .Range(0, candidates.Count)
                    .Min(last => Waiting(candidates[last].Arrives) + machine.Sum(i => Alone(i, last)))
            );

        /// <summary>A line ordered by itself, by one of the candidates up to one.</summary>
        private double Alone(int line, int last) =>
            Enumerable
                .Range(0, last + 1)
                .Where(c => ways[line][c] is not null)
                .Select(c =>
                    costs[line][c]
                    + candidates[c].Fixed
                    + (Math.Max(0, candidates[c].Least - (double)ways[line][c]!.Goods.Amount) * candidates[c].Border)
                )
                .DefaultIfEmpty(double.PositiveInfinity)
                .Min();

        private Shipment Shipped(int[] chosen, int candidate)
        {
            var mine = LinesOf(chosen, candidate);
            var (road, by) = (candidates[candidate].Road, ways[mine[0]][candidate]!.Bid.Freight);
            var sent = mine.Select(i => ways[i][candidate]!).ToList();
            // All figures were converted once already, so that nothing can be unknown here.
            var (_, shares) = SharedFreight
                .Of(
                    by,
                    [.. mine.Zip(sent, (i, w) => new ShipmentLine(lines[i].For, w.Bid.Offer.WeightKg * w.Quantity))],
                    exchange
                )
                .Value;
            var clearing = exchange.ToHome(road.Brokerage).Value.Amount;
            var sending = shares.Sum(s => s.Share.Amount);
            var shipped = mine.Zip(sent)
                .Zip(
                    shares,
                    (m, share) =>
                    {
                        var (line, way) = (lines[m.First], m.Second);
                        var cleared = sending == 0 ? 0 : share.Share.Amount * clearing / sending;
                        var dutiable = way.Goods.Amount + share.Share.Amount - cleared;
                        var border = new Money(
                            (((dutiable * road.Duty) + cleared) * road.Tax) - dutiable - cleared,
                            exchange.Home
                        ).Rounded();
                        return new ShippedLine(
                            line,
                            way.Bid,
                            way.Quantity,
                            way.Goods,
                            share.Share,
                            border,
                            way.Goods + share.Share + border
                        );
                    }
                )
                .ToList();
            var bought = sent.Aggregate(
                new Money(0, sent[0].Bid.Offer.Price.Currency),
                (sum, w) => sum + (w.Bid.Offer.Price * w.Quantity)
            );
            var (cost, waited) = (Cost(chosen), Waited(chosen));
            var others = Enumerable
                .Range(0, candidates.Count)
                .Where(c => c != candidate)
                .Select(c => (To: candidates[c], Chosen: Moved(chosen, mine, c)))
                .Where(o => o.Chosen is not null)
                .Select(o => (o.To, More: Cost(o.Chosen!) - cost, Longer: Waited(o.Chosen!) - waited))
                .OrderBy(o => o.More)
                .Select(o => new OtherShipment(
                    o.To.Road.Supplier,
                    o.To.Road.Freight,
                    o.To.Leaves,
                    o.To.Arrives,
                    Home(o.More - o.Longer),
                    Home(o.Longer)
                ))
                .ToList();
            var (leaves, arrives) = (candidates[candidate].Leaves, candidates[candidate].Arrives);
            var last = LastDay(sent, leaves);
            return new Shipment(
                road.Supplier,
                by,
                leaves,
                arrives,
                last,
                sent.Min(w => w.Bid.Freight.Carrier.CutOff),
                shipped,
                shipped.Aggregate(new Money(0, exchange.Home), (sum, l) => sum + l.Landed),
                road.Least is { } least && bought < least ? least + (bought * -1) : null,
                others.Find(o => o.Arrives < arrives),
                others.Find(o => o.Arrives > arrives),
                Next(chosen, candidate, sent, last)
            );
        }

        /// <param name="last">The last day on which all of it can be ordered for this sailing.</param>
        private NextSailing? Next(int[] chosen, int candidate, List<Way> sent, DateOnly last)
        {
            var (road, _, send, _) = candidates[candidate];
            var sailings = sent.ConvertAll(w => Sails(w, last.AddDays(1)));
            if (
                lately?.GetValueOrDefault(road.Supplier) is not { } often
                || sailings.Max() is not { } next
                || sailings.Contains(null)
            )
            {
                return null;
            }

            var chance = often.Within(LastDay(sent, next).DayNumber - last.DayNumber);
            var arrives = next.AddDays(road.Transit);
            var waits = Waited(i => chosen[i] == candidate ? arrives : candidates[chosen[i]].Arrives) - Waited(chosen);
            return new NextSailing(next, arrives, chance, Home(chance * send), Home(waits));
        }

        private DateOnly LastDay(List<Way> sent, DateOnly leaves)
        {
            var day = today;
            while (sent.TrueForAll(InTime))
            {
                day = day.AddDays(1);
            }

            return day;

            bool InTime(Way way) => Sails(way, day.AddDays(1)) <= leaves;
        }

        /// <returns>The day it leaves when ordered on a day; null where nothing sails any more.</returns>
        private static DateOnly? Sails(Way way, DateOnly ordered) =>
            LandedCost.Sailing(way.Bid.Offer, way.Bid.Freight, ordered).Try(out var then, out _) ? then : null;

        private Money Home(double amount) => new Money((decimal)amount, exchange.Home).Rounded();
    }
}
