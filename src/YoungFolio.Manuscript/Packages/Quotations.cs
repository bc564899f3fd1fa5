using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package csquotes: quotation marks by language and depth.</summary>
internal static class Quotations
{
    public static void Load(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        Machine machine = load.Machine;
        string style = load.Options.FirstOrDefault(o => o.Key == "style")?.Text(machine) ?? "";
        style = style is "german" or "ngerman" ? load.Options.FirstOrDefault(o => o.Key is "german" or "ngerman")?.Text(machine) ?? "" : style;
        int depth = 0;
        machine.Define("enquote", (m, t) =>
        {
            bool inner = m.TakeStar();
            Quote(builder.Text.Language, m.ReadArgument(t), t, inner);
        });
        foreach (string name in (string[])["textquote", "textcquote"])
        {
            machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                List<Token>? source = m.ReadOptional(t);
                m.ReadOptional(t);
                List<Token> key = name == "textcquote" ? m.ReadArgument(t) : [];
                List<Token> text = m.ReadArgument(t);
                List<Token> after = key.Count > 0
                    ? [Token.Character(' ', Category.Space, t.Position), Token.Command(m.Symbol("cite"), t.Position), .. Bracket(source, t), .. TokenLists.Braced(key, t.Position)]
                    : source is null ? [] : [Token.Character(' ', Category.Space, t.Position), Token.Character('(', Category.Other, t.Position), .. source, Token.Character(')', Category.Other, t.Position)];
                Quote(builder.Text.Language, text, t, false, after);
            });
        }

        foreach (string name in (string[])["foreignquote", "hyphenquote"])
        {
            machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                string language = m.ReadText(t);
                Quote(Language.CodeOf(language) ?? builder.Text.Language, m.ReadArgument(t), t, false);
            });
        }

        machine.Definitions.Load("""
            \newcommand{\blockquote}[2][]{\begin{quote}#2\if\relax\detokenize{#1}\relax\else\ (#1)\fi\end{quote}}
            \newcommand{\blockcquote}[3][]{\begin{quote}#3 \cite{#2}\end{quote}}
            \newenvironment{displayquote}[1][]{\begin{quote}}{\end{quote}}
            \newenvironment{displaycquote}[2][]{\begin{quote}}{\end{quote}}
            \newenvironment{quoteblock}{\begin{quote}}{\end{quote}}
            \def\textelp#1{[\dots]#1}\def\textins#1{[#1]}\def\SetBlockThreshold#1{}\def\ExecuteQuoteOptions#1{}\newcommand{\DeclareQuoteAlias}[3][]{}
            """);
        machine.Define("MakeOuterQuote", (m, t) => MakeActive(m, t, false));
        machine.Define("MakeAutoQuote", (m, t) => MakeActive(m, t, true));

        void Quote(string language, List<Token> text, Token token, bool inner, List<Token>? after = null)
        {
            (string open, string close, string innerOpen, string innerClose) = Language.Of(language).Quotes(style);
            bool nested = inner || depth % 2 == 1;
            Token down = Counter(1, token);
            machine.Push([.. machine.Tokenize(nested ? innerOpen : open, token.Position), down, .. text, Counter(-1, token),
                .. machine.Tokenize(nested ? innerClose : close, token.Position), .. after ?? []]);
        }

        Token Counter(int by, Token token)
        {
            string name = by > 0 ? "quotation deeper" : "quotation higher";
            machine.Define(name, (_, _) => depth = Math.Max(0, depth + by));
            return Token.Command(machine.Symbol(name), token.Position);
        }

        List<Token> Bracket(List<Token>? source, Token t) => source is null ? [] : [Token.Character('[', Category.Other, t.Position), .. source, Token.Character(']', Category.Other, t.Position)];

        // One sign that opens and closes in turn, or two signs.
        void MakeActive(Machine m, Token t, bool two)
        {
            bool open = false;
            for (int i = 0; i < (two ? 2 : 1); i++)
            {
                if (m.ReadArgument(t) is not [var sign, ..])
                {
                    return;
                }

                int code = sign.Symbol is { } s ? FirstCharacter.Of(s.Name) : sign.Code;
                m.Categories.Set(code, Category.Active);
                bool closes = i == 1;
                m.Symbols.DefineActive((char)code, (n, u) =>
                {
                    bool opens = two ? !closes : !open;
                    open = opens;
                    (string outerOpen, string outerClose, _, _) = Language.Of(builder.Text.Language).Quotes(style);
                    n.Push(n.Tokenize(opens ? outerOpen : outerClose, u.Position));
                });
            }
        }
    }
}
