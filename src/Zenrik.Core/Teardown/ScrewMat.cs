using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Teardown;

/// <summary>A field of the mat: one screw group, where it lies on the sheet.</summary>
/// <param name="Number">The field's number, from 1.</param>
/// <param name="Page">From 0.</param>
/// <param name="X">Left edge, mm from the sheet's.</param>
/// <param name="Y">Top edge, mm from the sheet's.</param>
public sealed record MatField(
    FastenerGroup Group,
    int Number,
    int Page,
    double X,
    double Y,
    double Width,
    double Height
);

/// <summary>
/// A sheet to lay screws on, at true scale: one field a group in the order the groups come out, each screw drawn as large
/// as it is.
/// </summary>
/// <param name="Captive">Groups that stay in their part: named on the sheet, no field.</param>
public sealed record ScrewMat(IReadOnlyList<MatField> Fields, IReadOnlyList<FastenerGroup> Captive, int Pages)
{
    /// <summary>ISO 216 A4, mm.</summary>
    public const double SheetWidth = 210;

    public const double SheetHeight = 297;

    /// <summary>What printers leave blank, and a little more.</summary>
    public const double Margin = 12;

    /// <summary>Room for the sheet's title and the check line.</summary>
    public const double Head = 36;

    /// <summary>Between neighbouring screws, so that fingers can lay them down, mm.</summary>
    public const double Pitch = 11;

    private const int Columns = 3;
    private const double Gap = 4;
    private const double FieldWidth = (SheetWidth - (2 * Margin) - ((Columns - 1) * Gap)) / Columns;
    private const double Caption = 11;

    /// <summary>How many screws lie side by side in a field.</summary>
    public const int Across = 5;

    public static ScrewMat Of(Plan plan)
    {
        var fields = new List<MatField>();
        var (page, column, y, row) = (0, 0, Head, 0.0);
        var groups = plan.FastenersOut.Where(f => !f.Captive).Select((Group, i) => (Group, Number: i + 1));
        if (plan.Basis.Practice.Of(RuleBook.PartsLaid) == PartsLaid.InShape)
        {
            groups = AsInTheMachine(groups);
        }

        foreach (var (group, number) in groups)
        {
            var rows = (group.Count + Across - 1) / Across;
            var height = Caption + (rows * RowHeight(group)) + 3;
            if (y + height > SheetHeight - Margin)
            {
                (page, column, y, row) = (page + 1, 0, Head, 0);
            }

            fields.Add(
                new MatField(group, number, page, Margin + (column * (FieldWidth + Gap)), y, FieldWidth, height)
            );
            row = Math.Max(row, height);
            if (++column == Columns)
            {
                (column, y, row) = (0, y + row + Gap, 0);
            }
        }

        return new ScrewMat(fields, [.. plan.FastenersOut.Where(f => f.Captive)], page + 1);
    }

    /// <summary>Row by row from the hinge edge, left to right, as the groups lie in the machine; their numbers stay.</summary>
    private static IEnumerable<(FastenerGroup Group, int Number)> AsInTheMachine(
        IEnumerable<(FastenerGroup Group, int Number)> groups
    ) =>
        groups
            .OrderBy(g => Middle(g.Group, p => p.Y))
            .ThenBy(g => g.Number)
            .Chunk(Columns)
            .SelectMany(row => row.OrderBy(g => Middle(g.Group, p => p.X)).ThenBy(g => g.Number));

    private static double Middle(FastenerGroup group, Func<Point, double> along) =>
        group.Positions.Select(along).DefaultIfEmpty(0).Average();

    /// <summary>The middle of a screw's head within its field, mm from the field's corner.</summary>
    public static Point Place(FastenerGroup group, int index) =>
        new(
            (Pitch * (index % Across)) + (Pitch * 0.7),
            Caption + (index / Across * RowHeight(group)) + (group.Screw.Thread.HeadMm() / 2)
        );

    private static double RowHeight(FastenerGroup group) => group.Screw.Thread.HeadMm() + group.Screw.LengthMm + 4;
}
