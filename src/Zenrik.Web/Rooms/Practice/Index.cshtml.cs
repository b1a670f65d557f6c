using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Core.Triage;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Practice;
using Zenrik.Workshop.Shipped;

namespace Zenrik.Web.Rooms.Practice;

/// <summary>What to train next, and where a run begins. Everybody signed in may learn.</summary>
public sealed class IndexModel(ViewPractice practice, StartPractice start, AskQuestions ask) : RoomPage
{
    private const string Here = "/Practice/Index";

    public PracticeRoom Room { get; private set; } = null!;

    /// <summary>The model chosen; null when there is none to choose.</summary>
    public PracticeModel? Chosen { get; private set; }

    /// <summary>Identifies the run this page may begin.</summary>
    public Guid RequestId { get; } = Guid.CreateVersion7();

    /// <summary>What can be asked of the chosen model.</summary>
    public IReadOnlyList<(string Goal, string Name)> Goals =>
        Chosen is null
            ? []
            :
            [
                .. Chosen.Map.Assemblies.Select(a =>
                    (GoalText.Of(new Goal.Replace(a.Id)), $"exchange {Wording.The(a.Name)}")
                ),
                .. Chosen
                    .Map.Parts.Where(p => p.Dusty)
                    .Select(p => (GoalText.Of(new Goal.Clean(p.Id)), $"blow {Wording.The(p.Name)} clean")),
            ];

    public static IEnumerable<Symptom> Symptoms =>
        ShippedTriage.Knowledge.Symptoms.Where(s => s.Stop is null).OrderBy(s => s.Name);

    /// <summary>A topic by the name people use: of a model, its own.</summary>
    public string NameOf(string topic) =>
        Room.Models.FirstOrDefault(m => m.Code == Topics.ModelOf(topic))?.Name ?? Topics.Name(topic);

    /// <summary>Where a topic is trained best: a model, and a goal that meets it; null: by labels or a diagnosis.</summary>
    public PracticeModel? TrainedOn(string topic) =>
        topic is Topics.Labels or Topics.Diagnosis or Topics.Fit
            ? null
            : Room.Models.FirstOrDefault(m =>
                Topics.ModelOf(topic) is { } code
                    ? m.Code == code
                    : m.Map.Joints.Any(j => Topics.Of(j.Kind) == topic)
                        || m.Map.Ties.Any(t => Topics.Of(t.Kind) == topic)
            ) ?? First;

    private PracticeModel? First => Room.Models is [var first, ..] ? first : null;

    public async Task OnGet(string? model, CancellationToken stop)
    {
        Room = await practice.Run(User.Actor(), stop);
        Chosen = Room.Models.FirstOrDefault(m => m.Code == model) ?? First;
    }

    public Task<IActionResult> OnPostApart(
        Guid request,
        string? model,
        string? goal,
        PracticeLevel level,
        string? guest,
        CancellationToken stop
    ) => Begin(start.Apart(request, model, goal, Known(level), guest, User.Actor(), stop), new { model });

    public Task<IActionResult> OnPostDiagnosis(
        Guid request,
        string? model,
        string? symptom,
        string? guest,
        CancellationToken stop
    ) => Begin(start.Diagnosis(request, model, symptom, guest, User.Actor(), stop), new { model });

    public Task<IActionResult> OnPostLabels(Guid request, string? guest, CancellationToken stop) =>
        Begin(start.Labels(request, guest, User.Actor(), stop), null);

    public Task<IActionResult> OnPostFit(Guid request, string? guest, CancellationToken stop) =>
        Begin(ask.Fit(request, guest, User.Actor(), stop), null);

    public Task<IActionResult> OnPostOpening(Guid request, string? guest, CancellationToken stop) =>
        Begin(ask.Opening(request, guest, User.Actor(), stop), null);

    /// <summary>The job of a repair, run through before it is done.</summary>
    public async Task<IActionResult> OnPostBefore(
        Guid request,
        string? code,
        PracticeLevel level,
        CancellationToken stop
    )
    {
        if (Repair.NumberOf(code) is not { } number)
        {
            return NotFound();
        }

        var begun = await start.Before(request, number, Known(level), User.Actor(), stop);
        return begun.Try(out var id, out var refusal)
            ? RedirectToPage("/Practice/Run", new { id })
            : Refused(refusal, "/Counter/Repair", new { code });
    }

    private static PracticeLevel Known(PracticeLevel level) => Enum.IsDefined(level) ? level : PracticeLevel.Guided;

    private async Task<IActionResult> Begin(Task<Outcome<Guid>> begin, object? route) =>
        (await begin).Try(out var id, out var refusal)
            ? RedirectToPage("/Practice/Run", new { id })
            : Refused(refusal, Here, route);
}
