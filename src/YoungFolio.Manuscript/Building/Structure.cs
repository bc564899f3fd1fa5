using System.Globalization;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Class, packages, title, headings, contents.
public sealed partial class DocumentBuilder
{
    private readonly List<LoadedPackage> _packages = [];
    private int _classPosition = PositionTable.None;
    private List<Token>? _title;
    private List<Token>? _author;
    private List<Token>? _date;
    private int _anchors;
    private bool _titlePage;
    private bool _appendix;
    private Scoped<int> _numberDepth = null!;
    private Scoped<int> _contentsDepth = null!;

    private void DefineStructure()
    {
        Machine.NewCounter("secnumdepth");
        Machine.NewCounter("tocdepth");
        _numberDepth = Machine.Counter("secnumdepth")!;
        _contentsDepth = Machine.Counter("tocdepth")!;
        foreach (string counter in (string[])["enumi", "enumii", "enumiii", "enumiv", "page", "mpfootnote"])
        {
            Machine.NewCounter(counter);
        }

        UseClass(Class);
        Machine.Define("documentclass", (m, t) => ReadDocumentClass(t));
        Machine.Define("usepackage", (m, t) => ReadPackages(t));
        Machine.Define("RequirePackage", (m, t) => ReadPackages(t));
        Machine.Define("title", (m, t) => _title = m.ReadArgument(t));
        Machine.Define("author", (m, t) => _author = m.ReadArgument(t));
        Machine.Define("date", (m, t) => _date = m.ReadArgument(t));
        Machine.Define("thanks", (m, t) => Footnote(t));
        Machine.Define("and", (_, _) => AddHorizontalSpace(Glue.Of(2 * _style.Value.Size), false));
        Machine.Define("maketitle", (m, t) => MakeTitle(t));
        DefineEnvironment("titlepage", _ =>
        {
            EndParagraph();
            OpenFrame();
        }, _ => AddBlock(new TitlePageBlock(CloseFrame().Blocks)));
        DefineEnvironment("abstract", _ => BeginAbstract(), _ => EndAbstract());
        foreach (string command in (string[])["part", "chapter", "section", "subsection", "subsubsection", "paragraph", "subparagraph"])
        {
            Machine.Define(command, (m, t) => Heading(t, command));
        }

        Machine.Define("appendix", (m, _) =>
        {
            EndParagraph();
            _appendix = true;
            string top = Class.HasChapters ? "chapter" : "section";
            m.Assign(m.Counter(top)!, 0, true);
            m.Assign(m.Counter(Class.HasChapters ? "section" : "subsection")!, 0, true);
            m.DefineNumber(top, $"\\Alph{{{top}}}");
        });
        Machine.Define("tableofcontents", (m, t) => Contents(t, "toc", "\\contentsname"));
        Machine.Define("listoffigures", (m, t) => Contents(t, "lof", "\\listfigurename"));
        Machine.Define("listoftables", (m, t) => Contents(t, "lot", "\\listtablename"));
        Machine.Define("addcontentsline", (m, t) =>
        {
            m.ReadText(t);
            string level = m.ReadText(t);
            List<Inline> title = BuildInlines(m.ReadArgument(t));
            string anchor = NewAnchor(level);
            AddBlock(new HeadingBlock
            {
                Level = LevelOf(level), Number = null, ShortTitle = title, Anchor = anchor, Position = t.Position, IsListed = true,
                IsInOutline = false, Lines = [], SpaceAbove = default, SpaceBelow = default,
            });
        });
    }

    private static int LevelOf(string name) => name switch
    {
        "part" => -1, "chapter" => 0, "section" => 1, "subsection" => 2, "subsubsection" => 3, "paragraph" => 4, _ => 5,
    };

    /// <summary>A new anchor's name.</summary>
    private string NewAnchor(string kind) => kind + "." + (++_anchors).ToString(CultureInfo.InvariantCulture);

    private void UseClass(DocumentClass documentClass)
    {
        Class = documentClass;
        foreach ((string counter, string? within) in documentClass.Counters)
        {
            Machine.NewCounter(counter, within);
        }

        foreach ((string name, string markup) in documentClass.Definitions)
        {
            Machine.DefineMacro(name, markup);
        }

        Machine.Assign(_numberDepth, documentClass.NumberDepth, true);
        Machine.Assign(_contentsDepth, documentClass.ContentsDepth, true);
        _titlePage = documentClass.HasTitlePage;
    }

    private void ReadDocumentClass(Token token)
    {
        List<Token>? optionTokens = Machine.ReadOptional(token);
        string[] options = Options(optionTokens);
        List<Token> argument = Machine.ReadArgument(token);
        string name = Machine.ExpandToText(argument).Trim();
        if (_classPosition != PositionTable.None)
        {
            Findings.Fix("second-class", token.Position, token.Length, "The manuscript has a document class already.", "Keep one \\documentclass.");
            return;
        }

        _classPosition = token.Position;
        DocumentClass? found = ClassCatalogue.All.FirstOrDefault(c => c.Name == name);
        if (found is null)
        {
            string? near = NearestName.Find(name, ClassCatalogue.All.Select(c => c.Name));
            Findings.Fix("unknown-class", argument.Count > 0 ? argument[0].Position : token.Position, Math.Max(1, name.Length),
                $"There is no document class “{name}” here.",
                "The manuscript was set as " + (name is "book" or "thesis" ? "a report" : "an article")
                + ". Available: " + string.Join(", ", ClassCatalogue.All.Select(c => c.Name)) + ".",
                near is not null && argument.Count > 0 ? new Repair(argument[0].Position, name.Length, near) : null);
            found = name is "book" or "thesis" ? new ReportClass() : new ArticleClass();
        }

        UseClass(found);
        foreach (string option in options)
        {
            if (!ApplyClassOption(option))
            {
                int at = optionTokens!.Count > 0 ? optionTokens[0].Position : token.Position;
                Findings.Check("unknown-option", at, Math.Max(1, optionTokens.Count), $"The class {name} has no option “{option}”.",
                    option.EndsWith("pt", StringComparison.Ordinal)
                        ? "Its type sizes are 10pt, 11pt and 12pt." : "It was passed over.");
            }
        }

        SetSize("normalsize");
    }

    private bool ApplyClassOption(string option)
    {
        switch (option)
        {
            case "10pt" or "11pt" or "12pt":
                BasicSize = int.Parse(option.AsSpan(0, 2), CultureInfo.InvariantCulture);
                return true;
            case "titlepage" or "notitlepage":
                _titlePage = option == "titlepage";
                return true;
            case "oneside" or "twoside":
                TwoSided = option == "twoside";
                return true;
            case "landscape":
                (_paperWidth, _paperHeight) = (Math.Max(_paperWidth, _paperHeight), Math.Min(_paperWidth, _paperHeight));
                return true;
            case "final" or "onecolumn" or "openany":
                return true;
            case "british" or "english" or "american" or "UKenglish" or "USenglish":
                return SelectLanguage(option, Token.Stop());
            default:
                return option.EndsWith("paper", StringComparison.Ordinal) && SetPaper(option[..^5]);
        }
    }

    internal static string[] Split(string list) =>
        list.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    private string[] Options(List<Token>? tokens) => tokens is null ? [] : Split(Machine.ExpandToText(tokens));

    private void ReadPackages(Token token)
    {
        List<Token>? optionTokens = Machine.ReadOptional(token);
        List<Token> argument = Machine.ReadArgument(token);
        Machine.ReadOptional(token);
        string[] options = Options(optionTokens);
        if (_documentBegun)
        {
            Findings.Fix("package-too-late", token.Position, token.Length, "Packages are loaded before \\begin{document}.",
                "Move this line into the preamble.");
            return;
        }

        foreach (string name in Split(Machine.ExpandToText(argument)))
        {
            Packages.Package? package = Packages.PackageCatalogue.Find(name);
            if (_packages.Exists(p => p.Name == name))
            {
                continue;
            }

            _packages.Add(new LoadedPackage(name, package is not null));
            if (package is null)
            {
                Findings.Check("unknown-package", argument.Count > 0 ? argument[0].Position : token.Position, Math.Max(1, argument.Count),
                    $"The package {name} isn't available here.",
                    "What it defines is missing; each such command is named where it is used, and its text is printed as it stands.");
                continue;
            }

            package.Load(this, options, token);
        }
    }

    // ---- title -----------------------------------------------------------------------------------------

    private void MakeTitle(Token token)
    {
        if (_title is null)
        {
            Findings.Check("no-title", token.Position, token.Length, "\\maketitle has no title to print.",
                "Write \\title{…} before it.");
        }

        EndParagraph();
        int notes = Machine.Counter("footnote")!.Value;
        OpenFrame();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(_alignment, Alignment.Centre);
        var glue = new Glue(default, new Dimension(65536), 2);
        AddBlock(_titlePage ? new SpaceBlock(glue, true) : new SpaceBlock(Glue.Of(24), true));
        TitleLines("LARGE", true, _title ?? []);
        AddBlock(new SpaceBlock(Glue.Of(_titlePage ? 36 : 18)));
        TitleLines("large", false, _author ?? []);
        AddBlock(new SpaceBlock(Glue.Of(_titlePage ? 24 : 12)));
        TitleLines(_titlePage ? "large" : "normalsize", false, _date ?? [.. Machine.Tokenize("\\today ", token.Position)]);
        AddBlock(_titlePage ? new SpaceBlock(new Glue(default, new Dimension(65536 * 2), 2), true) : new SpaceBlock(Glue.Of(22)));
        Machine.EndGroup();
        List<Block> blocks = CloseFrame().Blocks;
        if (_titlePage)
        {
            AddBlock(new TitlePageBlock(blocks));
        }
        else
        {
            foreach (Block block in blocks)
            {
                AddBlock(block);
            }
        }

        Machine.Assign(Machine.Counter("footnote")!, notes, true);
        _frames.Peek().AfterHeading = false;
    }

    private void TitleLines(string size, bool bold, List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        SetSize(size);
        Machine.Assign(_style, _style.Value with { Bold = bold });
        Machine.Assign(_language, "");
        _noIndent = true;
        foreach (Block block in BuildBlocks(tokens))
        {
            AddBlock(block);
        }

        Machine.EndGroup();
    }

    private void BeginAbstract()
    {
        EndParagraph();
        if (_titlePage)
        {
            AddBlock(new PageBreakBlock(PageEnd.Clear));
        }

        OpenFrame();
        Machine.Assign(_leftMargin, _leftMargin.Value + (_titlePage ? 0 : 25));
        Machine.Assign(_rightMargin, _rightMargin.Value + (_titlePage ? 0 : 25));
        if (!_titlePage)
        {
            SetSize("small");
        }

        ParagraphStyle centred = ParagraphStyleNow(0) with { Alignment = Alignment.Centre };
        TextStyle style = _style.Value;
        Machine.Assign(_style, style with { Bold = true });
        List<Inline> name = BuildInlines(Machine.Tokenize("\\abstractname ", Machine.CurrentPosition));
        Machine.Assign(_style, style);
        AddBlock(new ParagraphBlock(name, centred));
        AddBlock(new PenaltyBlock(10000));
        AddBlock(new SpaceBlock(Glue.Of(6)));
    }

    private void EndAbstract()
    {
        BlockFrame frame = CloseFrame();
        AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = Glue.Of(6, 2) });
        if (_titlePage)
        {
            AddBlock(new PageBreakBlock(PageEnd.Clear));
        }
    }

    // ---- headings --------------------------------------------------------------------------------------

    private void Heading(Token token, string command)
    {
        bool star = Machine.TakeStar();
        List<Token>? shortTitle = Machine.ReadOptional(token);
        List<Token> titleTokens = Machine.ReadArgument(token);
        if (Class.Heading(command) is not { } style)
        {
            Findings.Fix("chapter-in-article", token.Position, token.Length, $"The class {Class.Name} has no chapters.",
                "Use \\section here, or change the class to report.", new Repair(token.Position, token.Length, "\\section"));
            (command, style) = ("section", Class.Heading("section")!);
        }

        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        EndParagraph();
        string anchor = NewAnchor(command);
        string? number = null;
        List<Inline>? numberInlines = null;
        if (!star && style.Level <= _numberDepth.Value)
        {
            Machine.StepCounter(command, token);
            List<Token> the = [.. Machine.Tokenize("\\the" + command + " ", token.Position)];
            the.RemoveAll(t => t.Is(Category.Space));
            number = Machine.ExpandToText(the).Trim();
            numberInlines = BuildInlines(the);
            CheckNumberZero(token, command, number);
        }

        Machine.Assign(_currentLabel, new CurrentLabel(command, number, anchor));
        List<Inline> listed = BuildInlines(shortTitle ?? titleTokens);
        if (style.RunsIn)
        {
            AddRunInHeading(token, command, style, number, numberInlines, listed, titleTokens, anchor, star);
            return;
        }

        bool chapter = style.Level == 0;
        if (chapter || (style.Level == -1 && Class.HasChapters))
        {
            AddBlock(new PageBreakBlock(PageEnd.Clear));
            AddBlock(new PageStyleBlock { ThisPage = "plain" });
        }

        double ex = _style.Value.Size * 0.45;
        AddBlock(new HeadingBlock
        {
            Level = style.Level,
            Number = number,
            ContentsNumber = numberInlines,
            ShortTitle = listed,
            Anchor = anchor,
            Position = token.Position,
            IsListed = !star,
            Lines = HeadingLines(token, style, number, numberInlines, titleTokens),
            SpaceAbove = Glue.Of(style.Above * ex, style.AboveStretch * ex, 0.2 * ex),
            DropAbove = chapter ? 2.2 * _leading.Value : 0,
            SpaceBelow = chapter ? Glue.Of(1.7 * _leading.Value) : Glue.Of(style.Below * ex, 0.2 * ex),
        });
        _frames.Peek().AfterHeading = true;
    }

    private void CheckNumberZero(Token token, string command, string number)
    {
        if (Class.HasChapters && command == "section" && number.StartsWith("0.", StringComparison.Ordinal))
        {
            Findings.Check("section-before-chapter", token.Position, token.Length,
                $"This section is numbered {number}, because no chapter comes before it.",
                "Put a \\chapter first, or write \\section* for a heading without a number.");
        }
    }

    private List<ParagraphBlock> HeadingLines(
        Token token, HeadingStyle style, string? number, List<Inline>? numberInlines, List<Token> titleTokens)
    {
        var lines = new List<ParagraphBlock>();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(_leftMargin, 0);
        Machine.Assign(_alignment, Alignment.Left);
        Machine.Assign(_language, "");
        var looks = new TextStyle(FontFamily.Roman, true, FontShape.Upright, _style.Value.Size);
        bool ownLine = style.Level <= 0 && number is not null;
        if (ownLine)
        {
            SetSize(style.Level < 0 ? "LARGE" : "Large");
            Machine.Assign(_style, looks with { Size = _style.Value.Size });
            string name = style.Level < 0 ? "\\partname " : _appendix ? "\\appendixname " : "\\chaptername ";
            List<Token> words = [.. Machine.Tokenize(name + "~\\the" + style.Command + " ", token.Position)];
            lines.Add(new ParagraphBlock(BuildInlines(words), ParagraphStyleNow(0) with { SpaceAbove = default }));
        }

        SetSize(style.Size);
        Machine.Assign(_style, looks with { Size = _style.Value.Size });
        List<Inline> title = BuildInlines(titleTokens);
        if (!ownLine && numberInlines is not null)
        {
            List<Token> the = [.. Machine.Tokenize("\\the" + style.Command + " ", token.Position)];
            the.RemoveAll(t => t.Is(Category.Space));
            title.InsertRange(0, [.. BuildInlines(the), new SpaceInline(Glue.Of(_style.Value.Size), false)]);
        }

        lines.Add(new ParagraphBlock(title, ParagraphStyleNow(0) with
        {
            SpaceAbove = ownLine ? Glue.Of(4) : default,
        }));
        Machine.EndGroup();
        return lines;
    }

    private void AddRunInHeading(
        Token token, string command, HeadingStyle style, string? number, List<Inline>? numberInlines, List<Inline> listed,
        List<Token> titleTokens, string anchor, bool star)
    {
        double ex = _style.Value.Size * 0.45;
        AddBlock(new HeadingBlock
        {
            Level = LevelOf(command), Number = number, ContentsNumber = numberInlines, ShortTitle = listed, Anchor = anchor,
            Position = token.Position, IsListed = !star, Lines = [], SpaceAbove = Glue.Of(style.Above * ex, style.AboveStretch * ex, 0.2 * ex),
            SpaceBelow = default,
        });
        _noIndent = true;
        TextStyle before = _style.Value;
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(_style, before with { Bold = true });
        foreach (Inline inline in (IEnumerable<Inline>)[.. numberInlines is null ? [] : numberInlines.Concat([new SpaceInline(Glue.Of(before.Size), false)]),
            .. BuildInlines(titleTokens), new SpaceInline(Glue.Of(style.Below * before.Size), false)])
        {
            AddInline(inline);
        }

        Machine.EndGroup();
        Machine.SkipSpaces(paragraphs: true);
    }

    private void Contents(Token token, string kind, string name)
    {
        string level = Class.HasChapters ? "chapter" : "section";
        Machine.Push(ContentsTokens(token, level, kind, name));
    }

    private Token[] ContentsTokens(Token token, string level, string kind, string name)
    {
        Symbol make = Machine.Symbol("make contents " + kind);
        Machine.Define(make.Name, (_, t) => AddBlock(new ContentsBlock
        {
            Kind = kind,
            Depth = _contentsDepth.Value,
            Style = _style.Value,
            Paragraph = ParagraphStyleNow(0) with { SpaceAbove = default, Alignment = Alignment.Left },
        }));
        return [.. Machine.Tokenize($"\\{level}*{{{name} }}", token.Position), Token.Command(make, token.Position)];
    }
}
