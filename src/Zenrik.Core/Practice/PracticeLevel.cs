namespace Zenrik.Core.Practice;

/// <summary>How much a learner is shown. Each level hides what the one before it showed, and more.</summary>
public enum PracticeLevel
{
    /// <summary>What comes next is said; the right tool is always in hand.</summary>
    Guided,

    /// <summary>No plan: names, counts and the drawing. Tools are chosen, screws are laid where the learner says.</summary>
    Drawing,

    /// <summary>Names are gone: "a ribbon, left at the hinge". What holds a part unseen is to be found.</summary>
    Nameless,

    /// <summary>Counts and sizes are gone too: screws are counted, and each group goes back out of the field it was laid in.</summary>
    Uncounted,
}
