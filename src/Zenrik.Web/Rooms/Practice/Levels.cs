using Zenrik.Core.Practice;

namespace Zenrik.Web.Rooms.Practice;

/// <summary>Levels in words.</summary>
public static class Levels
{
    public static IReadOnlyList<(PracticeLevel Level, string Name, string Says)> All { get; } =
    [
        (PracticeLevel.Guided, "guided", "the next act is said, the right tool is in hand"),
        (PracticeLevel.Drawing, "by the drawing", "no plan; you choose the tool and where screws are laid"),
        (PracticeLevel.Nameless, "without names", "you see things and find what holds them"),
        (PracticeLevel.Uncounted, "without counts", "and you count, and know each screw's field on the way back"),
    ];

    public static string Name(PracticeLevel level) => All.First(l => l.Level == level).Name;
}
