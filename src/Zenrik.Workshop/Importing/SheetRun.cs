using Zenrik.Core.Importing;

namespace Zenrik.Workshop.Importing;

/// <summary>
/// One going through a file of a kind: rows are judged in batches, in their order, and those chosen of a batch are written.
/// What a row does is decided by the same code whether it is only looked at or taken in.
/// </summary>
internal abstract class SheetRun
{
    /// <summary>What becomes of each row of the next batch; writes nothing.</summary>
    public abstract Task<IReadOnlyList<RowFate>> Judge(IReadOnlyList<RowValues> batch, CancellationToken stop);

    /// <summary>Writes rows of the batch that was judged last, within the caller's transaction.</summary>
    /// <param name="rows">Their indices in that batch; new and changed ones only.</param>
    public abstract Task Take(IReadOnlyList<int> rows, Occasion occasion, CancellationToken stop);
}

/// <summary>The same with what a batch's rows come to, kept between judging and writing.</summary>
/// <typeparam name="TPlan">What is to be written for a row.</typeparam>
internal abstract class SheetRun<TPlan> : SheetRun
    where TPlan : class
{
    private IReadOnlyList<(RowFate Fate, TPlan? Plan)> judged = [];

    public sealed override async Task<IReadOnlyList<RowFate>> Judge(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    )
    {
        judged = await Plan(batch, stop);
        return [.. judged.Select(j => j.Fate)];
    }

    public sealed override Task Take(IReadOnlyList<int> rows, Occasion occasion, CancellationToken stop) =>
        Write([.. rows.Select(i => (judged[i].Fate, judged[i].Plan!))], occasion, stop);

    /// <summary>Of each row what becomes of it and, where that is to be written, what.</summary>
    protected abstract Task<IReadOnlyList<(RowFate Fate, TPlan? Plan)>> Plan(
        IReadOnlyList<RowValues> batch,
        CancellationToken stop
    );

    protected abstract Task Write(
        IReadOnlyList<(RowFate Fate, TPlan Plan)> rows,
        Occasion occasion,
        CancellationToken stop
    );

    /// <summary>A row that cannot be taken.</summary>
    protected static (RowFate, TPlan?) Refused(string reason) => (new RowFate.Refused(reason), null);
}
