using System.Runtime.CompilerServices;
using CsCheck;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;

namespace Zenrik.Core.Tests.Triage;

/// <summary>Triage knowledge to test with: the shipped files, and small generated networks.</summary>
internal static class Knowledge
{
    public static IReadOnlyList<(string Name, string Json)> Files { get; } =
    [
        .. Directory
            .EnumerateFiles(Folder(), "*.triage.json")
            .Order(StringComparer.Ordinal)
            .Select(f => (Path.GetFileName(f), File.ReadAllText(f))),
    ];

    public static TriageKnowledge Shipped { get; } = TriageReader.Read(Files).Knowledge!;

    public static TriageNetwork Of(DeviceClass device, params string[] symptoms) =>
        TriageNetwork.Of(Shipped, new TriageCase { Class = device, Symptoms = symptoms }).Value;

    /// <summary>Networks of 2 to 4 faults, 1 to 3 tests and a remedy a fault: small enough for the optimal policy.</summary>
    public static Gen<TriageNetwork> Small { get; } =
        from seed in Gen.Int[1, int.MaxValue - 1]
        from faults in Gen.Int[2, 4]
        from tests in Gen.Int[1, 3]
        select Generate(new Random(seed), faults, tests);

    /// <summary>Remedies only, each for a fault of its own: the case of the ratio rule.</summary>
    public static Gen<TriageNetwork> RemediesOnly { get; } =
        from seed in Gen.Int[1, int.MaxValue - 1]
        from faults in Gen.Int[2, 6]
        select Generate(new Random(seed), faults, 0);

    /// <summary>The same, where some are exchanges: done in vain they cost more than their minutes.</summary>
    public static Gen<TriageNetwork> RemediesInVain { get; } =
        from seed in Gen.Int[1, int.MaxValue - 1]
        from faults in Gen.Int[2, 6]
        select Generate(new Random(seed), faults, 0, exchanges: 0.5);

    public static TriageNetwork Generate(Random random, int faults, int tests, double exchanges = 0)
    {
        double[] Chances(int n)
        {
            var raw = Enumerable.Range(0, n).Select(_ => 0.02 + Math.Pow(random.NextDouble(), 3)).ToArray();
            var sum = raw.Sum();
            return [.. raw.Select(r => r / sum)];
        }

        var weights = Chances(faults);
        var file = new TriageFile
        {
            Format = TriageFile.CurrentFormat,
            Name = "generated",
            Symptoms =
            [
                new Symptom
                {
                    Id = "s",
                    Group = "g",
                    Name = "s",
                },
            ],
            Faults =
            [
                .. weights.Select(
                    (w, i) =>
                        new Fault
                        {
                            Id = $"f{i}",
                            Name = $"f{i}",
                            Nature = FaultNature.Part,
                            Weight = new ClassWeights { Laptop = w, Chromebook = w },
                            Shows = new Dictionary<string, double> { ["s"] = 1 },
                        }
                ),
            ],
            Tests =
            [
                .. Enumerable
                    .Range(0, tests)
                    .Select(t => new TriageTest
                    {
                        Id = $"t{t}",
                        Title = $"t{t}",
                        Minutes = 1 + (random.NextDouble() * 8),
                        Symptoms = ["s"],
                        Outcomes = [new TestOutcome { Id = "a", Name = "a" }, new TestOutcome { Id = "b", Name = "b" }],
                        Given =
                        [
                            .. Enumerable
                                .Range(0, faults)
                                .Select(f => new GivenFaults { Faults = [$"f{f}"], Chances = Chances(2) }),
                        ],
                        Otherwise = [0.5, 0.5],
                    }),
            ],
            Remedies =
            [
                .. Enumerable
                    .Range(0, faults)
                    .Select(f => new Remedy
                    {
                        Id = $"r{f}",
                        Title = $"r{f}",
                        Minutes = 2 + (random.NextDouble() * 60),
                        Exchanges = exchanges > 0 && random.NextDouble() < exchanges ? $"c{f}" : null,
                        Cures =
                        [
                            new Cure
                            {
                                Faults = [$"f{f}"],
                                Chance = tests == 0 ? 0.3 + (0.7 * random.NextDouble()) : 1,
                            },
                        ],
                    }),
            ],
        };
        var all = new TriageKnowledge([file]);
        return TriageNetwork
            .Of(
                all,
                new TriageCase
                {
                    Class = DeviceClass.Laptop,
                    Symptoms = ["s"],
                    Costs = new TriageCosts { GivingUpMinutes = 200, WrongPartMinutes = 50 },
                }
            )
            .Value;
    }

    private static string Folder([CallerFilePath] string here = "") =>
        Path.Combine(Path.GetDirectoryName(here)!, "../../../data/triage");
}
