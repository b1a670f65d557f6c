using Zenrik.Core.Fit;
using Zenrik.Core.Parts;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Repairs;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Workshop.Triage;

/// <summary>A part that may be what failed, and what ordering it now would gain.</summary>
/// <param name="Assembly">Its name.</param>
/// <param name="Free">How many lie free on the shelf; then nothing need be ordered.</param>
/// <param name="Order">The best early order; null when one is on the shelf, or nobody is known to sell one.</param>
public sealed record MaybeNeeded(string Assembly, double Chance, int Free, AheadOrder? Order);

/// <summary>Weighs ordering before triage is over, by what suppliers were last known to ask and to need.</summary>
public sealed class OrderBeforeSure(WorkshopDb db, FitOf fits, OffersFor offers, TimeProvider clock)
{
    /// <summary>Less likely than this nothing is weighed.</summary>
    private const double LeastChance = 0.1;

    private const int Most = 3;

    /// <summary>The parts that most likely failed, as long as it is not sure.</summary>
    public async Task<IReadOnlyList<MaybeNeeded>> Run(TriageView view, CancellationToken stop = default)
    {
        if (view.Advice.Standing != TriageStanding.Open || view.Passport.Fitted is not { } map)
        {
            return [];
        }

        var likely = Likely(view, map);
        if (likely.Count == 0)
        {
            return [];
        }

        var figures = await db.Figures(stop);
        var local = clock.GetLocalNow().DateTime;
        var (today, now) = (DateOnly.FromDateTime(local), TimeOnly.FromDateTime(local));
        if (!(await fits.Slots(view.Passport, [.. likely.Select(l => l.Slot)], stop: stop)).Try(out var judged, out _))
        {
            return [];
        }

        var fitting = Fitting(judged);
        var numbers = fitting.Values.SelectMany(f => f.Values).ToList();
        var stored = await offers.StoredFor([.. numbers.Select(n => n.Canonical).Distinct()], stop);
        var bids = await offers.Bids(stored, numbers, stop);
        return
        [
            .. likely.Select(l =>
            {
                var free = judged[l.Slot].Sum(n => n.Free);
                return new MaybeNeeded(
                    l.Assembly.Name,
                    l.Chance,
                    free,
                    OrderAhead.Best(
                        free > 0
                            ? []
                            :
                            [
                                .. bids.Where(b =>
                                    fitting[l.Slot].ContainsKey(PartNumber.Canonicalise(b.Offer.Number))
                                ),
                            ],
                        l.Chance,
                        today,
                        now,
                        WorkingDays.After(today, 1),
                        figures.Exchange,
                        figures.LoanPerDay
                    )
                );
            }),
        ];
    }

    /// <summary>Asks the suppliers for what may be needed; the answers are there for <see cref="Run"/> afterwards.</summary>
    /// <returns>What was asked for, or why somebody could not be asked, as a sentence.</returns>
    public async Task<string> Ask(TriageView view, CancellationToken stop = default)
    {
        var slots = view.Passport.Fitted is { } map ? Likely(view, map).Select(l => l.Slot).ToList() : [];
        if (
            slots.Count == 0
            || !(await fits.Slots(view.Passport, slots, stop: stop)).Try(out var judged, out _)
            || Fitting(judged).Values.SelectMany(f => f.Values).Select(n => n.Number).Distinct().ToList()
                is not { Count: > 0 } numbers
        )
        {
            return "Nothing is likely enough yet that is known to fit.";
        }

        var (answers, notes) = await offers.Ask(numbers, stop);
        return string.Join(
            ' ',
            notes.Prepend(answers.Count == 0 ? "No supplier has any of them." : "The suppliers were asked.")
        );
    }

    /// <summary>What is not known to fit is not ordered on a guess.</summary>
    private static Dictionary<string, Dictionary<string, CatalogueNumber>> Fitting(
        IReadOnlyDictionary<string, IReadOnlyList<JudgedNumber>> judged
    ) =>
        judged.ToDictionary(
            j => j.Key,
            j =>
                j.Value.Where(n => n.Answer.Verdict is FitVerdict.Fits or FitVerdict.FitsWithConditions)
                    .DistinctBy(n => n.Number.Canonical)
                    .ToDictionary(n => n.Number.Canonical, n => n.Number)
        );

    /// <summary>By assembly that would be ordered, the chances of the faults that only exchanging it cures.</summary>
    private static IReadOnlyList<(Assembly Assembly, string Slot, double Chance)> Likely(
        TriageView view,
        ServiceMap map
    ) =>
        [
            .. WhatToFit
                .Wanted(map, view.Advice.Faults)
                .Where(a => a.Chance >= LeastChance)
                .OrderByDescending(a => a.Chance)
                .Take(Most),
        ];
}
