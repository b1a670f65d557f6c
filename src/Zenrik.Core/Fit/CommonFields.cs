namespace Zenrik.Core.Fit;

/// <summary>What is asked alike of a number and of the slot it goes into.</summary>
internal static class CommonFields
{
    /// <summary>Lengths of cards and of mounts, mm (PCI-SIG M.2, from memory).</summary>
    public static IReadOnlyList<Look> M2Lengths { get; } =
    [new("30", "2230"), new("42", "2242"), new("60", "2260"), new("80", "2280"), new("110", "22110")];

    public static FormField<T> Plug<T>(Func<T, string?> get, Func<T, string, T> set)
        where T : class => FormField<T>.Text("connector", "Plug", get, set);

    public static FormField<T> Contacts<T>(Func<T, int?> get, Func<T, int, T> set)
        where T : class => FormField<T>.Int("contacts", "Contacts of its plug", 10, 80, get, set);

    public static FormField<T> Inches<T>(Func<T, double?> get, Func<T, double, T> set)
        where T : class => FormField<T>.Real("inches", "Diagonal, inches", 5, 25, get, set);

    public static FormField<T> PixelsWide<T>(Func<T, int?> get, Func<T, int, T> set)
        where T : class => FormField<T>.Int("pixelsWide", "Picture elements across", 320, 10000, get, set);

    public static FormField<T> PixelsHigh<T>(Func<T, int?> get, Func<T, int, T> set)
        where T : class => FormField<T>.Int("pixelsHigh", "Picture elements down", 240, 10000, get, set);
}
