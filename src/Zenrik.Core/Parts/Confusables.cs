namespace Zenrik.Core.Parts;

/// <summary>
/// Characters that are misread for each other on labels: O D Q 0, I l 1 7, S 5, B 8, Z 2, G 6, U V W. Common practice, no
/// published source.
/// </summary>
public static class Confusables
{
    /// <summary>What a misread character costs, against 1 for any other slip.</summary>
    public const double LookAlikeCost = 0.25;

    private const string From = "ODQIL7SBZGWU";
    private const string To = "000111" + "5826VV";

    /// <summary>Replaces each character by one representative of its look-alikes.</summary>
    public static string Fold(string canonical) => string.Concat(canonical.Select(Fold));

    /// <summary>
    /// Edit distance (Levenshtein 1966) in which exchanging look-alikes costs <see cref="LookAlikeCost"/> and exchanging
    /// two neighbours costs 1.
    /// </summary>
    public static double Distance(string a, string b)
    {
        var d = new double[a.Length + 1, b.Length + 1];
        for (var i = 1; i <= a.Length; i++)
        {
            d[i, 0] = i;
        }

        for (var j = 1; j <= b.Length; j++)
        {
            d[0, j] = j;
        }

        for (var i = 1; i <= a.Length; i++)
        {
            for (var j = 1; j <= b.Length; j++)
            {
                var (x, y) = (a[i - 1], b[j - 1]);
                var exchange =
                    x == y ? 0
                    : Fold(x) == Fold(y) ? LookAlikeCost
                    : 1;
                d[i, j] = Math.Min(Math.Min(d[i - 1, j] + 1, d[i, j - 1] + 1), d[i - 1, j - 1] + exchange);
                if (i > 1 && j > 1 && x == b[j - 2] && y == a[i - 2])
                {
                    d[i, j] = Math.Min(d[i, j], d[i - 2, j - 2] + 1);
                }
            }
        }

        return d[a.Length, b.Length];
    }

    /// <summary>The known codes nearest to one that is not known, best first; ties in the order given.</summary>
    public static IReadOnlyList<string> Nearest(string unknown, IEnumerable<string> known, int count)
    {
        var wanted = PartNumber.Canonicalise(unknown);
        return [.. known.OrderBy(code => Distance(wanted, PartNumber.Canonicalise(code))).Take(count)];
    }

    private static char Fold(char c) => From.IndexOf(c, StringComparison.Ordinal) is var at and >= 0 ? To[at] : c;
}
