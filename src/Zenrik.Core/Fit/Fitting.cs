using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Fit;

/// <summary>Judges whether items fit. Every verdict carries all its reasons, not the first one only.</summary>
public static class Fitting
{
    /// <summary>The verdict on one item and one slot.</summary>
    public static Outcome<FitAnswer> Judge(FitQuestion question)
    {
        var part = question.Model.PartInSlot(question.Slot);
        if (part is null && question.Specification is null)
        {
            return new Refusal(
                RefusalReason.NotFound,
                $"The {question.Model.Model.Name} has no slot \"{question.Slot}\". It has {string.Join(", ", question.Model.Slots())}."
            );
        }

        var reasons = new Reasons(question);
        if (question.Specification is { Soldered: true })
        {
            reasons.Against("What is in this slot is soldered to the board: nothing can be exchanged.");
            return reasons.Answer;
        }

        if (part is { Optional: true })
        {
            VariantRules.Judge(question, part, reasons);
        }

        switch (question.Specification)
        {
            case Specification.Memory slot:
                MemoryRules.Judge(question, slot, reasons);
                break;
            case Specification.Drive slot:
                DriveRules.Judge(question, slot, reasons);
                break;
            case Specification.Radio slot:
                RadioRules.Judge(question, slot, reasons);
                break;
            case Specification.Battery slot:
                BatteryRules.Judge(question, slot, reasons);
                break;
            case Specification.CoinCell slot:
                CoinCellRules.Judge(question, slot, reasons);
                break;
            case Specification.Cellular slot:
                CellularRules.Judge(question, slot, reasons);
                break;
            case Specification.Charger slot:
                ChargerRules.Judge(question, slot, reasons);
                break;
            case Specification.Display slot:
                DisplayRules.Judge(question, slot, reasons);
                break;
            default:
                ListedRules.Judge(question, reasons);
                break;
        }

        reasons.Record();
        return reasons.Answer;
    }
}
