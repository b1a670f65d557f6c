namespace Zenrik.Core.Economics;

/// <summary>What can be done with a broken unit.</summary>
public enum Way
{
    /// <summary>Exchange the part that failed.</summary>
    Part,

    /// <summary>Exchange an assembly that contains it.</summary>
    Assembly,

    /// <summary>Take the part from a donor.</summary>
    Donor,

    /// <summary>Send it to a specialist.</summary>
    SendAway,

    /// <summary>Take it out of use and buy another.</summary>
    Retire,
}

/// <summary>One way with what it takes.</summary>
/// <param name="Name">As it is shown: "exchange the deck".</param>
/// <param name="Parts">Money for parts, expected until working; for retiring, the price of the unit that comes instead.</param>
/// <param name="Minutes">Hands-on minutes.</param>
/// <param name="DaysOut">Days the user is without the unit.</param>
/// <param name="Chance">That the unit works afterwards; in (0, 1].</param>
/// <param name="Months">Months of use it gives.</param>
public sealed record WayOut(
    Way Way,
    string Name,
    decimal Parts,
    double Minutes,
    double DaysOut,
    double Chance,
    double Months
);

/// <summary>What the house pays and reckons with; money in its currency.</summary>
/// <param name="LabourPerHour">Pay for an hour.</param>
/// <param name="LoanPerDay">What a loan unit costs a day.</param>
public sealed record Rates(decimal LabourPerHour, decimal LoanPerDay)
{
    public decimal Labour(WayOut way) => LabourPerHour * (decimal)way.Minutes / 60;

    public decimal Loan(WayOut way) => LoanPerDay * (decimal)way.DaysOut;

    /// <summary>What a way costs, whether it works or not.</summary>
    public decimal Spent(WayOut way) => way.Parts + Labour(way) + Loan(way);
}

/// <param name="Cost">Expected: parts, work, loan unit; and what is lost when it does not work.</param>
/// <param name="PerMonth">Cost for each month of use it gives.</param>
public sealed record WeighedWay(
    WayOut Option,
    decimal PartsCost,
    decimal Labour,
    decimal Loan,
    decimal Cost,
    decimal PerMonth
);

/// <summary>What would have to change for the recommendation to change.</summary>
/// <param name="What">"the months of use left", "the price of a new unit".</param>
/// <param name="Now">Its value now.</param>
/// <param name="Turns">The value at which the other way is as good; null when no value turns it.</param>
/// <param name="To">The way that is then better.</param>
public sealed record Turn(string What, double Now, double? Turns, string? To, string Sentence);

/// <param name="Ways">Cheapest a month first.</param>
/// <param name="Useless">Ways that give no month of use, so that there is nothing to weigh: their names.</param>
public sealed record Decision(IReadOnlyList<WeighedWay> Ways, IReadOnlyList<Turn> Turns, IReadOnlyList<string> Useless)
{
    public WeighedWay Best => Ways[0];
}

/// <summary>
/// Cost a remaining month of use. A way costs parts + minutes × pay + days out × loan unit; with chance p it gives its
/// months. If it fails, the unit is retired after all: its cost is spent and retiring's is paid, for retiring's months.
/// Expected cost ÷ expected months is what ways are compared by.
/// </summary>
public static class Deciding
{
    /// <summary>Weighs the ways; retiring must be among them, since everything else is measured against it.</summary>
    public static Outcome<Decision> Weigh(IReadOnlyList<WayOut> ways, Rates rates)
    {
        if (ways.All(w => w.Way != Way.Retire))
        {
            return new Refusal(
                RefusalReason.Invalid,
                "Retiring the unit must be among the ways: the others are measured against it."
            );
        }

        foreach (var way in ways)
        {
            if (way.Parts < 0 || way.Minutes < 0 || way.DaysOut < 0)
            {
                return new Refusal(RefusalReason.Invalid, $"{way.Name}: parts, minutes and days are not negative.");
            }

            if (
                !(
                    way.Parts <= MostMoney
                    && way.Minutes <= MostFigure
                    && way.DaysOut <= MostFigure
                    && way.Months <= MostFigure
                )
            )
            {
                return new Refusal(RefusalReason.Invalid, $"{way.Name}: figures that no repair has. Correct them.");
            }

            if (way.Chance is <= 0 or > 1)
            {
                return new Refusal(RefusalReason.Invalid, $"{way.Name}: the chance to work is above 0 and at most 1.");
            }

            if (way is { Way: Way.Retire, Months: <= 0 } || way.Months < 0)
            {
                return new Refusal(RefusalReason.Invalid, $"{way.Name}: it gives no months of use.");
            }
        }

        if (rates.LabourPerHour > MostMoney || rates.LoanPerDay > MostMoney)
        {
            return new Refusal(RefusalReason.Invalid, "Pay and loan cost are figures that no house has. Correct them.");
        }

        if (rates.LabourPerHour < 0 || rates.LoanPerDay < 0)
        {
            return new Refusal(RefusalReason.Invalid, "Pay and loan cost are not negative.");
        }

        var weighed = Order(ways, rates);
        return new Decision(
            weighed,
            Turns(ways, rates, weighed),
            [.. ways.Where(w => w.Way != Way.Retire && w.Months <= 0).Select(w => w.Name)]
        );
    }

    private const decimal MostMoney = 100_000_000;
    private const double MostFigure = 1_000_000;

    /// <summary>The ways with their figures, cheapest a month first.</summary>
    public static IReadOnlyList<WeighedWay> Order(IReadOnlyList<WayOut> ways, Rates rates)
    {
        var retire = ways.First(w => w.Way == Way.Retire);
        var retiring = rates.Spent(retire);
        return
        [
            .. ways.Where(w => w.Way == Way.Retire || w.Months > 0)
                .Select(w =>
                {
                    var spent = rates.Spent(w);
                    var p = w.Way == Way.Retire ? 1 : w.Chance;
                    var cost = spent + ((decimal)(1 - p) * retiring);
                    var months = (p * w.Months) + ((1 - p) * retire.Months);
                    var weighed = new WeighedWay(
                        w,
                        Math.Round(w.Parts, 2),
                        Math.Round(rates.Labour(w), 2),
                        Math.Round(rates.Loan(w), 2),
                        Math.Round(cost, 2),
                        Math.Round(cost / (decimal)months, 2)
                    );
                    return (Weighed: weighed, PerMonth: cost / (decimal)months);
                })
                // By what it is, not by whole coins: rounded, ways that differ little would change places far too late.
                .OrderBy(w => w.PerMonth)
                .ThenBy(w => w.Weighed.Option.DaysOut)
                .ThenBy(w => w.Weighed.Option.Way)
                .Select(w => w.Weighed),
        ];
    }

    /// <summary>
    /// For how many months the unit must still be of use for a way to cost as little a month as retiring it: with C spent,
    /// the chance p, and retiring at R for L months, (C + (1 − p) R) ÷ (p M + (1 − p) L) = R ÷ L at M = C L ÷ (p R).
    /// </summary>
    /// <param name="retire">Must cost something.</param>
    public static double WorthFrom(WayOut way, WayOut retire, Rates rates) =>
        (double)(rates.Spent(way) / rates.Spent(retire)) * retire.Months / way.Chance;

    private static List<Turn> Turns(IReadOnlyList<WayOut> ways, Rates rates, IReadOnlyList<WeighedWay> now)
    {
        var best = now[0].Option;
        var retire = ways.First(w => w.Way == Way.Retire);
        IReadOnlyList<WayOut> With(WayOut old, WayOut changed) => [.. ways.Select(w => w == old ? changed : w)];
        // Months left are the unit's, so they change for every way that keeps it.
        IReadOnlyList<WayOut> WithMonths(double months) =>
            [.. ways.Select(w => w.Way == Way.Retire ? w : w with { Months = months })];
        var kept = best.Way == Way.Retire ? now.Select(w => w.Option).FirstOrDefault(w => w.Way != Way.Retire) : best;
        var turns = new List<Turn>();
        if (kept is not null)
        {
            turns.Add(Find("the months of use left", kept.Months, 0.1, 240, WithMonths, "0", " months"));
            turns.Add(
                Find(
                    $"the parts for “{kept.Name}”",
                    (double)kept.Parts,
                    0,
                    5000,
                    v => With(kept, kept with { Parts = (decimal)v }),
                    "0",
                    ""
                )
            );
            turns.Add(
                Find(
                    $"the chance that “{kept.Name}” works",
                    kept.Chance,
                    0.01,
                    1,
                    v => With(kept, kept with { Chance = v }),
                    "0 %",
                    ""
                )
            );
            turns.Add(
                Find(
                    $"the days out for “{kept.Name}”",
                    kept.DaysOut,
                    0,
                    365,
                    v => With(kept, kept with { DaysOut = v }),
                    "0",
                    " days"
                )
            );
        }

        turns.Add(
            Find(
                "the price of a new unit",
                (double)retire.Parts,
                0,
                20000,
                v => With(retire, retire with { Parts = (decimal)v }),
                "0",
                ""
            )
        );
        return turns;

        Turn Find(
            string what,
            double value,
            double least,
            double most,
            Func<double, IReadOnlyList<WayOut>> at,
            string format,
            string unit
        )
        {
            string Text(double v) =>
                v.ToString(format, System.Globalization.CultureInfo.InvariantCulture) is var n && n == "1"
                    ? n + unit.TrimEnd('s')
                    : n + unit;
            WayOut BestAt(double v) => Order(at(v), rates)[0].Option;
            bool Same(double v) => BestAt(v).Way == best.Way && BestAt(v).Name == best.Name;
            // The nearer of the turning points below and above.
            var found = new[] { Search(value, least), Search(value, most) }
                .OfType<double>()
                .OrderBy(v => Math.Abs(v - value))
                .Cast<double?>()
                .FirstOrDefault();
            if (found is not { } turns)
            {
                return new Turn(
                    what,
                    value,
                    null,
                    null,
                    $"Nothing met in practice of {what} changes it: “{best.Name}” stays the better way."
                );
            }

            var beyond =
                turns < value
                    ? Math.Max(least, turns - ((value - turns) * 1e-3) - 1e-6)
                    : Math.Min(most, turns + ((turns - value) * 1e-3) + 1e-6);
            var to = BestAt(beyond).Name;
            return new Turn(
                what,
                value,
                turns,
                to,
                $"If {what} {(turns < value ? "fell below" : "rose above")} {Text(turns)} (now {Text(value)}), “{to}” would be the better way."
            );

            double? Search(double from, double towards)
            {
                if (Math.Abs(from - towards) < 1e-9 || Same(towards))
                {
                    return null;
                }

                var (same, other) = (from, towards);
                for (var i = 0; i < 60; i++)
                {
                    var middle = (same + other) / 2;
                    (same, other) = Same(middle) ? (middle, other) : (same, middle);
                }

                return other;
            }
        }
    }
}
