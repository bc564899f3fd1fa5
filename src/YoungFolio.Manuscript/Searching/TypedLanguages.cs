using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Languages;

namespace YoungFolio.Manuscript.Searching;

/// <summary>
/// Which language typed words are in, as babel's and polyglossia's commands say it. Languages have the codes of hyphenation:
/// <c>en-gb</c>, <c>en-us</c>, <c>de</c>, <c>fr</c> and so on.
/// </summary>
public static partial class TypedLanguages
{
    /// <summary>The language that a manuscript is set in; null when its preamble doesn't say, or says one that isn't known.</summary>
    /// <param name="texts">Its texts, the main file's first.</param>
    public static string? Main(IEnumerable<string> texts)
    {
        ArgumentNullException.ThrowIfNull(texts);
        string? ofClass = null;
        foreach (string text in texts)
        {
            foreach ((string name, int end) in TypedMarkup.Commands(text))
            {
                Match match = Options().Match(text, end);
                string[] options = match.Groups["options"].Value.Split(',', StringSplitOptions.TrimEntries);
                string argument = match.Groups["name"].Value.Trim();
                switch (name)
                {
                    case "documentclass":
                        ofClass ??= options.Select(Language.CodeOf).LastOrDefault(c => c is not null);
                        break;
                    case "usepackage" or "RequirePackage" when argument == "babel":
                        return options.Select(o => MainOption().Match(o)).Where(m => m.Success).Select(m => Language.CodeOf(m.Groups[1].Value)).FirstOrDefault(c => c is not null)
                            ?? options.Select(Language.CodeOf).LastOrDefault(c => c is not null) ?? ofClass;
                    case "setmainlanguage" or "setdefaultlanguage" when Language.CodeOf(argument) is { } code:
                        return code == "en-us" && options.Any(o => o.Contains("british", StringComparison.Ordinal) || o.Contains("uk", StringComparison.Ordinal)) ? "en-gb" : code;
                }
            }
        }

        return ofClass;
    }

    /// <summary>The stretches of a text that are in another language, in the order in which they begin; a later one that lies within another goes before.</summary>
    /// <param name="text">A file's text.</param>
    public static IReadOnlyList<(int From, int To, string Language)> Passages(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var passages = new List<(int From, int To, string Language)>();
        // What was begun and isn't ended, by its environment.
        var open = new Stack<(string Name, int Place)>();
        int selected = -1;
        foreach ((string name, int end) in TypedMarkup.Commands(text))
        {
            Match match = Name().Match(text, end);
            string argument = match.Groups[1].Value;
            switch (name)
            {
                case "selectlanguage":
                    Close(selected, end);
                    selected = Open(end, argument);
                    break;
                case "foreignlanguage":
                    InGroup(match.Index + match.Length, argument);
                    break;
                case "begin":
                    bool isOther = argument is "otherlanguage" or "otherlanguage*";
                    int place = Open(end, isOther ? Name().Match(text, match.Index + match.Length).Groups[1].Value : argument);
                    open.Push((argument, place));
                    break;
                case "end":
                    while (open.TryPop(out (string Name, int Place) begun))
                    {
                        Close(begun.Place, end);
                        if (begun.Name == argument)
                        {
                            break;
                        }
                    }

                    break;
                case var _ when name.StartsWith("text", StringComparison.Ordinal) && Language.CodeOf(name[4..]) is not null:
                    InGroup(end, name[4..]);
                    break;
            }
        }

        return passages;

        int Open(int from, string language)
        {
            if (Language.CodeOf(language) is not { } code)
            {
                return -1;
            }

            passages.Add((from, text.Length, code));
            return passages.Count - 1;
        }

        void Close(int place, int to)
        {
            if (place >= 0)
            {
                passages[place] = passages[place] with { To = Math.Min(passages[place].To, to) };
            }
        }

        void InGroup(int at, string language)
        {
            int depth = 0;
            int from = at;
            for (int last = Math.Min(text.Length, at + LongestGroup); at < last; at++)
            {
                if (text[at] == '\\')
                {
                    at++;
                }
                else if (text[at] == '{')
                {
                    depth++;
                }
                else if (text[at] == '}' && --depth <= 0)
                {
                    break;
                }
                else if (depth == 0 && !char.IsWhiteSpace(text[at]) && text[at] is not '[' and not ']')
                {
                    return;
                }
            }

            Close(Open(from, language), at);
        }
    }

    private const int LongestGroup = 20_000;

    [GeneratedRegex(@"\G\s{0,3}(?:\[(?<options>[^\]]{0,2000})\])?\s{0,3}\{(?<name>[^{}\n]{0,2000})\}")]
    private static partial Regex Options();

    [GeneratedRegex(@"\G\*?\s{0,3}(?:\[[^\]\n]{0,200}\])?\s{0,3}\{\s{0,3}([A-Za-z]{1,40}\*?)\s{0,3}\}")]
    private static partial Regex Name();

    [GeneratedRegex(@"^main\s{0,3}=\s{0,3}([A-Za-z-]+)$")]
    private static partial Regex MainOption();
}
