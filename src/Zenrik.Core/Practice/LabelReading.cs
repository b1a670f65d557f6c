using Zenrik.Core.Parts;

namespace Zenrik.Core.Practice;

/// <summary>A label read.</summary>
/// <param name="Printed">What is on it.</param>
/// <param name="Read">What the learner typed.</param>
/// <param name="Why">What was taken for what; empty when it was read right.</param>
public sealed record LabelRead(string Printed, string Read, string Why)
{
    public bool IsRight => Why.Length == 0;
}

/// <summary>Ten numbers as printed on labels, each with characters that are taken for each other.</summary>
public static class LabelReading
{
    public const int Labels = 10;

    // Look-alikes (see Confusables) and others in turn.
    private const string LookAlikes = "O0DQI1L7S5B8Z2G6UV";
    private const string Plain = "ACEFHJKMNPRTXY349";

    /// <summary>The label of a run: the same number always gives the same ten.</summary>
    /// <param name="index">From 0 to 9.</param>
    public static string Of(int seed, int index)
    {
        var random = new Random(Numbers.Mixed(seed, $"label {index}"));
        char One(string of) => of[random.Next(of.Length)];
        string Group(int length) =>
            string.Concat(Enumerable.Range(0, length).Select(_ => One(random.Next(2) == 0 ? LookAlikes : Plain)));
        return $"{Group(3)}-{One(LookAlikes)}{Group(3)}{One(LookAlikes)}-{Group(2)}";
    }

    /// <summary>The degrees a label may be worn by, from 0.</summary>
    public const int Degrees = 7;

    /// <summary>
    /// How worn the next label is: one degree more after each that was read right, two less after one that was not, so that a
    /// learner stays where about two in three are right.
    /// </summary>
    /// <returns>From 0, hardly, to <see cref="Degrees"/> − 1, by a hair.</returns>
    public static int Degree(IEnumerable<LabelRead> read) =>
        read.Aggregate(1, (degree, r) => Math.Clamp(degree + (r.IsRight ? 1 : -2), 0, Degrees - 1));

    public static LabelRead Judge(string printed, string read)
    {
        var (right, typed) = (PartNumber.Canonicalise(printed), PartNumber.Canonicalise(read));
        if (right == typed)
        {
            return new LabelRead(printed, read, "");
        }

        if (right.Length != typed.Length)
        {
            return new LabelRead(
                printed,
                read,
                typed.Length == 0 ? "nothing was read"
                    : typed.Length < right.Length ? "a character is missing"
                    : "there is a character too many"
            );
        }

        var wrong = right.Zip(typed).Where(c => c.First != c.Second).Select(c => $"{c.Second} for {c.First}");
        return new LabelRead(printed, read, string.Join(", ", wrong));
    }
}
