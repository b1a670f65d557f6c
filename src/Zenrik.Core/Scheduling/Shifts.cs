namespace Zenrik.Core.Scheduling;

/// <summary>A time somebody works without a break.</summary>
/// <param name="Until">After <paramref name="From"/>.</param>
public readonly record struct Shift(DateTimeOffset From, DateTimeOffset Until)
{
    /// <summary>Whole minutes.</summary>
    public int Minutes => (int)(Until - From).TotalMinutes;
}

/// <summary>
/// The times somebody works. Work laid into them fills one after the other; what is not done at the end of one goes on at
/// the beginning of the next.
/// </summary>
public sealed class Shifts
{
    private readonly Shift[] all;

    /// <summary>Minutes worked before each of them begins.</summary>
    private readonly int[] before;

    private Shifts(Shift[] all)
    {
        this.all = all;
        before = new int[all.Length + 1];
        for (var i = 0; i < all.Length; i++)
        {
            before[i + 1] = before[i] + all[i].Minutes;
        }
    }

    /// <summary>Oldest first; none touches another.</summary>
    public IReadOnlyList<Shift> All => all;

    /// <summary>Whole minutes in all of them.</summary>
    public int Minutes => before[^1];

    /// <summary>What remains of the times worked when the times away are taken out. Either may overlap, and in any order.</summary>
    public static Shifts Of(IEnumerable<Shift> worked, IEnumerable<Shift>? away = null)
    {
        var left = Joined(worked);
        foreach (var gone in Joined(away ?? []))
        {
            left =
            [
                .. left.SelectMany(s =>
                    new[]
                    {
                        new Shift(s.From, s.Until < gone.From ? s.Until : gone.From),
                        new Shift(s.From > gone.Until ? s.From : gone.Until, s.Until),
                    }
                ),
            ];
            left.RemoveAll(s => s.Until <= s.From);
        }

        return new Shifts([.. left.Where(s => s.Minutes > 0)]);
    }

    /// <summary>Times at which anybody works.</summary>
    public static Shifts Together(IEnumerable<Shifts> of) => Of(of.SelectMany(s => s.all));

    /// <summary>Whole minutes worked before a moment.</summary>
    public int Before(DateTimeOffset moment)
    {
        // The first shift that is not over.
        var (low, high) = (0, all.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            (low, high) = all[middle].Until <= moment ? (middle + 1, high) : (low, middle);
        }

        return low == all.Length || moment <= all[low].From
            ? before[low]
            : before[low] + (int)(moment - all[low].From).TotalMinutes;
    }

    /// <summary>When a minute of work begins; between two shifts, at the beginning of the later.</summary>
    /// <param name="minute">From 0, less than <see cref="Minutes"/>.</param>
    public DateTimeOffset Begins(int minute) => At(Array.FindLastIndex(before, b => b <= minute), minute);

    /// <summary>When so many minutes have been worked; between two shifts, at the end of the earlier.</summary>
    /// <param name="minutes">1 to <see cref="Minutes"/>.</param>
    public DateTimeOffset Ends(int minutes) => At(Array.FindLastIndex(before, b => b < minutes), minutes);

    private DateTimeOffset At(int shift, int minutes) =>
        shift < 0 || shift >= all.Length
            ? throw new ArgumentOutOfRangeException(nameof(minutes), minutes, "No shift holds that minute.")
            : all[shift].From.AddMinutes(minutes - before[shift]);

    private static List<Shift> Joined(IEnumerable<Shift> shifts)
    {
        var joined = new List<Shift>();
        foreach (var s in shifts.Where(s => s.Until > s.From).OrderBy(s => s.From))
        {
            if (joined.Count > 0 && s.From <= joined[^1].Until)
            {
                joined[^1] = joined[^1] with { Until = s.Until > joined[^1].Until ? s.Until : joined[^1].Until };
            }
            else
            {
                joined.Add(s);
            }
        }

        return joined;
    }
}
