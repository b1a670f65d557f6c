using System.Numerics;

namespace Zenrik.Core.Teardown;

/// <summary>A set of small whole numbers below a fixed size, compared by content.</summary>
internal readonly struct Bits : IEquatable<Bits>
{
    private readonly ulong[] words;

    public Bits(int size) => words = new ulong[(size + 63) / 64];

    private Bits(ulong[] words) => this.words = words;

    public int Count
    {
        get
        {
            var count = 0;
            foreach (var word in words)
            {
                count += BitOperations.PopCount(word);
            }

            return count;
        }
    }

    public bool this[int i] => (words[i >> 6] >> (i & 63) & 1) != 0;

    public Bits Copy() => new((ulong[])words.Clone());

    public void Add(int i) => words[i >> 6] |= 1UL << (i & 63);

    /// <summary>Adds every member of another set; true when any was new.</summary>
    public bool AddAll(Bits other)
    {
        var grown = false;
        for (var w = 0; w < words.Length; w++)
        {
            var union = words[w] | other.words[w];
            grown |= union != words[w];
            words[w] = union;
        }

        return grown;
    }

    public void Clear() => Array.Clear(words);

    public void KeepOnly(Bits other)
    {
        for (var w = 0; w < words.Length; w++)
        {
            words[w] &= other.words[w];
        }
    }

    public bool Meets(Bits other)
    {
        for (var w = 0; w < words.Length; w++)
        {
            if ((words[w] & other.words[w]) != 0)
            {
                return true;
            }
        }

        return false;
    }

    public IEnumerable<int> Members
    {
        get
        {
            for (var w = 0; w < words.Length; w++)
            {
                for (var rest = words[w]; rest != 0; rest &= rest - 1)
                {
                    yield return (w << 6) + BitOperations.TrailingZeroCount(rest);
                }
            }
        }
    }

    public bool Equals(Bits other) => words.AsSpan().SequenceEqual(other.words);

    public override bool Equals(object? obj) => obj is Bits other && Equals(other);

    public override int GetHashCode()
    {
        var hash = 14695981039346656037UL;
        foreach (var word in words)
        {
            hash = (hash ^ word) * 1099511628211UL;
            hash ^= hash >> 29;
        }

        return (int)hash;
    }
}
