using Microsoft.AspNetCore.Http.Extensions;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>What is asked of a map, as it stands in the address: everything about a view can be sent to somebody.</summary>
/// <param name="Goals">"replace:board", "lift-out:fan".</param>
/// <param name="Fit">Optional parts the unit has, and choices of variants as "variant:choice".</param>
/// <param name="Rules">House rules to try: "rule:school".</param>
/// <param name="Step">How many acts of the plan are done in the drawing.</param>
/// <param name="Failed">A component that has failed.</param>
public sealed record MapQuery(
    IReadOnlyList<string> Goals,
    IReadOnlyList<string> Fit,
    IReadOnlyList<string> Rules,
    int Step,
    string? Failed
)
{
    public static MapQuery From(IQueryCollection query) =>
        new(
            [.. query["goal"].OfType<string>().Distinct().Take(20)],
            [.. query["fit"].OfType<string>().Distinct().Take(40)],
            [.. query["rule"].OfType<string>().Where(r => r.Length > 0).Distinct().Take(40)],
            int.TryParse(query["step"], out var step) ? Math.Clamp(step, 0, 999) : 0,
            query["failed"].FirstOrDefault() is { Length: > 0 } failed ? failed : null
        );

    /// <summary>The room's address for the same question at another moment of the plan.</summary>
    public string At(string code, int step) => $"/maps/{code}{Text(step)}";

    /// <summary>The address of the plan's screw mat.</summary>
    public string Mat(string code) => $"/maps/{code}/mat{Text(step: 0)}";

    private QueryString Text(int step)
    {
        var query = new QueryBuilder();
        foreach (var (key, values) in new[] { ("goal", Goals), ("fit", Fit), ("rule", Rules) })
        {
            query.Add(key, values);
        }

        if (Failed is not null)
        {
            query.Add("failed", Failed);
        }

        query.Add("step", $"{step}");
        return query.ToQueryString();
    }

    /// <summary>The map of a unit equipped as asked; without any choice, as usual.</summary>
    public ServiceMap Unit(ServiceMap model)
    {
        var chosen = model
            .Variants.SelectMany(v =>
                (v.Choices.FirstOrDefault(c => Fit.Contains($"{v.Id}:{c.Id}")) ?? v.Choices[0]).Parts
            )
            .Concat(model.Parts.Where(p => p.Optional && Fit.Contains(p.Id.Value)).Select(p => p.Id));
        return model.For(chosen.ToHashSet());
    }

    /// <summary>The house's practice with what is tried here on top.</summary>
    public HousePractice Practice(HousePractice house) =>
        Rules
            .Select(r => r.Split(':', 2))
            .Aggregate(house, (p, r) => p.With(r[0], r[^1]).Try(out var changed, out _) ? changed : p);

    /// <summary>The goals, or why one of them cannot be read.</summary>
    public Outcome<IReadOnlyList<Goal>> ReadGoals() => GoalText.Read(Goals);
}
