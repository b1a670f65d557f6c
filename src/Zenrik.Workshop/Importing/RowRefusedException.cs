using Zenrik.Core;

namespace Zenrik.Workshop.Importing;

/// <summary>A row that was judged good a moment ago cannot be written any more: somebody changed the book meanwhile.</summary>
internal sealed class RowRefusedException(Refusal refusal) : Exception(refusal.Message)
{
    public Refusal Refusal => refusal;
}
