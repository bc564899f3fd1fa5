using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>What a set-up says that another manuscript may have too: not its title, its people, nor what is switched on for a draft.</summary>
/// <param name="Settings">The values that are set, by the settings' names.</param>
/// <param name="Packages">The packages that are loaded, in order.</param>
public sealed record SetUpValues(IReadOnlyDictionary<string, string> Settings, IReadOnlyList<string> Packages)
{
    /// <summary>The values of a set-up.</summary>
    public static SetUpValues Of(SetUp setUp)
    {
        ArgumentNullException.ThrowIfNull(setUp);
        return new SetUpValues(
            setUp.Settings.Where(s => SettingCatalogue.IsShared(s.Setting) && s.Value is not null).ToDictionary(s => s.Setting.Id, s => s.Value!, StringComparer.Ordinal),
            [.. setUp.Packages(new Dictionary<string, int>()).Where(p => !p.DoesNothing && PackageCatalogue.Find(p.Name) is not null).Select(p => p.Name).Distinct()]);
    }
}

/// <summary>One difference between a manuscript's set-up and one that is to be applied.</summary>
/// <param name="Key">Its name: <c>set:…</c> for a setting, <c>load:…</c> for a package.</param>
/// <param name="Title">What it is called.</param>
/// <param name="From">What it is here, in words; null: nothing sets it.</param>
/// <param name="To">What it would be, in words; null: nothing would set it.</param>
/// <param name="IsOffered">Whether it is meant by who saved the set-up: what is only set here stays, unless someone wants it gone.</param>
/// <param name="Problem">Why it can't be, in words; null: it can.</param>
public sealed record SetUpStep(string Key, string Title, string? From, string? To, bool IsOffered, string? Problem);

/// <summary>A set-up of one manuscript carried to another, step by step, each in the smallest way.</summary>
/// <param name="Steps">The differences.</param>
/// <param name="Edits">What is done, in order: each round of edits is of the texts after the one before.</param>
/// <param name="After">The texts after it.</param>
public sealed record SetUpTransfer(IReadOnlyList<SetUpStep> Steps, IReadOnlyList<IReadOnlyList<FileEdit>> Edits, IReadOnlyDictionary<string, string> After)
{
    /// <summary>Works it out.</summary>
    /// <param name="texts">The manuscript's texts, by path.</param>
    /// <param name="main">The main file.</param>
    /// <param name="values">What is to be.</param>
    /// <param name="wanted">The steps that are wanted, by key; null: those that are offered.</param>
    public static SetUpTransfer Plan(IReadOnlyDictionary<string, string> texts, string main, SetUpValues values, IReadOnlySet<string>? wanted)
    {
        ArgumentNullException.ThrowIfNull(values);
        var steps = new List<SetUpStep>();
        var rounds = new List<IReadOnlyList<FileEdit>>();
        foreach (Setting setting in SettingCatalogue.All.Where(SettingCatalogue.IsShared))
        {
            SettingState here = SetUp.Of(texts, main).State(setting);
            string? to = values.Settings.GetValueOrDefault(setting.Id);
            if ((to ?? here.Usual) != (here.Value ?? here.Usual))
            {
                Take($"set:{setting.Id}", setting.Title, Words(setting, here.Value), Words(setting, to), to is not null, s => s.Change(setting.Id, to));
            }
        }

        foreach (string package in values.Packages)
        {
            // A setting may have brought it.
            if (!SetUp.Of(texts, main).Packages(new Dictionary<string, int>()).Any(p => p.Name == package))
            {
                Take($"load:{package}", $"Package {package}", null, PackageCatalogue.Find(package)!.Purpose, true, s => s.Load(package));
            }
        }

        return new SetUpTransfer(steps, rounds, texts);

        void Take(string key, string title, string? from, string? to, bool isOffered, Func<SetUp, IReadOnlyList<FileEdit>> change)
        {
            string? problem = null;
            try
            {
                IReadOnlyList<FileEdit> edits = change(SetUp.Of(texts, main));
                if (edits.Count > 0 && (wanted?.Contains(key) ?? isOffered))
                {
                    texts = SetUp.Apply(texts, edits);
                    rounds.Add(edits);
                }
            }
            catch (SetUpException e)
            {
                problem = e.Message;
            }

            // What stays here unless someone wants it gone, and can't go, is worth no word.
            if (isOffered || problem is null)
            {
                steps.Add(new SetUpStep(key, title, from, to, isOffered, problem));
            }
        }
    }

    private static string? Words(Setting setting, string? value) =>
        value is null ? null : setting.Choices.FirstOrDefault(c => c.Value == value)?.Words ?? (setting.Form == SettingForm.Switch && value == "on" ? "yes" : value);
}
