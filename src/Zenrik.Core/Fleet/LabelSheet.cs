namespace Zenrik.Core.Fleet;

/// <summary>How labels lie on a sheet of A4, in millimetres. Sizes in common use, from memory.</summary>
/// <param name="Columns">Labels side by side.</param>
/// <param name="Rows">Labels one below the other.</param>
/// <param name="Width">Of one label.</param>
/// <param name="Height">Of one label.</param>
/// <param name="Left">Paper before the first column.</param>
/// <param name="Top">Paper before the first row.</param>
/// <param name="PitchX">From one label's left edge to the next one's.</param>
/// <param name="PitchY">From one label's top edge to the next one's.</param>
public sealed record LabelSheet(
    string Id,
    int Columns,
    int Rows,
    double Width,
    double Height,
    double Left,
    double Top,
    double PitchX,
    double PitchY
)
{
    public const double PaperWidth = 210;

    public const double PaperHeight = 297;

    public static IReadOnlyList<LabelSheet> All { get; } =
    [
        new("65", 5, 13, 38.1, 21.2, 4.75, 10.7, 40.6, 21.2),
        new("24", 3, 8, 63.5, 33.9, 7.2, 12.9, 66, 33.9),
        new("21", 3, 7, 63.5, 38.1, 7.2, 15.15, 66, 38.1),
        new("8", 2, 4, 99.1, 67.7, 4.65, 13.1, 101.6, 67.7),
    ];

    public int Count => Columns * Rows;

    public string Name => FormattableString.Invariant($"{Count} on a sheet, {Width:0.#} × {Height:0.#} mm");

    /// <summary>Side of the QR code with its quiet zone: as large as the label allows.</summary>
    public double QrSide => Math.Min(Height - 2, Width * 0.45);

    public static LabelSheet? Find(string? id) => All.FirstOrDefault(s => s.Id == id);

    /// <summary>Left and top edge of a label, in mm from the sheet's corner, counted row by row.</summary>
    /// <param name="position">0 up to <see cref="Count"/>, not included.</param>
    /// <exception cref="ArgumentOutOfRangeException">The sheet has no such label.</exception>
    public (double X, double Y) At(int position)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(position);
        ArgumentOutOfRangeException.ThrowIfGreaterThanOrEqual(position, Count);
        return (Left + (position % Columns * PitchX), Top + (position / Columns * PitchY));
    }

    /// <summary>Spreads labels over sheets, beginning where a sheet used before has its first label left.</summary>
    /// <param name="used">Labels already gone from the first sheet; more than a sheet has are taken as none.</param>
    public IReadOnlyList<IReadOnlyList<(T Label, double X, double Y)>> Lay<T>(IReadOnlyList<T> labels, int used = 0)
    {
        var gone = used < 0 || used >= Count ? 0 : used;
        return
        [
            .. labels
                .Select((label, i) => (Label: label, Place: gone + i))
                .GroupBy(l => l.Place / Count)
                .Select(sheet =>
                    (IReadOnlyList<(T, double, double)>)
                        [.. sheet.Select(l => (l.Label, At(l.Place % Count).X, At(l.Place % Count).Y))]
                ),
        ];
    }
}
