using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Triage;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Workshop.Repairs;

/// <summary>How a repair is set apart as dangerous, whichever road the danger came up on.</summary>
internal static class SettingApart
{
    /// <summary>The complaint of a swollen cell, for whoever names it in words of their own.</summary>
    public static Symptom Swollen { get; } =
        ShippedTriage.Knowledge.Symptoms.First(s => s.Stop is not null && Hazards.IsSwelling(s.Name));

    /// <summary>Sets it apart as it stands, in the caller's transaction.</summary>
    /// <param name="symptom">What is dangerous, among what the repair is for from now on; null: a finding that is recorded elsewhere.</param>
    /// <param name="what">What was seen, in a few words.</param>
    /// <returns>What was done, as a sentence.</returns>
    public static async Task<string> SetApart(
        this WorkshopDb db,
        Repair repair,
        Symptom? symptom,
        string what,
        Occasion occasion,
        CancellationToken stop
    )
    {
        if (symptom is not null && !repair.Symptoms.Contains(symptom.Id))
        {
            repair.Symptoms.Add(symptom.Id);
        }

        repair.Go(RepairState.Stopped);
        repair.Decided = $"Set apart by {occasion.By.Name}: {what}";
        await db.Follow(repair, occasion, stop);
        return $"{repair.Code} is set apart: nothing is tested, charged or opened.";
    }
}
