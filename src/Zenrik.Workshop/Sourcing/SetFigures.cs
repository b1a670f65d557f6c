using Microsoft.EntityFrameworkCore;
using Zenrik.Core;
using Zenrik.Core.Fleet;

namespace Zenrik.Workshop.Sourcing;

/// <summary>Reads and sets what the house reckons with: its currency, pay, loan units, exchange rates.</summary>
public sealed class SetFigures(WorkshopDb db, TimeProvider clock)
{
    public Task<HouseFigures> Read(CancellationToken stop = default) => db.Figures(stop);

    /// <param name="rates">"EUR 0.85, USD 0.78": workshop currency for one unit of each.</param>
    public async Task<Outcome<string>> Run(
        string? currency,
        decimal labourPerHour,
        decimal loanPerDay,
        string? rates,
        Actor by,
        CancellationToken stop = default
    )
    {
        var code = currency?.Trim().ToUpperInvariant() ?? "";
        if (code.Length != 3 || !code.All(char.IsAsciiLetterUpper))
        {
            return Invalid($"\"{currency}\" is no currency: three letters, as GBP.");
        }

        if (labourPerHour is <= 0 or > 1000 || loanPerDay is < 0 or > 1000)
        {
            return Invalid("Pay for an hour is above nothing, a loan unit's day not below, and neither above 1000.");
        }

        var read = new Dictionary<string, decimal>();
        foreach (
            var entry in (rates ?? "").Split(
                ',',
                StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries
            )
        )
        {
            if (
                entry.Split(' ', StringSplitOptions.RemoveEmptyEntries) is not [{ Length: 3 } other, var text]
                || !decimal.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out var rate)
                || rate is <= 0 or > 100_000
            )
            {
                return Invalid($"\"{entry}\" is no rate. Write a code and a number above nothing: EUR 0.85.");
            }

            read[other.ToUpperInvariant()] = rate;
        }

        return await db.Write(by, "figures", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var figures = await Kept(stop);
            (figures.Currency, figures.LabourPerHour, figures.LoanPerDay, figures.ExchangeRates) = (
                code,
                labourPerHour,
                loanPerDay,
                read
            );
            return $"The house reckons in {code}.";
        }
    }

    /// <summary>Says whose workshop it is, where, and what its tags look like.</summary>
    /// <param name="tagPattern">Blank: any tag goes.</param>
    /// <param name="timeZone">By its IANA name; blank: that of the machine.</param>
    public async Task<Outcome<string>> Organisation(
        string? name,
        string? tagPattern,
        string? timeZone,
        Actor by,
        CancellationToken stop = default
    )
    {
        var called = name?.Trim() ?? "";
        if (called.Length is < 2 or > HouseFigures.MaxOrganisation || called.Any(char.IsControl))
        {
            return Invalid($"The organisation's name has 2 to {HouseFigures.MaxOrganisation} characters.");
        }

        TagPattern? pattern = null;
        if (!string.IsNullOrWhiteSpace(tagPattern) && !TagPattern.Read(tagPattern).Try(out pattern, out var wrong))
        {
            return wrong;
        }

        var zone = timeZone?.Trim() ?? "";
        if (zone.Length > 0 && !(zone.Length <= 64 && TimeZoneInfo.TryFindSystemTimeZoneById(zone, out _)))
        {
            return Invalid($"“{zone}” is no time zone that is known here. They are named as Europe/London.");
        }

        return await db.Write(by, "organisation", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var figures = await Kept(stop);
            (figures.Organisation, figures.TagPattern, figures.TimeZone) = (
                called,
                pattern?.Text,
                zone.Length == 0 ? null : zone
            );
            return $"This is the workshop of {called}{(pattern is null ? "" : $"; its tags look like {pattern.Example}")}.";
        }
    }

    /// <summary>Sets what the sign-in page says to everybody; blank: nothing.</summary>
    public async Task<Outcome<string>> Notice(string? text, Actor by, CancellationToken stop = default)
    {
        var said = text?.ReplaceLineEndings("\n").Trim() ?? "";
        if (said.Length > HouseFigures.MaxNotice || said.Any(c => char.IsControl(c) && c != '\n'))
        {
            return Invalid($"At most {HouseFigures.MaxNotice} characters of plain text; this has {said.Length}.");
        }

        return await db.Write(by, "notice", clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var figures = await Kept(stop);
            figures.Notice = said.Length == 0 ? null : said;
            return said.Length == 0
                ? "The sign-in page says nothing of its own now."
                : "The sign-in page says it to everybody now.";
        }
    }

    private async Task<HouseFigures> Kept(CancellationToken stop)
    {
        var figures = await db.HouseFigures.SingleOrDefaultAsync(stop);
        if (figures is null)
        {
            figures = new HouseFigures();
            db.HouseFigures.Add(figures);
        }

        return figures;
    }

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
