using System.Globalization;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// What packages build with, beyond the commands that the kernel has: colours, decorations, columns, lists of symbols, heads in fields.
public sealed partial class DocumentBuilder
{
    /// <summary>Colours defined by the manuscript.</summary>
    internal Dictionary<string, int> Colours { get; } = new(StringComparer.Ordinal);

    /// <summary>Colour of the text here.</summary>
    internal int ColourNow => _style.Value.Colour;

    /// <summary>Whether the first paragraph below a heading is indented.</summary>
    internal bool IndentsFirst { set => _indentsFirst = value; }

    /// <summary>Options given to the document class.</summary>
    internal IReadOnlyList<ListedOption> ClassOptions => _classOptions;

    /// <summary>Width of notes in the margin in points.</summary>
    internal double MarginWidth => _geometry?.MarginWidth ?? 60;

    /// <summary>Counter of the list around the one being begun, or null.</summary>
    internal string? OuterListCounter => _lists.FirstOrDefault(l => l.Setup.Counter.Length > 0)?.Setup.Counter;

    /// <summary>Sets the colour of what follows; null leaves it.</summary>
    internal void SetColour(int? colour)
    {
        if (colour is { } c)
        {
            Machine.Assign(_style, _style.Value with { Colour = c });
        }
    }

    /// <summary>Ends the paragraph being written.</summary>
    internal void FinishParagraph() => EndParagraph();

    /// <summary>Adds words without any markup.</summary>
    internal void AddPlain(string text, int position) => AddText(text, position);

    /// <summary>Adds a reference; in a formula it is text.</summary>
    internal void AddReferenceInline(Inline inline, Token token) => AddReference(inline, token);

    /// <summary>Sets lines flush at both sides again.</summary>
    internal void Justify() => Machine.Assign(_alignment, Alignment.Justified);

    /// <summary>Forgets the last number of a kind of list.</summary>
    internal void ForgetList(string kind) => _lastNumbers.Remove(kind);

    /// <summary>How a paragraph stands here, without space above.</summary>
    internal ParagraphStyle PlainParagraph() => ParagraphStyleNow(0) with { SpaceAbove = default, Alignment = Alignment.Left };

    /// <summary>Kind that names what a label stands for; chapters and sections after <c>\appendix</c> are appendices.</summary>
    internal string ReferenceKindOf(Label label) => _appendixAnchors.Contains(label.Anchor) ? "appendix" : label.Kind;

    private readonly HashSet<string> _appendixAnchors = new(StringComparer.Ordinal);

    // ---- words ------------------------------------------------------------------------------------------

    /// <summary>Defines a command that draws a line under, through or behind its words.</summary>
    internal void DefineDecoration(string name, Decoration decoration, int colour) => Machine.Define(name, (m, t) =>
        AddInline(new DecoratedInline(BuildInlines(m.ReadArgument(t)), decoration, colour)));

    /// <summary>Gives letterspaced words.</summary>
    internal void DefineLetterspacing() => Machine.Define("so", (m, t) =>
    {
        List<Inline> content = BuildInlines(m.ReadArgument(t));
        foreach (Inline inline in content)
        {
            if (inline is not TextRun run)
            {
                AddInline(inline);
                continue;
            }

            for (int i = 0; i < run.Text.Length; i++)
            {
                AddInline(new TextRun(run.Text[i].ToString(), [run.Positions[i]], run.Style));
                if (i + 1 < run.Text.Length && run.Text[i] != ' ' && run.Text[i + 1] != ' ')
                {
                    AddInline(new PenaltyInline(10_000));
                    AddInline(new SpaceInline(Glue.Of(0.25 * run.Style.Size), false));
                }
            }
        }
    });

    /// <summary>Gives sizes relative to the text around.</summary>
    internal void DefineRelativeSizes()
    {
        void Scale(double factor)
        {
            Machine.Assign(_style, _style.Value with { Size = Math.Clamp(_style.Value.Size * factor, 3, 200) });
            Machine.Assign(_leading, _leading.Value * factor);
        }

        foreach ((string name, int sign) in (ReadOnlySpan<(string, int)>)[("larger", 1), ("smaller", -1)])
        {
            Machine.Define(name, (m, t) => Scale(Math.Pow(1.2, sign * (m.ReadOptional(t) is { } n ? m.ParseInteger(n, t) ?? 1 : 1))));
            Machine.LoadDefinitions($"\\newcommand{{\\text{name}}}[2][1]{{{{\\{name}[#1]#2}}}}");
        }

        Machine.Define("relsize", (m, t) => Scale(Math.Pow(1.2, m.ParseInteger(m.ReadArgument(t), t) ?? 0)));
        Machine.Define("scalefont", (m, t) => Scale(double.TryParse(m.ReadText(t), NumberStyles.Float, CultureInfo.InvariantCulture, out double factor) ? factor : 1));
    }

    /// <summary>Gives <c>\xspace</c>: a space unless a sign follows that takes none (its documented list).</summary>
    internal void DefineXspace() => Machine.Define("xspace", (m, t) =>
    {
        Token next = m.Peek();
        bool none = next.Symbol is { } symbol
            ? symbol.Name is "/" or " " or "~" or "footnote" or "footnotemark" or "xspace" or "space" or "@xobeysp" or "unskip"
            : next.Category is Category.BeginGroup or Category.EndGroup or Category.Space or Category.Stop || (next.Code < 128 && ".,'/?;:!~-)\u2019".Contains((char)next.Code));
        if (!none)
        {
            AddSpace(t.Position);
        }
    });

    /// <summary>Whether a thin space is put before ; ! ? and a no-break one before a colon, as French does.</summary>
    internal bool SpacesHighSigns { get; set; }

    /// <summary>Sets the language of words, not of names and signs.</summary>
    internal void SelectWords(string name, Token token)
    {
        if (LanguageNames.CodeOf(name) is { } code)
        {
            Machine.Assign(_style, _style.Value with { Language = code });
            return;
        }

        SelectLanguage(name, token);
    }

    // ---- text as typed ------------------------------------------------------------------------------------

    /// <summary>Reads options that stand right after <c>\begin{…}</c> of text as typed; nothing behind them is read.</summary>
    internal List<ListedOption> ReadRawOptions(Token token) =>
        Machine.DirectLexer is { } lexer && lexer.PeekRaw() == '[' ? ListedOption.Of(Machine, Machine.ReadOptional(token)) : [];

    /// <summary>The text style that declarations give here.</summary>
    private TextStyle StyleOf(IReadOnlyList<Token> declarations, TextStyle start)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        Machine.Assign(_style, start);
        // Declarations may be commands that take the words, such as \textbf: their group's style is what counts.
        Execute([.. declarations.Where(t => !t.IsCommand("textbf") && !t.IsCommand("textit"))]);
        TextStyle style = _style.Value;
        Machine.EndGroup();
        return (declarations.Any(t => t.IsCommand("textbf")), declarations.Any(t => t.IsCommand("textit"))) switch
        {
            (true, _) => style with { Bold = true },
            (_, true) => style with { Shape = FontShape.Italic },
            _ => style,
        };
    }

    /// <summary>Prints the environment being begun as typed.</summary>
    internal void TypedBlock(Token token, ListingSetup setup)
    {
        if (TakeRawBody(token) is { } body)
        {
            PrintTyped(body.Text, body.Position, setup, token);
        }
    }

    /// <summary>Prints a part as typed; its name is the command's argument.</summary>
    internal void TypedPart(Token token, ListingSetup? setup = null)
    {
        List<Token> argument = Machine.ReadArgument(token);
        string name = FileName(argument);
        if (Resolve(name, [""], token, argument.Count > 0 ? argument[0].Position : token.Position) is { } part)
        {
            PrintTyped(part.Text.TrimEnd('\n'), Machine.Positions.Register(part), setup ?? new ListingSetup(), token);
        }
    }

    private void PrintTyped(string text, int position, ListingSetup setup, Token token)
    {
        EndParagraph();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        if (setup.Caption is { } caption)
        {
            TypedCaption(caption, setup, token);
        }
        else if (setup.Title is { } title)
        {
            AddBlock(new ParagraphBlock(BuildInlines(title), PlainParagraph() with { Alignment = Alignment.Centre }));
        }

        Machine.Assign(_style, Typewriter());
        Execute([.. setup.Basic]);
        TextStyle basic = _style.Value with { Family = setup.Basic.Any(t => t.IsCommand("rmfamily") || t.IsCommand("sffamily")) ? _style.Value.Family : FontFamily.Mono };
        double leading = _leading.Value;
        var words = new TypedWords(this, setup, basic);
        if (setup.Framed)
        {
            AddBlock(new SpaceBlock(Glue.Of(4)));
            AddFullRule();
        }

        string[] lines = text.Split('\n');
        int from = Math.Clamp(setup.FirstLine, 1, lines.Length);
        int to = Math.Clamp(setup.LastLine, from, lines.Length);
        int start = position + lines.Take(from - 1).Sum(l => l.Length + 1);
        TextStyle numbers = StyleOf(setup.NumberFont.Count > 0 ? setup.NumberFont : Machine.Tokenize("\\scriptsize ", token.Position), basic with { Bold = false, Shape = FontShape.Upright });
        AddTypedLines(string.Join('\n', lines[(from - 1)..to]), start, line =>
        {
            List<Inline> content = words.Line(line.Text, line.Position);
            int number = setup.FirstNumber + from - 1 + line.Number - 1;
            if (setup.Numbers)
            {
                string shown = number % setup.NumberStep == 0 || line.Number == 1 ? number.ToString(CultureInfo.InvariantCulture) : "";
                var box = new BoxInline(shown.Length == 0 ? [] : [new TextRun(shown, [.. Enumerable.Repeat(PositionTable.None, shown.Length)], numbers)]) { Width = 18, Alignment = 1 };
                content.InsertRange(0, [box, new SpaceInline(Glue.Of(8), false)]);
            }

            return content;
        }, new TypedLook { Leading = leading, LeftMargin = setup.Indent, Space = setup.Framed ? Glue.Of(3) : Glue.Of(8, 2, 4) });
        if (setup.Framed)
        {
            AddFullRule();
            AddBlock(new SpaceBlock(Glue.Of(8, 2, 2)));
        }

        Machine.EndGroup();
    }

    private void AddFullRule() => AddBlock(new ParagraphBlock([new RuleInline(LineWidth, 0.4, 0)], PlainParagraph() with { Leading = 3 }));

    private void TypedCaption(List<Token> caption, ListingSetup setup, Token token)
    {
        Machine.StepCounter("lstlisting", token);
        List<Inline> text = BuildInlines(caption);
        string anchor = StartLabel("lstlisting", token, text);
        AddInlineAnchor(anchor);
        string number = _currentLabel.Value!.Number ?? "";
        if (setup.Label.Length > 0)
        {
            _labels.TryAdd(setup.Label, new Label(setup.Label, "lstlisting", number, anchor, token.Position, token.Length, text));
        }

        AddListLine("lol", number, text, anchor, token.Position);
        List<Inline> line = [.. BuildInlines([Token.Command(Machine.Symbol("lstlistingname"), token.Position)]), MakeText("\u00A0" + number + ": ", token.Position), .. text];
        AddBlock(new SpaceBlock(Glue.Of(8, 2, 2)));
        AddBlock(new ParagraphBlock(line, PlainParagraph() with { Alignment = Measure(line).Width < LineWidth ? Alignment.Centre : Alignment.Justified }));
        AddBlock(new PenaltyBlock(10_000));
    }

    /// <summary>Adds words of a program in the line.</summary>
    internal void AddTypedWords(string text, int position, ListingSetup setup)
    {
        TextStyle basic = StyleOf(setup.Basic, Typewriter());
        foreach (Inline inline in new TypedWords(this, setup, basic).Line(text, position))
        {
            AddInline(inline);
        }
    }

    /// <summary>Sets the words of a program's lines by their kinds.</summary>
    private sealed class TypedWords
    {
        private readonly DocumentBuilder _builder;
        private readonly ListingSetup _setup;
        private readonly ProgramLanguage _language;
        private readonly Dictionary<ProgramWord, TextStyle> _styles = [];
        private bool _inComment;

        public TypedWords(DocumentBuilder builder, ListingSetup setup, TextStyle basic)
        {
            (_builder, _setup) = (builder, setup);
            _language = ProgramLanguage.Find(setup.Language);
            _styles[ProgramWord.Plain] = basic;
            _styles[ProgramWord.Keyword] = setup.Keywords is { } k ? builder.StyleOf(k, basic) : basic with { Bold = true };
            _styles[ProgramWord.Comment] = setup.Comments is { } c ? builder.StyleOf(c, basic) : basic with { Shape = FontShape.Italic };
            _styles[ProgramWord.Text] = setup.Texts is { } t ? builder.StyleOf(t, basic) : basic;
        }

        public List<Inline> Line(string text, int position)
        {
            if (_setup.Escape.Length >= 2)
            {
                int open = text.IndexOf(_setup.Escape[0], StringComparison.Ordinal);
                int close = open < 0 ? -1 : text.IndexOf(_setup.Escape[^1], open + 1);
                if (close > open)
                {
                    return [.. Line(text[..open], position), .. _builder.BuildInlines(_builder.Machine.Tokenize(text[(open + 1)..close], position + open + 1)),
                        .. Line(text[(close + 1)..], position + close + 1)];
                }
            }

            if (_setup.CommandCharacters.Length == 3 && text.Contains(_setup.CommandCharacters[0], StringComparison.Ordinal))
            {
                return _builder.BuildTypedMarkup(text, position, _setup.CommandCharacters, _styles[ProgramWord.Plain]);
            }

            var result = new List<Inline>();
            foreach ((string word, int offset, ProgramWord kind) in _language.Parse(text, ref _inComment))
            {
                ProgramWord shown = kind == ProgramWord.Plain && _setup.MoreKeywords.Contains(word.Trim()) ? ProgramWord.Keyword : kind;
                result.AddRange(DocumentBuilder.Run(word, position + offset, _styles[shown], _setup.ShowsSpaces));
            }

            return result;
        }
    }

    // Text as typed in which three signs act as backslash and braces.
    private List<Inline> BuildTypedMarkup(string text, int position, string signs, TextStyle style)
    {
        Machine.BeginGroup(GroupKind.Command, "", position);
        Machine.Assign(_style, style);
        for (int i = 0; i < 128; i++)
        {
            if (!char.IsLetter((char)i))
            {
                Machine.SetCategory(i, Category.Other);
            }
        }

        Machine.SetCategory(signs[0], Category.Escape);
        Machine.SetCategory(signs[1], Category.BeginGroup);
        Machine.SetCategory(signs[2], Category.EndGroup);
        Token[] tokens = Machine.Tokenize(text, position);
        for (int i = 0; i < tokens.Length; i++)
        {
            tokens[i] = tokens[i].IsCharacter(' ') ? Token.Character(0xA0, Category.Other, position) : tokens[i];
        }

        List<Inline> result = BuildInlines(tokens);
        Machine.EndGroup();
        return result;
    }

    /// <summary>Gives the environment alltt: typewriter text in which commands work.</summary>
    internal void DefineAlltt() => DefineEnvironment("alltt", _ =>
    {
        EndParagraph();
        OpenFrame();
        AddBlock(new SpaceBlock(Glue.Of(8, 2, 4)));
        Machine.Assign(_style, Typewriter());
        Align(Alignment.Left);
        foreach (char c in "$&#^_%~\"'`")
        {
            Machine.SetCategory(c, Category.Other);
        }

        ObeyLines();
        ObeySpaces();
        if (Machine.DirectLexer is { } lexer && lexer.PeekRaw() == '\n')
        {
            lexer.TakeRaw();
        }
    }, _ =>
    {
        if (_frames.Count > 1)
        {
            BlockFrame frame = CloseFrame();
            foreach (Block block in frame.Blocks)
            {
                AddBlock(block);
            }

            AddBlock(new SpaceBlock(Glue.Of(8, 2, 4)));
            _frames.Peek().Continues = true;
        }
    });

    private void ObeyLines()
    {
        Machine.SetCategory('\n', Category.Active);
        Machine.DefineActive('\n', (_, _) =>
        {
            // An empty line still takes its room.
            if (_frames.Peek().Paragraph is null or { HasContent: false })
            {
                AddCharacter(0xA0, PositionTable.None);
            }

            Paragraph().Add(new LineBreakInline(default));
        });
    }

    private void ObeySpaces()
    {
        Machine.SetCategory(' ', Category.Active);
        Machine.DefineActive(' ', (_, t) => AddCharacter(0xA0, t.Position));
    }

    private void DefineObeying()
    {
        Machine.Define("obeylines", (_, _) => ObeyLines());
        Machine.Define("obeyspaces", (_, _) => ObeySpaces());
    }

    // ---- the page -------------------------------------------------------------------------------------------

    /// <summary>Space at the inner edge for binding, in points.</summary>
    internal double BindingOffset { get; set; }

    private double? _wantedWidth;
    private double? _wantedHeight;

    /// <summary>Sets width or height of the text block.</summary>
    internal void SetTextSize(string key, List<Token> value, Token token)
    {
        List<List<Token>> lengths = Machine.SplitAtCommas(value);
        double? first = lengths.Count > 0 ? Machine.ParseGlue(lengths[0], token)?.Width.Points : null;
        if (key is "textwidth" or "width")
        {
            _wantedWidth = first;
        }
        else if (key is "textheight" or "height")
        {
            _wantedHeight = first;
        }
        else
        {
            _wantedWidth = first;
            _wantedHeight = lengths.Count > 1 ? Machine.ParseGlue(lengths[1], token)?.Width.Points : null;
        }
    }

    /// <summary>Sets a side of the paper in points.</summary>
    internal void SetPaperLength(bool width, double length)
    {
        if (length > 0)
        {
            (_paperWidth, _paperHeight) = width ? (length, _paperHeight) : (_paperWidth, length);
        }
    }

    /// <summary>Lays the paper across or upright.</summary>
    internal void SetOrientation(bool landscape)
    {
        (double small, double large) = (Math.Min(_paperWidth, _paperHeight), Math.Max(_paperWidth, _paperHeight));
        (_paperWidth, _paperHeight) = landscape ? (large, small) : (small, large);
    }

    /// <summary>Gives text in columns.</summary>
    internal void DefineColumns()
    {
        foreach (string name in (string[])["multicols", "multicols*"])
        {
            DefineEnvironment(name, t =>
            {
                Machine.ReadArgument(t);
                List<Token>? across = Machine.ReadOptional(t);
                Machine.ReadOptional(t);
                EndParagraph();
                if (across is not null)
                {
                    foreach (Block block in BuildBlocks(across))
                    {
                        AddBlock(block);
                    }
                }

                OpenFrame();
            }, _ =>
            {
                if (_frames.Count > 1)
                {
                    AddBlock(new ColumnsBlock(CloseFrame().Blocks, 2));
                }
            });
        }

        Machine.Define("columnbreak", (_, _) => EndParagraph());
    }

    /// <summary>Gives margins changed for a stretch of text.</summary>
    internal void DefineAdjustedWidth()
    {
        foreach (string name in (string[])["adjustwidth", "adjustwidth*"])
        {
            DefineEnvironment(name, t =>
            {
                List<Token> left = Machine.ReadArgument(t);
                List<Token> right = Machine.ReadArgument(t);
                EndParagraph();
                OpenFrame();
                double Margin(List<Token> tokens) => tokens.Count == 0 ? 0 : Machine.ParseGlue(tokens, t)?.Width.Points ?? 0;
                Indent(Margin(left), Margin(right));
            }, _ =>
            {
                if (_frames.Count > 1)
                {
                    foreach (Block block in CloseFrame().Blocks)
                    {
                        AddBlock(block);
                    }
                }
            });
        }

        Machine.Define("strictpagecheck", static (_, _) => { });
        Machine.Define("checkoddpage", static (_, _) => { });
        Machine.NewSwitch("oddpage");
    }

    private readonly Dictionary<(bool Head, bool Even, char Place), List<Token>> _fields = [];

    /// <summary>Gives heads and feet in three fields.</summary>
    internal void DefineHeadFields()
    {
        foreach ((string name, bool head, bool foot) in (ReadOnlySpan<(string, bool, bool)>)[("fancyhead", true, false), ("fancyfoot", false, true), ("fancyhf", true, true)])
        {
            Machine.Define(name, (m, t) =>
            {
                string places = m.ReadOptionalText(t) ?? "";
                SetFields(places, head, foot, m.ReadArgument(t));
            });
        }

        foreach ((string name, char place, bool head) in (ReadOnlySpan<(string, char, bool)>)[
            ("lhead", 'L', true), ("chead", 'C', true), ("rhead", 'R', true), ("lfoot", 'L', false), ("cfoot", 'C', false), ("rfoot", 'R', false)])
        {
            Machine.Define(name, (m, t) =>
            {
                List<Token>? even = m.ReadOptional(t);
                List<Token> odd = m.ReadArgument(t);
                _fields[(head, false, place)] = odd;
                _fields[(head, true, place)] = even ?? odd;
                RefreshFields();
            });
        }

        Machine.LoadDefinitions("\\def\\headrulewidth{0.4pt}\\def\\footrulewidth{0pt}\\def\\nouppercase#1{#1}\\newcommand{\\fancyheadoffset}[2][]{}\\newcommand{\\fancyfootoffset}[2][]{}"
            + "\\newcommand{\\fancyhfoffset}[2][]{}\\def\\headrule{}\\def\\footrule{}\\newlength{\\headwidth}\\def\\plainheadrulewidth{0pt}\\def\\plainfootrulewidth{0pt}\\def\\iffloatpage#1#2{#2}");
        // As the package begins: marks at the head's edges, the number at the foot's middle.
        SetFields("", true, true, []);
        SetFields("LE,RO", true, false, Machine.Tokenize("\\slshape\\rightmark", PositionTable.None).ToList());
        SetFields("RE,LO", true, false, Machine.Tokenize("\\slshape\\leftmark", PositionTable.None).ToList());
        SetFields("C", false, true, Machine.Tokenize("\\thepage", PositionTable.None).ToList());
        DefinePageStyle("fancy", () => FieldStyle("fancy", _fields));
        Machine.Define("fancypagestyle", (m, t) =>
        {
            string name = m.ReadText(t);
            m.ReadOptional(t);
            List<Token> settings = m.ReadArgument(t);
            DefinePageStyle(name, () =>
            {
                var before = new Dictionary<(bool, bool, char), List<Token>>(_fields);
                bool quiet = _quietFields;
                _quietFields = true;
                Machine.BeginGroup(GroupKind.Command, "", t.Position);
                Execute([.. settings]);
                PageStyle style = FieldStyle(name, _fields);
                Machine.EndGroup();
                _quietFields = quiet;
                _fields.Clear();
                foreach (((bool, bool, char) place, List<Token> content) in before)
                {
                    _fields[place] = content;
                }

                return style;
            });
        });
        Machine.LoadDefinitions("\\heading@marks");
    }

    private bool _quietFields;

    private void SetFields(string places, bool head, bool foot, List<Token> content)
    {
        foreach (string place in places.Length == 0 ? ["LCR"] : Split(places))
        {
            string upper = place.ToUpperInvariant();
            bool heads = upper.Contains('H', StringComparison.Ordinal) ? head : upper.Contains('F', StringComparison.Ordinal) ? false : head;
            bool feet = upper.Contains('F', StringComparison.Ordinal) ? foot : upper.Contains('H', StringComparison.Ordinal) ? false : foot;
            foreach (char column in !upper.Any(c => c is 'L' or 'C' or 'R') ? "LCR" : string.Concat(upper.Where(c => c is 'L' or 'C' or 'R')))
            {
                foreach (bool even in (bool[])[false, true])
                {
                    if (upper.Contains('E', StringComparison.Ordinal) != upper.Contains('O', StringComparison.Ordinal) && upper.Contains('E', StringComparison.Ordinal) != even)
                    {
                        continue;
                    }

                    if (heads)
                    {
                        _fields[(true, even, column)] = content;
                    }

                    if (feet)
                    {
                        _fields[(false, even, column)] = content;
                    }
                }
            }
        }

        RefreshFields();
    }

    private void RefreshFields()
    {
        if (_documentBegun && !_quietFields && _pageStyleName == "fancy")
        {
            SetPageStyle();
        }
    }

    private PageStyle FieldStyle(string name, Dictionary<(bool Head, bool Even, char Place), List<Token>> fields)
    {
        PageLine Line(bool head, bool even) => new(Field(head, even, 'L'), Field(head, even, 'C'), Field(head, even, 'R'));
        List<Inline> Field(bool head, bool even, char place) => fields.TryGetValue((head, even && TwoSided, place), out List<Token>? content) ? BuildPageLine(content) : [];
        double Width(string macro) => Machine.ParseGlue([Token.Command(Machine.Symbol(macro), PositionTable.None)], default)?.Width.Points ?? 0;
        return new PageStyle
        {
            Name = name,
            OddHead = Line(true, false),
            EvenHead = Line(true, true),
            OddFoot = Line(false, false),
            EvenFoot = Line(false, true),
            HeadRule = Width("headrulewidth"),
            FootRule = Width("footrulewidth"),
        };
    }

    // ---- lists made at the end --------------------------------------------------------------------------------

    /// <summary>Adds blocks that are known when all has been read.</summary>
    internal void AddLater(Func<List<Block>> make)
    {
        var content = new List<Block>();
        AddBlock(new GroupBlock(content));
        TextStyle style = _style.Value;
        _deferred.Add(() =>
        {
            Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
            Machine.Assign(_style, style);
            content.AddRange(make());
            Machine.EndGroup();
        });
    }

    /// <summary>Adds a line to a list of the front matter, such as that of listings.</summary>
    internal void AddListLine(string list, string? number, IReadOnlyList<Inline> text, string anchor, int position)
    {
        if (!_documentBegun || _frames.Peek().InlineOnly)
        {
            return;
        }

        var line = new HeadingBlock
        {
            Level = 2,
            Number = null,
            ContentsNumber = number is null ? null : [MakeText(number, position)],
            ShortTitle = text,
            Anchor = anchor,
            Position = position,
            IsListed = true,
            IsInOutline = false,
            Lines = [],
            SpaceAbove = default,
            SpaceBelow = default,
            List = list,
            IsPlaced = false,
        };
        _frames.Peek().AfterParagraph.Add(line);
    }

    /// <summary>Text of an index's entry, in the document's own type.</summary>
    internal List<Inline> BuildIndexText(List<Token> text)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        Machine.Assign(_style, new TextStyle(FontFamily.Roman, false, FontShape.Upright, TypeSizes.Of("normalsize", BasicSize).Size));
        List<Inline> result = BuildInlines(text);
        Machine.EndGroup();
        return result;
    }

    /// <summary>Prints an index with its heading.</summary>
    internal void AddIndex(List<Token> title, IReadOnlyList<IndexNote> notes, Token token)
    {
        string level = Class.HasChapters ? "chapter" : "section";
        Execute([Token.Command(Machine.Symbol(level), token.Position), Token.Character('*', Category.Other, token.Position), .. Machine.Braced(title, token.Position)]);
        if (IndexInContents)
        {
            AddContentsLine("toc", level, title, token);
        }

        AddBlock(new IndexBlock { Notes = notes, Style = _style.Value, Paragraph = PlainParagraph() });
    }

    /// <summary>A paragraph with a label in the margin: a symbol and its meaning.</summary>
    internal IEnumerable<Block> LabelledParagraph(IReadOnlyList<Inline> label, List<Token> text, double width)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        Machine.Assign(_parIndent, default);
        double margin = width + 5;
        Machine.Assign(_leftMargin, margin);
        foreach (Block block in BuildBlocks(text))
        {
            yield return block is ParagraphBlock p
                ? new ParagraphBlock(p.Content, p.Style with { Indent = 0, SpaceAbove = Glue.Of(3, 1) }) { Label = label, LabelSeparation = 5, LabelWidth = width, LabelAlignment = 'l' }
                : block;
        }

        Machine.EndGroup();
    }

    /// <summary>A paragraph of a glossary: the name in bold, what it means, and the pages of its uses.</summary>
    internal IEnumerable<Block> GlossaryParagraph(string anchor, List<Token> name, List<Token> text, IReadOnlyList<string> places)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        TextStyle style = _style.Value;
        var content = new List<Inline> { new AnchorInline(anchor) };
        Machine.Assign(_style, style with { Bold = true });
        content.AddRange(BuildInlines(name));
        Machine.Assign(_style, style);
        content.Add(new SpaceInline(Glue.Of(style.Size), false));
        content.AddRange(BuildInlines(text));
        if (places.Count > 0)
        {
            content.Add(MakeText(", ", PositionTable.None));
            content.Add(new PagesInline(places, style));
        }

        Machine.EndGroup();
        return [new ParagraphBlock(content, PlainParagraph() with { Alignment = Alignment.Justified, SpaceAbove = Glue.Of(3, 1), LeftMargin = 25, Indent = -25 })];
    }

    // ---- contents ---------------------------------------------------------------------------------------------

    /// <summary>Whether the contents list themselves.</summary>
    internal bool ContentsInContents { get; set; }

    /// <summary>Whether the list of figures stands in the contents.</summary>
    internal bool FigureListInContents { get; set; }

    /// <summary>Whether the list of tables stands in the contents.</summary>
    internal bool TableListInContents { get; set; }

    /// <summary>Whether the bibliography stands in the contents.</summary>
    internal bool BibliographyInContents { get; set; }

    /// <summary>Whether the index stands in the contents.</summary>
    internal bool IndexInContents { get; set; }

    /// <summary>A place that references lead to, as <c>\phantomsection</c> makes.</summary>
    internal void StartPhantomSection(Token token)
    {
        string anchor = NewAnchor("section");
        AddInlineAnchor(anchor);
        Machine.Assign(_currentLabel, (_currentLabel.Value ?? new CurrentLabel("section", null, anchor)) with { Anchor = anchor });
        _ = token;
    }

    /// <summary>Makes the label <c>LastPage</c>.</summary>
    internal void LabelLastPage() => WhenDocumentEnds(() =>
    {
        const string Anchor = "last page";
        _frames.Peek().Blocks.Add(new AnchorBlock(Anchor));
        _labels.TryAdd("LastPage", new Label("LastPage", "source", null, Anchor, PositionTable.None, 0, []));
    });

    // ---- captions ---------------------------------------------------------------------------------------------

    private CaptionLook _captionLook = new();

    private sealed record CaptionLook
    {
        public IReadOnlyList<Token> Font { get; init; } = [];

        public IReadOnlyList<Token> LabelFont { get; init; } = [];

        public string Separator { get; init; } = ": ";

        public bool? Centres { get; init; }

        public double? Above { get; init; }
    }

    /// <summary>Gives the look of captions, and captions outside floats.</summary>
    internal void DefineCaptionSetup(IReadOnlyList<ListedOption> options)
    {
        ApplyCaptionOptions(options);
        Machine.Define("captionsetup", (m, t) =>
        {
            m.TakeStar();
            string? kind = m.ReadOptionalText(t);
            List<ListedOption> given = ListedOption.Of(m, m.ReadArgument(t));
            if (kind is null)
            {
                ApplyCaptionOptions(given);
            }
        });
        Machine.Define("captionof", (m, t) =>
        {
            bool star = m.TakeStar();
            string kind = m.ReadText(t);
            Machine.BeginGroup(GroupKind.Command, "", t.Position);
            SetFloatKind(kind);
            if (star)
            {
                m.PutBack(Token.Character('*', Category.Other, t.Position));
            }

            ReadCaption(t);
            CurrentLabel? label = _currentLabel.Value;
            Machine.EndGroup();
            Machine.Assign(_currentLabel, label);
        });
        Machine.LoadDefinitions("\\newcommand{\\ContinuedFloat}{}\\newcommand{\\DeclareCaptionFont}[2]{}\\newcommand{\\DeclareCaptionFormat}[2]{}\\newcommand{\\DeclareCaptionLabelFormat}[2]{}"
            + "\\newcommand{\\DeclareCaptionStyle}[3][]{}\\newcommand{\\clearcaptionsetup}[2][]{}\\newcommand{\\DeclareCaptionLabelSeparator}[2]{}\\newcommand{\\DeclareCaptionJustification}[2]{}");
    }

    private void ApplyCaptionOptions(IReadOnlyList<ListedOption> options)
    {
        foreach (ListedOption option in options)
        {
            List<Token> value = option.Value ?? [];
            string text = option.Text(Machine);
            List<Token> Fonts() => [.. Split(text).SelectMany(f => Machine.Tokenize(f switch
            {
                "bf" => "\\bfseries ", "it" => "\\itshape ", "sc" => "\\scshape ", "sf" => "\\sffamily ", "rm" => "\\rmfamily ", "tt" => "\\ttfamily ", "sl" => "\\slshape ",
                "up" => "\\upshape ", "md" => "\\mdseries ", "small" or "footnotesize" or "normalsize" or "large" or "scriptsize" => $"\\{f} ", _ => "",
            }, PositionTable.None))];
            _captionLook = option.Key switch
            {
                "font" => _captionLook with { Font = Fonts() },
                "labelfont" => _captionLook with { LabelFont = Fonts() },
                "textfont" => _captionLook with { Font = [.. _captionLook.Font, .. Fonts()] },
                "labelsep" => _captionLook with { Separator = text switch { "period" => ". ", "space" => " ", "quad" => " ", "endash" => " – ", "none" => "", "newline" => "\n", _ => ": " } },
                "justification" => _captionLook with { Centres = text is "centering" or "centerlast" ? true : false },
                "singlelinecheck" => _captionLook with { Centres = text is "false" or "off" or "0" ? false : _captionLook.Centres },
                "skip" => _captionLook with { Above = Machine.ParseGlue(value, default)?.Width.Points },
                _ => _captionLook,
            };
        }
    }

    /// <summary>Gives parts that can also stand alone: their own preamble is passed over.</summary>
    internal void DefineSubfiles()
    {
        foreach (string name in (string[])["subfile", "subfileinclude", "includestandalone"])
        {
            Machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                List<Token> argument = m.ReadArgument(t);
                string file = FileName(argument);
                int at = argument.Count > 0 ? argument[0].Position : t.Position;
                if (name == "subfileinclude")
                {
                    AddBlock(new PageBreakBlock(PageEnd.Clear));
                }

                ReadSubfile(file, t, at);
            });
        }

        Machine.Define("subfix", (m, t) => m.Push(m.ReadArgument(t)));
        Machine.Define("standaloneconfig", (m, t) => m.ReadArgument(t));
    }

    private void ReadSubfile(string name, Token token, int at)
    {
        if (Resolve(name, ["", ".tex"], token, at) is not { } part || Machine.OpenParts.Contains(part.Path) || _folders.Count > 50)
        {
            return;
        }

        bool standsAlone = part.Text.Contains("\\begin{document}", StringComparison.Ordinal);
        int slash = part.Path.LastIndexOf('/');
        _folders.Push(slash < 0 ? "" : part.Path[..(slash + 1)]);
        Machine.ScanPart(part, () =>
        {
            if (standsAlone && Machine.DirectLexer is { } lexer)
            {
                lexer.TakeRawUntil("\\begin{document}");
                lexer.EndsAt("\\end{document}");
            }

            Run();
        });
        _folders.Pop();
    }
}
