using System.Text.RegularExpressions;
using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>A place that sets something.</summary>
/// <param name="File">Its file.</param>
/// <param name="From">The command's first character.</param>
/// <param name="To">The place behind it.</param>
/// <param name="Value">What it sets.</param>
/// <param name="Held">Why it is left alone.</param>
/// <param name="IsShared">Whether it sets something else too.</param>
public sealed record SettingPlace(string File, int From, int To, string Value, HeldBecause Held, bool IsShared);

/// <summary>What a preamble says of a setting.</summary>
/// <param name="Setting">The setting.</param>
/// <param name="Value">The value that is set; null: nothing sets it.</param>
/// <param name="Usual">What holds where nothing sets it: always, or with this class; null: it depends.</param>
/// <param name="Places">All places that set it, in order: the last one wins.</param>
/// <param name="CanChange">Whether it can be changed here.</param>
public sealed record SettingState(Setting Setting, string? Value, string? Usual, IReadOnlyList<SettingPlace> Places, bool CanChange);

/// <summary>A setting can't be changed, in words for people.</summary>
public sealed class SetUpException(string message) : Exception(message);

/// <summary>
/// What a manuscript's preamble sets, and the smallest changes of it. All else stays as it is typed, comments and order included.
/// </summary>
public sealed partial class SetUp
{
    private const int LongestValue = 2000;
    private const int LongestText = 20_000;

    private readonly TypedPreamble _preamble;
    private readonly string _main;

    private SetUp(TypedPreamble preamble, string main)
    {
        _preamble = preamble;
        _main = main;
    }

    /// <summary>Reads a set-up.</summary>
    /// <param name="texts">The manuscript's texts, by path.</param>
    /// <param name="main">The main file.</param>
    public static SetUp Of(IReadOnlyDictionary<string, string> texts, string main) => new(TypedPreamble.Of(texts, main), main);

    /// <summary>Whether there is a preamble: a class, and a beginning of the text.</summary>
    public bool HasPreamble => _preamble.Begin is not null && _preamble.Commands.Any(c => c.Name == "documentclass");

    /// <summary>Where the text begins; null: nowhere.</summary>
    public (string File, int At)? Begin => _preamble.Begin;

    /// <summary>What is said of each setting.</summary>
    public IReadOnlyList<SettingState> Settings => [.. SettingCatalogue.All.Select(State)];

    /// <summary>What is said of a setting.</summary>
    public SettingState State(Setting setting)
    {
        ArgumentNullException.ThrowIfNull(setting);
        List<Found> found = Read(setting);
        Found? last = Winner(found);
        bool isFree = last is not null && last.Command.Held == HeldBecause.No && (!last.IsShared || Added(setting, last.Value) is not null);
        bool canAdd = last is null && setting.Carriers.Any(c => setting.Choices.Select(x => x.Value).Append(setting.Usual ?? "1cm").Where(c.CanHold).Take(1).Any(v => c.Add(_preamble, v) is not null));
        return new SettingState(setting, last?.Value, setting.Usual ?? UsualOf(setting.Id), [.. found.Select(f => new SettingPlace(f.Command.File, f.Command.From, f.Command.To, f.Value, f.Command.Held, f.IsShared))], HasPreamble && (isFree || canAdd));
    }

    /// <summary>The edits that give a setting a value.</summary>
    /// <param name="id">The setting.</param>
    /// <param name="value">The value; null: nothing is to set it any more.</param>
    /// <exception cref="SetUpException">It can't be changed here.</exception>
    public IReadOnlyList<FileEdit> Change(string id, string? value)
    {
        Setting setting = SettingCatalogue.Find(id) ?? throw new SetUpException("There is no such setting.");
        if (!HasPreamble)
        {
            throw new SetUpException("This manuscript has no preamble yet: it needs \\documentclass and \\begin{document}.");
        }

        if (value is not null)
        {
            Check(setting, value);
        }

        Found? last = Winner(Read(setting));
        if (last?.Command.Held is { } held and not HeldBecause.No)
        {
            throw new SetUpException($"This is set in {last.Command.File} {Reason(held)}. Change it there.");
        }

        // The usual value may have no words of its own: it holds where nothing says another.
        if (value is not null && value == setting.Usual && !setting.Carriers.Any(c => c.CanHold(value)))
        {
            value = null;
        }

        if (value == last?.Value)
        {
            return [];
        }

        IReadOnlyList<FileEdit> edits = Edits(setting, last, value);
        // Where a condition or a brace stays open, what is written behind it may not be read at all.
        SettingState after = Of(Apply(_preamble.Texts, edits), _main).State(setting);
        return value is null || value == (after.Value ?? after.Usual) ? edits
            : throw new SetUpException("Something before this place isn’t closed, so that it would have no effect. Look at the preamble’s source.");
    }

    private IReadOnlyList<FileEdit> Edits(Setting setting, Found? last, string? value)
    {
        if (value is null)
        {
            return last!.IsShared ? throw new SetUpException("What sets this sets something else too. Change it in the source.") : last.Carrier.Remove(_preamble, last);
        }

        if (last is not null && !last.IsShared && last.Carrier.CanHold(value))
        {
            return last.Carrier.Replace(_preamble, last, value);
        }

        // Another way of saying it wins over what is there only where that is gone.
        IReadOnlyList<FileEdit> gone = last is { IsShared: false } ? last.Carrier.Remove(_preamble, last) : [];
        return [.. gone, .. Added(setting, value) ?? throw new SetUpException("There is no place in the preamble where this could be set.")];
    }

    /// <summary>Settings that fight each other, or can't be.</summary>
    public IReadOnlyList<SetUpRemark> Remarks => HasPreamble ? SetUpRemarks.Of(this, _preamble) : [];

    /// <summary>The packages that are loaded, in order.</summary>
    /// <param name="uses">How often the manuscript uses commands (with their backslash) and environments.</param>
    public IReadOnlyList<PackageLoading> Packages(IReadOnlyDictionary<string, int> uses) => LoadedPackages.Of(_preamble, uses);

    /// <summary>The edits that load a package.</summary>
    /// <param name="name">Its name.</param>
    /// <exception cref="SetUpException">There is none of that name, it is loaded, or there is no preamble.</exception>
    public IReadOnlyList<FileEdit> Load(string name)
    {
        if (PackageCatalogue.Find(name) is null)
        {
            throw new SetUpException($"There is no package {name}.");
        }

        return SwitchCarrier.IsLoaded(_preamble, name) ? throw new SetUpException($"{name} is loaded already.")
            : HasPreamble && PreambleEdits.PackageLine(_preamble, name, $"\\usepackage{{{name}}}") is { } edit ? [edit]
            : throw new SetUpException("There is no place in the preamble where it could be loaded.");
    }

    /// <summary>The edits that no longer load a package.</summary>
    /// <param name="name">Its name.</param>
    /// <exception cref="SetUpException">It isn't loaded here, or where it is can't be changed.</exception>
    public IReadOnlyList<FileEdit> Unload(string name)
    {
        PreambleCommand[] loading = [.. _preamble.Commands.Where(c => c.Name is "usepackage" or "RequirePackage" && c.Held == HeldBecause.No && PreambleEdits.Names(_preamble, c).Contains(name))];
        return loading.Length > 0 ? [.. loading.Select(c => PreambleEdits.RemovePackage(_preamble, c, name))] : throw new SetUpException($"{name} isn’t loaded by a line that can be changed here.");
    }

    /// <summary>Applies edits to texts.</summary>
    public static IReadOnlyDictionary<string, string> Apply(IReadOnlyDictionary<string, string> texts, IReadOnlyList<FileEdit> edits)
    {
        ArgumentNullException.ThrowIfNull(texts);
        var result = new Dictionary<string, string>(texts, StringComparer.Ordinal);
        foreach (IGrouping<string, FileEdit> file in edits.GroupBy(e => e.File))
        {
            result[file.Key] = BibText.Apply(texts[file.Key], file.Select(e => e.Edit).OrderBy(e => e.Offset));
        }

        return result;
    }

    // As the class begins.
    private string? UsualOf(string id)
    {
        string name = _preamble.Commands.Where(c => c.Name is "LoadClass" or "documentclass").Select(c => _preamble.Words(c, TypedPreamble.Argument(c)!.Value).Trim()).FirstOrDefault(n => ClassCatalogue.Find(n) is not null) ?? "";
        return ClassCatalogue.Find(name) is not { } known ? null : id switch
        {
            "sides" => known.IsTwoSided ? "both" : "one",
            "titlepage" => known.HasTitlePage ? "page" : "top",
            "open" => known.OpensRight ? "right" : "any",
            "pagestyle" => known.PageStyle,
            "numberdepth" => Depth(known.NumberDepth),
            "depth" => Depth(known.ContentsDepth),
            _ => null,
        };

        static string Depth(int level) => level.ToString(System.Globalization.CultureInfo.InvariantCulture);
    }

    private IReadOnlyList<FileEdit>? Added(Setting setting, string value)
    {
        // Fields of one's own need the package, and begin empty.
        if (setting.Id == "pagestyle" && value == "fancy" && !SwitchCarrier.IsLoaded(_preamble, "fancyhdr"))
        {
            return PreambleEdits.PackageLine(_preamble, "fancyhdr", "\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}") is { } line ? [line] : null;
        }

        return setting.Carriers.Where(c => c.CanHold(value)).Select(c => c.Add(_preamble, value)).FirstOrDefault(e => e is not null);
    }

    // In the order in which they are read; what a definition holds may never be.
    private List<Found> Read(Setting setting)
    {
        List<PreambleCommand> order = [.. _preamble.Commands, .. _preamble.InText];
        return [.. setting.Carriers.SelectMany(c => c.Read(_preamble)).DistinctBy(f => (f.Command, f.From)).OrderBy(f => order.IndexOf(f.Command)).ThenBy(f => f.From)];
    }

    private static Found? Winner(List<Found> found) => found.LastOrDefault(f => f.Command.Held != HeldBecause.Definition) ?? found.LastOrDefault();

    private static void Check(Setting setting, string value)
    {
        if (value.Length > (setting.IsLong ? LongestText : LongestValue) || !IsWhole(value, setting.IsLong))
        {
            throw new SetUpException(setting.IsLong ? "This text can’t stand there: its braces must be closed, it has at most 20,000 signs, and no backslash at its end."
                : "These words can’t stand there: braces must be closed, and there may be no empty line, no lone % and no backslash at the end.");
        }

        switch (setting.Form)
        {
            case SettingForm.Length when !Lengths.IsLength(value):
                throw new SetUpException($"“{value}” is no length. Write a number with a unit, such as 2.5cm, 30mm, 12pt or 1in.");
            case SettingForm.Choice when setting.TakesOthers && !OtherValue().IsMatch(value) && !setting.Choices.Any(c => c.Value == value):
            case SettingForm.Choice or SettingForm.Switch when !setting.TakesOthers && !setting.Choices.Select(c => c.Value).Append("on").Contains(value) && !setting.Carriers.Any(c => c is OptionCarrier { Keys.Count: > 0 }):
                throw new SetUpException($"“{value}” isn’t among the values of this setting.");
        }
    }

    // Whether words leave what stands around them as it is; a text of its own may have paragraphs and comments.
    private static bool IsWhole(string value, bool isLong)
    {
        int depth = 0;
        for (int i = 0; i < value.Length && depth >= 0; i++)
        {
            switch (value[i])
            {
                case '\\' when ++i == value.Length:
                    return false;
                case '%' when isLong:
                    i = value.IndexOf('\n', i) is >= 0 and var end ? end : value.Length;
                    break;
                case '%':
                    return false;
                case '{':
                    depth++;
                    break;
                case '}':
                    depth--;
                    break;
            }
        }

        return depth == 0 && (isLong || !EmptyLine().IsMatch(value));
    }

    [GeneratedRegex(@"\n[ \t\r]*\n")]
    private static partial Regex EmptyLine();

    [GeneratedRegex(@"^[A-Za-z0-9._-]{1,60}$")]
    private static partial Regex OtherValue();

    private static string Reason(HeldBecause held) => held switch
    {
        HeldBecause.Condition => "under a condition",
        HeldBecause.Definition => "in a definition",
        _ => ", which other manuscripts may share",
    };
}
