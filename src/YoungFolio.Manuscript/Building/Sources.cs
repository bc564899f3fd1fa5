using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Sources;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Citations and lists of sources, those of .bib files and those written by hand.
public sealed partial class DocumentBuilder
{
    private SourceDesk? _sourceDesk;

    /// <summary>What is cited, and from which files.</summary>
    internal SourceDesk SourceDesk => _sourceDesk ??= new SourceDesk(this);

    /// <summary>Colour of citations; set by packages.</summary>
    internal int? CitationColour { get; set; }

    private void DefineSources()
    {
        Machine.Define("bibliographystyle", (m, t) =>
        {
            string style = m.ReadText(t);
            SourceDesk.HasStyle = true;
            if (SourceDesk.IsModern)
            {
                Findings.Check("style-without-effect", t.Position, t.Length, "\\bibliographystyle has no effect with biblatex.", "Give its style in the preamble: \\usepackage[style=…]{biblatex}.");
            }
            else if (BibliographyStyle.FindClassic(style) is { } known)
            {
                SourceDesk.Style = known;
            }
            else
            {
                Findings.Check("unknown-style", t.Position, t.Length, $"There is no bibliography style “{style}” here.",
                    $"Sources are printed as by {SourceDesk.Style.Name}. There are {string.Join(", ", BibliographyStyle.ClassicNames)}.");
            }
        });
        Machine.Define("nocite", (m, t) =>
        {
            List<Token> argument = m.ReadArgument(t);
            string[] keys = Split(m.ExpandToText(argument));
            SourceDesk.Cite(keys, t);
            foreach (string key in keys.Where(k => k != "*"))
            {
                UseLabel("source " + key, t.Position, NameLength(t, argument));
            }

            SkipSpacesAfterMark();
        });
        Machine.Define("bibliography", (m, t) =>
        {
            List<Token> argument = m.ReadArgument(t);
            ReadSourceFiles(argument, t);
            if (SourceDesk.IsModern)
            {
                // Its older name for \addbibresource.
                return;
            }

            if (!SourceDesk.HasStyle)
            {
                Findings.Check("bibliography-without-style", t.Position, t.Length, "\\bibliography stands without a \\bibliographystyle.",
                    "Sources are printed as by plain. Put \\bibliographystyle{plain} or another style before it.");
            }

            EndParagraph();
            PrintSourceHeading(BibliographyTitle(t), false, BibliographyInContents, t);
            PrintSources(new SourceFilter(SourceDesk.Section), t);
        });
        CitationCommands.Define(this, "cite", () => CitationForm.Parenthetical);
        Machine.Define("source@piece", (m, t) =>
        {
            foreach (Inline inline in SourceDesk.Pieces[int.Parse(m.ReadText(t), System.Globalization.CultureInfo.InvariantCulture)])
            {
                AddInline(inline);
            }
        });
        Machine.Define("source@url", (_, t) => Address(t));
        Machine.Define("source@doi", (_, t) =>
        {
            string doi = RawArgument(t);
            TextStyle style = _style.Value with { Family = FontFamily.Mono, Colour = AddressColour ?? _style.Value.Colour };
            AddInline(new LinkInline(AddressPieces(doi, t.Position, style), "https://doi.org/" + doi, true));
        });
        DefineSourcesByHand();
    }

    /// <summary>Reads the .bib files that a command names.</summary>
    internal void ReadSourceFiles(List<Token> argument, Token token)
    {
        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        foreach (string name in Split(Machine.ExpandToText(argument)))
        {
            if (Resolve(name, ["", ".bib"], token, at) is { } file)
            {
                SourceDesk.Read(file);
            }
        }
    }

    /// <summary>The title of the list by the document's own names.</summary>
    internal List<Token> BibliographyTitle(Token token) => [Token.Command(Machine.Symbol(Class.HasChapters ? "bibname" : "refname"), token.Position)];

    /// <summary>Prints the heading of a list of sources.</summary>
    /// <param name="title">Its title.</param>
    /// <param name="isNumbered">Whether it is numbered.</param>
    /// <param name="isListed">Whether the contents list it.</param>
    /// <param name="token">The command.</param>
    /// <param name="level">Its level; null: the class's.</param>
    internal void PrintSourceHeading(List<Token> title, bool isNumbered, bool isListed, Token token, string? level = null)
    {
        level ??= Class.HasChapters ? "chapter" : "section";
        Token head = Token.Command(Machine.Symbol(level), token.Position);
        if (isNumbered)
        {
            Execute([head, .. Machine.Braced(title, token.Position)]);
            return;
        }

        Execute([head, Token.Character('*', Category.Other, token.Position), .. Machine.Braced(title, token.Position)]);
        Execute([Token.Command(Machine.Symbol("@mkboth"), token.Position), .. Machine.Braced(title, token.Position), .. Machine.Braced(title, token.Position)]);
        if (isListed)
        {
            AddContentsLine("toc", level, title, token);
        }
    }

    /// <summary>Prints the sources that a filter lets through.</summary>
    internal void PrintSources(SourceFilter filter, Token token) => AddLater(() => SourceBlocks(filter, token));

    private List<Block> SourceBlocks(SourceFilter filter, Token token)
    {
        BibliographyStyle style = SourceDesk.Effective;
        // Addresses and short lines leave little choice: wide spaces rather than words beyond the edge.
        Machine.Assign(_tolerance, 9_999);
        Machine.Assign(_emergencyStretch, Dimension.FromPoints(3 * _style.Value.Size));
        List<ListedSource> sources = [.. SourceDesk.ListOf(filter.Section).Sources.Where(filter.Takes)];
        bool labelled = style.Label is CitationLabel.Number or CitationLabel.Letters;
        List<List<Inline>> labels = labelled ? [.. sources.Select(s => BuildInlines([Token.Command(Machine.Symbol("@biblabel"), token.Position),
            .. Machine.Braced([.. Machine.Tokenize(LabelOf(s, style), token.Position)], token.Position)]))] : [];
        double widest = labels.Count == 0 ? 0 : labels.Max(l => Measure(l).Width);
        double hang = labelled ? widest + 5 : 1.5 * _style.Value.Size;
        var blocks = new List<Block>();
        for (int i = 0; i < sources.Count; i++)
        {
            ListedSource source = sources[i];
            int position = SourceDesk.PositionOf(source.Entry);
            string anchor = SourceDesk.AnchorOf(source.Entry.Key, filter.Section);
            List<Inline> text = BuildInlines(InternalTokens(source.Reference).Select(t => t.At(position)).ToList());
            string label = style.Label switch { CitationLabel.Number or CitationLabel.Letters => LabelOf(source, style), _ => $"{MarkupText.Plain(source.Authors)} {MarkupText.Plain(source.Year)}" };
            SourceDesk.AddPrinted(new PrintedSource(source.Entry.Key, label, PlainText.Of(text)));
            ParagraphStyle paragraph = ParagraphStyleNow(0) with { Indent = labelled ? 0 : -hang, LeftMargin = _leftMargin.Value + hang, SpaceAbove = Glue.Of(i == 0 ? 0 : 4, 2, 1) };
            blocks.Add(labelled
                ? new ParagraphBlock([new AnchorInline(anchor), .. text], paragraph) { Label = labels[i], LabelSeparation = 5, LabelWidth = widest, LabelAlignment = style.Label == CitationLabel.Number ? 'r' : 'l' }
                : new ParagraphBlock([new AnchorInline(anchor), .. text], paragraph));
        }

        return blocks;
    }

    private static string LabelOf(ListedSource source, BibliographyStyle style) =>
        style.Label == CitationLabel.Letters ? source.Letters : source.Number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    // ---- lists by hand --------------------------------------------------------------------------------------

    private void DefineSourcesByHand()
    {
        DefineEnvironment("thebibliography", t =>
        {
            List<Token> widest = Machine.ReadArgument(t);
            EndParagraph();
            Machine.NewCounter("source");
            PrintSourceHeading(BibliographyTitle(t), false, BibliographyInContents, t);
            OpenFrame();
            double label = Measure(BuildInlines([Token.Command(Machine.Symbol("@biblabel"), t.Position), .. Machine.Braced(widest, t.Position)])).Width;
            Machine.Assign(_leftMargin, _leftMargin.Value + Math.Clamp(label + 5, 1.5 * _style.Value.Size, LineWidth / 3));
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
        Machine.Define("bibitem", (m, t) => SourceByHand(t));
        Machine.Define("newblock", (_, t) => AddSpace(t.Position));
    }

    private void SourceByHand(Token token)
    {
        List<Token>? own = Machine.ReadOptional(token);
        List<Token> argument = Machine.ReadArgument(token);
        string key = Machine.ExpandToText(argument).Trim();
        EndParagraph();
        if (Machine.Counter("source") is null)
        {
            Findings.Fix("item-outside-list", token.Position, token.Length, "\\bibitem belongs in the environment thebibliography.",
                "Put \\begin{thebibliography}{99} before the first one.");
            return;
        }

        // natbib's labels hold names and year: Rook(1987) or Rook et al.(1987)Rook, Ashby, and Sable.
        string ownText = own is null ? "" : PlainText.Of(BuildInlines(own)).Trim();
        int open = ownText.IndexOf('(', StringComparison.Ordinal);
        int close = open < 0 ? -1 : ownText.IndexOf(')', open);
        bool isNamed = SourceDesk.IsNatbib && close > open && open > 0;
        bool isPlain = own is null || (isNamed && SourceDesk.Effective.Label == CitationLabel.Number);
        if (isPlain)
        {
            Machine.StepCounter("source", token);
        }

        List<Token> shown = isPlain ? [.. Machine.Tokenize("\\arabic{source}", token.Position)] : own!;
        string text = PlainText.Of(BuildInlines(shown));
        string anchor = SourceDesk.AnchorOf(key, 0);
        if (!_labels.TryAdd("source " + key, new Label("source " + key, "source", text, anchor, token.Position, NameLength(token, argument), [])))
        {
            Findings.Check("doubled-source", token.Position, token.Length, $"The source “{key}” is there twice.", "Citations lead to the first one. Give this one another key.");
        }

        string authors = isNamed ? ownText[..open].Trim() : text;
        string year = isNamed ? ownText[(open + 1)..close] : "";
        string all = isNamed && ownText.Length > close + 1 ? ownText[(close + 1)..].Trim() : authors;
        int number = isPlain ? Machine.Counter("source")!.Value : SourceDesk.CountByHand + 1;
        SourceDesk.AddByHand(new ListedSource(new BibEntry("misc", key, 0, new Dictionary<string, string>()), number, text, MarkupText.Escape(authors), MarkupText.Escape(all), year, key, "")
        {
            OwnLabel = isPlain ? null : MarkupText.Escape(text),
        });
        SourceDesk.AddPrinted(new PrintedSource(key, isNamed ? $"{authors} {year}" : text, ""));
        if (isNamed && !isPlain)
        {
            _frames.Peek().Label = null;
        }
        else
        {
            _frames.Peek().Label = BuildInlines([Token.Command(Machine.Symbol("@biblabel"), token.Position), .. Machine.Braced(shown, token.Position)]);
            _frames.Peek().LabelLook = LabelLook.Standard;
            _frames.Peek().LabelSpace = _parSkip.Value;
        }

        Paragraph().Add(new AnchorInline(anchor));
        Machine.SkipSpaces();
    }

    // Sources that are listed count as labels, so that a citation without one is found with other references.
    private void LabelSources()
    {
        if (_sourceDesk is null)
        {
            return;
        }

        foreach (LabelUse use in _labelUses.Where(u => u.Key.StartsWith("source ", StringComparison.Ordinal)))
        {
            string key = use.Key[7..];
            if (SourceDesk.Has(key))
            {
                _labels.TryAdd(use.Key, new Label(use.Key, "source", null, SourceDesk.AnchorOf(key, 0), PositionTable.None, 0, []));
            }
        }

        SourceDesk.Check();
    }
}

/// <summary>Which sources a list prints.</summary>
/// <param name="Section">The stretch whose citations it lists.</param>
internal sealed record SourceFilter(int Section)
{
    /// <summary>Tests that a source must pass.</summary>
    public IReadOnlyList<Func<BibEntry, bool>> Tests { get; init; } = [];

    /// <summary>Whether a source passes.</summary>
    public bool Takes(ListedSource source) => Tests.All(t => t(source.Entry));
}
