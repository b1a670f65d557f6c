namespace Zenrik.Core.Teardown;

/// <summary>How long a plan is searched for; by itself for as long as it takes to prove it.</summary>
/// <param name="Enough">Once asked for, the best found so far is taken, with how far it may be from the quickest.</param>
/// <param name="Stop">Once asked for, nothing is wanted any more: the search ends.</param>
public readonly record struct SearchLimit(CancellationToken Enough, CancellationToken Stop)
{
    /// <summary>True when the best so far is to be taken.</summary>
    /// <exception cref="OperationCanceledException">Nothing is wanted any more.</exception>
    internal bool IsOver
    {
        get
        {
            Stop.ThrowIfCancellationRequested();
            return Enough.IsCancellationRequested;
        }
    }
}
