using YoungFolio.Bibliography;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Sources;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Citations and lists of sources, those of .bib files and those written by hand.</summary>
internal sealed class BibliographyCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal CitationCollector? Collected { get; set; }

    // Of the list by hand that is being read: whether a source came already, and how far its lines hang.
    private bool _begun;
    private double _outdent;

    /// <summary>What is cited, and from which files.</summary>
    internal CitationCollector CitationCollector => Collected ??= new CitationCollector(Builder);

    /// <summary>Colour of citations; set by packages.</summary>
    internal int? CitationColour { get; set; }

    internal void DefineSources()
    {
        Machine.Define("bibliographystyle", (m, t) =>
        {
            string style = m.ReadText(t).Trim();
            CitationCollector.HasStyle = true;
            CitationCollector.Named = new NamedStyle(t, null);
            if (CitationCollector.IsModern)
            {
                Findings.Check("style-without-effect", t.Position, t.Length, "\\bibliographystyle has no effect with biblatex.", "Give its style in the preamble: \\usepackage[style=…]{biblatex}.");
            }
            else if (FindOwnStyle(style, t) is { } own)
            {
                CitationCollector.Style = own;
            }
            else if (BibliographyStyle.FindClassic(style) is { } known)
            {
                CitationCollector.Style = known;
            }
            else
            {
                CitationCollector.Named = new NamedStyle(t, style);
                CitationCollector.Style = BibliographyStyle.FindNearestClassic(style) ?? CitationCollector.Style;
            }
        });
        Machine.Define("nocite", (m, t) =>
        {
            List<Token> argument = m.ReadArgument(t);
            string[] keys = PreambleCommands.Split(m.ExpandToText(argument));
            CitationCollector.Cite(keys, t);
            foreach (string key in keys.Where(k => k != "*"))
            {
                Builder.References.UseLabel("source " + key, t.Position, DocumentBuilder.NameLength(t, argument));
            }

            Builder.References.SkipSpacesAfterMark();
        });
        Machine.Define("bibliography", (m, t) =>
        {
            List<Token> argument = m.ReadArgument(t);
            ReadSourceFiles(argument, t);
            if (CitationCollector.IsModern)
            {
                // Its older name for \addbibresource.
                return;
            }

            if (!CitationCollector.HasStyle)
            {
                Findings.Check("bibliography-without-style", t.Position, t.Length, "\\bibliography stands without a \\bibliographystyle.",
                    "Sources are printed as by plain. Put \\bibliographystyle{plain} or another style before it.");
            }

            Builder.EndParagraph();
            PrintOwnHeading(t);
            PrintSources(new SourceFilter(CitationCollector.Section), t);
        });
        Machine.Define("source@heading", (_, t) => PrintSourceHeading(BibliographyTitle(t), false, Builder.BackMatter.BibliographyInContents, t));
        CitationCommands.Define(Builder, "cite", () => CitationForm.Parenthetical);
        Machine.Define("source@piece", (m, t) =>
        {
            foreach (Inline inline in CitationCollector.Pieces[int.Parse(m.ReadText(t), System.Globalization.CultureInfo.InvariantCulture)])
            {
                Builder.AddInline(inline);
            }
        });
        Machine.Define("source@url", (_, t) => Builder.Addresses.Address(t));
        Machine.Define("source@doi", (_, t) =>
        {
            string doi = Builder.Addresses.RawArgument(t);
            TextStyle style = Builder.Style.Value with { Family = FontFamily.Mono, Colour = Builder.Addresses.AddressColour ?? Builder.Style.Value.Colour };
            Builder.AddInline(new LinkInline(AddressCommands.AddressPieces(doi, t.Position, style), "https://doi.org/" + doi, true));
        });
        DefineSourcesByHand();
    }

    // A style that comes with the manuscript is meant before one of ours with its name.
    private BibliographyStyle? FindOwnStyle(string name, Token token)
    {
        string path = name.EndsWith(".bst", StringComparison.OrdinalIgnoreCase) ? name : name + ".bst";
        if (FileCommands.Normalise(path) is not { } place || Builder.Files.FindFile(place) is not { } file)
        {
            return null;
        }

        int start = Machine.Positions.Register(file);
        StyleProgram program = file.Derived("style", static f => StyleProgram.Read([f.Text]));
        if (program.Problems is [var first, ..])
        {
            Findings.Check("unreadable-style", start + Math.Min(first.Offset, Math.Max(0, file.Text.Length - 1)), 1, $"The bibliography style {name} can't be read whole: {first.Message}", "The rest of it was read.");
        }

        return program.IsEmpty ? null : BibliographyStyle.OfProgram(name, program);
    }

    /// <summary>Whether all .bib files that a command names are there by now.</summary>
    internal bool HasSourceFiles(List<Token> argument) =>
        PreambleCommands.Split(Machine.ExpandToText(argument)).All(name => Builder.Files.IsThere(name, ["", ".bib"]));

    /// <summary>Reads the .bib files that a command names.</summary>
    internal void ReadSourceFiles(List<Token> argument, Token token)
    {
        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        foreach (string name in PreambleCommands.Split(Machine.ExpandToText(argument)))
        {
            if (Builder.Files.Resolve(name, ["", ".bib"], token, at) is { } file)
            {
                CitationCollector.Read(file);
            }
        }
    }

    /// <summary>The title of the list by the document's own names.</summary>
    internal List<Token> BibliographyTitle(Token token) => [Token.Command(Machine.Symbol(Builder.Class.HasChapters ? "bibname" : "refname"), token.Position)];

    /// <summary>Prints the heading of a list of sources.</summary>
    /// <param name="title">Its title.</param>
    /// <param name="isNumbered">Whether it is numbered.</param>
    /// <param name="isListed">Whether the contents list it.</param>
    /// <param name="token">The command.</param>
    /// <param name="level">Its level; null: the class's.</param>
    internal void PrintSourceHeading(List<Token> title, bool isNumbered, bool isListed, Token token, string? level = null)
    {
        level ??= Builder.Class.HasChapters ? "chapter" : "section";
        Token head = Token.Command(Machine.Symbol(level), token.Position);
        if (isNumbered)
        {
            Builder.Execute([head, .. TokenLists.Braced(title, token.Position)]);
            return;
        }

        Builder.Execute([head, Token.Character('*', Category.Other, token.Position), .. TokenLists.Braced(title, token.Position)]);
        Builder.Execute([Token.Command(Machine.Symbol("@mkboth"), token.Position), .. TokenLists.Braced(title, token.Position), .. TokenLists.Braced(title, token.Position)]);
        if (isListed)
        {
            Builder.ContentsLists.AddContentsLine("toc", level, title, token);
        }
    }

    // A manuscript with natbib may have another heading, and words below it.
    private void PrintOwnHeading(Token token)
    {
        foreach (string name in CitationCollector.IsNatbib ? (string[])["bibsection", "bibpreamble"] : ["source@heading"])
        {
            Builder.Execute([Token.Command(Machine.Symbol(name), token.Position)]);
        }

        Builder.EndParagraph();
    }

    /// <summary>Prints the sources that a filter lets through.</summary>
    internal void PrintSources(SourceFilter filter, Token token) => Builder.BackMatter.AddLater(() => SourceBlocks(filter, token));

    private List<Block> SourceBlocks(SourceFilter filter, Token token)
    {
        BibliographyStyle style = CitationCollector.Effective;
        LoosenLines();
        SetType(token);
        SourceListMeasures measures = MeasuresOf(style);
        CitationCollector.SectionList list = CitationCollector.ListOf(filter.Section);
        List<ListedSource> sources = [.. list.Sources.Where(filter.Takes)];
        bool labelled = style.Label is CitationLabel.Number or CitationLabel.Letters;
        List<List<Inline>> labels = !labelled ? [] : style.HasBareNumbers ? [.. sources.Select(s => Builder.BuildInlines([.. Machine.Tokenize(LabelOf(s, style) + ".", token.Position)]))]
            : [.. sources.Select(s => Builder.BuildInlines([Token.Command(Machine.Symbol("@biblabel"), token.Position),
            .. TokenLists.Braced([.. Machine.Tokenize(LabelOf(s, style), token.Position)], token.Position)]))];
        double widest = labels.Count == 0 ? 0 : labels.Max(l => Builder.Boxes.Measure(l).Width);
        double hang = labelled ? widest + 5 : measures.Hang;
        bool hasLinks = Builder.Preamble.Packages.Any(p => p.Name == "hyperref");
        bool hasAddresses = hasLinks || Builder.Preamble.Packages.Any(p => p.Name is "url" or "xurl");
        var blocks = new List<Block>();
        for (int i = 0; i < sources.Count; i++)
        {
            ListedSource source = sources[i];
            int position = CitationCollector.PositionOf(source.Entry);
            string anchor = CitationCollector.AnchorOf(source.Entry.Key, filter.Section);
            List<Inline> text = Builder.BuildInlines(Builder.HeadingCommands.InternalTokens(source.Reference).Select(t => t.At(position)).ToList());
            string label = style.Label switch { CitationLabel.Number or CitationLabel.Letters => LabelOf(source, style), _ => $"{MarkupText.Plain(source.Authors)} {MarkupText.Plain(source.Year)}" };
            CitationCollector.AddPrinted(new PrintedSource(source.Entry.Key, label, PlainText.Of(text)) 
            {
                // What the style defines stands before the first source.
                Item = (i == 0 && list.Commands.Length > 0 ? list.Commands + "\n" : "") + SourceItem.Of(source, style, CitationCollector.IsNatbib, hasAddresses, hasLinks),
            });
            ParagraphStyle paragraph = Builder.ParagraphStyleNow(0) with { Indent = labelled ? 0 : -hang, LeftMargin = Builder.LeftMargin.Value + hang, SpaceAbove = i == 0 ? default : measures.Between };
            blocks.Add(labelled
                ? new ParagraphBlock([new AnchorInline(anchor), .. text], paragraph) { Label = new ItemLabel(labels[i]) { Separation = 5, Width = widest, Alignment = style.Label == CitationLabel.Number ? 'r' : 'l' } }
                : new ParagraphBlock([new AnchorInline(anchor), .. text], paragraph));
        }

        return blocks;
    }

    // A size, or whatever else manuscripts with natbib or biblatex have at the beginning of the list.
    private void SetType(Token token)
    {
        foreach (string name in (string[])["bibfont", "source@begin"])
        {
            if (Machine.IsDefined(name))
            {
                Builder.Execute([Token.Command(Machine.Symbol(name), token.Position)]);
            }
        }
    }

    // The classes' list of sources is a list of the first level: \itemsep and \parsep lie between two of them. Packages have lengths of
    // their own for it, which begin as these (natbib's and biblatex's documentation; from memory).
    private SourceListMeasures MeasuresOf(BibliographyStyle style)
    {
        if (CitationCollector.IsModern)
        {
            return new SourceListMeasures(Sum("bibitemsep", "bibparsep"), Machine.Registers.NamedGlue("bibhang").Value.Width.Points);
        }

        return CitationCollector.IsNatbib
            ? new SourceListMeasures(Machine.Registers.NamedGlue("bibsep").Value, Machine.Registers.NamedGlue("bibhang").Value.Width.Points)
            : new SourceListMeasures(Sum("itemsep", "parsep"), 1.5 * Builder.Style.Value.Size);
    }

    private Glue Sum(string first, string second) => Machine.Registers.NamedGlue(first).Value.Plus(Machine.Registers.NamedGlue(second).Value);

    // As the classes' own lists of sources have it (\sloppy): addresses and short lines leave little choice, so wide spaces rather than
    // words beyond the edge.
    private void LoosenLines()
    {
        Machine.Assign(Builder.Text.Tolerance, 9_999);
        Machine.Assign(Builder.Text.EmergencyStretch, Dimension.FromPoints(3 * Builder.Style.Value.Size));
    }

    private static string LabelOf(ListedSource source, BibliographyStyle style) =>
        style.Label == CitationLabel.Letters ? source.Letters : source.Number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    // ---- lists by hand --------------------------------------------------------------------------------------

    private void DefineSourcesByHand()
    {
        Builder.Environments.DefineEnvironment("thebibliography", t =>
        {
            List<Token> widest = Machine.ReadArgument(t);
            Builder.EndParagraph();
            Machine.Counters.Add("source");
            PrintOwnHeading(t);
            Builder.OpenFrame();
            SetType(t);
            _begun = false;
            double label = Builder.Boxes.Measure(Builder.BuildInlines([Token.Command(Machine.Symbol("@biblabel"), t.Position), .. TokenLists.Braced(widest, t.Position)])).Width;
            double margin = CitationCollector.IsNatbib && CitationCollector.Effective.Label != CitationLabel.Number
                ? Machine.Registers.NamedGlue("bibhang").Value.Width.Points
                : Math.Clamp(label + 5, 1.5 * Builder.Style.Value.Size, Builder.Boxes.LineWidth / 3);
            _outdent = margin;
            Machine.Assign(Builder.LeftMargin, Builder.LeftMargin.Value + margin);
            if (CitationCollector.IsNatbib)
            {
                // All of its space lies between the sources.
                Machine.Assign(Machine.Registers.NamedGlue("itemsep"), Machine.Registers.NamedGlue("bibsep").Value);
                Machine.Assign(Machine.Registers.NamedGlue("parsep"), default);
            }

            Machine.Assign(Builder.Text.ParSkip, Machine.Registers.NamedGlue("parsep").Value);
            LoosenLines();
        }, _ =>
        {
            if (Builder.Frames.Count > 1)
            {
                foreach (Block block in Builder.CloseFrame().Blocks)
                {
                    Builder.AddBlock(block);
                }
            }
        });
        Machine.Define("bibitem", (m, t) => SourceByHand(t));
        // A wider space before the next part of a source (the classes' definition, from memory).
        Machine.Definitions.DefineMacro("newblock", "\\hskip.11em plus.33em minus.07em\\relax");
    }

    private void SourceByHand(Token token)
    {
        List<Token>? own = Machine.ReadOptional(token);
        List<Token> argument = Machine.ReadArgument(token);
        string key = Machine.ExpandToText(argument).Trim();
        Builder.EndParagraph();
        if (Machine.Counters.Find("source") is null)
        {
            Findings.Fix("item-outside-list", token.Position, token.Length, "\\bibitem belongs in the environment thebibliography.",
                "Put \\begin{thebibliography}{99} before the first one.");
            return;
        }

        // natbib's labels hold names and year: Rook(1987) or Rook et al.(1987)Rook, Ashby, and Sable.
        string ownText = own is null ? "" : PlainText.Of(Builder.BuildInlines(own)).Trim();
        int open = ownText.IndexOf('(', StringComparison.Ordinal);
        int close = open < 0 ? -1 : ownText.IndexOf(')', open);
        bool isNamed = CitationCollector.IsNatbib && close > open && open > 0;
        bool isPlain = own is null || (isNamed && CitationCollector.Effective.Label == CitationLabel.Number);
        if (isPlain)
        {
            Machine.Counters.Step("source", token);
        }

        List<Token> shown = isPlain ? [.. Machine.Tokenize("\\arabic{source}", token.Position)] : own!;
        string text = PlainText.Of(Builder.BuildInlines(shown));
        string anchor = CitationCollector.AnchorOf(key, 0);
        if (!Builder.References.Labels.TryAdd("source " + key, new Label("source " + key, "source", text, anchor, token.Position, DocumentBuilder.NameLength(token, argument), [])))
        {
            Findings.Check("doubled-source", token.Position, token.Length, $"The source “{key}” is there twice.", "Citations lead to the first one. Give this one another key.");
        }

        string authors = isNamed ? ownText[..open].Trim() : text;
        string year = isNamed ? ownText[(open + 1)..close] : "";
        string all = isNamed && ownText.Length > close + 1 ? ownText[(close + 1)..].Trim() : authors;
        int number = isPlain ? Machine.Counters.Find("source")!.Value : CitationCollector.CountByHand + 1;
        CitationCollector.AddByHand(new ListedSource(new BibEntry("misc", key, 0, new Dictionary<string, string>()), number, text, MarkupText.Escape(authors), MarkupText.Escape(all), year, key, "")
        {
            OwnLabel = isPlain ? null : MarkupText.Escape(text),
        });
        CitationCollector.AddPrinted(new PrintedSource(key, isNamed ? $"{authors} {year}" : text, ""));
        // A name has no label of its own: its first line begins further to the left.
        Builder.Frames.Peek().Label = isNamed && !isPlain ? []
            : Builder.BuildInlines([Token.Command(Machine.Symbol("@biblabel"), token.Position), .. TokenLists.Braced(shown, token.Position)]);
        Builder.Frames.Peek().LabelLook = isNamed && !isPlain ? LabelLook.Standard with { Separation = 0, Indent = -_outdent } : LabelLook.Standard;
        Builder.Frames.Peek().LabelSpace = _begun ? Sum("itemsep", "parsep") : default;
        _begun = true;

        Builder.Paragraph().Add(new AnchorInline(anchor));
        Machine.SkipSpaces();
    }

    // Sources that are listed count as labels, so that a citation without one is found with other references.
    internal void LabelSources()
    {
        if (Collected is null)
        {
            return;
        }

        foreach (LabelUse use in Builder.References.LabelUses.Where(u => u.Key.StartsWith("source ", StringComparison.Ordinal)))
        {
            string key = use.Key[7..];
            if (CitationCollector.Has(key))
            {
                Builder.References.Labels.TryAdd(use.Key, new Label(use.Key, "source", null, CitationCollector.AnchorOf(key, 0), PositionTable.None, 0, []));
            }
        }

        CitationCollector.Check();
    }
}

/// <summary>How a list of sources is set.</summary>
/// <param name="Between">Space between two sources.</param>
/// <param name="Hang">How far the lines after the first one are moved in, where sources have no labels, in points.</param>
internal readonly record struct SourceListMeasures(Glue Between, double Hang);

/// <summary>Which sources a list prints.</summary>
/// <param name="Section">The stretch whose citations it lists.</param>
internal sealed record SourceFilter(int Section)
{
    /// <summary>Tests that a source must pass.</summary>
    public IReadOnlyList<Func<BibEntry, bool>> Tests { get; init; } = [];

    /// <summary>Whether a source passes.</summary>
    public bool Takes(ListedSource source) => Tests.All(t => t(source.Entry));
}
