using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>
/// What no standard describes: keyboards, decks, displays, boards, power parts, fans. A number fits when it is listed for
/// the slot and looks like what is in the unit.
/// </summary>
internal static class ListedRules
{
    public static void Judge(FitQuestion q, Reasons reasons)
    {
        if (q.Listed)
        {
            reasons.For($"The number is listed for this slot of the {q.Model.Model.Name}.");
        }
        else if (q.Record.Fitted - q.Record.Failed > 0)
        {
            reasons.If(
                "The number is not listed for this model; it has been fitted here all the same.",
                Evidence.Record
            );
        }
        else
        {
            reasons.NotKnown(
                $"The number is not listed for the {q.Model.Model.Name}: the maker's list, or the number on the part that is in, would settle it."
            );
        }

        foreach (var trait in Traits(q))
        {
            Look(q, trait, reasons);
        }

        BoardsAndHeatsinks(q, reasons);
        if (
            q.Item is ItemSpecification.Power power
            && q.Inside.GetValueOrDefault(q.Slot) is ItemSpecification.Power now
        )
        {
            Power(power, now, reasons);
        }
    }

    /// <summary>What must be looked at for the assemblies that fill this slot.</summary>
    internal static IEnumerable<Trait> Traits(FitQuestion q) =>
        q
            .Model.Assemblies.Where(a => q.Model.Part(a.Part).Slot == q.Slot)
            .SelectMany(a => a.ByEye)
            .Distinct()
            .Select(id => ByEye.Find(id)!);

    private static void Look(FitQuestion q, Trait trait, Reasons reasons)
    {
        var unit = trait.Find(q.Looks.GetValueOrDefault(trait.Id));
        var item = trait.Find(q.Item?.Looks.GetValueOrDefault(trait.Id));
        if (unit is null)
        {
            reasons.Missing($"Look at the unit: {Sentence.Uncapital(trait.Question)}", Evidence.ByEye);
        }
        else if (item is null)
        {
            reasons.NotKnown(
                $"Not known of this number: {Sentence.Uncapital(trait.Question)} The unit has {unit.Name}.",
                Evidence.ByEye
            );
        }
        else if (unit != item)
        {
            reasons.Against($"The unit has {unit.Name}, this part {item.Name}.", Evidence.ByEye);
        }
        else
        {
            reasons.For($"Looks alike: {unit.Name}.", Evidence.ByEye);
        }
    }

    /// <summary>
    /// A board brings its processor and graphics; a heatsink cools one chip or two. What is in the unit's other slot decides.
    /// </summary>
    private static void BoardsAndHeatsinks(FitQuestion q, Reasons reasons)
    {
        switch (q.Item)
        {
            case ItemSpecification.Board board:
                if (q.Inside.GetValueOrDefault(q.Slot) is ItemSpecification.Board now)
                {
                    if (board.Processor is { } processor && now.Processor is { } before && processor != before)
                    {
                        reasons.If(
                            $"Another processor: {processor} instead of {before}. Tell whoever looks after the fleet."
                        );
                    }

                    if (board.Gb is { } gb && now.Gb is { } had && gb < had)
                    {
                        reasons.If($"{gb} GB of memory soldered to it instead of {had}: slower for its user.");
                    }
                }

                Graphics(board.Graphics, Inside<ItemSpecification.Heatsink>()?.Graphics, "The board", "the heatsink");
                break;
            case ItemSpecification.Heatsink heatsink:
                Graphics(
                    Inside<ItemSpecification.Board>()?.Graphics,
                    heatsink.Graphics,
                    "The board in it",
                    "this heatsink"
                );
                break;
        }

        TItem? Inside<TItem>()
            where TItem : ItemSpecification => q.Inside.Values.OfType<TItem>().FirstOrDefault();

        void Graphics(bool? board, bool? heatsink, string has, string cools)
        {
            if (board is { } chip && heatsink is { } cooled && chip != cooled)
            {
                reasons.Against(
                    chip
                        ? $"{has} has graphics of its own, and {cools} cools the processor alone."
                        : $"{has} has no graphics of its own, and {cools} is shaped for one with."
                );
            }
        }
    }

    private static void Power(ItemSpecification.Power item, ItemSpecification.Power now, Reasons reasons)
    {
        if (reasons.Need(item.Connector, "its plug") is { } plug && now.Connector is { } socket && plug != socket)
        {
            reasons.Against($"Its plug is {plug}, the unit's {socket}.");
        }

        if (
            reasons.Need(item.Volts, "its voltage") is { } volts
            && now.Volts is { } wanted
            && Math.Abs(volts - wanted) > 0.5
        )
        {
            reasons.Against(FormattableString.Invariant($"{volts:0.#} V instead of {wanted:0.#}."));
        }

        reasons.Watts(item.Watts, now.Watts);
    }
}
