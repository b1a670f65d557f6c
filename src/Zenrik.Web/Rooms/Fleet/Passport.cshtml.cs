using Microsoft.AspNetCore.Mvc;
using Zenrik.Core;
using Zenrik.Core.Batteries;
using Zenrik.Core.ServiceMaps;
using Zenrik.Web.Drawing;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.Batteries;
using Zenrik.Workshop.Fit;
using Zenrik.Workshop.Fleet;

namespace Zenrik.Web.Rooms.Fleet;

[PostingNeeds(Policies.Counter)]
[RequestSizeLimit(Uploads.MostBytes)]
public sealed class PassportModel(
    PassportOf passports,
    HistoryOf histories,
    FitOf fits,
    LendUnit lend,
    LoseUnit lose,
    HearUnit hear,
    DecideQuestion decide,
    CorrectPassport correct,
    CorrectUnit correctUnit,
    FleetBatteries batteries
) : RoomPage
{
    private const string Here = "/Fleet/Passport";

    public Passport Passport { get; private set; } = null!;

    public UnitHistory History { get; private set; } = null!;

    /// <summary>The opened machine from each side it is worked on from; empty without a map.</summary>
    public IReadOnlyList<MachineView> Drawings { get; private set; } = [];

    public IReadOnlyList<Upgrade> Upgrades { get; private set; } = [];

    /// <summary>Slots of which it is not known whether anything is in them.</summary>
    public IReadOnlySet<string> NotKnown => FitOf.NotKnown(Passport);

    /// <summary>The battery's health over time; null with fewer than two readings.</summary>
    public HealthChart? Health { get; private set; }

    /// <summary>When its battery comes under the limit; null where nothing was read of it.</summary>
    public BatteryForecast? Forecast { get; private set; }

    public async Task<IActionResult> OnGet(string tag, CancellationToken stop)
    {
        if (!(await passports.Run(tag, stop)).Try(out var passport, out _))
        {
            return RedirectToPage("/Scan", new { code = tag });
        }

        Passport = passport;
        History = await histories.Run(passport.Unit.Id, stop);
        Health = HealthChart.Of(History.Readings);
        var battery = passport.Slots.FirstOrDefault(s => s.Item is not null && BatterySlot.Is(s.Slot));
        Forecast = await batteries.Of(
            passport.Unit.ModelCode,
            battery?.Item,
            battery?.Since,
            History.Readings.Where(r => r.ItemId == battery?.Item?.Id).Select(r => (r.At, r.Health)),
            stop
        );
        Drawings = passport is { Model: { } model, Fitted: { } fitted } ? MachineView.Faces(model, fitted) : [];
        Upgrades = await fits.Upgrades(passport, stop);
        return Page();
    }

    public Task<IActionResult> OnPostLend(
        string tag,
        Guid request,
        string? to,
        DateOnly? due,
        string? repair,
        CancellationToken stop
    ) => Say(lend.Out(request, tag, to, due, repair, User.Actor(), stop), Here, new { tag });

    public Task<IActionResult> OnPostBack(string tag, Guid request, CancellationToken stop) =>
        Say(lend.Back(request, tag, User.Actor(), stop), Here, new { tag });

    public Task<IActionResult> OnPostLost(string tag, Guid request, string? how, CancellationToken stop) =>
        Say(lose.Lost(request, tag, how, User.Actor(), stop), Here, new { tag });

    public Task<IActionResult> OnPostFound(string tag, Guid request, string? how, CancellationToken stop) =>
        Say(lose.Found(request, tag, how, User.Actor(), stop), Here, new { tag });

    public Task<IActionResult> OnPostPool(string tag, Guid request, bool inPool, CancellationToken stop) =>
        Say(lend.Pool(request, tag, inPool, User.Actor(), stop), Here, new { tag });

    public Task<IActionResult> OnPostDecide(string tag, Guid question, bool accept, CancellationToken stop) =>
        Say(decide.Run(question, accept, User.Actor(), stop), Here, new { tag });

    public Task<IActionResult> OnPostCorrect(
        string tag,
        Guid request,
        string slot,
        string? number,
        string? serial,
        string? why,
        CancellationToken stop
    ) => Say(correct.Run(request, tag, slot, number, serial, why, User.Actor(), stop), Here, new { tag });

    /// <summary>What is in every slot: the fields are called after them.</summary>
    public Task<IActionResult> OnPostSlots(string tag, Guid request, string? why, CancellationToken stop)
    {
        string? Said(string field) => Request.Form[field].ToString() is { Length: > 0 } text ? text : null;
        return Say(
            correct.All(
                request,
                tag,
                [
                    .. Request
                        .Form.Keys.Where(k => k.StartsWith(NumberOf, StringComparison.Ordinal))
                        .Select(k => k[NumberOf.Length..])
                        .Select(slot => (slot, Said(NumberOf + slot), Said(SerialOf + slot))),
                ],
                why,
                User.Actor(),
                stop
            ),
            Here,
            new { tag }
        );
    }

    /// <summary>What the names of the fields of a slot begin with.</summary>
    public const string NumberOf = "number-of-";

    public const string SerialOf = "serial-of-";

    public Task<IActionResult> OnPostUnit(string tag, Guid request, SaidOfUnit said, CancellationToken stop) =>
        Say(correctUnit.Run(request, tag, said, User.Actor(), stop), Here, new { tag });

    /// <summary>What the machine says of itself, as text or as a file.</summary>
    public async Task<IActionResult> OnPostHear(string tag, string? text, IFormFile? file, CancellationToken stop)
    {
        var said = file is null ? text : System.Text.Encoding.UTF8.GetString(await Uploads.Read(file, stop));
        return (await hear.Either(tag, said, User.Actor(), stop)).Try(out var came, out var refusal)
            ? Did(came.Text, Here, new { tag })
            : Refused(refusal, Here, new { tag });
    }
}
