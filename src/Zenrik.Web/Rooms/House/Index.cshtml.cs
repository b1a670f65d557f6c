using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Zenrik.Core.HouseRules;
using Zenrik.Web.Hosting;
using Zenrik.Workshop.HouseRules;
using Zenrik.Workshop.Preparing;
using Zenrik.Workshop.Sourcing;

namespace Zenrik.Web.Rooms.House;

public sealed class IndexModel(
    HouseRulesOf rules,
    SetHouseRule setRule,
    SetFigures figures,
    ViewBeginning beginning,
    TimeProvider clock,
    IAuthorizationService authorization
) : RoomPage
{
    private const string Here = "/House/Index";

    public HousePractice Practice { get; private set; } = HousePractice.Default;

    public IReadOnlyDictionary<string, HouseChoice> Decided { get; private set; } =
        new Dictionary<string, HouseChoice>();

    public HouseFigures Figures { get; private set; } = new();

    public string Rates =>
        string.Join(", ", Figures.ExchangeRates.Select(r => FormattableString.Invariant($"{r.Key} {r.Value}")));

    /// <summary>True when this person may decide rules.</summary>
    public bool MayDecide { get; private set; }

    /// <summary>Null where none was made, or this person does not decide.</summary>
    public BackupRecord? LastBackup { get; private set; }

    /// <summary>True when a backup is due.</summary>
    public bool BackupIsOld => LastBackup?.IsOld(clock.GetUtcNow()) == true;

    public async Task OnGet(CancellationToken stop)
    {
        (Practice, var decided) = await rules.Decided(stop);
        Decided = decided.ToDictionary(c => c.RuleId);
        MayDecide = (await authorization.AuthorizeAsync(User, Policies.House)).Succeeded;
        Figures = await figures.Read(stop);
        if (MayDecide)
        {
            LastBackup = await beginning.LastBackup(stop);
        }
    }

    public async Task<IActionResult> OnPostFigures(
        string? currency,
        decimal labour,
        decimal loan,
        string? rates,
        CancellationToken stop
    )
    {
        if (!(await authorization.AuthorizeAsync(User, Policies.House)).Succeeded)
        {
            return Forbid();
        }

        return (await figures.Run(currency, labour, loan, rates, User.Actor(), stop)).Try(out var done, out var refusal)
            ? Did(done, Here)
            : Refused(refusal, Here);
    }

    public async Task<IActionResult> OnPostNotice(string? notice, CancellationToken stop)
    {
        if (!(await authorization.AuthorizeAsync(User, Policies.House)).Succeeded)
        {
            return Forbid();
        }

        return (await figures.Notice(notice, User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, Here)
            : Refused(refusal, Here);
    }

    public async Task<IActionResult> OnPostRule(string rule, string school, CancellationToken stop)
    {
        if (!(await authorization.AuthorizeAsync(User, Policies.House)).Succeeded)
        {
            return Forbid();
        }

        return (await setRule.Run(rule ?? "", school ?? "", User.Actor(), stop)).Try(out var said, out var refusal)
            ? Did(said, Here)
            : Refused(refusal, Here);
    }
}
