using System.Globalization;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Collects reasons and words them alike.</summary>
internal sealed class Reasons(FitQuestion question)
{
    private readonly List<FitReason> reasons = [];

    /// <summary>
    /// All reasons. What is merely not known of a number stands back where a person has listed it for the slot; what
    /// speaks against it does not, nor what is still to be seen of the unit.
    /// </summary>
    public FitAnswer Answer
    {
        get
        {
            var all = reasons.ToList();
            if (question.ListedBy is { } listing)
            {
                all.RemoveAll(r => r is { Weight: FitWeight.Missing, OfNumber: true });
                all.Add(
                    new FitReason(
                        FitWeight.For,
                        $"Listed for this slot by {listing.Name} on {listing.On.ToString("d MMM yyyy", CultureInfo.InvariantCulture)}.",
                        Evidence.Person
                    )
                );
            }

            return new FitAnswer([.. all.OrderByDescending(r => r.Weight)]);
        }
    }

    public void For(string text, Evidence evidence = Evidence.Specification) => Add(FitWeight.For, text, evidence);

    public void If(string text, Evidence evidence = Evidence.Specification) => Add(FitWeight.Condition, text, evidence);

    public void Against(string text, Evidence evidence = Evidence.Specification) =>
        Add(FitWeight.Against, text, evidence);

    /// <summary>A fact of the unit or its model is missing.</summary>
    public void Missing(string text, Evidence evidence = Evidence.Specification) =>
        Add(FitWeight.Missing, text, evidence);

    /// <summary>A fact of the number is missing.</summary>
    public void NotKnown(string text, Evidence evidence = Evidence.Specification) =>
        reasons.Add(new FitReason(FitWeight.Missing, text, evidence) { OfNumber = true });

    /// <summary>Stands against it unless somebody has signed for it.</summary>
    public void Waivable(HouseRule rule, string text, string whenWaived)
    {
        if (question.Waived.Contains(rule.Id))
        {
            Add(FitWeight.Condition, whenWaived, Evidence.HouseRule);
        }
        else
        {
            reasons.Add(new FitReason(FitWeight.Against, text, Evidence.HouseRule, rule.Id));
        }
    }

    /// <summary>The fact, or null after saying that it is missing.</summary>
    public T? Need<T>(T? fact, string what)
        where T : struct
    {
        if (fact is null)
        {
            NotKnown($"Not known of this number: {what}.");
        }

        return fact;
    }

    public string? Need(string? fact, string what)
    {
        if (fact is null)
        {
            NotKnown($"Not known of this number: {what}.");
        }

        return fact;
    }

    /// <summary>Power in W against the least that is wanted.</summary>
    public void Watts(double? watts, double? least)
    {
        if (Need(watts, "its power in W") is { } has && has < least)
        {
            If(
                FormattableString.Invariant(
                    $"{has:0} W instead of {least:0}: it charges slower, or not while working."
                ),
                Evidence.Practice
            );
        }
    }

    /// <summary>What this workshop has seen of the number in this model.</summary>
    public void Record()
    {
        var (fitted, failed) = question.Record;
        if (fitted > 0)
        {
            var times = fitted == 1 ? "once" : $"{fitted.ToString(CultureInfo.InvariantCulture)} times";
            var text = $"Fitted {times} in a {question.Model.Model.Name} here";
            if (failed == fitted && fitted >= WarnedOff)
            {
                Against($"{text}, and came out again every time: not once more.", Evidence.Record);
            }
            else if (failed == 0)
            {
                For($"{text}, and stayed.", Evidence.Record);
            }
            else
            {
                If($"{text}; {failed} of them had to come out again.", Evidence.Record);
            }
        }
    }

    /// <summary>So many times in vain, and the workshop's own record speaks against it. Common practice, no published source.</summary>
    private const int WarnedOff = 3;

    /// <summary>The item, where it is of the kind that is wanted; otherwise says that it is of another, or not known.</summary>
    public TItem? Wanted<TItem>(ItemKind kind)
        where TItem : ItemSpecification
    {
        switch (question.Item)
        {
            case TItem item:
                return item;
            case null:
                NotKnown("Nothing is known of this number but the number: enter what its label or data sheet says.");
                return null;
            default:
                Against($"This is {Name(question.Item.Kind)}, and the slot takes {Name(kind)}.");
                return null;
        }
    }

    private static string Name(ItemKind kind) =>
        kind switch
        {
            ItemKind.Memory => "memory",
            ItemKind.Drive => "a drive",
            ItemKind.Radio => "a radio card",
            ItemKind.Battery => "a battery",
            ItemKind.CoinCell => "a coin cell",
            ItemKind.Keyboard => "a keyboard",
            ItemKind.Display => "a display",
            ItemKind.Board => "a board",
            ItemKind.Power => "a power part",
            ItemKind.Fan => "a fan",
            ItemKind.Cellular => "a cellular card",
            ItemKind.Heatsink => "a heatsink",
            ItemKind.Charger => "a charger",
            _ => "something else",
        };

    private void Add(FitWeight weight, string text, Evidence evidence) =>
        reasons.Add(new FitReason(weight, text, evidence));
}
