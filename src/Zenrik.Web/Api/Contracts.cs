using System.ComponentModel;
using System.Text.Json;
using Zenrik.Core;
using Zenrik.Core.ServiceMaps;

namespace Zenrik.Web.Api;

/// <summary>A model in the list of models.</summary>
public sealed record ModelAnswer(string Code, string Name, string Maker, int Units, int? MapRevision);

/// <summary>What a map was found to be.</summary>
public sealed record CheckAnswer(bool Usable, IReadOnlyList<Finding> Findings);

/// <summary>What a plan is wanted for.</summary>
public sealed record PlanRequest(
    [property: Description("A stored model's code. Give this or a map.")] string? Model,
    [property: Description("A whole service map, used and not stored. Give this or a model.")] JsonElement? Map,
    [property: Description("Optional parts the unit has; left out: the first choice of each variant.")]
        IReadOnlyList<string>? Fitted,
    [property: Description("At least one of replace:ASSEMBLY and lift-out:PART.")] IReadOnlyList<string>? Goals,
    [property: Description("House rules by id, where they should differ from the workshop's.")]
        IReadOnlyDictionary<string, string>? HouseRules
);

/// <summary>A plan.</summary>
public sealed record PlanAnswer(
    string Model,
    int Revision,
    IReadOnlyList<string> Goals,
    MinutesAnswer Minutes,
    [property: Description("By how many per cent it may take longer than the quickest; 0: proved to be the quickest.")]
        double GapPercent,
    IReadOnlyList<string> Tools,
    IReadOnlyDictionary<string, int> Consumables,
    IReadOnlyList<ScrewsAnswer> Screws,
    IReadOnlyList<string> MoveOver,
    IReadOnlyList<StepAnswer> Steps
);

/// <summary>Minutes expected, and the interval that holds four jobs in five.</summary>
public sealed record MinutesAnswer(double Expected, double Low, double High);

/// <summary>A screw group that comes out.</summary>
public sealed record ScrewsAnswer(string Id, string Name, int Count, string Drive, string Size, bool Captive);

/// <summary>An act of a plan.</summary>
public sealed record StepAnswer(
    int Number,
    string Stage,
    string Act,
    string Title,
    string How,
    string Tool,
    string? SideUp,
    double Seconds,
    IReadOnlyList<CautionAnswer> Cautions,
    IReadOnlyList<string> Why,
    string WhyHere
);

/// <summary>A caution of an act.</summary>
public sealed record CautionAnswer(string Severity, string Text);

/// <summary>A sequence to be judged.</summary>
public sealed record ValidateRequest(
    string? Model,
    JsonElement? Map,
    IReadOnlyList<string>? Fitted,
    [property: Description("From the closed machine to the closed machine: undo:GROUP, open:JOINT, lift-out:PART …")]
        IReadOnlyList<string>? Acts
);

/// <summary>The verdict on a sequence.</summary>
public sealed record ValidateAnswer(bool Valid, ViolationAnswer? Violation);

/// <summary>The first act the machine does not allow. Its position counts from 0; the number of acts when something was left undone.</summary>
public sealed record ViolationAnswer(int Position, string? Act, string Reason);
