using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Heads and feet: a page style NAME is the command \ps@NAME, which defines \@oddhead, \@evenhead, \@oddfoot and \@evenfoot (the kernel's way, which class files use).</summary>
internal sealed class PageStyleCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Dictionary<string, Func<PageStyle>> _ownPageStyles = new(StringComparer.Ordinal);
    internal string PageStyleName { get; set; } = "plain";
    private bool _inPageLine;
    private Meaning? _pageNumberMeaning;
    internal int FirstPage { get; set; } = 1;

    internal void DefinePageStyles()
    {
        Machine.Counters.Add("page");
        Machine.Assign(Machine.Counters.Find("page")!, 1, true);
        _pageNumberMeaning = Machine.Symbol("thepage").Meaning.Value;
        Machine.Define("pagestyle", (m, t) =>
        {
            List<Token> argument = m.ReadArgument(t);
            string name = m.ExpandToText(argument).Trim();
            if (IsPageStyle(name, argument, t))
            {
                PageStyleName = name;
                SetPageStyle();
            }
        });
        Machine.Define("thispagestyle", (m, t) =>
        {
            List<Token> argument = m.ReadArgument(t);
            string name = m.ExpandToText(argument).Trim();
            if (IsPageStyle(name, argument, t))
            {
                Builder.AddBlock(new PageStyleBlock { ThisPage = MakePageStyle(name) });
            }
        });
        Machine.Define("pagenumbering", (m, t) =>
        {
            List<Token> format = m.ReadArgument(t);
            SetPageNumbering(m.ExpandToText(format).Trim(), format.Count > 0 ? format[0] : t);
        });
        Machine.Define("markboth", (m, t) =>
        {
            List<Inline> left = Builder.BuildInlines(m.ReadArgument(t));
            AddMark(left, Builder.BuildInlines(m.ReadArgument(t)));
        });
        Machine.Define("markright", (m, t) => AddMark(null, Builder.BuildInlines(m.ReadArgument(t))));
        Machine.Define("leftmark", (_, _) => Builder.AddInline(new PageFieldInline(PageField.LeftMark, "", null, Builder.Style.Value)));
        Machine.Define("rightmark", (_, _) => Builder.AddInline(new PageFieldInline(PageField.RightMark, "", null, Builder.Style.Value)));
        foreach (string format in (string[])["arabic", "roman", "Roman", "alph", "Alph", "fnsymbol"])
        {
            Machine.Define("page number " + format, (_, _) => AddPageNumber(format));
        }

        // Running heads are slanted in sentence case, the page's number stands at the outer edge.
        Machine.Definitions.Load("""
            \def\@mkboth#1#2{}
            \def\ps@empty{\let\@mkboth\@gobbletwo\let\@oddhead\@empty\let\@evenhead\@empty\let\@oddfoot\@empty\let\@evenfoot\@empty}
            \def\ps@plain{\let\@mkboth\@gobbletwo\let\@oddhead\@empty\let\@evenhead\@empty
              \def\@oddfoot{\hfil\thepage\hfil}\let\@evenfoot\@oddfoot}
            \def\ps@myheadings{\let\@mkboth\@gobbletwo\let\@oddfoot\@empty\let\@evenfoot\@empty
              \def\@evenhead{\thepage\hfil{\slshape\leftmark}}\def\@oddhead{{\slshape\rightmark}\hfil\thepage}}
            \def\ps@headings{\let\@mkboth\markboth\let\@oddfoot\@empty\let\@evenfoot\@empty
              \def\@evenhead{\thepage\hfil{\slshape\leftmark}}\def\@oddhead{{\slshape\rightmark}\hfil\thepage}\heading@marks}
            \def\heading@marks{}
            """);
    }

    private bool IsPageStyle(string name, List<Token> argument, Token token)
    {
        if (_ownPageStyles.ContainsKey(name) || Machine.IsDefined("ps@" + name))
        {
            return true;
        }

        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        string? near = NearestName.Find(name, PageStyleNames());
        Findings.Check("unknown-page-style", at, Math.Max(1, name.Length), $"There is no page style “{name}” here.",
            "The style stays as it was. Available: " + string.Join(", ", PageStyleNames()) + ".",
            near is null ? null : new Repair(at, name.Length, near));
        return false;
    }

    private IEnumerable<string> PageStyleNames() =>
        s_standardStyles.Concat(_ownPageStyles.Keys).Distinct(StringComparer.Ordinal);

    private static readonly string[] s_standardStyles = ["plain", "empty", "headings", "myheadings"];

    /// <summary>Adds a page style made by a package.</summary>
    internal void DefinePageStyle(string name, Func<PageStyle> make) => _ownPageStyles[name] = make;

    /// <summary>Has the pages from here on take the page style as its commands define it now.</summary>
    internal void SetPageStyle()
    {
        if (!_ownPageStyles.ContainsKey(PageStyleName))
        {
            Builder.Execute(Token.Command(Machine.Symbol("ps@" + PageStyleName), PositionTable.None));
        }

        if (Builder.DocumentBegun)
        {
            AddQuietly(new PageStyleBlock { Style = MakePageStyle(PageStyleName) });
        }
    }

    // Changes of style and marks don't end a paragraph that is being written.
    internal void AddQuietly(Block block)
    {
        if (Builder.Frames.Peek().Paragraph is null or { HasContent: false })
        {
            bool afterHeading = Builder.Frames.Peek().AfterHeading;
            Builder.AddBlock(block);
            Builder.Frames.Peek().AfterHeading = afterHeading;
        }
        else if (!Builder.Frames.Peek().InlineOnly)
        {
            Builder.Frames.Peek().AfterParagraph.Add(block);
        }
    }

    /// <summary>The page style of a name.</summary>
    internal PageStyle MakePageStyle(string name)
    {
        if (_ownPageStyles.TryGetValue(name, out Func<PageStyle>? make))
        {
            return make();
        }

        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        Builder.Execute(Token.Command(Machine.Symbol("ps@" + name), PositionTable.None));
        var style = new PageStyle
        {
            Name = name,
            OddHead = PageLineOf("@oddhead", false),
            EvenHead = PageLineOf(Builder.Pages.TwoSided ? "@evenhead" : "@oddhead", true),
            OddFoot = PageLineOf("@oddfoot", false),
            EvenFoot = PageLineOf(Builder.Pages.TwoSided ? "@evenfoot" : "@oddfoot", true),
        };
        Machine.EndGroup();
        return style;
    }

    private PageLine PageLineOf(string command, bool isEven)
    {
        if (!Machine.IsDefined(command))
        {
            return PageLine.Empty;
        }

        List<Inline> content = BuildPageLine([Token.Command(Machine.Symbol(command), PositionTable.None)], isEven);
        return content.Count == 0 ? PageLine.Empty : new PageLine([new BoxInline(content) { Width = Builder.PageMeasures.Geometry?.TextWidth ?? 345, Alignment = -1 }], [], []);
    }

    /// <summary>Builds the content of a head or foot of odd or of even pages, set in the document's own type.</summary>
    internal List<Inline> BuildPageLine(List<Token> tokens, bool isEven = false)
    {
        bool before = _inPageLine;
        _inPageLine = true;
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        // A head may ask whether its page is odd (\ifodd\value{page}): it is built once for each answer.
        Machine.Assign(Machine.Counters.Find("page")!, isEven ? 2 : 1);
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(Builder.Style.Value.Size));
        Builder.Text.SetSize("normalsize");
        // Whatever the format, a head shows the number as it is printed.
        Machine.Assign(Machine.Symbol("thepage").Meaning, new BuiltInCommand("thepage",
            (_, _) => Builder.AddInline(new PageFieldInline(PageField.Number, "", null, Builder.Style.Value))));
        // Marks are known when pages are made, so their capitals wait as well.
        Machine.Assign(Machine.Symbol("MakeUppercase").Meaning, new BuiltInCommand("MakeUppercase", (m, t) =>
        {
            foreach (Inline inline in Builder.BuildInlines(m.ReadArgument(t)))
            {
                Builder.AddInline(inline switch
                {
                    TextRun run => new TextRun(run.Text.ToUpperInvariant(), run.Positions, run.Style),
                    PageFieldInline field => new PageFieldInline(field.Field, field.Format, field.Anchor, field.Style) { IsUppercase = true },
                    _ => inline,
                });
            }
        }));
        List<Inline> content = Builder.BuildInlines(tokens);
        Machine.EndGroup();
        _inPageLine = before;
        return content;
    }

    private void AddMark(List<Inline>? left, List<Inline>? right)
    {
        if (Builder.DocumentBegun)
        {
            AddQuietly(new MarkBlock(left, right));
        }
    }

    // ---- page numbers ------------------------------------------------------------------------------------

    // The page is known when it is made; until then a mark stands for its number.
    internal bool ShowPageNumber(string command, string counter, Token token)
    {
        if (counter != "page")
        {
            return false;
        }

        Machine.PutBack(Token.Command(Machine.Symbol("page number " + command), token.Position));
        return true;
    }

    private void AddPageNumber(string format)
    {
        if (!Builder.DocumentBegun && !_inPageLine)
        {
            return;
        }

        if (_inPageLine)
        {
            Builder.AddInline(new PageFieldInline(PageField.Number, format, null, Builder.Style.Value));
            return;
        }

        string anchor = Builder.HeadingCommands.NewAnchor("here");
        Builder.AddInline(new AnchorInline(anchor));
        Builder.AddInline(new PageFieldInline(PageField.Number, format, anchor, Builder.Style.Value));
    }

    internal void SetPageNumbering(string format, Token token)
    {
        if (format is not ("arabic" or "roman" or "Roman" or "alph" or "Alph" or "gobble"))
        {
            Findings.Check("unknown-numbering", token.Position, Math.Max(1, format.Length), $"Pages can't be numbered by “{format}”.",
                "Available: arabic, roman, Roman, alph, Alph, gobble.");
            return;
        }

        Machine.Definitions.DefineMacro("thepage", format == "gobble" ? "" : $"\\{format}{{page}}");
        _pageNumberMeaning = Machine.Symbol("thepage").Meaning.Value;
        Machine.Assign(Machine.Counters.Find("page")!, 1, true);
        if (Builder.DocumentBegun)
        {
            AddQuietly(new PageStyleBlock { Numbering = new PageNumbering(format == "gobble" ? "" : format), Number = 1 });
        }
        else
        {
            FirstPage = 1;
        }
    }

    internal void CounterChanged(string name, int value)
    {
        if (name == "page")
        {
            if (Builder.DocumentBegun)
            {
                AddQuietly(new PageStyleBlock { Number = value });
            }
            else
            {
                FirstPage = value;
            }
        }
    }

    // A preamble or the text may redefine \thepage.
    internal void CheckPageNumberFormat()
    {
        if (!ReferenceEquals(_pageNumberMeaning, Machine.Symbol("thepage").Meaning.Value))
        {
            AddQuietly(new PageStyleBlock { Numbering = NumberingNow() });
        }
    }

    internal PageNumbering NumberingNow()
    {
        _pageNumberMeaning = Machine.Symbol("thepage").Meaning.Value;
        string before = "";
        string after = "";
        string format = "";
        _inPageLine = true;
        List<Inline> content = Builder.BuildInlines([Token.Command(Machine.Symbol("thepage"), PositionTable.None)]);
        _inPageLine = false;
        foreach (Inline inline in content)
        {
            if (inline is PageFieldInline field)
            {
                format = field.Format;
            }
            else if (format.Length == 0)
            {
                before += PlainText.Of([inline]);
            }
            else
            {
                after += PlainText.Of([inline]);
            }
        }

        return new PageNumbering(format, before, after);
    }
}
