using Zenrik.Core.Fit;

namespace Zenrik.Demo.World;

/// <summary>
/// How parts of a kind fail in the demo world, so that everything forecast from its history has something to find. The
/// figures are invented.
/// </summary>
/// <param name="Shape">Of a Weibull law: 1 by chance, above 1 by wear.</param>
/// <param name="ScaleDays">Of the same: 63 in 100 have failed by then.</param>
/// <param name="Minutes">Hands-on minutes of an exchange.</param>
internal sealed record FailureProcess(double Shape, double ScaleDays, double Minutes)
{
    /// <summary>The maker's lot of keyboards that gives up early, and who got it.</summary>
    public const string BadLot = "KB-24-07";
    public const string BadLotSite = "Tidewell High";
    public const string BadLotModel = "thimble-11";

    private static readonly FailureProcess Early = new(1.4, 620, 24);

    /// <summary>Null for what does not fail within the demo's years.</summary>
    public static FailureProcess? Of(string slot, ItemKind kind, bool badLot) =>
        badLot && slot == "keyboard-deck" ? Early
        : slot.StartsWith("battery", StringComparison.Ordinal) ? new FailureProcess(3.2, 1250, 14)
        : kind == ItemKind.Keyboard || slot.Contains("keyboard", StringComparison.Ordinal)
            ? new FailureProcess(1.1, 5200, 28)
        : kind == ItemKind.Fan ? new FailureProcess(2.1, 3600, 22)
        : kind == ItemKind.Drive ? new FailureProcess(1.2, 9000, 16)
        : slot == "power-port" ? new FailureProcess(1.6, 5600, 34)
        : kind == ItemKind.Board ? new FailureProcess(1, 14000, 55)
        : null;

    /// <summary>Days until the next failure of a new part.</summary>
    public double Draw(Random random) => ScaleDays * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / Shape);

    /// <summary>A school's machine falls in an exam week: the last of May and the middle of January.</summary>
    /// <returns>The day of its next fall after the given one; null when it does not fall within four years.</returns>
    public static DateTime? NextFall(Random random, DateTime after)
    {
        const double chanceAWeek = 0.018;
        for (var year = after.Year; year <= after.Year + 4; year++)
        {
            foreach (
                var week in new[]
                {
                    new DateTime(year, 1, 14, 0, 0, 0, DateTimeKind.Utc),
                    new DateTime(year, 5, 25, 0, 0, 0, DateTimeKind.Utc),
                    new DateTime(year, 6, 1, 0, 0, 0, DateTimeKind.Utc),
                }
            )
            {
                if (week > after && random.NextDouble() < chanceAWeek)
                {
                    return week.AddDays(random.Next(5)).AddHours(9 + random.Next(6));
                }
            }
        }

        return null;
    }
}
