using Zenrik.Core.Teardown;

namespace Zenrik.Core.Economics;

public enum SupplyKind
{
    Shelf,
    Order,
    Donor,
}

/// <summary>Where a part could come from. Only what is known to fit and can be had is a supply.</summary>
/// <param name="From">The supplier's name or the donor's tag; empty for the shelf.</param>
/// <param name="Cost">Expected money until one works; what lies on the shelf costs what the next one costs.</param>
/// <param name="DaysOut">Days until the unit is back.</param>
/// <param name="Chance">That it works; in (0, 1].</param>
public sealed record Supply(SupplyKind Kind, string From, decimal Cost, double DaysOut, double Chance);

/// <summary>One assembly a job exchanges.</summary>
/// <param name="Larger">True when it brings more than what failed.</param>
/// <param name="Supplies">The best first within a kind; empty: there is no way by this part.</param>
public sealed record NeededPart(string Name, bool Larger, IReadOnlyList<Supply> Supplies);

/// <summary>What one opening of the machine is for: all of its parts are exchanged, they are no alternatives.</summary>
/// <param name="Minutes">Hands-on, all of it.</param>
public sealed record Job(IReadOnlyList<NeededPart> Parts, double Minutes);

/// <summary>The ways a job can be done.</summary>
public static class WaysOut
{
    /// <summary>What taking a part out of a donor adds to the minutes of its exchange. Common practice, no published source.</summary>
    private const double DonorMinutes = 0.6;

    /// <summary>
    /// From the shelf where it is there, else ordered; and, where donors have some of it, with what they have. A job one
    /// of whose parts cannot be had is no way.
    /// </summary>
    public static IEnumerable<WayOut> Of(Job job, double months)
    {
        foreach (var donors in new[] { false, true })
        {
            var chosen = job.Parts.Select(p => (Part: p, Supply: Choose(p, donors))).ToList();
            if (
                chosen.Count == 0
                || chosen.Exists(c => c.Supply is null)
                || donors != chosen.Exists(c => c.Supply!.Kind == SupplyKind.Donor)
            )
            {
                continue;
            }

            var taken = chosen.Count(c => c.Supply!.Kind == SupplyKind.Donor);
            yield return new WayOut(
                donors ? Way.Donor
                    : chosen.Exists(c => c.Part.Larger) ? Way.Assembly
                    : Way.Part,
                string.Join(" and ", chosen.Select(c => Name(c.Part, c.Supply!))),
                chosen.Sum(c => c.Supply!.Cost),
                job.Minutes * (1 + (DonorMinutes * taken / chosen.Count)),
                chosen.Max(c => c.Supply!.DaysOut),
                chosen.Aggregate(1.0, (p, c) => p * c.Supply!.Chance),
                months
            );
        }
    }

    private static Supply? Choose(NeededPart part, bool donors) =>
        part
            .Supplies.OrderBy(s =>
                s.Kind == SupplyKind.Donor ? (donors ? 0 : 3)
                : s.Kind == SupplyKind.Shelf ? 1
                : 2
            )
            .FirstOrDefault(s => donors || s.Kind != SupplyKind.Donor);

    private static string Name(NeededPart part, Supply supply) =>
        supply.Kind switch
        {
            SupplyKind.Shelf => $"exchange the {part.Name} from the shelf",
            SupplyKind.Order => $"order {Wording.A(part.Name)} from {supply.From}",
            _ => $"take the {part.Name} from {supply.From}",
        };
}
