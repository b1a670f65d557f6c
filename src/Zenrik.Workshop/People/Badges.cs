using System.Security.Cryptography;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Zenrik.Core;

namespace Zenrik.Workshop.People;

/// <summary>
/// Badges: a code to scan and a PIN, by which somebody works for a while on a device where somebody has signed in. Neither
/// opens anything without the other, nor where nobody has signed in.
/// </summary>
public sealed partial class Badges(WorkshopDb db, IPasswordHasher<Technician> hasher, TimeProvider clock)
{
    public const int MinPin = 4;
    public const int MaxPin = 8;

    private const string Prefix = "ZB-";

    /// <summary>Whether what was scanned is a badge.</summary>
    public static bool IsBadge(string? code) =>
        code?.Trim().StartsWith(Prefix, StringComparison.OrdinalIgnoreCase) == true;

    /// <summary>Makes one's badge anew; an older one opens nothing any more.</summary>
    /// <returns>The code; it cannot be shown again.</returns>
    public Task<Outcome<string>> Make(string? pin, Actor by, CancellationToken stop = default)
    {
        return db.Write(by, by.Name, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var wanted = pin?.Trim() ?? "";
            if (!Digits().IsMatch(wanted) || IsRow(wanted))
            {
                return new Refusal(
                    RefusalReason.Invalid,
                    $"A PIN has {MinPin} to {MaxPin} digits, not all alike and not in a row. Nothing was changed."
                );
            }

            var person = await db.Users.SingleAsync(p => p.Id == by.Id, stop);
            var code = Prefix + RandomNumberGenerator.GetString("0123456789ABCDEFGHJKMNPQRSTVWXYZ", 16);
            person.BadgeHash = ApiToken.HashOf(code);
            person.PinHash = hasher.HashPassword(person, wanted);
            return code;
        }
    }

    /// <summary>Takes one's badge back; twice is no fault.</summary>
    public Task<Outcome<string>> Drop(Actor by, CancellationToken stop = default)
    {
        return db.Write(by, by.Name, clock.GetUtcNow(), Work, stop);

        async Task<Outcome<string>> Work()
        {
            var person = await db.Users.SingleAsync(p => p.Id == by.Id, stop);
            (person.BadgeHash, person.PinHash) = (null, null);
            return "Your badge opens nothing any more.";
        }
    }

    /// <summary>Whether somebody has one.</summary>
    public Task<bool> Has(Actor who, CancellationToken stop = default) =>
        db.Users.AnyAsync(p => p.Id == who.Id && p.BadgeHash != null, stop);

    /// <summary>Whose badge and PIN these are; null: nobody's. Takes as long for a badge nobody has.</summary>
    public async Task<Technician?> Whose(string? code, string? pin, CancellationToken stop = default)
    {
        var hash = ApiToken.HashOf(LabelCode.Of(code));
        var person = await db
            .Users.AsNoTracking()
            .SingleOrDefaultAsync(p => p.BadgeHash == hash && p.DisabledAt == null, stop);
        if (person is not { PinHash: { } known })
        {
            hasher.HashPassword(new Technician { Name = "nobody" }, pin ?? "");
            return null;
        }

        return hasher.VerifyHashedPassword(person, known, pin?.Trim() ?? "") == PasswordVerificationResult.Failed
            ? null
            : person;
    }

    private static bool IsRow(string pin)
    {
        var steps = pin.Zip(pin.Skip(1), (a, b) => b - a).Distinct().ToList();
        return steps is [0] or [1] or [-1];
    }

    [GeneratedRegex("^[0-9]{4,8}$")]
    private static partial Regex Digits();
}
