using System.Globalization;

namespace Zenrik.Core.Fit;

/// <summary>One fact as a person enters it.</summary>
/// <param name="Name">As it is sent.</param>
/// <param name="Label">As it is asked, with its unit.</param>
/// <param name="Choices">What may be chosen; empty for a figure or a text.</param>
/// <param name="Least">Least figure; null for a text or a choice.</param>
/// <param name="Most">Largest figure; for a text the most characters.</param>
public abstract record FormField(
    string Name,
    string Label,
    IReadOnlyList<Look> Choices,
    double? Least = null,
    double? Most = null
)
{
    /// <summary>True for a number without a fraction.</summary>
    public bool Whole { get; init; }

    /// <summary>True where more than one may be chosen; they are sent with commas between them.</summary>
    public bool Several { get; init; }
}

/// <summary>All that is asked of one kind of thing, among kinds that share a base.</summary>
/// <typeparam name="TBase">What every kind of them is: a specification.</typeparam>
internal abstract record Form<TBase>(IReadOnlyList<FormField> Fields)
{
    /// <summary>What is known, by field; what is not known is left out.</summary>
    public abstract IReadOnlyDictionary<string, string> Values(TBase facts);

    /// <summary>What is known, as lines a person reads: "Voltage, V: 11.4".</summary>
    public abstract IReadOnlyList<string> Lines(TBase facts);

    /// <summary>What was entered, by field. Empty values are not known; what no field asks for is ignored.</summary>
    /// <returns>A refusal naming the field and its range.</returns>
    public abstract Outcome<TBase> Read(IReadOnlyDictionary<string, string?> values);
}

/// <summary>The form of one kind.</summary>
/// <param name="Blank">Such a thing of which nothing is known.</param>
internal sealed record Form<TBase, TFacts>(TFacts Blank, params FormField<TFacts>[] Asked) : Form<TBase>(Asked)
    where TBase : class
    where TFacts : class, TBase
{
    public override IReadOnlyDictionary<string, string> Values(TBase facts) =>
        FormField<TFacts>.Values(Asked, (TFacts)facts);

    public override IReadOnlyList<string> Lines(TBase facts) => FormField<TFacts>.Lines(Asked, (TFacts)facts);

    public override Outcome<TBase> Read(IReadOnlyDictionary<string, string?> values) =>
        FormField<TFacts>.Read(Asked, Blank, values).Try(out var read, out var refusal) ? read : refusal;
}

/// <summary>A field of facts of one kind.</summary>
public sealed record FormField<TFacts> : FormField
    where TFacts : class
{
    private const int UsualText = 40;

    private static readonly Look[] YesNo = [new("true", "yes"), new("false", "no")];

    private readonly Func<TFacts, string?> get;
    private readonly Func<TFacts, string, TFacts> set;

    private FormField(
        string name,
        string label,
        IReadOnlyList<Look> choices,
        Func<TFacts, string?> get,
        Func<TFacts, string, TFacts> set,
        double? least = null,
        double? most = null
    )
        : base(name, label, choices, least, most) => (this.get, this.set) = (get, set);

    internal static FormField<TFacts> Int(
        string name,
        string label,
        int least,
        int most,
        Func<TFacts, int?> get,
        Func<TFacts, int, TFacts> set
    ) =>
        new(
            name,
            label,
            [],
            f => get(f)?.ToString(CultureInfo.InvariantCulture),
            (f, v) => set(f, (int)double.Parse(v, CultureInfo.InvariantCulture)),
            least,
            most
        )
        {
            Whole = true,
        };

    internal static FormField<TFacts> Real(
        string name,
        string label,
        double least,
        double most,
        Func<TFacts, double?> get,
        Func<TFacts, double, TFacts> set
    ) =>
        new(
            name,
            label,
            [],
            f => get(f)?.ToString(CultureInfo.InvariantCulture),
            (f, v) => set(f, double.Parse(v, CultureInfo.InvariantCulture)),
            least,
            most
        );

    internal static FormField<TFacts> Text(
        string name,
        string label,
        Func<TFacts, string?> get,
        Func<TFacts, string, TFacts> set,
        int most = UsualText
    ) => new(name, label, [], get, set, null, most);

    internal static FormField<TFacts> Choice(
        string name,
        string label,
        IReadOnlyList<Look> choices,
        Func<TFacts, string?> get,
        Func<TFacts, string, TFacts> set
    ) => new(name, label, choices, get, set);

    internal static FormField<TFacts> SomeOf(
        string name,
        string label,
        IReadOnlyList<Look> choices,
        Func<TFacts, IEnumerable<string>?> get,
        Func<TFacts, IReadOnlyList<string>, TFacts> set
    ) =>
        new(
            name,
            label,
            choices,
            f => get(f) is { } some ? string.Join(',', some) : null,
            (f, v) => set(f, [.. v.Split(',').Select(p => p.Trim())])
        )
        {
            Several = true,
        };

    internal static FormField<TFacts> Flag(
        string name,
        string label,
        Func<TFacts, bool?> get,
        Func<TFacts, bool, TFacts> set
    ) => Choice(name, label, YesNo, f => get(f)?.ToString().ToLowerInvariant(), (f, v) => set(f, v == "true"));

    /// <summary>What is known, by field; what is not known is left out.</summary>
    internal static IReadOnlyDictionary<string, string> Values(IEnumerable<FormField<TFacts>> fields, TFacts facts) =>
        fields
            .Select(f => (f.Name, Value: f.get(facts)))
            .Where(f => f.Value is not null)
            .ToDictionary(f => f.Name, f => f.Value!);

    /// <summary>What is known, as lines a person reads: "Voltage, V: 11.4".</summary>
    internal static IReadOnlyList<string> Lines(IEnumerable<FormField<TFacts>> fields, TFacts facts) =>
        [
            .. fields.SelectMany(f =>
                f.get(facts) is { } value ? [$"{f.Label}: {f.InWords(value)}"] : Array.Empty<string>()
            ),
        ];

    private string InWords(string value) =>
        string.Join(
            " or ",
            (Several ? value.Split(',') : [value]).Select(v => Choices.FirstOrDefault(c => c.Id == v)?.Name ?? v)
        );

    /// <summary>The facts with what was entered. Empty values are not known; what no field asks for is ignored.</summary>
    /// <returns>A refusal naming the field and its range.</returns>
    internal static Outcome<TFacts> Read(
        IEnumerable<FormField<TFacts>> fields,
        TFacts facts,
        IReadOnlyDictionary<string, string?> values
    )
    {
        foreach (var field in fields)
        {
            if (values.GetValueOrDefault(field.Name)?.Trim() is not { Length: > 0 } value)
            {
                continue;
            }

            if (field.Refuse(value) is { } refusal)
            {
                return refusal;
            }

            facts = field.set(facts, value);
        }

        return facts;
    }

    private Refusal? Refuse(string value)
    {
        if (Choices.Count > 0)
        {
            var chosen = Several ? value.Split(',').Select(v => v.Trim()) : [value];
            return chosen.All(v => Choices.Any(c => c.Id == v))
                ? null
                : Invalid($"{Label}: choose one of {string.Join(", ", Choices.Select(c => c.Name))}.");
        }

        if (Least is { } least)
        {
            return
                double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var figure)
                && double.IsFinite(figure)
                && figure >= least
                && figure <= Most
                && (!Whole || figure == Math.Floor(figure))
                ? null
                : Invalid(
                    FormattableString.Invariant(
                        $"{Label}: “{Short(value)}” is not between {least} and {Most}{(Whole ? ", without a fraction" : "")}."
                    )
                );
        }

        return value.Length <= Most && !value.Any(char.IsControl)
            ? null
            : Invalid(FormattableString.Invariant($"{Label}: at most {Most} characters of a label."));
    }

    private static string Short(string value) => value.Length > 20 ? $"{value[..20]}…" : value;

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
