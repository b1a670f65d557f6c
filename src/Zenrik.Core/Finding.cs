namespace Zenrik.Core;

/// <summary>One thing wrong with a file that people write.</summary>
/// <param name="File">The name the caller gave the text.</param>
/// <param name="Path">Where in it, as a JSON path: "$.joints[3].under[0]".</param>
/// <param name="Reason">What is wrong and what would be right, one sentence.</param>
public sealed record Finding(string File, string Path, string Reason)
{
    public override string ToString() => $"{File} {Path}: {Reason}";
}
