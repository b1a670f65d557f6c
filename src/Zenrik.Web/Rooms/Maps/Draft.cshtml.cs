using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.BenchLedger;
using Zenrik.Core.Fit;
using Zenrik.Core.MapMaking;
using Zenrik.Core.ServiceMaps;
using Zenrik.Core.Teardown;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;
using Zenrik.Workshop.Teardown;

namespace Zenrik.Web.Rooms.Maps;

[PostingNeeds(Policies.Bench)]
public sealed class DraftModel(ViewDraft drafts, SayOfModel say, PlanFor plans) : RoomPage
{
    private const string Here = "/Maps/Draft";

    public DraftView View { get; private set; } = null!;

    public Draft Draft => View.Draft;

    public ServiceMap Map { get; private set; } = null!;

    public Guid RequestId { get; } = Guid.CreateVersion7();

    /// <summary>What may be known of a slot; null: nothing was said of it yet.</summary>
    public Specification? Takes(string? slot) => Map.Specifications.FirstOrDefault(s => s.Slot == slot);

    public MachineView Drawing =>
        (
            MachineView.Opened(Map, Map) with
            {
                Underlay = Draft.Underlay,
                Believed = Draft.NotSeen.Select(a => a.Target).ToHashSet(),
            }
        ).WithWaits(Doubtful.Take(MostAsked));

    /// <summary>So many doubtful orders are asked about at once; more arrows would hide the machine.</summary>
    public const int MostAsked = 8;

    /// <summary>What sessions of this model showed and nobody has confirmed, the most doubtful first.</summary>
    public IReadOnlyList<SeenWait> Doubtful
    {
        get
        {
            var met = Draft.Met;
            return [.. Draft.Doubtful.Where(w => met.Contains(w.Waiting))];
        }
    }

    /// <summary>The part a plan stands beside the draft for, by its id; null: none.</summary>
    public string? Goal { get; private set; }

    /// <summary>The plan for it by the draft as it stands; null when there is none.</summary>
    public Plan? Plan { get; private set; }

    public async Task<IActionResult> OnGet(string code, string? goal, CancellationToken stop)
    {
        if (!(await drafts.Run(code, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        if (view.Model.MergedInto is { } itself)
        {
            return RedirectToPage(Here, new { code = itself });
        }

        (View, Map) = (view, view.Map);
        if (Map.Parts.FirstOrDefault(p => p.Id.Value == goal && !p.Fixed) is { } part)
        {
            Goal = goal;
            Plan = (await plans.Of(Map, [new Goal.LiftOut(part.Id)], stop)).Try(out var plan, out _) ? plan : null;
        }

        return Page();
    }

    public Task<IActionResult> OnPostSay(string code, string? goal, SayForm form, CancellationToken stop) =>
        Say(form.Send(say, code, User.Actor(), stop), Here, new { code, goal });

    public Task<IActionResult> OnPostTakeBack(string code, Guid request, int version, CancellationToken stop) =>
        Say(say.TakeBack(request, code, version, User.Actor(), stop), Here, new { code });

    /// <summary>What is known of a part, short.</summary>
    public IEnumerable<string> Facts(Part part, IReadOnlySet<Act> unplaced)
    {
        if (Takes(part.Slot) is { } takes)
        {
            yield return SlotWords.Of(takes);
        }
        else if (part.Slot is { } slot && SlotFacts.KindOf(slot) is not null)
        {
            yield return "what goes in: not said";
        }

        if (part.Cells)
        {
            yield return "holds cells";
        }

        if (Draft.RidesOn(part.Id) is { } on)
        {
            yield return Draft.Brings(on, part.Id) switch
            {
                true => $"rides on {Wording.The(Part(on.Value))}, a new one brings it",
                false => $"rides on {Wording.The(Part(on.Value))}, moves over to a new one",
                null => $"rides on {Wording.The(Part(on.Value))}",
            };
        }

        if (part.BlockedBy.Count > 0)
        {
            yield return $"after {string.Join(", ", part.BlockedBy.Select(b => Map.Part(b).Name))}";
        }

        if (unplaced.Contains(Act.LiftOut(part.Id)))
        {
            yield return "not placed yet";
        }
    }

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
            Statement.Lead { Other: { } far } s =>
                $"{Name($"open:{s.Joint}")} and {Name($"open:{far}")} are the two ends of one lead",
            Statement.Lead s => $"{Name($"open:{s.Joint}")} is no end of a loose lead",
            Statement.Rides { On: { } on } s => $"{Part(s.Part)} rides on {Wording.The(Part(on))}",
            Statement.Rides s => $"{Part(s.Part)} rides on nothing",
            Statement.Brings { Does: true } s => $"a new {Part(s.Part)} comes with {Wording.A(Part(s.What))}",
            Statement.Brings s => $"{Part(s.What)} moves over to a new {Part(s.Part)}",
            Statement.InSlot { Slot: { } slot } s => $"the number of {Wording.The(Part(s.Part))} is kept under {slot}",
            Statement.InSlot s => $"no number is kept of {Wording.The(Part(s.Part))}",
            Statement.Called s => $"{Plain(s.What)} is called {s.Name}",
            Statement.Lies s => $"{Name(s.What)} is placed on the drawing",
            Statement.Moved s =>
                $"{string.Join(", ", s.What.Select(Name))}: moved by {Show.Mm(s.RightMm)}, {Show.Mm(s.DownMm)} mm",
            Statement.Runs s => $"the cable of {Wording.The(Name($"open:{s.Joint}"))} is drawn",
            Statement.Drawn s => $"{Part(s.Part)} is drawn in layer {s.Layer}",
            Statement.Stays { At.Count: 0 } s => $"{s.Name} is nothing that stays",
            Statement.Stays s => $"{s.Name} stays: {s.Why}",
            Statement.Pictured => "a photograph lies under the drawing",
            Statement.Screws s =>
                $"{Name(s.What)}: {Show.Count(s.Count, "screw")}, {s.Drive.Name()}{(s.LengthMm is { } mm ? $", {Show.Mm(mm)} mm" : "")}",
            Statement.Opens s => $"{Name($"open:{s.Joint}")} is a {s.Kind.Handling().Name}",
            Statement.Same s => $"{Plain(s.What)} is another name of {Wording.The(Name(s.As))}",
            Statement.Absent s => $"there is no {Plain(s.What)}",
            Statement.Seen s => $"{Name(s.What)} is here as well",
            Statement.Takes s => $"what goes into {s.What.Slot}: {SlotWords.Of(s.What)}",
            Statement.Firmware { Offers.Count: 0 } => "the firmware offers nothing of its own",
            Statement.Firmware s =>
                $"of the firmware: {string.Join("; ", FirmwareOffers.All.Where(o => s.Offers.Contains(o.Id)).Select(o => o.Name))}",
            Statement.Measures s => $"the outline is {Show.Mm(s.WidthMm)} × {Show.Mm(s.HeightMm)} mm",
            _ => throw new InvalidOperationException($"no words for {statement.GetType().Name}"),
        };

    /// <summary>What a thing is called; screws are told from the part that may be called the same.</summary>
    public string Name(string act) =>
        Act.Parse(act) is { Kind: ActKind.Undo } screws
        && Map.Fasteners.FirstOrDefault(f => f.Id == screws.Fastener) is { } f
            ? Wording.ScrewsOf(f)["the ".Length..]
            : Draft.NameOf(Act.Parse(act));

    /// <summary>What it was called first, whatever it is called by now.</summary>
    private static string Plain(string act) => act.Split(':')[^1].Replace('-', ' ');

    private string Part(string part) => part == "machine" ? "machine" : Name($"lift-out:{part}");
}
