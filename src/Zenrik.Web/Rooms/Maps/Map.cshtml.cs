using System.Text;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.HouseRules;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.ServiceMaps;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>An assembly that would exchange a failed component, and what that takes.</summary>
public sealed record WayOut(Assembly Assembly, Plan Plan);

public sealed class MapModel(ViewMaps maps, PlanFor plans, DecideFinding findings, ShareMap share, AskAtBench ask)
    : RoomPage
{
    public ServiceMap Map { get; private set; } = null!;

    /// <summary>The map of a unit equipped as asked.</summary>
    public ServiceMap Unit { get; private set; } = null!;

    public MapQuery Ask { get; private set; } = null!;

    /// <summary>The plan for what is ticked; null when nothing is, or when it cannot be planned.</summary>
    public Plan? Plan { get; private set; }

    public Refusal? Refusal { get; private set; }

    public int Step { get; private set; }

    public HousePractice House { get; private set; } = HousePractice.Default;

    public IReadOnlyList<Alternative> Alternatives { get; private set; } = [];

    public IReadOnlyList<WayOut> WaysOut { get; private set; } = [];

    public IReadOnlyList<MapEdition> Editions { get; private set; } = [];

    /// <summary>True while nobody has published the map.</summary>
    public bool IsDraft { get; private set; }

    /// <summary>True when the map was made here: its draft goes on.</summary>
    public bool HasDraft { get; private set; }

    /// <summary>How many findings of the bench wait for a decision.</summary>
    public int Findings { get; private set; }

    /// <summary>What a plan by a draft may try, each before the act of that number.</summary>
    public IReadOnlyList<(int Step, BenchQuestion Try)> Tries { get; private set; } = [];

    public PlanStep? Current => Plan is { } plan && Step < plan.Steps.Count ? plan.Steps[Step] : null;

    /// <summary>The moment of the plan; without one the opened machine, from each side it is worked on from.</summary>
    public IReadOnlyList<MachineView> Drawings =>
        Plan is { } plan ? [MachineView.Of(Map, Unit, PlanMoment.After(plan, Step))] : MachineView.Faces(Map, Unit);

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await maps.Newest(code, stop)).Try(out var map, out _))
        {
            return NotFound();
        }

        (Map, Ask) = (map, MapQuery.From(Request.Query));
        Unit = Ask.Unit(map);
        var house = await plans.Basis(code, stop);
        House = house.Practice;
        var basis = house with { Practice = Ask.Practice(house.Practice) };
        PlanWhatIsTicked(basis, stop);
        FindWaysOut(basis, stop);
        Tries = Plan is { } planned ? await ask.Along(code, planned, stop) : [];
        if (Request.IsFragment())
        {
            return Partial("_Answer", this);
        }

        Findings = (await findings.Waiting(stop)).GetValueOrDefault(code);
        Editions = await maps.Editions(code, stop);
        IsDraft = await maps.IsDraft(code, stop);
        HasDraft = await maps.HasDraft(code, stop);
        return Page();
    }

    /// <summary>The map as a file another workshop can take in.</summary>
    public async Task<IActionResult> OnGetFile(string code, CancellationToken stop) =>
        (await maps.Newest(code, stop)).Try(out var map, out _)
            ? File(
                Encoding.UTF8.GetBytes(ServiceMapReader.Write(map)),
                "application/json",
                $"{map.Model.Code}.map.json"
            )
            : NotFound();

    /// <summary>The same with the photographs of the model, as a zip.</summary>
    public async Task<IActionResult> OnGetPackage(string code, CancellationToken stop) =>
        await share.Run(code, stop) is { } shared
            ? File(shared.ToZip(), "application/zip", $"{code}.map.zip")
            : NotFound();

    private void PlanWhatIsTicked(Basis basis, CancellationToken stop)
    {
        if (Ask.Goals.Count == 0)
        {
            return;
        }

        if (!Ask.ReadGoals().Try(out var goals, out var unreadable))
        {
            Refusal = unreadable;
        }
        else if (!plans.Search(Unit, goals, basis, stop).Try(out var plan, out var refusal))
        {
            Refusal = refusal;
        }
        else
        {
            (Plan, Step) = (plan, Math.Min(Ask.Step, plan.Steps.Count));
            Alternatives = Core.Teardown.Alternatives.Of(plan);
        }
    }

    private void FindWaysOut(Basis basis, CancellationToken stop)
    {
        if (Ask.Failed is not { } failed)
        {
            return;
        }

        foreach (var assembly in Unit.AssembliesWith(failed))
        {
            if (plans.Search(Unit, [new Goal.Replace(assembly.Id)], basis, stop).Try(out var plan, out _))
            {
                WaysOut = [.. WaysOut, new WayOut(assembly, plan)];
            }
        }
    }
}
