namespace Zenrik.Core.Teardown;

/// <summary>
/// An AND/OR graph by index, with what follows from it for every act whatever is chosen: the acts it cannot do without,
/// and the alternatives that could never come first.
/// </summary>
internal sealed class ChoiceNetwork
{
    private readonly Dictionary<Act, int> index;

    public ChoiceNetwork(IReadOnlyDictionary<Act, IReadOnlyList<Requirement>> requirements)
    {
        Acts = [.. requirements.Keys];
        index = Acts.Index().ToDictionary(a => a.Item, a => a.Index);
        Clauses = [.. Acts.Select(a => requirements[a].Select(r => Indices(r)).ToArray())];
        Necessary = new Bits[Acts.Count];
        for (var a = 0; a < Acts.Count; a++)
        {
            Necessary[a] = new Bits(Acts.Count);
            Necessary[a].Add(a);
        }

        while (Spread() || Prune()) { }
    }

    public IReadOnlyList<Act> Acts { get; }

    /// <summary>By act: its requirements, each a list of alternatives. Alternatives that need the act itself are gone.</summary>
    public int[][][] Clauses { get; }

    /// <summary>By act: itself and every act no solution that contains it can be without.</summary>
    public Bits[] Necessary { get; }

    public int IndexOf(Act act) => index[act];

    /// <summary>A requirement by index; acts the graph does not have are left out.</summary>
    public int[] Indices(Requirement requirement) =>
        [.. requirement.AnyOf.Where(index.ContainsKey).Select(a => index[a]).Distinct()];

    /// <summary>What all alternatives of a requirement need is needed. Grows the sets until nothing is new.</summary>
    private bool Spread()
    {
        var changed = false;
        for (var grown = true; grown; changed |= grown)
        {
            grown = false;
            for (var a = 0; a < Acts.Count; a++)
            {
                foreach (var clause in Clauses[a])
                {
                    if (clause.Length == 1)
                    {
                        grown |= Necessary[a].AddAll(Necessary[clause[0]]);
                    }
                    else if (clause.Length > 1)
                    {
                        var common = Necessary[clause[0]].Copy();
                        foreach (var alternative in clause.Skip(1))
                        {
                            common.KeepOnly(Necessary[alternative]);
                        }

                        grown |= Necessary[a].AddAll(common);
                    }
                }
            }
        }

        return changed;
    }

    /// <summary>Drops alternatives that need what they should make possible.</summary>
    private bool Prune()
    {
        var changed = false;
        for (var a = 0; a < Acts.Count; a++)
        {
            for (var c = 0; c < Clauses[a].Length; c++)
            {
                var kept = Clauses[a][c].Where(alternative => !Necessary[alternative][a]).ToArray();
                if (kept.Length < Clauses[a][c].Length)
                {
                    Clauses[a][c] = kept;
                    changed = true;
                }
            }
        }

        return changed;
    }

    /// <summary>What can be done, sooner or later, without ever doing some acts.</summary>
    /// <param name="clauses">By act, its requirements.</param>
    /// <param name="acts">The acts never done.</param>
    public static Bits PossibleWithout(int[][][] clauses, IEnumerable<int> acts)
    {
        var (never, possible) = (acts.ToHashSet(), new Bits(clauses.Length));
        for (var grown = true; grown; )
        {
            grown = false;
            for (var a = 0; a < clauses.Length; a++)
            {
                if (
                    !possible[a]
                    && !never.Contains(a)
                    && Array.TrueForAll(clauses[a], clause => Array.Exists(clause, b => possible[b]))
                )
                {
                    possible.Add(a);
                    grown = true;
                }
            }
        }

        return possible;
    }
}
