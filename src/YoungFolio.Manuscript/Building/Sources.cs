using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Citations, the hand-made bibliography, and addresses.
public sealed partial class DocumentBuilder
{
    private readonly List<Citation> _citations = [];
    private readonly List<PrintedSource> _sources = [];

    private readonly Dictionary<string, string> _sourceTexts = new(StringComparer.Ordinal);
    private readonly HashSet<string> _sourceKeys = new(StringComparer.Ordinal);
    private bool _sortsSources = true;
    private bool _printsAll;

    private void DefineSources()
    {
        Machine.Define("bibliographystyle", (m, t) =>
        {
            string style = m.ReadText(t);
            _sortsSources = style != "unsrt";
            if (style is not ("plain" or "unsrt"))
            {
                Findings.Check("unknown-style", t.Position, t.Length, $"The bibliography style “{style}” isn't available yet.",
                    "Sources are numbered and sorted by name. Available: plain, unsrt.");
            }
        });
        Machine.Define("nocite", (m, t) =>
        {
            foreach (string key in Split(m.ReadText(t)))
            {
                _printsAll |= key == "*";
                _citations.Add(new Citation(key, t.Position));
            }
        });
        Machine.Define("bibliography", (m, t) => ReadBibliography(t));
        Machine.Define("cite", (m, t) =>
        {
            List<Token>? note = m.ReadOptional(t);
            List<Token> argument = m.ReadArgument(t);
            AddText("[", t.Position);
            string separator = "";
            foreach (string key in Split(m.ExpandToText(argument)))
            {
                AddText(separator, t.Position);
                separator = ", ";
                _citations.Add(new Citation(key, t.Position));
                _labelUses.Add(new LabelUse("source " + key, t.Position, NameLength(t, argument)));
                AddInline(new ReferenceInline("source " + key, ReferenceKind.Number, _style.Value, t.Position, t.Length));
            }

            if (note is not null)
            {
                AddText(", ", t.Position);
                foreach (Inline inline in BuildInlines(note))
                {
                    AddInline(inline);
                }
            }

            AddText("]", t.Position);
        });
        DefineEnvironment("thebibliography", t =>
        {
            Machine.ReadArgument(t);
            EndParagraph();
            Machine.NewCounter("source");
            string level = Class.HasChapters ? "chapter" : "section";
            string name = Class.HasChapters ? "bibname" : "refname";
            Execute([.. InternalTokens($"\\{level}*{{\\{name} }}\\@mkboth{{\\{name} }}{{\\{name} }}").Select(u => u.At(t.Position))]);
            if (BibliographyInContents)
            {
                AddContentsLine("toc", level, [Token.Command(Machine.Symbol(name), t.Position)], t);
            }

            OpenFrame();
            Machine.Assign(_leftMargin, 2.2 * _style.Value.Size);
            Machine.Assign(_parSkip, Glue.Of(4, 2, 1));
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
        Machine.Define("bibitem", (m, t) =>
        {
            List<Token>? own = m.ReadOptional(t);
            List<Token> argument = m.ReadArgument(t);
            string key = m.ExpandToText(argument).Trim();
            EndParagraph();
            if (m.Counter("source") is null)
            {
                Findings.Fix("item-outside-list", t.Position, t.Length, "\\bibitem belongs in the environment thebibliography.",
                    "Put \\begin{thebibliography}{99} before the first one.");
                return;
            }

            if (own is null)
            {
                m.StepCounter("source", t);
            }

            string anchor = NewAnchor("source");
            List<Inline> label = BuildInlines(own ?? [.. m.Tokenize("\\arabic{source}", t.Position)]);
            string text = PlainText.Of(label);
            _labels["source " + key] = new Label("source " + key, "source", text, anchor, t.Position, NameLength(t, argument), []);
            _sources.Add(new PrintedSource(key, text, _sourceTexts.GetValueOrDefault(key, "")));
            _frames.Peek().Label = BuildInlines([Token.Command(m.Symbol("@biblabel"), t.Position), .. Machine.Braced(own ?? [.. m.Tokenize("\\arabic{source}", t.Position)], t.Position)]);
            _frames.Peek().LabelLook = LabelLook.Standard;
            _frames.Peek().LabelSpace = _parSkip.Value;
            Paragraph().Add(new AnchorInline(anchor));
            m.SkipSpaces();
        });
        Machine.Define("newblock", (_, t) => AddSpace(t.Position));
    }

    // Prints the sources that are cited, as a list that the preamble's own names and numbers shape.
    private void ReadBibliography(Token token)
    {
        List<Token> argument = Machine.ReadArgument(token);
        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        var entries = new Dictionary<string, BibEntry>(StringComparer.Ordinal);
        foreach (string name in Split(Machine.ExpandToText(argument)))
        {
            if (Resolve(name, ["", ".bib"], token, at) is not { } part)
            {
                continue;
            }

            int start = Machine.Positions.Register(part);
            BibFile file = BibReader.Read(part.Text);
            foreach (BibProblem problem in file.Problems)
            {
                Findings.Fix("unreadable-source", start + problem.Offset, 1, problem.Message, "Reading went on at the next entry.");
            }

            foreach (BibEntry entry in file.Entries)
            {
                _sourceKeys.Add(entry.Key);
                if (!entries.TryAdd(entry.Key, entry))
                {
                    Findings.Check("doubled-source", start + entry.Offset, entry.Type.Length + 1, $"The source “{entry.Key}” is there twice.",
                        "The first one is printed. Give this one another key, or delete it.");
                }
            }
        }

        IEnumerable<BibEntry> cited = _printsAll
            ? entries.Values
            : _citations.Select(c => c.Key).Distinct().Where(entries.ContainsKey).Select(k => entries[k]);
        var markup = new System.Text.StringBuilder("\\begin{thebibliography}{99}");
        foreach (BibEntry entry in _sortsSources ? NumericStyle.Sort(cited) : cited)
        {
            string text = NumericStyle.Format(entry);
            _sourceTexts[entry.Key] = PlainText.Of(BuildInlines(Machine.Tokenize(text, token.Position)));
            markup.Append("\\bibitem{").Append(entry.Key).Append('}').Append(text).Append('\n');
        }

        Machine.PushMarkup(markup.Append("\\end{thebibliography}").ToString(), token.Position);
    }

    /// <summary>Gives the commands for addresses.</summary>
    internal void DefineAddresses()
    {
        Machine.Define("url", (m, t) => Address(t));
        Machine.Define("nolinkurl", (m, t) => Address(t, false));
        Machine.Define("path", (m, t) => Address(t, false));
        Machine.Define("urlstyle", (m, t) => AddressFamily = m.ReadText(t) switch { "rm" => FontFamily.Roman, "sf" => FontFamily.Sans, "same" => null, _ => FontFamily.Mono });
        Machine.Define("href", (m, t) =>
        {
            string target = RawArgument(t);
            AddInline(new LinkInline(WithColour(AddressColour, () => BuildInlines(m.ReadArgument(t))), target, true));
        });
    }

    /// <summary>Colour of addresses; set by packages.</summary>
    internal int? AddressColour { get; set; }

    /// <summary>Family of addresses (<c>\urlstyle</c>).</summary>
    internal FontFamily? AddressFamily { get; set; } = FontFamily.Mono;

    /// <summary>Builds text in a colour; null leaves the present one.</summary>
    internal List<Inline> WithColour(int? colour, Func<List<Inline>> build)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        Machine.Assign(_style, _style.Value with { Colour = colour ?? _style.Value.Colour });
        List<Inline> result = build();
        Machine.EndGroup();
        return result;
    }

    /// <summary>Sets an address that may break after its signs, leading outside unless it is only shown.</summary>
    internal void Address(Token token, bool links = true)
    {
        string address = RawArgument(token);
        TextStyle style = _style.Value with { Family = AddressFamily ?? _style.Value.Family, Colour = AddressColour ?? _style.Value.Colour };
        var content = new List<Inline>();
        int start = 0;
        for (int i = 0; i < address.Length; i++)
        {
            // An address may break after a slash, a full stop or a hyphen.
            if (address[i] is '/' or '.' or '-' or '?' or '&' or '=' || i == address.Length - 1)
            {
                string piece = address[start..(i + 1)];
                content.Add(new TextRun(piece, [.. Enumerable.Repeat(token.Position, piece.Length)], style));
                content.Add(new PenaltyInline(i == address.Length - 1 ? 10000 : 100));
                start = i + 1;
            }
        }

        if (links)
        {
            AddInline(new LinkInline(content, address, true));
            return;
        }

        foreach (Inline inline in content)
        {
            AddInline(inline);
        }
    }

    // An address's signs mean nothing: % and # and _ are read as they stand.
    internal string RawArgument(Token token)
    {
        if (Machine.DirectLexer is { } lexer && lexer.PeekRaw() is '{' or '|' or '!')
        {
            string text = RawDelimited(token, lexer, out _)?.Trim() ?? "";
            return text.Replace("\\%", "%", StringComparison.Ordinal).Replace("\\#", "#", StringComparison.Ordinal).Replace("\\_", "_", StringComparison.Ordinal);
        }

        return Machine.ExpandToText(Machine.ReadArgument(token).ConvertAll(t => t.Category is Category.Comment or Category.Parameter or Category.Subscript
            ? Token.Character(t.Code, Category.Other, t.Position) : t)).Trim();
    }
}
