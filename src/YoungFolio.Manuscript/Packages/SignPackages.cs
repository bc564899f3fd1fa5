using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>A sign that a package gives to text.</summary>
/// <param name="Package">The package.</param>
/// <param name="Sign">The sign.</param>
public sealed record PackageSign(string Package, TextSign Sign)
{
    /// <summary>All of them: data beside this file.</summary>
    public static IReadOnlyList<PackageSign> All { get; } = [.. ShippedText.Lines(typeof(PackageSign).Assembly, "signs-of-packages.txt").Select(Read)];

    private static PackageSign Read(string line)
    {
        string[] parts = line.Split(" | ", 2);
        return new PackageSign(parts[0], TextSign.Read(parts[1]));
    }
}

/// <summary>Packages whose commands print a sign of text each.</summary>
internal static class SignPackages
{
    // Signs of the pi fonts by their numbers (the published table of that font, from memory), as ranges; others are near these. One sign stands for a
    // whole range, or each number has its own.
    private static readonly (int First, int Last, string Signs)[] s_numbered =
    [
        (33, 36, "✂"), (37, 38, "☎"), (40, 40, "→"), (41, 41, "✉"), (42, 43, "→"), (51, 52, "✓"), (53, 56, "×"), (57, 64, "†"), (72, 80, "★"), (81, 106, "∗"),
        (108, 108, "●"), (109, 109, "○"), (110, 110, "■"), (111, 114, "□"), (115, 115, "▲"), (116, 116, "▼"), (117, 117, "◆"), (120, 122, "|"), (123, 126, "‘’“”"),
        (164, 167, "♥"), (168, 171, "♣♦♥♠"), (172, 181, "①②③④⑤⑥⑦⑧⑨⓪"), (182, 191, "①②③④⑤⑥⑦⑧⑨⓪"), (192, 201, "①②③④⑤⑥⑦⑧⑨⓪"), (202, 211, "①②③④⑤⑥⑦⑧⑨⓪"),
        (212, 254, "→"),
    ];

    public static IReadOnlyList<Package> All { get; } =
    [
        Of("marvosym", "Signs of letters, bills and calendars."),
        Of("wasysym", "Signs of many trades."),
        Of("textgreek", "Greek letters in text."),
        Of("bbding", "Signs for lists and letters."),
        Of("fontawesome5", "Signs for curricula and pages; the nearest that ships stands for each, and a bullet where there is none.", "faIcon") with { Definitions = "\\newcommand\\faIcon[2][]{\\textbullet}" },
        Of("gensymb", "Signs of measures in text and formulas."),
        Of("eurosym", "The sign of the euro.", "EUR", "euro") with { Definitions = "\\protected\\def\\euro{\\texteuro}\\protected\\def\\EUR#1{#1\\,\\texteuro}" },
        new("pifont", "Signs by their numbers in a font of signs; the nearest that ships stands for each.")
        {
            Commands = ["ding", "dingfill", "dingline"],
            Environments = ["dinglist", "dingautolist"],
            Definitions = """
                \def\dingfill#1{\hfill} \def\dingline#1{\par\noindent\hrulefill\par} \newcounter{dingauto}
                \newenvironment{dinglist}[1]{\begin{list}{\ding{#1}}{}}{\end{list}}
                \newenvironment{dingautolist}[1]{\begin{list}{\ding{\the\numexpr#1-1+\value{dingauto}\relax}}{\usecounter{dingauto}}}{\end{list}}
                """,
            Load = static load => load.Machine.Define("ding", (m, t) =>
            {
                if (m.Quantities.ParseInteger(m.ReadArgument(t), t) is { } number)
                {
                    load.Builder.Text.AddText(Sign(number), t.Position);
                }
            }),
        },
    ];

    // The sign of a number; a bullet where there is none.
    private static string Sign(int number)
    {
        (int first, _, string signs) = Array.Find(s_numbered, n => number >= n.First && number <= n.Last);
        return signs is null ? "•" : signs[Math.Min(number - first, signs.Length - 1)].ToString();
    }

    private static Package Of(string name, string purpose, params string[] others)
    {
        List<TextSign> signs = [.. PackageSign.All.Where(s => s.Package == name).Select(s => s.Sign)];
        return new(name, purpose)
        {
            Commands = [.. signs.SelectMany(s => s.Commands), .. others],
            Load = load =>
            {
                foreach (TextSign sign in signs)
                {
                    foreach (string command in sign.Commands)
                    {
                        load.Machine.Define(command, (_, t) => load.Builder.Text.AddText(sign.Sign, t.Position));
                    }
                }
            },
        };
    }
}
