namespace Zenrik.Core.Parts;

/// <summary>How a serial is read, of a unit or a part: as it is printed, or out of a whole label that was scanned.</summary>
public static class SerialNumber
{
    /// <returns>Exactly what is printed, outer blanks removed; at most <see cref="PartNumber.MaxLength"/> characters.</returns>
    public static Outcome<string> Read(string? typed)
    {
        if (!ScannedLabel.Read(typed ?? "").Try(out var label, out var unreadable))
        {
            return unreadable;
        }

        if (label is { Serial: null })
        {
            return new Refusal(
                RefusalReason.Invalid,
                "That label says no serial. Scan the serial's own code, or type it."
            );
        }

        return PartNumber.Read(label is null ? typed : label.Serial).Try(out var read, out var wrong)
            ? read.Text
            : wrong;
    }

    /// <summary>What a scanned serial may be: itself, and without the data identifier its bar code may begin with.</summary>
    /// <returns>Empty where it cannot be read.</returns>
    public static IReadOnlyList<string> Readings(string scanned) =>
        !Read(scanned).Try(out var serial, out _) ? []
        : ScannedLabel.SerialWithoutIdentifier(serial) is { } bare ? [serial, bare]
        : [serial];
}
