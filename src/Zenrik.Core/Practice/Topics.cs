using Zenrik.Core.ServiceMaps;

namespace Zenrik.Core.Practice;

/// <summary>
/// What is trained, by a key: a kind of joint or tie ("joint:FlipLockRibbon"), a model ("model:CODE"), or one of the habits
/// below.
/// </summary>
public static class Topics
{
    public const int MaxLength = 60;

    /// <summary>Nothing is touched under power.</summary>
    public const string Power = "power";

    /// <summary>What holds a part is found before it is lifted.</summary>
    public const string Screws = "screws";

    /// <summary>Tools that fit.</summary>
    public const string Tools = "tools";

    /// <summary>What lies over what.</summary>
    public const string Order = "order";

    /// <summary>The way back, its paste, its checks.</summary>
    public const string WayBack = "way-back";

    /// <summary>Numbers read off labels.</summary>
    public const string Labels = "labels";

    /// <summary>Finding out what is wrong.</summary>
    public const string Diagnosis = "diagnosis";

    /// <summary>What goes into which slot.</summary>
    public const string Fit = "fit";

    public static string Of(JointKind kind) => $"joint:{kind}";

    public static string Of(TieKind kind) => $"tie:{kind}";

    public static string OfModel(string code) => $"model:{code}";

    /// <summary>The model's code of a model's topic; null for any other.</summary>
    public static string? ModelOf(string topic) =>
        topic.StartsWith("model:", StringComparison.Ordinal) ? topic["model:".Length..] : null;

    /// <summary>As a technician would say it.</summary>
    public static string Name(string topic) =>
        topic switch
        {
            Power => "nothing under power",
            Screws => "screws that still hold",
            Tools => "the tool that fits",
            Order => "what lies over what",
            WayBack => "the way back and its checks",
            Labels => "reading labels",
            Fit => "what fits where",
            Diagnosis => "finding out what is wrong",
            _ when topic.StartsWith("joint:", StringComparison.Ordinal)
                    && Enum.TryParse<JointKind>(topic["joint:".Length..], out var joint) => joint.Handling().Name,
            _ when topic.StartsWith("tie:", StringComparison.Ordinal)
                    && Enum.TryParse<TieKind>(topic["tie:".Length..], out var tie) => tie.Handling().Name,
            _ => ModelOf(topic) ?? topic,
        };
}
