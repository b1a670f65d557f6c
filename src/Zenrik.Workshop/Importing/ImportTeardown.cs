using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Importing;
using Zenrik.Core.MapMaking;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Workshop.Importing;

/// <summary>
/// Takes in what comes off a model, in order: the draft of its map goes on from it as from a session at the bench. The rows
/// of a model are one whole; where some of them cannot be taken, the others are the order without them.
/// </summary>
internal sealed class ImportTeardown(WorkshopDb db, Actor by) : SheetRun
{
    private readonly Dictionary<string, int> firstLines = new(StringComparer.Ordinal);
    private Dictionary<int, Written> judged = [];

    /// <summary>The order of one model, as it would be written.</summary>
    /// <param name="Said">What of it is otherwise than the draft has it.</param>
    private sealed record Written(string Model, Draft Draft, Sighting Order, IReadOnlyList<Statement> Said);

    public override async Task<IReadOnlyList<RowFate>> Judge(IReadOnlyList<RowValues> batch, CancellationToken stop)
    {
        judged = [];
        var names = await db.ModelNames(stop);
        var fates = new RowFate[batch.Count];
        var byModel = new Dictionary<string, List<int>>(StringComparer.Ordinal);
        foreach (var (i, row) in batch.Index())
        {
            if (!ModelOf(row, names).Try(out var code, out var wrong))
            {
                fates[i] = new RowFate.Refused(wrong.Message);
            }
            else if (byModel.TryGetValue(code, out var rows))
            {
                rows.Add(i);
            }
            else
            {
                byModel[code] = [i];
            }
        }

        foreach (var (code, rows) in byModel)
        {
            var ofModel = await Judge(code, [.. rows.Select(i => batch[i])], stop);
            foreach (var (fate, i) in ofModel.Fates.Zip(rows))
            {
                fates[i] = fate;
                if (ofModel.Written is { } written)
                {
                    judged[i] = written;
                }
            }
        }

        return fates;
    }

    private async Task<(IReadOnlyList<RowFate> Fates, Written? Written)> Judge(
        string code,
        IReadOnlyList<RowValues> rows,
        CancellationToken stop
    )
    {
        var model = await db.Models.AsNoTracking().SingleAsync(m => m.Code == code, stop);
        var steps = await db
            .DraftSteps.AsNoTracking()
            .Where(s => s.ModelCode == code)
            .OrderBy(s => s.Version)
            .ToListAsync(stop);
        if (steps.Count == 0 && await db.IsPublished(code, stop))
        {
            return None(
                $"The map of the {model.Name} was not made here. What a bench finds otherwise is decided among its findings."
            );
        }

        if (!firstLines.TryAdd(code, rows[0].Line) && firstLines[code] != rows[0].Line)
        {
            return None($"Rows of the {model.Name} begin in line {firstLines[code]}. Keep those of a model together.");
        }

        var draft = Drafts.Of(model, steps);
        var read = rows.Select(r => WrittenOrder.Read(r, draft)).ToList();
        var said = read.Where(r => r.Refusal is null).Select(r => r.Value).ToList();
        var reasons = read.Select(r => r.Refusal?.Message ?? WrittenOrder.Refuse(r.Value, said)).ToList();
        List<WrittenThing> good = [.. read.Index().Where(r => reasons[r.Index] is null).Select(r => r.Item.Value)];
        if (good.Count == 0)
        {
            return ([.. reasons.Select(r => new RowFate.Refused(r!))], null);
        }

        var order = WrittenOrder.Of(Guid.CreateVersion7(), by.Id, model.ToCore(), good);
        if (Drafts.Unusable(draft.With(order).Map) is { } unusable)
        {
            return None(unusable.Message);
        }

        var changes = good.ToDictionary(w => w.Line, w => WrittenOrder.Changes(draft, w.Thing));
        if (changes.Values.All(c => c is []) && draft.IsContradictedBy(order))
        {
            changes[good[0].Line] = [new FactChange("order", "as the draft has it", "as in this list")];
        }

        return (
            [
                .. rows.Select(
                    (row, i) =>
                        reasons[i] is { } reason ? new RowFate.Refused(reason)
                        : changes[row.Line] is { } changed ? RowFate.Of(changed)
                        : new RowFate.New()
                ),
            ],
            new Written(
                code,
                draft,
                order,
                [
                    .. good.Where(w => changes[w.Line] is [_, ..])
                        .Select(w => WrittenOrder.Said(draft, w.Thing))
                        .OfType<Statement>(),
                ]
            )
        );

        (IReadOnlyList<RowFate>, Written?) None(string reason) =>
            ([.. rows.Select(_ => new RowFate.Refused(reason))], null);
    }

    public override async Task Take(IReadOnlyList<int> rows, Occasion occasion, CancellationToken stop)
    {
        foreach (var written in rows.Select(i => judged[i]).DistinctBy(w => w.Model))
        {
            _ = await db.LockModel(written.Model, stop);
            var after = written.Said.Aggregate(written.Draft.With(written.Order), (draft, said) => draft.With(said));
            if (await db.Loses(written.Model, written.Draft.Map, after.Map, stop) is { } lost)
            {
                throw new RowRefusedException(lost);
            }

            await db.NextStep(written.Model, DraftStepKind.Sighting, written.Order.ToText(), occasion, stop);
            await db.SaveChangesAsync(stop);
            foreach (var statement in written.Said)
            {
                await db.NextStep(written.Model, DraftStepKind.Statement, statement.ToText(), occasion, stop);
                await db.SaveChangesAsync(stop);
            }
        }
    }

    private static Outcome<string> ModelOf(RowValues row, ModelNames names)
    {
        if (row["model"] is not { } name)
        {
            return new Refusal(RefusalReason.Invalid, "It is not said which model it is of.");
        }

        return !names.Find(name, row["maker"]).Try(out var code, out var several) ? several
            : code is null
                ? new Refusal(RefusalReason.NotFound, $"No model is called {name}. Take the models in first.")
            : code;
    }
}
