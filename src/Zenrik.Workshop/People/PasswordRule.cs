using Microsoft.AspNetCore.Identity;

namespace Zenrik.Workshop.People;

/// <summary>
/// What a password must be: long, and not easily guessed. No rules on which characters it has (NIST SP 800-63B, from
/// memory). How well it can be guessed is estimated by zxcvbn with its own lists of words, names and common passwords.
/// </summary>
public sealed class PasswordRule : IPasswordValidator<Technician>
{
    public const int MinLength = 12;

    public const int MaxLength = 128;

    /// <summary>0 to 4; 3: withstands somebody who has stolen the hashes for a while.</summary>
    private const int LeastScore = 3;

    /// <summary>The estimator's work grows with the square of the length; what is this good so far stays good.</summary>
    private const int Judged = 40;

    private static readonly string[] OfTheHouse = ["zenrik", "workshop", "technician", "password"];

    public Task<IdentityResult> ValidateAsync(UserManager<Technician> manager, Technician user, string? password) =>
        Task.FromResult(
            Weakness(password ?? "", user) is { } weakness
                ? IdentityResult.Failed(new IdentityError { Code = "Guessable", Description = weakness })
                : IdentityResult.Success
        );

    /// <summary>What is wrong with a password, one sentence; null when nothing is.</summary>
    public static string? Weakness(string password, Technician user)
    {
        if (password.Length is < MinLength or > MaxLength)
        {
            return $"A password has {MinLength} to {MaxLength} characters. A few words that do not belong together do well.";
        }

        string[] own = [user.UserName ?? "", .. user.Name.Split(' ', '.', '-')];
        if (own.Any(o => o.Length > 2 && password.Contains(o, StringComparison.OrdinalIgnoreCase)))
        {
            return "A password must not contain your name. Choose one that nobody connects with you.";
        }

        var judged = password.Length > Judged ? password[..Judged] : password;
        return new Zxcvbn.Zxcvbn().EvaluatePassword(judged, [.. own, .. OfTheHouse]).Score < LeastScore
            ? "That password is easily guessed. A few words that do not belong together do well."
            : null;
    }
}
