using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Batteries;
using Zenrik.Core.Fit;
using Zenrik.Core.Fleet;
using Zenrik.Core.Parts;
using Zenrik.Core.Stock;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Fleet;

/// <summary>What came of a machine's own words.</summary>
/// <param name="Text">As a sentence.</param>
/// <param name="Questions">What a person has to decide now; kept with the unit.</param>
public sealed record Heard(string Text, IReadOnlyList<string> Questions);

/// <summary>
/// Takes what a unit says of itself into its passport: what is new is written, what agrees is noted, what differs is kept
/// as a question for a person. Nothing is written of what cannot be read, or of another machine's list.
/// </summary>
public sealed class HearUnit(WorkshopDb db, PassportOf passports, CorrectPassport correct, TimeProvider clock)
{
    /// <summary>Either of the two texts a unit has; which one it is shows in its first character.</summary>
    public Task<Outcome<Heard>> Either(string tag, string? text, Actor by, CancellationToken stop = default) =>
        text?.TrimStart() is ['{' or '[', ..] ? Hardware(tag, text, by, stop) : Power(tag, text, by, stop);

    /// <summary>The hardware list that `lshw -json` prints.</summary>
    public async Task<Outcome<Heard>> Hardware(string tag, string? json, Actor by, CancellationToken stop = default)
    {
        if (!HardwareList.Read(json).Try(out var said, out var unreadable))
        {
            return unreadable;
        }

        // What is refused may leave a question behind: that is kept, and the refusal is the answer.
        return (await db.Write(by, tag, clock.GetUtcNow(), Work, stop)).Try(out var answer, out var refused)
            ? answer
            : refused;

        async Task<Outcome<Outcome<Heard>>> Work()
        {
            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            var occasion = new Occasion(by, clock.GetUtcNow(), Note: "the machine itself");
            if (HardwareCheck.OfAnother(unit.Tag, unit.Serial, said) is { } another)
            {
                var theirs = said.Serial!.ToUpperInvariant();
                var whose = await db.Units.Where(u => u.Serial == theirs).Select(u => u.Tag).FirstOrDefaultAsync(stop);
                var text =
                    $"{another.Message} {(whose is null ? "No unit here has that serial: was the board exchanged, or never given its serial?" : $"It is the list of {whose}.")}";
                await Ask(unit, text, null, null, null, false, occasion.At, stop);
                return (Outcome<Heard>)(another with { Message = $"{text} The question is kept with {unit.Tag}." });
            }

            var passport = (await passports.Run(unit.Tag, stop)).Value;
            var slots = passport
                .Slots.Where(s => HardwareCheck.KindOf(s.Slot) is not null)
                .Select(s => new RecordedSlot(
                    s.Slot,
                    HardwareCheck.KindOf(s.Slot)!.Value,
                    s.Item is { } item ? PartNumber.Read(item.Number.Number).Value : null,
                    s.Item?.Serial
                ))
                .ToList();
            var findings = HardwareCheck.Compare(slots, said.Parts, await Near(said, stop));
            var (written, agreed, questions) = (new List<string>(), 0, new List<string>());
            foreach (var finding in findings)
            {
                switch (finding)
                {
                    case HardwareFinding.Agrees:
                        agreed++;
                        break;
                    case HardwareFinding.SerialLearned learned:
                        if (await Elsewhere(unit, learned.Slot, null, learned.Serial) is null)
                        {
                            var item = await db.Items.SingleAsync(
                                i => i.UnitId == unit.Id && i.Slot == learned.Slot,
                                stop
                            );
                            item.Serial = learned.Serial;
                            written.Add($"the serial of {learned.Slot}");
                        }

                        break;
                    case HardwareFinding.Learned learned:
                        if (
                            learned.Serial is null
                            || await Elsewhere(unit, learned.Slot, learned.Number, learned.Serial) is null
                        )
                        {
                            await correct.Fit(unit, learned.Slot, learned.Number, learned.Serial, occasion, stop);
                            written.Add($"{learned.Number.Text} in {learned.Slot}");
                        }

                        break;
                    case HardwareFinding.Question question:
                        await Ask(
                            unit,
                            question.Text,
                            question.Slot,
                            question.Number,
                            question.Serial,
                            true,
                            occasion.At,
                            stop
                        );
                        questions.Add(question.Text);
                        break;
                    default:
                        throw new InvalidOperationException($"nothing is done with {finding}");
                }
            }

            var sum =
                $"{(agreed == 1 ? "1 part agrees" : $"{agreed} parts agree")} with the passport{(written.Count == 0 ? "" : $"; new in it: {string.Join(", ", written)}")}{(questions.Count == 0 ? "" : $"; {(questions.Count == 1 ? "1 question" : $"{questions.Count} questions")} to decide")}.";
            db.UnitEvents.Add(UnitEvent.Of(unit.Id, UnitEventKind.Heard, $"The machine spoke: {sum}", occasion));
            return (Outcome<Heard>)new Heard(sum, questions);

            async Task<Refusal?> Elsewhere(Unit at, string slot, PartNumber? number, string serial)
            {
                var elsewhere = await correct.SeenElsewhere(at.Id, slot, serial, stop);
                if (elsewhere is not null)
                {
                    await Ask(at, elsewhere.Message, slot, number, serial, false, occasion.At, stop);
                    questions.Add(elsewhere.Message);
                }

                return elsewhere;
            }
        }
    }

    /// <summary>The kernel's power-supply uevent text of the unit's battery.</summary>
    public async Task<Outcome<Heard>> Power(string tag, string? text, Actor by, CancellationToken stop = default)
    {
        if (!PowerSupplyUevent.Read(text).Try(out var reading, out var unreadable))
        {
            return unreadable;
        }

        return await db.Write(by, tag, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<Heard>> Work()
        {
            if (await db.LockUnit(tag, stop) is not { } unit)
            {
                return UnitTag.Unknown(tag);
            }

            var battery = await db
                .Items.Include(i => i.Number)
                .Where(i => i.UnitId == unit.Id && i.Slot!.StartsWith(BatterySlot.Prefix))
                .OrderBy(i => i.Slot)
                .FirstOrDefaultAsync(stop);
            var now = clock.GetUtcNow();
            var doubts = reading.Doubts.ToList();
            if (
                battery?.Number.Specification is ItemSpecification.Battery { EnergyWh: { } design }
                && reading.DesignWh is { } made
                && Math.Abs(design - made) > design * 0.1
            )
            {
                doubts.Add(
                    FormattableString.Invariant(
                        $"The passport has {battery.Number.Number} of {design:0.#} Wh, and the battery says it was made for {made:0.#} Wh. Is another one inside?"
                    )
                );
            }

            foreach (var doubt in doubts)
            {
                await Ask(unit, doubt, battery?.Slot, null, null, false, now, stop);
            }

            // A reading in doubt is kept as the question alone: what is forecast from readings must be able to trust them.
            if (doubts.Count == 0 && reading.Health is { } health)
            {
                db.BatteryReadings.Add(
                    new BatteryRecord
                    {
                        UnitId = unit.Id,
                        ItemId = battery?.Id,
                        At = now,
                        Health = health,
                        FullWh = reading.FullWh,
                        DesignWh = reading.DesignWh,
                        Cycles = reading.Cycles,
                        Model = reading.Model,
                        Serial = reading.Serial,
                    }
                );
            }

            var figures = reading.Health is not { } read
                ? $"The battery of {unit.Tag} says what cannot be"
                : FormattableString.Invariant(
                    $"The battery of {unit.Tag} takes {(reading.FullWh is { } full ? $"{full:0.0} of {reading.DesignWh:0.0} Wh, " : "")}{read * 100:0} in 100: {BatteryReading.Word(read)}"
                );
            return new Heard(
                doubts.Count == 0
                    ? $"{figures}; kept."
                    : $"{figures}. It is not kept before somebody has looked at it.",
                doubts
            );
        }
    }

    /// <summary>Known numbers worth comparing with what is said: the nearest by trigrams.</summary>
    private async Task<IReadOnlyCollection<PartNumber>> Near(HardwareList said, CancellationToken stop)
    {
        var near = new HashSet<PartNumber>();
        foreach (var number in said.Parts.Select(p => p.Number).OfType<string>().Distinct())
        {
            var known = await db
                .CatalogueNumbers.OrderBy(n => EF.Functions.TrigramsSimilarityDistance(n.Number, number))
                .Select(n => n.Number)
                .Take(10)
                .ToListAsync(stop);
            near.UnionWith(known.Select(n => PartNumber.Read(n).Value));
        }

        return near;
    }

    /// <summary>Keeps a question; the same one is asked once, however often the machine speaks.</summary>
    private Task<int> Ask(
        Unit unit,
        string text,
        string? slot,
        PartNumber? number,
        string? serial,
        bool writable,
        DateTimeOffset at,
        CancellationToken stop
    )
    {
        var (id, asked, printed) = (
            Guid.CreateVersion7(),
            text.Length > UnitQuestion.MaxText ? text[..UnitQuestion.MaxText] : text,
            number?.Text
        );
        return db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO unit_questions (id, unit_id, at, text, slot, number, serial, writable, accepted)
            VALUES ({id}, {unit.Id.Value}, {at}, {asked}, {slot}, {printed}, {serial}, {writable}, false)
            ON CONFLICT (unit_id, text) WHERE decided_at IS NULL DO NOTHING
            """,
            stop
        );
    }
}
