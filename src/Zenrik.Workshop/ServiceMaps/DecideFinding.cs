using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.Repairs;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Workshop.ServiceMaps;

/// <summary>A finding with what a lead decides by.</summary>
/// <param name="Group">The screw group in the newest edition, for a count.</param>
/// <param name="Said">In a sentence.</param>
/// <param name="Agreeing">Other findings that say the same.</param>
/// <param name="AsOnMap">Closed repairs that did the same act and counted or waited as the map says.</param>
public sealed record FindingView(MapFinding Finding, FastenerGroup? Group, string Said, int Agreeing, int AsOnMap);

/// <summary>
/// Takes a bench's finding into a new edition of the map, or rejects it. Sessions that are running keep the edition they
/// began with.
/// </summary>
public sealed class DecideFinding(WorkshopDb db, ServiceMapShelf shelf, TimeProvider clock)
{
    /// <summary>Findings of a model nobody has decided on, oldest first.</summary>
    public async Task<IReadOnlyList<FindingView>> Open(string modelCode, CancellationToken stop = default)
    {
        var open = await db
            .MapFindings.AsNoTracking()
            .Include(f => f.By)
            .Include(f => f.Repair)
            .Where(f => f.ModelCode == modelCode && f.State == FindingState.Open)
            .OrderBy(f => f.At)
            .Select(f => new
            {
                Finding = f,
                Same = db.MapFindings.Count(o =>
                    o.ModelCode == modelCode
                    && o.Kind == f.Kind
                    && o.Target == f.Target
                    && o.Found == f.Found
                    && o.Cover == f.Cover
                    && o.Id != f.Id
                ),
                Usual = db.BenchSessions.Count(s =>
                    s.ModelCode == modelCode
                    && s.Acts.Contains(f.Kind == FindingKind.Count ? "undo:" + f.Target : f.Target)
                    && db.Repairs.Any(r => r.Id == s.RepairId && r.State == RepairState.Closed)
                    && !db.MapFindings.Any(o => o.RepairId == s.RepairId && o.Kind == f.Kind && o.Target == f.Target)
                ),
            })
            .ToListAsync(stop);
        if (open.Count == 0)
        {
            return [];
        }

        var map = (await shelf.Newest(modelCode, stop))!;
        return
        [
            .. open.Select(f =>
            {
                var group = map.Fasteners.FirstOrDefault(g => g.Id.Value == f.Finding.Target);
                return new FindingView(f.Finding, group, Say(map, f.Finding, group), f.Same, f.Usual);
            }),
        ];
    }

    /// <summary>How many findings wait, by model.</summary>
    public async Task<IReadOnlyDictionary<string, int>> Waiting(CancellationToken stop = default) =>
        await db
            .MapFindings.Where(f => f.State == FindingState.Open)
            .GroupBy(f => f.ModelCode)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, stop);

    /// <summary>Makes the next edition of the map.</summary>
    /// <param name="id">The finding.</param>
    /// <param name="positions">A count: where each screw sits, in mm of the drawing.</param>
    public async Task<Outcome<string>> Accept(
        Guid id,
        IReadOnlyList<Point> positions,
        Actor by,
        CancellationToken stop = default
    )
    {
        return await db.Write(by, $"finding {id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await Find(id, stop) is not { } finding)
            {
                return new Refusal(RefusalReason.NotFound, "There is no such finding.");
            }

            if (finding.State != FindingState.Open)
            {
                return new Refusal(RefusalReason.Conflict, "That finding has been decided already.");
            }

            var map = (await shelf.Newest(finding.ModelCode, stop))!;
            ServiceMap edited;
            if (finding.Kind == FindingKind.Order)
            {
                edited = map.WithoutWait(Act.Parse(finding.Target), PartId.Of(finding.Cover!));
            }
            else if (positions.Count != finding.Found)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"Give a place for each of the {finding.Found} screws; there are {positions.Count}."
                );
            }
            else
            {
                edited = map.WithScrewsAt(FastenerId.Of(finding.Target), positions);
            }

            var group = map.Fasteners.FirstOrDefault(f => f.Id.Value == finding.Target);
            _ = await db.LockModel(finding.ModelCode, stop);
            if (
                await db
                    .ServiceMapRevisions.Where(r => r.ModelCode == finding.ModelCode && !r.IsDraft)
                    .MaxAsync(r => r.Revision, stop) != map.Revision
            )
            {
                return new Refusal(
                    RefusalReason.Stale,
                    "Somebody else has just changed this map. Look at it as it is now, then decide."
                );
            }

            edited = edited with
            {
                Revision = await db.NextNumber(finding.ModelCode, stop),
                Changed = Say(map, finding, group),
            };
            var json = ServiceMapReader.Write(edited);
            var reading = ServiceMapReader.Read("the changed map", json);
            if (reading.Map is null)
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"The map would not be consistent: {reading.Findings[0].Path}: {reading.Findings[0].Reason}"
                );
            }

            db.ServiceMapRevisions.Add(
                new ServiceMapRevision
                {
                    ModelCode = finding.ModelCode,
                    Revision = edited.Revision,
                    Json = json,
                    AcceptedAt = clock.GetUtcNow(),
                }
            );
            Decided(finding, FindingState.Accepted, null, by);
            finding.AcceptedRevision = edited.Revision;
            await TellDraft(finding, group, positions, by, stop);
            return $"Edition {edited.Revision} of the {map.Model.Name}: {edited.Changed}";
        }
    }

    /// <summary>The map stays as it is.</summary>
    public async Task<Outcome<string>> Reject(Guid id, string? why, Actor by, CancellationToken stop = default)
    {
        var reason = why?.Trim() ?? "";
        if (reason.Length is < 3 or > 200)
        {
            return new Refusal(RefusalReason.Invalid, "Say in 3 to 200 characters why the map stays as it is.");
        }

        return await db.Write(by, $"finding {id}", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await Find(id, stop) is not { } finding)
            {
                return new Refusal(RefusalReason.NotFound, "There is no such finding.");
            }

            if (finding.State != FindingState.Open)
            {
                return new Refusal(RefusalReason.Conflict, "That finding has been decided already.");
            }

            Decided(finding, FindingState.Rejected, reason, by);
            return "The map stays as it is.";
        }
    }

    private Task<MapFinding?> Find(Guid id, CancellationToken stop) =>
        db.MapFindings.SingleOrDefaultAsync(f => f.Id == id, stop);

    private void Decided(MapFinding finding, FindingState state, string? why, Actor by)
    {
        (finding.State, finding.Decision) = (state, why);
        (finding.DecidedAt, finding.DecidedById) = (clock.GetUtcNow(), by.Id);
    }

    private static string Say(ServiceMap map, MapFinding finding, FastenerGroup? group) =>
        finding.Kind == FindingKind.Count
            ? $"{group?.Name ?? finding.Target}: {finding.Found} screws, not {group?.Count}."
            : $"{Wording.Title(map, Act.Parse(finding.Target))}: does not wait for {Wording.The(map.Part(PartId.Of(finding.Cover!)).Name)}.";

    /// <summary>A draft the map was made from goes on: what was accepted is said of it too, or the next edition would not know it.</summary>
    private async Task TellDraft(
        MapFinding finding,
        FastenerGroup? group,
        IReadOnlyList<Point> positions,
        Actor by,
        CancellationToken stop
    )
    {
        if (!await db.HasDraft(finding.ModelCode, stop))
        {
            return;
        }

        Statement[] said = (finding.Kind, group) switch
        {
            (FindingKind.Order, _) =>
            [
                new Statement.NeedNot(finding.Target, Act.LiftOut(PartId.Of(finding.Cover!)).ToString()),
            ],
            (_, { } screws) =>
            [
                new Statement.Screws(
                    Act.Undo(screws.Id).ToString(),
                    positions.Count,
                    screws.Screw.Drive,
                    screws.Screw.IsMeasured ? screws.Screw.LengthMm : null
                ),
                new Statement.Lies(Act.Undo(screws.Id).ToString(), null, positions),
            ],
            _ => [],
        };
        var occasion = new Occasion(by, clock.GetUtcNow());
        foreach (var statement in said)
        {
            // Each takes the number after the last.
            await db.SaveChangesAsync(stop);
            await db.NextStep(finding.ModelCode, DraftStepKind.Statement, statement.ToText(), occasion, stop);
        }
    }
}
