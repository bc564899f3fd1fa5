using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Examples of languages: numbered, with words above their meanings (gb4e), and in letters of sounds (tipa). Their documentation, from memory.</summary>
internal static class LanguageExamples
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("gb4e", "Numbered examples of languages, with the words above their meanings.")
        {
            Commands = ["ex", "gll", "glll", "glt", "trans", "glend", "sn", "noautomath"],
            Environments = ["exe", "xlist", "xlisti", "xlista"],
            Definitions = """
                \newcounter{exx} \newcounter{xnumi} \newlength\gb@width \setlength\gb@width{2.2em}
                \newenvironment{exe}{\begin{list}{(\arabic{exx})}{\setlength\labelwidth{\gb@width}\setlength\leftmargin{\dimexpr\gb@width+\labelsep\relax}\setlength\itemsep{4pt}}\let\ex\gb@ex\let\sn\gb@plain}{\end{list}}
                \newcommand\gb@ex[1][]{\refstepcounter{exx}\item\if\relax\detokenize{#1}\relax\else\makebox[0pt][r]{#1\,}\fi} \newcommand\gb@plain[1][]{\item[]}
                \newenvironment{xlist}{\begin{list}{\alph{xnumi}.}{\usecounter{xnumi}\setlength\labelwidth{1.4em}\setlength\leftmargin{2em}\setlength\itemsep{2pt}}\let\ex\gb@sub}{\end{list}}
                \newcommand\gb@sub[1][]{\item\if\relax\detokenize{#1}\relax\else\makebox[0pt][r]{#1\,}\fi}
                \newenvironment{xlista}{\begin{xlist}}{\end{xlist}} \newenvironment{xlisti}{\begin{list}{\roman{xnumi}.}{\usecounter{xnumi}\setlength\labelwidth{1.4em}\setlength\leftmargin{2em}\setlength\itemsep{2pt}}\let\ex\gb@sub}{\end{list}}
                \newcommand\ex[1][]{\par\refstepcounter{exx}\noindent(\arabic{exx})\ #1} \newcommand\sn[1][]{\par\noindent}
                \def\glt{\par} \def\trans{\par} \def\glend{} \def\noautomath{}
                """,
            Load = static load =>
            {
                load.Machine.Define("gll", (_, t) => Gloss(load.Builder, 2, t));
                load.Machine.Define("glll", (_, t) => Gloss(load.Builder, 3, t));
            },
        },
        new("tipa", "The letters of the International Phonetic Alphabet, by signs that keyboards have.")
        {
            Commands = ["textipa", "textprimstress", "textsecstress", "textlengthmark", "texthalflength", "textschwa", "textesh", "textyogh", "textglotstop", "textepsilon", "textopeno", "textturnv", "textscripta", "textupsilon", "textbeta", "textgamma", "textchi", "textphi", "texttheta", "textturnr", "textfishhookr", "textltailn", "textsci", "textbari", "textbaru", "textturna", "textturnscripta", "textrevepsilon", "textlyoghlig"],
            Environments = ["IPA"],
            Options = ["tone", "extra", "safe", "noenc", "T1"],
            Definitions = """
                \protected\def\textprimstress{ˈ} \protected\def\textsecstress{ˌ} \protected\def\textlengthmark{ː} \protected\def\texthalflength{ˑ} \protected\def\textschwa{ə} \protected\def\textesh{ʃ} \protected\def\textyogh{ʒ} \protected\def\textglotstop{ʔ} \protected\def\textepsilon{ɛ} \protected\def\textopeno{ɔ} \protected\def\textturnv{ʌ}
                \protected\def\textscripta{ɑ} \protected\def\textupsilon{ʊ} \protected\def\textbeta{β} \protected\def\textgamma{ɣ} \protected\def\textchi{χ} \protected\def\textphi{ɸ} \protected\def\texttheta{θ} \protected\def\textturnr{ɹ} \protected\def\textfishhookr{ɾ} \protected\def\textltailn{ɲ} \protected\def\textsci{ɪ} \protected\def\textbari{ɨ}
                \protected\def\textbaru{ʉ} \protected\def\textturna{ɐ} \protected\def\textturnscripta{ɒ} \protected\def\textrevepsilon{ɜ} \protected\def\textlyoghlig{ɮ}
                """,
            Load = static load =>
            {
                load.Machine.Define("textipa", (m, t) => Sounds(load.Builder, m.ReadArgument(t)));
                load.Builder.Environments.DefineEnvironment("IPA", t => Sounds(load.Builder, load.Machine.DocumentCommands.ReadEnvironmentBody(t)), static _ => { });
            },
        },
    ];

    // What each sign of a keyboard stands for among letters of sounds (the package's own table).
    private static readonly Dictionary<char, string> s_sounds = new()
    {
        ['@'] = "ə", ['A'] = "ɑ", ['B'] = "β", ['C'] = "ɕ", ['D'] = "ð", ['E'] = "ɛ", ['F'] = "ɸ", ['G'] = "ɣ", ['H'] = "ɦ", ['I'] = "ɪ", ['J'] = "ʝ", ['K'] = "ʁ", ['L'] = "ʎ", ['M'] = "ɱ", ['N'] = "ŋ", ['O'] = "ɔ", ['P'] = "ʔ", ['Q'] = "ʕ",
        ['R'] = "ɾ", ['S'] = "ʃ", ['T'] = "θ", ['U'] = "ʊ", ['V'] = "ʋ", ['W'] = "ɯ", ['X'] = "χ", ['Y'] = "ʏ", ['Z'] = "ʒ", ['"'] = "ˈ", [':'] = "ː", [';'] = "ˑ", ['0'] = "ʉ", ['1'] = "ɨ", ['2'] = "ʌ", ['3'] = "ɜ", ['4'] = "ɥ", ['5'] = "ɐ",
        ['6'] = "ɒ", ['7'] = "ɤ", ['8'] = "ɵ", ['9'] = "ɘ", ['g'] = "ɡ", ['|'] = "|",
    };

    private static void Sounds(DocumentBuilder builder, List<Token> argument)
    {
        var markup = new List<Token>();
        for (int i = 0; i < argument.Count; i++)
        {
            Token now = argument[i];
            if (now.Is(Category.Letter) || now.Is(Category.Other) || now.Is(Category.Active))
            {
                char sign = now.Symbol is { } active ? active.Name[0] : (char)now.Code;
                // Two high strokes are one low one.
                bool isLow = sign == '"' && i + 1 < argument.Count && argument[i + 1].IsCharacter('"');
                markup.AddRange(builder.Machine.Tokenize(isLow ? "ˌ" : s_sounds.TryGetValue(sign, out string? sound) ? sound : sign.ToString(), now.Position));
                i += isLow ? 1 : 0;
            }
            else
            {
                markup.Add(now);
            }
        }

        builder.Machine.Input.Push(markup);
    }

    // Lines of words, each ended by \\: the words of all lines that belong together stand below one another.
    private static void Gloss(DocumentBuilder builder, int lines, Token token)
    {
        var rows = new List<List<List<Token>>>();
        for (int line = 0; line < lines; line++)
        {
            rows.Add(Words(builder.Machine));
        }

        var markup = new List<Token>();
        for (int word = 0; word < rows.Max(r => r.Count); word++)
        {
            markup.AddRange(builder.Machine.Tokenize("\\begin{tabular}[t]{@{}l@{}}", token.Position));
            for (int line = 0; line < lines; line++)
            {
                markup.AddRange(line > 0 ? builder.Machine.Tokenize("\\\\", token.Position) : []);
                markup.AddRange(word < rows[line].Count ? rows[line][word] : []);
            }

            markup.AddRange(builder.Machine.Tokenize("\\end{tabular}\\hskip .6em plus .2em\\relax ", token.Position));
        }

        markup.AddRange(builder.Machine.Tokenize("\\par ", token.Position));
        builder.Machine.Input.Push(markup);
    }

    private static List<List<Token>> Words(Machine machine)
    {
        var words = new List<List<Token>>();
        var word = new List<Token>();
        int depth = 0;
        for (Token next = machine.Next(); !next.Is(Category.Stop) && !next.IsCommand("par") && !(depth == 0 && (next.IsCommand("\\") || next.IsCommand("glend"))); next = machine.Next())
        {
            depth += next.Is(Category.BeginGroup) ? 1 : next.Is(Category.EndGroup) ? -1 : 0;
            if (next.Is(Category.Space) && depth == 0)
            {
                Add();
            }
            else
            {
                word.Add(next);
            }
        }

        Add();
        return words;

        void Add()
        {
            if (word.Count > 0)
            {
                words.Add(word);
                word = [];
            }
        }
    }
}
