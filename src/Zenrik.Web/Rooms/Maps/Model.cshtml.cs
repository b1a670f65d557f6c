using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.MapMaking;

namespace Zenrik.Web.Rooms.Maps;

/// <summary>What the house says of a model: its names and years, its outline and firmware, which other it is like, or is.</summary>
[PostingNeeds(Policies.Bench)]
public sealed class ModelModel(ViewDraft drafts, SayOfModel say, KeepModel models, MergeModels merge) : RoomPage
{
    private const string Here = "/Maps/Model";

    public DraftView View { get; private set; } = null!;

    public ModelFacts Facts =>
        new(
            View.Model.Maker,
            View.Model.Name,
            View.Model.Class,
            View.Model.SupportEnds,
            View.Model.LifeMonths,
            View.Model.NewPrice,
            View.Model.WarrantyMonths,
            View.Model.IsRetired
        );

    public async Task<IActionResult> OnGet(string code, CancellationToken stop)
    {
        if (!(await drafts.Run(code, stop)).Try(out var view, out _))
        {
            return NotFound();
        }

        View = view;
        return view.Model.MergedInto is { } itself ? RedirectToPage(Here, new { code = itself }) : Page();
    }

    public Task<IActionResult> OnPostFacts(string code, ModelFacts facts, CancellationToken stop) =>
        Say(models.Change(code, facts, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostSay(string code, SayForm form, CancellationToken stop) =>
        Say(form.Send(say, code, User.Actor(), stop), Here, new { code });

    public Task<IActionResult> OnPostCopy(string code, Guid request, int seen, string? from, CancellationToken stop) =>
        Say(say.Copy(request, code, seen, from, User.Actor(), stop), Here, new { code });

    /// <summary>It is another entry's machine.</summary>
    public async Task<IActionResult> OnPostMerge(string code, Guid request, string? into, CancellationToken stop) =>
        (await merge.Run(request, code, into, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, Here, new { code = into })
            : Refused(refusal, Here, new { code });
}
