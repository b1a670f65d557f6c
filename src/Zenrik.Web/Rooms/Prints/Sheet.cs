using Zenrik.Core.Teardown;

namespace Zenrik.Web.Rooms.Prints;

/// <summary>A screw mat to print.</summary>
/// <param name="Title">Model, and the repair it is for.</param>
/// <param name="Goal">"new board".</param>
public sealed record MatSheet(string Title, string Goal, Plan Plan)
{
    public ScrewMat Mat { get; } = ScrewMat.Of(Plan);
}
