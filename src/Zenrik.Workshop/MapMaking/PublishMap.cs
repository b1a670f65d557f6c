using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;
using Model = Zenrik.Workshop.Book.Model;

namespace Zenrik.Workshop.MapMaking;

/// <summary>Makes editions: of a draft as it stands, or of a map in a file. Sessions keep the one they began with.</summary>
public sealed class PublishMap(WorkshopDb db, TimeProvider clock)
{
    /// <param name="seen">The version of the draft the lead has looked at.</param>
    public Task<Outcome<string>> Draft(
        Guid request,
        string modelCode,
        int seen,
        Actor by,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, modelCode, now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            if (await db.LockModel(modelCode, stop) is not { } model)
            {
                return new Refusal(RefusalReason.NotFound, $"There is no model “{modelCode}”.");
            }

            var version = await db.DraftSteps.Where(s => s.ModelCode == modelCode).MaxAsync(s => (int?)s.Version, stop);
            if (
                version is not { } newest
                || (await db.DraftOf(modelCode, newest, stop)) is not { IsEmpty: false } draft
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"Nothing is known yet of how the {model.Name} comes apart. Repair one first."
                );
            }

            if (newest != seen)
            {
                return new Refusal(
                    RefusalReason.Stale,
                    "The draft has grown since you looked at it. Look once more, then publish."
                );
            }

            var edition = await db.Edition(modelCode, stop);
            if (
                edition is { } present
                && MapComparison.Between(present, draft.MapAt(newest)).Count == 0
                && present.Drawing == draft.Map.Drawing
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"The map of the {model.Name} is published as it stands, as revision {present.Revision}. Nothing was changed."
                );
            }

            if (Drafts.Unusable(draft.Map) is { } unusable)
            {
                return unusable;
            }

            if (await db.Loses(modelCode, edition, draft.Map, stop) is { } lost)
            {
                return lost;
            }

            var (sessions, people) = draft.From;
            return await Add(
                model,
                draft.Map with
                {
                    Changed = FormattableString.Invariant(
                        $"Made from {sessions} session{(sessions == 1 ? "" : "s")} of {people} {(people == 1 ? "person" : "people")}."
                    ),
                },
                now,
                stop
            );
        }
    }

    /// <summary>What a map from a file would change; nothing is kept.</summary>
    /// <returns>The map, and against the newest edition of its model what is otherwise; null where the model has no map.</returns>
    public async Task<Outcome<(ServiceMap Map, IReadOnlyList<MapChange>? Changes)>> Look(
        string? json,
        CancellationToken stop = default
    )
    {
        var reading = ServiceMapReader.Read("the file", json ?? "");
        if (reading.Map is not { } map)
        {
            return new Refusal(RefusalReason.Invalid, Say(reading.Findings));
        }

        return (map, await db.Edition(map.Model.Code, stop) is { } ours ? MapComparison.Between(ours, map) : null);
    }

    /// <summary>
    /// A map from a file becomes the newest edition of its model, which is entered where it is not known yet; photographs that
    /// came with it are kept with the model.
    /// </summary>
    public Task<Outcome<string>> File(
        Guid request,
        string? json,
        Actor by,
        IReadOnlyList<SharedPhoto>? photos = null,
        CancellationToken stop = default
    )
    {
        var now = clock.GetUtcNow();
        return db.WriteOnce(request, by, "a map from a file", now, Work, stop);

        async Task<Outcome<string>> Work()
        {
            var reading = ServiceMapReader.Read("the file", json ?? "");
            if (reading.Map is not { } map)
            {
                return new Refusal(RefusalReason.Invalid, Say(reading.Findings));
            }

            await db.LockModels(stop);
            if (await db.LockModel(map.Model.Code, stop) is not { } model)
            {
                model = new Model
                {
                    Code = map.Model.Code,
                    Name = map.Model.Name,
                    Maker = map.Model.Maker,
                    Class = map.Model.Class,
                };
                db.Models.Add(model);
            }
            else if (
                !string.Equals(model.Maker, map.Model.Maker, StringComparison.OrdinalIgnoreCase)
                || !string.Equals(model.Name, map.Model.Name, StringComparison.OrdinalIgnoreCase)
            )
            {
                return new Refusal(
                    RefusalReason.Conflict,
                    $"The code {model.Code} is the {model.Maker} {model.Name} here, and in the file the {map.Model.Maker} {map.Model.Name}. Give the file another code, or correct one of the names."
                );
            }

            model.Class = map.Model.Class;
            if (photos is { Count: > 0 } && await KeepModelPhoto.Keep(db, model.Code, photos, by, stop) is { } full)
            {
                return full;
            }

            if (
                await db.Edition(model.Code, stop) is { } present
                && ServiceMapReader.Write(present with { Revision = 1, Changed = null })
                    == ServiceMapReader.Write(map with { Revision = 1, Changed = null })
            )
            {
                return $"The {model.Name} has this map already, as revision {present.Revision}. {(photos is { Count: > 0 } ? "Its photographs are kept with the model." : "Nothing was changed.")}";
            }

            if (await db.Loses(model.Code, await db.MapNow(model.Code, stop), map, stop) is { } lost)
            {
                return lost;
            }

            return await Add(model, map, now, stop);
        }
    }

    private async Task<Outcome<string>> Add(Model model, ServiceMap map, DateTimeOffset now, CancellationToken stop)
    {
        var next = map with { Revision = await db.NextNumber(model.Code, stop) };
        db.ServiceMapRevisions.Add(
            new ServiceMapRevision
            {
                ModelCode = model.Code,
                Revision = next.Revision,
                Json = ServiceMapReader.Write(next),
                AcceptedAt = now,
            }
        );
        return $"The map of the {model.Name} is published, as revision {next.Revision}.";
    }

    private static string Say(IReadOnlyList<Finding> findings)
    {
        const int most = 5;
        var said = findings.Take(most).Select(f => $"{f.Path}: {f.Reason}");
        return $"The file is no usable map; nothing was changed. {string.Join("; ", said)}{(findings.Count > most ? $"; and {findings.Count - most} more" : "")}.";
    }
}
