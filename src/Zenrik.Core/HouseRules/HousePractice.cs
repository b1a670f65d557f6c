using System.Collections.Immutable;

namespace Zenrik.Core.HouseRules;

/// <summary>A workshop's practice: its answer to each question of the <see cref="RuleBook"/>. Immutable.</summary>
public sealed class HousePractice : IEquatable<HousePractice>
{
    private readonly ImmutableSortedDictionary<string, string> chosen;

    private HousePractice(ImmutableSortedDictionary<string, string> chosen) => this.chosen = chosen;

    /// <summary>Every question at its default.</summary>
    public static HousePractice Default { get; } =
        new(ImmutableSortedDictionary.Create<string, string>(StringComparer.Ordinal));

    /// <summary>What departs from the defaults, as "rule=school", sorted; what is stored.</summary>
    public IEnumerable<string> Departures => chosen.Select(c => $"{c.Key}={c.Value}");

    /// <summary>The school in force.</summary>
    public TSchool Of<TSchool>(HouseRule<TSchool> rule)
        where TSchool : struct, Enum => rule.Read(Of((HouseRule)rule).Id);

    /// <summary>The school in force.</summary>
    public School Of(HouseRule rule) => rule.Find(chosen.GetValueOrDefault(rule.Id, rule.Default.Id))!;

    /// <summary>The same practice but for one rule.</summary>
    public HousePractice With<TSchool>(HouseRule<TSchool> rule, TSchool school)
        where TSchool : struct, Enum => With(rule, rule.Of(school));

    /// <summary>The same practice but for one rule; names that are not in the rule book are refused.</summary>
    public Outcome<HousePractice> With(string ruleId, string schoolId) =>
        RuleBook.Find(ruleId) is not { } rule
            ? new Refusal(
                RefusalReason.NotFound,
                $"There is no house rule \"{ruleId}\". Known: {string.Join(", ", RuleBook.All.Select(r => r.Id))}."
            )
        : rule.Find(schoolId) is not { } school
            ? new Refusal(
                RefusalReason.NotFound,
                $"The rule \"{ruleId}\" has no school \"{schoolId}\". Known: {string.Join(", ", rule.Schools.Select(s => s.Id))}."
            )
        : With(rule, school);

    /// <summary>Reads what <see cref="Departures"/> wrote.</summary>
    /// <exception cref="InvalidOperationException">A line names no rule or school.</exception>
    public static HousePractice Read(IEnumerable<string> departures) =>
        departures.Select(d => d.Split('=', 2)).Aggregate(Default, (practice, d) => practice.With(d[0], d[^1]).Value);

    private HousePractice With(HouseRule rule, School school) =>
        new(school == rule.Default ? chosen.Remove(rule.Id) : chosen.SetItem(rule.Id, school.Id));

    public bool Equals(HousePractice? other) => other is not null && chosen.SequenceEqual(other.chosen);

    public override bool Equals(object? obj) => Equals(obj as HousePractice);

    public override int GetHashCode() => string.Join('&', Departures).GetHashCode(StringComparison.Ordinal);
}
