namespace Zenrik.Web.Drawing;

/// <summary>A battery's health over time, as figures; the partial draws it.</summary>
/// <param name="From">The first day shown.</param>
/// <param name="To">The last day shown.</param>
public sealed record HealthChart(IReadOnlyList<BatteryRecord> Readings, DateTimeOffset From, DateTimeOffset To)
{
    public const double Width = 420;
    public const double Height = 130;

    private const double Left = 40;
    private const double Right = 10;
    private const double Above = 8;
    private const double Bottom = 22;

    /// <summary>Marks of the health axis.</summary>
    public static IReadOnlyList<double> Marks { get; } = [0, 0.25, 0.5, 0.75, 1];

    /// <summary>The battery that is in it now: what the one before had left says nothing of it.</summary>
    public static HealthChart? Of(IReadOnlyList<BatteryRecord> readings)
    {
        BatteryRecord[] own = readings.Count == 0 ? [] : [.. readings.SkipWhile(r => r.ItemId != readings[^1].ItemId)];
        return own.Length < 2 || own[0].At == own[^1].At ? null : new HealthChart(own, own[0].At, own[^1].At);
    }

    public double X(DateTimeOffset at) => Left + ((Width - Left - Right) * ((at - From) / (To - From)));

    public static double Y(double health) => Above + ((Height - Above - Bottom) * (1 - Math.Clamp(health, 0, 1)));

    /// <summary>Stretches between exchanges: a new battery begins a new line.</summary>
    public IEnumerable<IReadOnlyList<BatteryRecord>> Lines
    {
        get
        {
            var line = new List<BatteryRecord>();
            foreach (var reading in Readings)
            {
                if (line.Count > 0 && line[^1].ItemId != reading.ItemId)
                {
                    yield return line;
                    line = [];
                }

                line.Add(reading);
            }

            yield return line;
        }
    }
}
