using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fleet;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Stock;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.Fleet;
using Zenrik.Workshop.Parts;
using Zenrik.Workshop.Shipped;
using Zenrik.Workshop.Stock;

namespace Zenrik.Workshop.Repairs;

/// <summary>An assembly to exchange and why.</summary>
public sealed record Complaint(string Assembly, string Fault);

/// <summary>What was said and seen when a unit was handed over.</summary>
public sealed record Intake
{
    /// <summary>What it is taken in for.</summary>
    public RepairPurpose Purpose { get; init; }

    /// <summary>The earlier repair whose trouble has come back; null: none.</summary>
    public long? Follows { get; init; }

    /// <summary>The campaign it is part of; null: none.</summary>
    public string? Campaign { get; init; }

    /// <summary>True when why a part is exchanged is said in words of one's own, and is no fault its map would know.</summary>
    public bool InOwnWords { get; init; }

    /// <summary>Ids of symptoms; may be empty where the part is known already.</summary>
    public IReadOnlyList<string> Symptoms { get; init; } = [];

    public IReadOnlyList<string> Circumstances { get; init; } = [];

    /// <summary>Assemblies known to have failed; may be empty where there are symptoms.</summary>
    public IReadOnlyList<Complaint> Known { get; init; } = [];

    public string? Note { get; init; }

    public DateOnly? Since { get; init; }

    public DateOnly? PromisedOn { get; init; }

    public Priority Priority { get; init; }

    /// <summary>The same for a part that is exchanged whatever is noticed.</summary>
    /// <param name="part">By its id in the maps; blank: none, and nothing changes.</param>
    /// <param name="why">In words of one's own; of an upgrade it is clear.</param>
    public Intake For(string? part, string? why) =>
        string.IsNullOrWhiteSpace(part) || Purpose is not (RepairPurpose.Fault or RepairPurpose.Upgrade)
            ? this
            : this with
            {
                InOwnWords = true,
                Known =
                [
                    new Complaint(
                        part.Trim(),
                        Purpose == RepairPurpose.Upgrade ? RepairPurposes.ToBeUpgraded : why?.Trim() ?? ""
                    ),
                ],
            };
}

/// <summary>Takes a unit in for a repair. What is dangerous is parked at once: nothing is tested, charged or opened.</summary>
public sealed class OpenRepair(WorkshopDb db, PassportOf passports, RepairLines lines, TimeProvider clock)
{
    /// <returns>The new repair's code.</returns>
    public Task<Outcome<string>> Run(string tag, Intake intake, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, tag, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            return await Add(tag, intake, by, stop);
        }
    }

    /// <summary>The same within the caller's transaction.</summary>
    internal async Task<Outcome<string>> Add(string tag, Intake intake, Actor by, CancellationToken stop)
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out var unknown))
        {
            return unknown;
        }

        if (passport.OpenRepair is { } open)
        {
            return AlreadyOpen(tag, open.Code);
        }

        if (!UnitLife.Serves(passport.Unit.State))
        {
            return new Refusal(
                RefusalReason.Conflict,
                $"{passport.Unit.Tag} is out of use; it is not repaired any more."
            );
        }

        if (Check(intake) is { } wrong)
        {
            return wrong;
        }

        var id = new RepairId(Guid.CreateVersion7());
        var freely = intake.Purpose == RepairPurpose.Upgrade || intake.InOwnWords;
        passport = passport.Filling(intake.Purpose == RepairPurpose.Upgrade ? SlotsOf(passport, intake.Known) : []);
        if (!(await lines.Of(passport, id, intake.Known, stop, freely)).Try(out var known, out var unplannable))
        {
            return unplannable;
        }

        if (!Dusty(passport, intake.Purpose).Try(out var dusty, out var clean))
        {
            return clean;
        }

        var follows = intake.Follows is { } earlier
            ? await db
                .Repairs.Where(r => r.Number == earlier && r.UnitId == passport.Unit.Id)
                .Select(r => (RepairId?)r.Id)
                .SingleOrDefaultAsync(stop)
            : null;
        if (intake.Follows is { } named && follows is null)
        {
            return Invalid($"{Repair.CodeOf(named)} was no repair of {passport.Unit.Tag}.");
        }

        var symptoms = intake.Symptoms.Select(s => ShippedTriage.Knowledge.Symptom(s)!).Distinct().ToList();
        // A swollen cell is one in whatever words it is named.
        if (intake.Known.Any(k => Hazards.IsSwelling(k.Fault)) && !symptoms.Exists(s => s.Stop is not null))
        {
            symptoms.Add(SettingApart.Swollen);
        }

        var repair = new Repair
        {
            Id = id,
            UnitId = passport.Unit.Id,
            Note = string.IsNullOrWhiteSpace(intake.Note) ? null : intake.Note.Trim(),
            State = symptoms.Exists(s => s.Stop is not null) ? RepairState.Stopped : RepairState.Open,
            Symptoms = [.. symptoms.Select(s => s.Id)],
            Circumstances = [.. intake.Circumstances.Distinct()],
            Since = intake.Since,
            Priority = intake.Priority,
            PromisedOn = intake.PromisedOn,
            Purpose = intake.Purpose,
            AlsoGoals = [.. dusty],
            FollowsId = follows,
            Campaign = intake.Campaign,
            OpenedAt = clock.GetUtcNow(),
            OpenedById = by.Id,
            Lines = known,
        };
        db.Repairs.Add(repair);
        try
        {
            await db.SaveChangesAsync(stop);
            var occasion = new Occasion(by, repair.OpenedAt, repair.Id);
            // Somebody may have made it a donor since its passport was read.
            if (
                await db.Step(repair.UnitId, UnitState.AtCounter, $"{repair.Code}: at the counter", occasion, stop) is
                { } meanwhile
            )
            {
                return meanwhile;
            }

            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException e) when (e.Broke("ix_repairs_one_open_per_unit"))
        {
            // The failed statement alone is undone: each save has a savepoint within its transaction.
            db.ChangeTracker.Clear();
            var other = await db.Repairs.Where(Repair.Underway).SingleAsync(r => r.UnitId == repair.UnitId, stop);
            return AlreadyOpen(tag, other.Code);
        }

        return repair.Code;
    }

    /// <summary>The slots of what is to be upgraded; what is in none of them is refused with its line.</summary>
    private static List<string> SlotsOf(Passport passport, IReadOnlyList<Complaint> wanted)
    {
        var ids = wanted.Select(c => c.Assembly).ToHashSet();
        return
        [
            .. passport
                .Slots.Select(s => s.Slot)
                .Where(s => passport.ToUpgrade(s) is { } assembly && ids.Contains(assembly.Id.Value)),
        ];
    }

    private Refusal? Check(Intake intake)
    {
        var all = ShippedTriage.Knowledge;
        var today = clock.Today();
        return intake.Note?.Length > Ledger.MaxNote
                ? Invalid($"A note has at most {Ledger.MaxNote} characters; this one has {intake.Note.Length}.")
            : !Enum.IsDefined(intake.Purpose) ? Invalid("Choose what it is taken in for.")
            : intake is { Purpose: RepairPurpose.Fault, Symptoms.Count: 0, Known.Count: 0 }
                ? Invalid("Say what is wrong: choose what the user notices, or the part that is known to have failed.")
            : intake is { Purpose: RepairPurpose.Upgrade, Known.Count: 0 } ? Invalid("Choose what is to be upgraded.")
            : intake is { Purpose: RepairPurpose.Cleaning or RepairPurpose.CheckUp, Known.Count: > 0 }
                ? Invalid(
                    $"For a {RepairPurposes.Name(intake.Purpose)} nothing is exchanged. Choose another purpose, or no part."
                )
            : intake.Symptoms.FirstOrDefault(s => all.Symptom(s) is null) is { } symptom
                ? Invalid($"There is no symptom \"{symptom}\". Choose from the list.")
            : intake.Circumstances.FirstOrDefault(c => all.Circumstance(c) is null) is { } circumstance
                ? Invalid($"There is no circumstance \"{circumstance}\". Choose from the list.")
            : intake.Known.Count > 0 && Forbids(intake) is { } forbidden
                ? new Refusal(
                    RefusalReason.Conflict,
                    $"“{forbidden}”: this machine is not worked on as for any exchange. Take it in without the part; it is chosen once the machine has been looked into, cleaned and dried."
                )
            : intake.Known.Select(k => FaultText.Check(k.Fault)).FirstOrDefault(r => r is not null) is { } unsaid
                ? unsaid
            : intake.Since > today ? Invalid("It cannot have begun after today. Correct the day it began.")
            : null;
    }

    /// <summary>What was said that forbids power, or anything else; null when nothing does.</summary>
    private static string? Forbids(Intake intake)
    {
        var symptoms = intake.Symptoms.Select(s => ShippedTriage.Knowledge.Symptom(s)!).ToList();
        return symptoms.Find(s => s.Forbids.Count > 0)?.Name
            ?? (
                symptoms.Exists(s => s.Dead)
                    ? intake
                        .Circumstances.Select(c => ShippedTriage.Knowledge.Circumstance(c)!)
                        .FirstOrDefault(c => c.Forbids.Count > 0)
                        ?.Name
                    : null
            );
    }

    /// <summary>What a cleaning is for: everything in the unit that gathers dust.</summary>
    private static Outcome<IReadOnlyList<string>> Dusty(Passport passport, RepairPurpose purpose)
    {
        if (purpose != RepairPurpose.Cleaning)
        {
            return new List<string>();
        }

        var dusty = passport.Fitted?.Parts.Where(p => p.Dusty).Select(p => GoalText.Of(new Goal.Clean(p.Id))).ToList();
        return dusty is { Count: > 0 }
            ? dusty
            : new Refusal(
                RefusalReason.Conflict,
                $"Nothing in the {passport.Unit.Model.Name} is known to gather dust, so no cleaning can be planned. Its map says what does."
            );
    }

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);

    private static Refusal AlreadyOpen(string tag, string code) =>
        new(RefusalReason.Conflict, $"{LabelCode.Of(tag)} is already in repair {code}. Go on there.");
}
