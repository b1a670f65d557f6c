using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Practice;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Practice;

namespace Zenrik.Web.Rooms.Practice;

/// <summary>What a page sends: the move, and what the hand holds.</summary>
public sealed record MoveForm(Guid Request, int Seen, string? What, Tool? Tool, int? Field, int? Count);

/// <summary>One run, from its first move to its score.</summary>
public sealed class RunModel(PracticeOf runs, MakeMove moves) : RoomPage
{
    private const string Here = "/Practice/Run";

    public PracticeView View { get; private set; } = null!;

    /// <summary>Why the last move was not taken at all.</summary>
    public Refusal? Refusal { get; private set; }

    /// <summary>What the hand holds.</summary>
    public Tool Hand { get; private set; } = Tool.Fingers;

    public Guid RequestId { get; } = Guid.CreateVersion7();

    public Referee Referee => View.Referee!;

    /// <summary>What came of the last move; null before the first.</summary>
    public JudgedMove? Last => View.Referee?.Moves is [.., var last] ? last : null;

    public bool IsNameless => Referee.Task.Level >= PracticeLevel.Nameless;

    /// <summary>The question the last move answered; null while one is only begun.</summary>
    public Answered? Judged => View.Quiz is { Strokes: 0, Answers: [.., var last] } ? last : null;

    /// <summary>Where the plan would go on; only said to who is guided.</summary>
    public PlanStep? Hint { get; private set; }

    public IReadOnlyList<SeenThing> InSight { get; private set; } = [];

    public MachineView Drawing
    {
        get
        {
            var moment = Referee.Moment;
            HashSet<string> next =
                Hint is { } hint ? [hint.Act.Target]
                : !IsNameless && Last?.Slip?.Thing is { } thing ? [thing]
                : [];
            return MachineView.Of(
                Referee.Task.Model,
                Referee.Task.Map,
                moment with
                {
                    Next = next,
                    Trouble = new HashSet<FastenerId>(),
                }
            ) with
            {
                Nameless = IsNameless,
            };
        }
    }

    /// <summary>What a button says that does an act; where names are hidden, what is done and no more.</summary>
    public string Says(Act act) =>
        !IsNameless || act.Kind is ActKind.Prepare or ActKind.TurnOver or ActKind.PowerTest or ActKind.Check
            ? Wording.Title(Referee.Task.Map, act, practice: Referee.Task.Basis.Practice)
            : Wording.Verb(Referee.Task.Map, act);

    public async Task<IActionResult> OnGet(Guid id, CancellationToken stop) =>
        (await runs.Run(id, stop)).Try(out var view, out _) ? Show(view) : NotFound();

    public async Task<IActionResult> OnPost(Guid id, MoveForm form, CancellationToken stop)
    {
        Hand = form.Tool ?? Tool.Fingers;
        var made = await moves.Run(id, form.Request, form.Seen, Text(form), User.Actor(), stop);
        if (made.Try(out var view, out var refusal))
        {
            return Request.IsFragment() ? Show(view) : RedirectToPage(Here, new { id, tool = form.Tool });
        }

        if (!(await runs.Run(id, stop)).Try(out var now, out _))
        {
            return NotFound();
        }

        Refusal = refusal;
        Response.StatusCode = Statuses.OnPage(refusal);
        return Show(now);
    }

    /// <summary>The move with what belongs to its kind: a tool in hand, a field and a count for screws.</summary>
    private static string? Text(MoveForm form)
    {
        if (form.What?.StartsWith(MakeMove.At, StringComparison.Ordinal) == true)
        {
            return form.Tool is { } held ? $"{form.What} tool={held}" : form.What;
        }

        if (!Act.TryParse(form.What, out var act))
        {
            return form.What;
        }

        var screws = act.Kind is ActKind.Undo or ActKind.Fasten;
        return new Move(
            act,
            Tool: form.Tool,
            Field: screws ? form.Field : null,
            Count: act.Kind == ActKind.Undo ? form.Count : null
        ).ToString();
    }

    private IActionResult Show(PracticeView view)
    {
        View = view;
        if (view.Referee is { } referee && !view.IsOver)
        {
            Hand =
                Request.HasFormContentType ? Hand
                : Enum.TryParse<Tool>(Request.Query["tool"], out var held) && Enum.IsDefined(held) ? held
                : Hand;
            InSight = Sight.Of(referee);
            Hint = referee.Task.Level == PracticeLevel.Guided ? referee.Next() : null;
        }

        return Request.IsFragment() ? Partial("_Run", this) : Page();
    }
}
