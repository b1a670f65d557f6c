using Zenrik.Core.Fit;
using Zenrik.Core.Parts;

namespace Zenrik.Core.Fleet;

/// <summary>A slot of the unit and what the passport has in it.</summary>
/// <param name="Number">Null when nothing is recorded.</param>
public sealed record RecordedSlot(string Slot, ItemKind Kind, PartNumber? Number, string? Serial);

/// <summary>What follows from one part a machine names, or does not name.</summary>
public abstract record HardwareFinding
{
    private HardwareFinding(string slot) => Slot = slot;

    public string Slot { get; }

    /// <summary>As recorded.</summary>
    public sealed record Agrees(string At) : HardwareFinding(At);

    /// <summary>The number agrees, and its serial was not known before.</summary>
    public sealed record SerialLearned(string At, string Serial) : HardwareFinding(At);

    /// <summary>Nothing was recorded; the machine says what is there.</summary>
    public sealed record Learned(string At, PartNumber Number, string? Serial) : HardwareFinding(At);

    /// <summary>Machine and passport differ: a person decides.</summary>
    /// <param name="Text">What differs, in a sentence.</param>
    /// <param name="Number">What the machine says is there; null when it sees nothing.</param>
    public sealed record Question(string At, string Text, PartNumber? Number, string? Serial) : HardwareFinding(At);
}

/// <summary>Holds what a machine says of itself against its passport.</summary>
public static class HardwareCheck
{
    /// <summary>Kinds a machine can name well enough to compare, with the stems of slot names that hold them.</summary>
    private static readonly (string Stem, ItemKind Kind)[] Stems =
    [
        ("memory", ItemKind.Memory),
        ("drive", ItemKind.Drive),
        ("bay-drive", ItemKind.Drive),
        ("storage", ItemKind.Drive),
        ("battery", ItemKind.Battery),
        ("radio", ItemKind.Radio),
        ("board", ItemKind.Board),
    ];

    /// <summary>What a slot holds, by its name; null when a machine says nothing of such parts.</summary>
    public static ItemKind? KindOf(string slot)
    {
        var stem = Stems.FirstOrDefault(s => slot == s.Stem || slot.StartsWith($"{s.Stem}-", StringComparison.Ordinal));
        return stem.Stem is null ? null : stem.Kind;
    }

    /// <summary>Whether the list is this unit's own.</summary>
    /// <returns>Null when it is, or when it does not say; otherwise the sentence.</returns>
    public static Refusal? OfAnother(string tag, string serial, HardwareList said) =>
        said.Serial is { } other && PartNumber.Canonicalise(other) != PartNumber.Canonicalise(serial)
            ? new Refusal(
                RefusalReason.NeedsConfirmation,
                $"This is the list of the machine {other}, and {tag} has the serial {serial}. Nothing of it was written into the passport."
            )
            : null;

    /// <summary>One finding a slot the machine can speak of, in the order of the slots.</summary>
    /// <param name="known">Numbers the workshop knows; a near-miss of one of them is a question, not news.</param>
    public static IReadOnlyList<HardwareFinding> Compare(
        IReadOnlyList<RecordedSlot> slots,
        IReadOnlyList<ReportedPart> said,
        IReadOnlyCollection<PartNumber> known
    )
    {
        var findings = new List<HardwareFinding>();
        foreach (var kind in slots.Select(s => s.Kind).Distinct())
        {
            var left = said.Where(p => p.Kind == kind && Number(p) is not null).ToList();
            if (left.Count == 0 && said.All(p => p.Kind != kind))
            {
                // Of batteries and boards many machines say nothing at all; memory and drives they always know.
                if (kind is not (ItemKind.Memory or ItemKind.Drive))
                {
                    continue;
                }
            }

            var open = slots.Where(s => s.Kind == kind).ToList();
            // By serial first, then by number, then in order: sockets are not named alike in firmware and on the map.
            Pair((slot, part) => slot.Serial is { } serial && part.Serial == serial);
            Pair((slot, part) => slot.Number is { } number && Same(number, part));
            foreach (var slot in open)
            {
                var part = left.FirstOrDefault();
                if (part is not null)
                {
                    left.RemoveAt(0);
                    findings.Add(Judge(slot, part, known));
                }
                else if (slot.Number is { } gone && kind is ItemKind.Memory or ItemKind.Drive)
                {
                    findings.Add(
                        new HardwareFinding.Question(
                            slot.Slot,
                            $"The passport has {gone.Text} in {slot.Slot}; the machine sees nothing there. It is dead, not seated, or gone.",
                            null,
                            null
                        )
                    );
                }
            }

            void Pair(Func<RecordedSlot, ReportedPart, bool> match)
            {
                foreach (var slot in open.ToList())
                {
                    if (left.Find(p => match(slot, p)) is { } part)
                    {
                        left.Remove(part);
                        open.Remove(slot);
                        findings.Add(Judge(slot, part, known));
                    }
                }
            }
        }

        return [.. findings.OrderBy(f => slots.ToList().FindIndex(s => s.Slot == f.Slot))];
    }

    private static HardwareFinding Judge(RecordedSlot slot, ReportedPart part, IReadOnlyCollection<PartNumber> known)
    {
        var number = Number(part)!.Value;
        if (slot.Number is { } recorded)
        {
            return !Same(recorded, part)
                    ? new HardwareFinding.Question(
                        slot.Slot,
                        $"The passport has {recorded.Text} in {slot.Slot}; the machine says {number.Text}{Serial(part)}. Was it exchanged without a repair?",
                        number,
                        part.Serial
                    )
                : part.Serial is null || part.Serial == slot.Serial ? new HardwareFinding.Agrees(slot.Slot)
                : slot.Serial is null ? new HardwareFinding.SerialLearned(slot.Slot, part.Serial)
                : new HardwareFinding.Question(
                    slot.Slot,
                    $"In {slot.Slot} is a {number.Text} as recorded, but the machine reads the serial {part.Serial} and the passport has {slot.Serial}. Was it exchanged for one like it?",
                    number,
                    part.Serial
                );
        }

        var near = known.Where(k => k.Canonical != number.Canonical).ToList();
        return
            known.All(k => k.Canonical != number.Canonical)
            && near.Exists(k => number.Compare(k) is Likeness.Near or Likeness.SameButForLookAlikes)
            ? new HardwareFinding.Question(
                slot.Slot,
                $"The machine says {number.Text} is in {slot.Slot}. That number is not known here, and is one slip from {near.First(k => number.Compare(k) is Likeness.Near or Likeness.SameButForLookAlikes).Text}.",
                number,
                part.Serial
            )
            : new HardwareFinding.Learned(slot.Slot, number, part.Serial);
    }

    private static string Serial(ReportedPart part) => part.Serial is { } serial ? $", serial {serial}" : "";

    private static bool Same(PartNumber recorded, ReportedPart part) =>
        Number(part) is { } number && number.Canonical == recorded.Canonical;

    private static PartNumber? Number(ReportedPart part) =>
        PartNumber.Read(part.Number).Try(out var number, out _) ? number : null;
}
