using CsCheck;
using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Triage;

public sealed class BoxKitTests
{
    private static readonly string[] Names = ["battery", "board", "fan"];

    private static readonly Gen<KitMachine> Machine = Gen.Select(
        Gen.Int[0, 10],
        Gen.Int[0, 10].Array[3],
        (without, weights) =>
        {
            var sum = without + weights.Sum() + 1.0;
            return new KitMachine(
                without / sum,
                Names.Zip(weights).Where(w => w.Second > 0).ToDictionary(w => w.First, w => w.Second / sum)
            );
        }
    );

    /// <summary>Against every box of fewer parts, each weighed over everything the machines may turn out to want.</summary>
    [Fact]
    public void No_box_of_fewer_parts_cures_as_many() =>
        Gen.Select(Machine.List[1, 4], Gen.Int[10, 95])
            .Sample(
                (machines, percent) =>
                {
                    var share = percent / 100.0;
                    var kit = BoxKit.For(machines, share);
                    var box = Names.Select(n => kit.Lines.FirstOrDefault(l => l.Part == n)?.Count ?? 0).ToArray();
                    kit.Cured.ShouldBe(Cured(machines, box), 1e-9);
                    kit.Reaches.ShouldBe(kit.Cured >= (share * machines.Count) - 1e-9);
                    foreach (var other in Boxes(machines.Count).Where(b => b.Sum() < box.Sum()))
                    {
                        Cured(machines, other).ShouldBeLessThan(share * machines.Count);
                    }

                    if (!kit.Reaches)
                    {
                        // Everything that may be wanted with a chance worth a place in the box is in it.
                        kit.Cured.ShouldBeGreaterThan(kit.AtMost - (0.005 * Names.Length * machines.Count));
                    }
                },
                iter: 300
            );

    [Fact]
    public void What_is_known_to_be_wanted_goes_in_whatever_else_does()
    {
        var guess = new KitMachine(0.2, new Dictionary<string, double> { ["battery"] = 0.8 });
        var kit = BoxKit.For([KitMachine.Known(["battery", "fan"]), guess], 0.9);
        kit.Lines.Select(l => (l.Part, l.Count)).ShouldBe([("battery", 2), ("fan", 1)]);
        kit.Cured.ShouldBe(2, 1e-12);
        kit.WithoutParts.ShouldBe(0.2, 1e-12);
        // Half of them cured is what the known one alone gives: nothing is taken on a guess.
        BoxKit.For([KitMachine.Known(["fan"]), guess], 0.5).Lines.ShouldHaveSingleItem().Part.ShouldBe("fan");
        BoxKit.For([], 0.9).ShouldSatisfyAllConditions(k => k.Lines.ShouldBeEmpty(), k => k.Cured.ShouldBe(0));
    }

    [Fact]
    public void Nothing_is_packed_for_a_share_that_is_missed_by_the_rounding_of_a_sum_alone()
    {
        // 0.1 + (0.2 + 0.4) is a little more than (0.1 + 0.4) + 0.2 in binary fractions.
        foreach (var chances in new double[][] { [0.3, 0.2, 0.2], [0.2, 0.3, 0.2], [0.2, 0.2, 0.3], [0.4, 0.2, 0.1] })
        {
            var machine = new KitMachine(0.1, Names.Zip(chances).ToDictionary(w => w.First, w => w.Second));
            BoxKit.For([machine], 0.8).Lines.Count.ShouldBe(3);
            BoxKit.For([machine], 0.1 + chances.Order().Skip(1).Sum()).Lines.Count.ShouldBe(2);
        }
    }

    private static IEnumerable<int[]> Boxes(int most) =>
        from a in Enumerable.Range(0, most + 1)
        from b in Enumerable.Range(0, most + 1)
        from c in Enumerable.Range(0, most + 1)
        select new[] { a, b, c };

    /// <summary>Machines cured, over every way they may turn out.</summary>
    private static double Cured(List<KitMachine> machines, int[] box)
    {
        return Over(0, [.. box]);

        double Over(int at, int[] left)
        {
            if (at == machines.Count)
            {
                return 0;
            }

            var machine = machines[at];
            var rest = 1 - machine.WithoutPart - machine.Parts.Values.Sum();
            var cured = (machine.WithoutPart * (1 + Over(at + 1, left))) + (rest * Over(at + 1, left));
            foreach (var (i, name) in Names.Index())
            {
                var chance = machine.Parts.GetValueOrDefault(name);
                if (chance > 0)
                {
                    var after = (int[])left.Clone();
                    after[i] = Math.Max(0, after[i] - 1);
                    cured += chance * ((left[i] > 0 ? 1 : 0) + Over(at + 1, after));
                }
            }

            return cured;
        }
    }
}
