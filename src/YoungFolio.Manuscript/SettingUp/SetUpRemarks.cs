using YoungFolio.Manuscript.Building;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>Settings that fight each other, or can't be.</summary>
/// <param name="Code">Which kind it is.</param>
/// <param name="Message">What is wrong, in a sentence.</param>
/// <param name="Advice">How to mend it.</param>
/// <param name="Settings">The settings concerned.</param>
/// <param name="Unload">A package that isn't to be loaded; null: that doesn't mend it.</param>
/// <param name="Unset">A setting that isn't to be set; null: that doesn't mend it.</param>
public sealed record SetUpRemark(string Code, string Message, string Advice, IReadOnlyList<string> Settings, string? Unload = null, string? Unset = null);

/// <summary>Looks for settings that fight each other. The compiler says what it finds itself, such as an option that a class doesn't know.</summary>
internal static class SetUpRemarks
{
    // Packages that do the same work in other ways (common practice): the second is the one to leave out.
    private static readonly (string Kept, string Gone, string Why)[] s_pairs =
    [
        ("geometry", "fullpage", "Both set the margins, and the later one undoes the other."), ("geometry", "a4wide", "Both set the margins, and the later one undoes the other."),
        ("biblatex", "natbib", "Both print citations and sources, each in its own way."), ("polyglossia", "babel", "Both choose the language."),
        ("enumitem", "enumerate", "Both say how lists are counted."), ("subcaption", "subfigure", "Both give parts of figures their captions."), ("subcaption", "subfig", "Both give parts of figures their captions."),
        ("hyperref", "url", "hyperref brings what url gives."), ("xcolor", "color", "xcolor brings what color gives."),
    ];

    public static IReadOnlyList<SetUpRemark> Of(SetUp setUp, TypedPreamble preamble)
    {
        var remarks = new List<SetUpRemark>();
        HashSet<string> loaded = [.. preamble.Commands.Where(c => c.Name is "usepackage" or "RequirePackage" && c.Held != HeldBecause.Definition).SelectMany(c => PreambleEdits.Names(preamble, c))];
        foreach ((string kept, string gone, string why) in s_pairs.Where(p => loaded.Contains(p.Kept) && loaded.Contains(p.Gone)))
        {
            remarks.Add(new SetUpRemark("same-work", $"{kept} and {gone} are both loaded.", $"{why} Load {kept} alone.", [], Unload: gone));
        }

        string[] encodings = [.. preamble.Commands.Where(c => c.Name == "usepackage" && PreambleEdits.Names(preamble, c).Contains("inputenc") && TypedPreamble.Options(c) is not null).Select(c => preamble.Words(c, TypedPreamble.Options(c)!.Value).Trim()).Distinct()];
        if (encodings.Length > 1)
        {
            remarks.Add(new SetUpRemark("two-encodings", $"The files are said to be stored as {string.Join(" and as ", encodings)}.", "They are UTF-8 here, always: the package inputenc can go.", [], Unload: "inputenc"));
        }

        foreach (SettingState state in setUp.Settings)
        {
            AddSeveral(remarks, state);
        }

        SettingState spacing = setUp.State(SettingCatalogue.Find("spacing")!);
        if (spacing.Places.Select(p => preamble.Texts[p.File].AsSpan(p.From).StartsWith("\\linespread") || preamble.Texts[p.File].AsSpan(p.From).StartsWith("\\renewcommand")).Distinct().Count() > 1)
        {
            remarks.Add(new SetUpRemark("two-spacings", "Line spacing is set by a package and by a factor; both count.", "Keep one of the two.", ["spacing"], Unset: "spacing"));
        }

        if (loaded.Contains("parskip") && setUp.State(SettingCatalogue.Find("indent")!).Value is not null)
        {
            remarks.Add(new SetUpRemark("two-partings", "Paragraphs are parted by space, and an indent is set too.", "Take the indent away, or the package parskip.", ["paragraphs", "indent"], Unset: "indent"));
        }

        AddMargins(remarks, setUp);
        return remarks;
    }

    private static void AddSeveral(List<SetUpRemark> remarks, SettingState state)
    {
        SettingPlace[] own = [.. state.Places.Where(p => !p.IsShared && p.Held == HeldBecause.No)];
        if (own.Length > 1 && own.Select(p => p.Value).Distinct().Count() > 1 && state.Setting.Id is not ("spacing" or "language"))
        {
            remarks.Add(new SetUpRemark("set-twice", $"{state.Setting.Title} is set {own.Length} times: {string.Join(", then ", own.Select(p => p.Value.Length == 0 ? "empty" : p.Value))}.", "The last one holds; the others can go.", [state.Setting.Id]));
        }
    }

    // Said, and not prevented: someone may be in the middle of it.
    private static void AddMargins(List<SetUpRemark> remarks, SetUp setUp)
    {
        foreach (string id in (string[])["inner", "outer", "top", "bottom", "binding", "width", "height"])
        {
            if (Points(id) < 0)
            {
                remarks.Add(new SetUpRemark("negative-length", $"{SettingCatalogue.Find(id)!.Title} is less than nothing.", "The text would leave the paper.", [id]));
            }
        }

        SettingState chosen = setUp.State(SettingCatalogue.Find("paper")!);
        if (Papers.Find(chosen.Value ?? chosen.Usual ?? "") is not { } paper)
        {
            return;
        }

        if (Points("inner") + Points("outer") + (Points("binding") ?? 0) >= paper.Width || Points("width") > paper.Width)
        {
            remarks.Add(new SetUpRemark("wider-than-paper", "The margins leave no room for text.", "Their sum must be smaller than the paper is wide.", ["inner", "outer", "width"]));
        }

        if (Points("top") + Points("bottom") >= paper.Height || Points("height") > paper.Height)
        {
            remarks.Add(new SetUpRemark("higher-than-paper", "The margins leave no room for text.", "Their sum must be smaller than the paper is high.", ["top", "bottom", "height"]));
        }

        double? Points(string id) => setUp.State(SettingCatalogue.Find(id)!).Value is { } value ? Lengths.Points(value) : null;
    }
}
