using System.Globalization;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Collects reasons and words them alike.</summary>
internal sealed class Reasons(FitQuestion question)
{
    private readonly List<FitReason> reasons = [];

    public FitAnswer Answer => new([.. reasons.OrderByDescending(r => r.Weight)]);

    public void For(string text, Evidence evidence = Evidence.Specification) => Add(FitWeight.For, text, evidence);

    public void If(string text, Evidence evidence = Evidence.Specification) => Add(FitWeight.Condition, text, evidence);

    public void Against(string text, Evidence evidence = Evidence.Specification) =>
        Add(FitWeight.Against, text, evidence);

    public void Missing(string text, Evidence evidence = Evidence.Specification) =>
        Add(FitWeight.Missing, text, evidence);

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
            Missing($"Not known of this number: {what}.");
        }

        return fact;
    }

    public string? Need(string? fact, string what)
    {
        if (fact is null)
        {
            Missing($"Not known of this number: {what}.");
        }

        return fact;
    }

    /// <summary>What this workshop has seen of the number in this model.</summary>
    public void Record()
    {
        var (fitted, failed) = question.Record;
        if (fitted > 0)
        {
            var times = fitted == 1 ? "once" : $"{fitted.ToString(CultureInfo.InvariantCulture)} times";
            var text = $"Fitted {times} in a {question.Model.Model.Name} here";
            if (failed == 0)
            {
                For($"{text}, and stayed.", Evidence.Record);
            }
            else
            {
                If($"{text}; {failed} of them had to come out again.", Evidence.Record);
            }
        }
    }

    /// <summary>Says that the item is of another kind; true when it is of the right one.</summary>
    public bool Kind(ItemKind wanted)
    {
        if (question.Item is null)
        {
            Missing("Nothing is known of this number but the number: enter what its label or data sheet says.");
            return false;
        }

        if (question.Item.Kind == wanted)
        {
            return true;
        }

        Against($"This is {Name(question.Item.Kind)}, and the slot takes {Name(wanted)}.");
        return false;
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
            _ => "something else",
        };

    private void Add(FitWeight weight, string text, Evidence evidence) =>
        reasons.Add(new FitReason(weight, text, evidence));
}
