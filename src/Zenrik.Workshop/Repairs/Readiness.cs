using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>Whether the part of a line is there.</summary>
/// <param name="AnyFree">One that fits is on the shelf and promised to nobody.</param>
/// <param name="Look">What has to be seen of the unit before one that is free can be judged; null when nothing has.</param>
/// <param name="Coming">The day one is due that is on order; null when none is.</param>
internal sealed record LineReadiness(string Assembly, bool Chosen, bool AnyFree, string? Look, DateOnly? Coming)
{
    /// <summary>Whether it lies here: chosen, or to be chosen.</summary>
    public bool IsHere => Chosen || AnyFree;

    /// <summary>Whether it waits for a delivery that is due after the promised day.</summary>
    public bool IsLate(DateOnly? promised) => !IsHere && Coming > promised;
}

/// <summary>What a repair needs before the machine may be opened.</summary>
internal static class Readiness
{
    /// <summary>
    /// One thing that blocks whatever else is there: the machine must not get power yet, or nothing can be planned, since a
    /// later edition of the map may not know any more what an earlier one did.
    /// </summary>
    public static IReadOnlyList<string> Blocks(Core.Refusal why) => [Show(why.Message)];

    private static string Show(string sentence) => Sentence.Uncapital(sentence).TrimEnd('.');

    /// <summary>What is lacking, as short phrases; empty when the repair can go to the bench.</summary>
    public static IReadOnlyList<string> Blocks(
        IEnumerable<LineReadiness> lines,
        IEnumerable<(Consumable Kind, int Needed, int Free)> consumables
    ) =>
        [
            .. lines
                .Where(l => !l.Chosen)
                .Select(l =>
                    l.AnyFree ? $"choose the {l.Assembly}"
                    : l.Look is { } look
                        ? $"look at the unit for the {l.Assembly}: {Sentence.Uncapital(look).TrimEnd('?')}"
                    : l.Coming is { } day
                        ? $"the {l.Assembly} is due on {day.ToString("ddd d MMM", CultureInfo.InvariantCulture)}"
                    : $"no {l.Assembly} free on the shelf"
                ),
            .. consumables
                .Where(c => c.Free < c.Needed)
                .Select(c => $"{c.Kind.Name()}: {c.Needed} needed, {c.Free} free"),
        ];
}
