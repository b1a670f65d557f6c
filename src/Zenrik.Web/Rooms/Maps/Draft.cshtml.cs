using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

[PostingNeeds(Policies.Bench)]
public sealed class DraftModel(ViewDraft drafts, SayOfModel say, KeepModel models) : RoomPage
{
    private const string Here = "/Maps/Draft";

    public DraftView View { get; private set; } = null!;

    public Draft Draft => View.Draft;

    public ServiceMap Map { get; private set; } = null!;

    public Guid RequestId { get; } = Guid.CreateVersion7();

    public ModelFacts Facts =>
        new(
            View.Model.Maker,
            View.Model.Name,
            View.Model.Class,
            View.Model.SupportEnds,
            View.Model.LifeMonths,
            View.Model.NewPrice
        );

    public MachineView Drawing => MachineView.Opened(Map, Map);

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await drafts.Run(code, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        (View, Map) = (view, view.Map);
        return Page();
    }

    public async Task<IActionResult> OnPostSay(string code, SayForm form, CancellationToken stop) =>
        await Say(
            form.ToStatement() is { } statement
                ? say.Run(form.Request, code, form.Seen, statement, User.Actor(), stop)
                : Task.FromResult<Outcome<string>>(
                    new Refusal(
                        RefusalReason.Invalid,
                        form.Said == "lies"
                            ? "A place is written as millimetres from the top left, like 12.5,40: two corners for a part, one place for each screw. Nothing was changed."
                            : "Something is missing there. Nothing was changed; fill it in and send it once more."
                    )
                ),
            Here,
            new { code }
        );

    public Task<IActionResult> OnPostTakeBack(string code, Guid request, int version, CancellationToken stop) =>
        Say(say.TakeBack(request, code, version, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostModel(string code, ModelFacts facts, CancellationToken stop) =>
        Say(models.Change(code, facts, User.Actor(), stop), Here, new { code });

    /// <summary>What was said, in a sentence.</summary>
    public string Words(Statement statement) =>
        statement switch
        {
            Statement.NeedNot s => $"{Name(s.What)} need not wait for {Wording.The(Name(s.After))}",
            Statement.Needs s => $"{Name(s.What)} must wait for {Wording.The(Name(s.After))}",
            Statement.CannotTell s =>
                $"nobody could tell whether {Name(s.What)} waits for {Wording.The(Name(s.After))}",
            Statement.Holds s => $"{Name(s.What)} hold {Wording.The(Part(s.Part))}",
            Statement.Joins s =>
                $"{Name($"open:{s.Joint}")} joins {Wording.The(Part(s.Plug))} and {Wording.The(Part(s.Socket))}",
            Statement.Rides { On: { } on } s => $"{Part(s.Part)} rides on {Wording.The(Part(on))}",
            Statement.Rides s => $"{Part(s.Part)} rides on nothing",
            Statement.InSlot { Slot: { } slot } s => $"the number of {Wording.The(Part(s.Part))} is kept under {slot}",
            Statement.InSlot s => $"no number is kept of {Wording.The(Part(s.Part))}",
            Statement.Called s => $"{s.What.Split(':')[^1]} is called {s.Name}",
            Statement.Lies s => $"{Name(s.What)} is placed on the drawing",
            Statement.Measures s => $"the outline is {Show.Mm(s.WidthMm)} × {Show.Mm(s.HeightMm)} mm",
            _ => throw new InvalidOperationException($"no words for {statement.GetType().Name}"),
        };

    public string Name(string act) => Draft.NameOf(Act.Parse(act));

    private string Part(string part) => part == "machine" ? "machine" : Name($"lift-out:{part}");
}
