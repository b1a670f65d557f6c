namespace Zenrik.Core.Batteries;

/// <summary>Slots that hold a battery: "battery", and "battery-large" where a model is built in more ways than one.</summary>
public static class BatterySlot
{
    public const string Prefix = "battery";

    public static bool Is(string slot) => slot.StartsWith(Prefix, StringComparison.Ordinal);
}
