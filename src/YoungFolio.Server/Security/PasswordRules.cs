using Microsoft.AspNetCore.Identity;
using YoungFolio.Storage;

namespace YoungFolio.Server.Security;

/// <summary>Refuses passwords that are tried first: common ones, rows of keys and figures, repetitions, and what everyone knows of the person.</summary>
internal sealed class PasswordRules : IPasswordValidator<Person>
{
    /// <summary>Code of the refusal.</summary>
    public const string TooCommon = "PasswordTooCommon";

    private const int FewestSigns = 5;
    private const int ShortestName = 4;

    // Kept list, from memory: what such lists agree on, with rows of keys as they lie.
    private static readonly string[] s_common =
        ("password passwort motdepasse contrasena letmein welcome iloveyou trustno1 changeme administrator superman batman football baseball basketball princess sunshine shadow monkey dragon master "
        + "michael jennifer jordan thomas charlie computer internet starwars whatever freedom secret login admin guest default test testtest qwerty qwertz azerty qwertyuiop qwertzuiop asdfghjkl "
        + "yxcvbnm zxcvbnm 1q2w3e4r5t 1qaz2wsx3edc q1w2e3r4t5 zaq12wsx qazwsxedc abcdefghij abcdefghijklmnop 0123456789 1234567890 9876543210 0987654321 123456789 12345678 "
        + "correcthorse correcthorsebatterystaple thesis manuscript youngfolio lichen university student professor").Split(' ');

    private static readonly string[] s_rows = ["abcdefghijklmnopqrstuvwxyz", "01234567890123456789", "qwertyuiopasdfghjklzxcvbnm", "qwertzuiopasdfghjklyxcvbnm", "azertyuiopqsdfghjklmwxcvbn"];

    /// <inheritdoc/>
    public Task<IdentityResult> ValidateAsync(UserManager<Person> manager, Person user, string? password) => Task.FromResult(
        IsGuessed(password ?? "", [user.Name, .. (user.Email ?? "").Split('@', '.')])
            ? IdentityResult.Failed(new IdentityError { Code = TooCommon, Description = "This password is one of those that are tried first. Take a few words that don't belong together." })
            : IdentityResult.Success);

    /// <summary>Whether a password is among those that are tried first.</summary>
    /// <param name="password">The password.</param>
    /// <param name="known">What everyone knows of the person: names.</param>
    public static bool IsGuessed(string password, IEnumerable<string> known)
    {
        // What is put before and behind a word to make it longer, and signs in it that stand for letters.
        string lower = password.ToLowerInvariant();
        int first = lower.AsSpan().IndexOfAnyInRange('a', 'z');
        string core = first < 0 ? "" : lower[first..(lower.AsSpan().LastIndexOfAnyInRange('a', 'z') + 1)];
        string words = string.Concat(core.Select(Letter).Where(char.IsLetter));
        string raw = string.Concat(password.ToLowerInvariant().Where(char.IsLetterOrDigit));
        // A few signs, or a row of keys from whichever it begins, forth or back.
        if (password.Distinct().Count() < FewestSigns || IsRepeated(raw) || s_rows.Any(r => r.Contains(raw, StringComparison.Ordinal) || r.Contains(string.Concat(raw.Reverse()), StringComparison.Ordinal)))
        {
            return true;
        }

        IEnumerable<string> names = known.SelectMany(k => k.ToLowerInvariant().Split(' ', '-')).Where(k => k.Length >= ShortestName);
        return s_common.Concat(names).Any(c => words == c || raw == c || words == c + c || core == c);
    }

    // The same few signs over and over: “abcabcabcabc”.
    private static bool IsRepeated(string text)
    {
        for (int length = 1; length <= text.Length / 2; length++)
        {
            if (text.Where((c, i) => c != text[i % length]).Any() is false)
            {
                return true;
            }
        }

        return false;
    }

    // Signs that are written for letters.
    private static char Letter(char c) => c switch { '0' => 'o', '1' or '!' => 'i', '3' => 'e', '4' or '@' => 'a', '5' or '$' => 's', '7' => 't', _ => c };
}
