namespace Zenrik.Core.Fit;

/// <summary>One look a variant can have.</summary>
/// <param name="Id">Stored with units and part numbers.</param>
public sealed record Look(string Id, string Name);

/// <summary>Something units of one model differ in that is seen from outside and decides which number fits.</summary>
/// <param name="Question">As one asks it before ordering.</param>
public sealed record Trait(string Id, string Question, IReadOnlyList<Look> Looks)
{
    public Look? Find(string? lookId) => Looks.FirstOrDefault(l => l.Id == lookId);
}

/// <summary>The variants told apart by eye. Common practice, no published source.</summary>
public static class ByEye
{
    public static IReadOnlyList<Trait> All { get; } =
    [
        new(
            "enter-key",
            "Which shape has the Enter key?",
            [new("tall", "tall, over two rows"), new("wide", "wide, in one row")]
        ),
        new(
            "card-opening",
            "Is there an opening for a card reader?",
            [new("open", "opening in the edge"), new("closed", "no opening")]
        ),
        new("fingerprint", "Is there a fingerprint reader?", [new("reader", "a reader"), new("none", "none")]),
        new(
            "pointing-stick",
            "Is there a pointing stick between the keys?",
            [new("stick", "a stick"), new("none", "none")]
        ),
        new(
            "touch",
            "Does the screen answer to touch?",
            [new("touch", "touch glass, edge to edge"), new("plain", "plain, with a rim")]
        ),
        new("key-light", "Do the keys light up?", [new("lit", "lit keys"), new("unlit", "no light")]),
        new(
            "layout",
            "Which language is printed on the keys?",
            [
                new("en-gb", "English, United Kingdom"),
                new("en-us", "English, United States"),
                new("de", "German"),
                new("fr", "French"),
                new("es", "Spanish"),
                new("it", "Italian"),
                new("nordic", "Nordic"),
                new("other", "another"),
            ]
        ),
        new(
            "cellular-antennas",
            "Are cellular antennas fitted in the lid?",
            [new("fitted", "two leads more"), new("none", "none")]
        ),
    ];

    public static Trait? Find(string? traitId) => All.FirstOrDefault(t => t.Id == traitId);
}
