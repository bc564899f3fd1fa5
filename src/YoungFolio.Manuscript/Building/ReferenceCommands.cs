using YoungFolio.Bibliography;
using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Labels and references. Numbers are known when all has been read, pages when they are made.</summary>
internal sealed class ReferenceCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal Dictionary<string, Label> Labels { get; } = new(StringComparer.Ordinal);
    internal List<LabelUse> LabelUses { get; } = [];
    internal List<Action> Deferred { get; } = [];

    /// <summary>Colour of references; set by packages.</summary>
    internal int? ReferenceColour { get; set; }

    internal void DefineReferences()
    {
        Machine.Define("label", (_, t) => ReadLabel(t));
        Machine.Define("ref", (_, t) => Reference(t, ReferenceKind.Number));
        Machine.Define("pageref", (_, t) => Reference(t, ReferenceKind.Page));
        Machine.Define("refstepcounter", (m, t) =>
        {
            string name = m.ReadText(t);
            m.Counters.Step(name, t);
            if (m.Counters.Find(name) is not null)
            {
                AddInlineAnchor(StartLabel(name, t));
            }
        });
        Machine.Define("@currentlabel", (_, t) => Builder.Text.AddText(Builder.CurrentLabel.Value?.Number ?? "", t.Position));
    }

    // A command that prints nothing doesn't double the space around it.
    internal void SkipSpacesAfterMark()
    {
        if (Builder.Formulas.Math is null && Builder.Frames.Peek().Paragraph is null or { EndsWithSpace: true })
        {
            Machine.SkipSpaces();
        }
    }

    /// <summary>Adds a place that references lead to, without beginning a paragraph.</summary>
    internal void AddInlineAnchor(string anchor)
    {
        if (!Builder.DocumentBegun)
        {
            return;
        }

        if (Builder.Formulas.Math is not null)
        {
            AnchorsAfterFormula.Add(anchor);
        }
        else if (Builder.Frames.Peek().Paragraph is { } paragraph)
        {
            paragraph.Add(new AnchorInline(anchor));
        }
        else
        {
            Builder.Frames.Peek().Blocks.Add(new AnchorBlock(anchor));
        }
    }

    internal List<string> AnchorsAfterFormula { get; } = [];

    /// <summary>Makes what <c>\label</c> names from here on; returns the anchor.</summary>
    internal string StartLabel(string counter, Token token, IReadOnlyList<Inline>? title = null, string? kind = null)
    {
        string anchor = Builder.HeadingCommands.NewAnchor(counter);
        Machine.Assign(Builder.CurrentLabel, new CurrentLabel(kind ?? counter, NumberOf(counter, token), anchor) { Title = title ?? [] });
        return anchor;
    }

    /// <summary>A counter as <c>\ref</c> prints it: <c>\p@…</c> stands before <c>\the…</c>, or takes it as an argument (<c>\labelformat</c>).</summary>
    internal string NumberOf(string counter, Token token)
    {
        List<Token> number = [Builder.HeadingCommands.TheOf(counter, token.Position)];
        if (Machine.IsDefined("p@" + counter))
        {
            number.Insert(0, Token.Command(Machine.Symbol("p@" + counter), token.Position));
        }

        return Machine.ExpandToText(number).Trim();
    }

    private void ReadLabel(Token token)
    {
        Machine.ReadOptional(token);
        List<Token> argument = Machine.ReadArgument(token);
        string key = Machine.ExpandToText(argument).Trim();
        int length = DocumentBuilder.NameLength(token, argument);
        if (key.Length == 0)
        {
            return;
        }

        CurrentLabel current = Builder.CurrentLabel.Value ?? new CurrentLabel("page", null, Builder.HeadingCommands.NewAnchor("page"));
        if (Builder.CurrentLabel.Value is null)
        {
            AddInlineAnchor(current.Anchor);
        }

        if (Labels.TryGetValue(key, out Label? other))
        {
            SourceLocation? first = Machine.Positions.Locate(other.Position);
            Findings.Check("doubled-label", token.Position, length, $"The label “{key}” is defined twice.",
                $"It was defined first in {first?.File}, line {first?.Line}; references lead there. Give this one another key.");
            return;
        }

        if (Builder.Float.Value is { } kind && current.Kind != kind.Name && Builder.Formulas.Math is null && !current.Kind.StartsWith("sub", StringComparison.Ordinal)
            && current.Kind is not ("equation" or "footnote") && !Builder.Lists.Lists.Any(l => l.Setup.Counter == current.Kind))
        {
            Findings.Check("label-before-caption", token.Position, length,
                $"The label “{key}” stands before its \\caption, so it gets the section's number.",
                "Put \\label after \\caption.");
        }

        SkipSpacesAfterMark();
        Labels.Add(key, new Label(key, current.Kind, current.Number, current.Anchor, token.Position, length, current.Title) { PageAnchor = PageAnchorNow() ?? current.Anchor });
    }

    // Within a float, a formula, or right below a heading the page is that of what is named.
    private string? PageAnchorNow()
    {
        BlockFrame frame = Builder.Frames.Peek();
        if (Builder.Formulas.Math is not null || Builder.Float.Value is not null || frame.InlineOnly || (frame.AfterHeading && frame.Paragraph is null))
        {
            return null;
        }

        string anchor = Builder.HeadingCommands.NewAnchor("label");
        AddInlineAnchor(anchor);
        return anchor;
    }

    private void Reference(Token token, ReferenceKind kind)
    {
        bool star = Machine.TakeStar();
        List<Token> argument = Machine.ReadArgument(token);
        string key = Machine.ExpandToText(argument).Trim();
        int length = DocumentBuilder.NameLength(token, argument);
        UseLabel(key, token.Position, length);
        AddReference(new ReferenceInline(key, kind, ReferenceStyle(), token.Position, length) { IsLink = !star }, token);
    }

    private TextStyle ReferenceStyle() => ReferenceColour is { } colour ? Builder.Style.Value with { Colour = colour } : Builder.Style.Value;

    // In a formula a reference is text.
    internal void AddReference(Inline reference, Token token) => Builder.Boxes.AddBoxed(reference, token);

    /// <summary>Notes that a label is referred to.</summary>
    internal void UseLabel(string key, int position, int length) => LabelUses.Add(new LabelUse(key, position, length));

    /// <summary>A reference to a label's number or page, in the present style.</summary>
    internal ReferenceInline MakeReference(string key, ReferenceKind kind, Token token, bool links = true) =>
        new(key, kind, ReferenceStyle(), token.Position, token.Length) { IsLink = links };

    /// <summary>Text that is made when all labels are known, in the present style.</summary>
    internal DeferredInline Defer(Func<IReadOnlyList<Inline>> make)
    {
        var inline = new DeferredInline();
        TextStyle style = Builder.Style.Value;
        Deferred.Add(() =>
        {
            Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
            Machine.Assign(Builder.Style, style);
            inline.Resolve(make());
            Machine.EndGroup();
        });
        return inline;
    }

    internal void ResolveDeferred()
    {
        // What the lists of sources define holds for the citations, too.
        Builder.Bibliography.Collected?.MakeLists();
        // What is made may ask for more: a reference's own fields may hold citations.
        for (int i = 0; i < Deferred.Count && i < 1_000_000; i++)
        {
            Deferred[i]();
        }
    }

    /// <summary>A text in the present style.</summary>
    internal TextRun MakeText(string text, int position) => new(text, [.. Enumerable.Repeat(position, text.Length)], Builder.Style.Value);

    // Sources are cited, but nothing prints or even reads them: that is one cause, and no key is to blame.
    private bool ReportMissingList()
    {
        LabelUse? first = LabelUses.FirstOrDefault(u => u.Key.StartsWith("source ", StringComparison.Ordinal) && !Labels.ContainsKey(u.Key));
        string? bib = Builder.SourceFiles.Paths.FirstOrDefault(p => p.EndsWith(".bib", StringComparison.OrdinalIgnoreCase));
        if (first is null || bib is null || !Builder.Bibliography.CitationCollector.IsWithoutSources || Builder.SourceFiles.Find(Builder.Options.MainFile) is not { } main)
        {
            return false;
        }

        int start = Machine.Positions.Register(main);
        IReadOnlyList<TextEdit> edits = BibliographySetUp.Missing(main.Text, bib);
        // What it takes in two places is shown, not mended.
        Repair? repair = edits is [var only] ? new Repair(start + only.Offset, only.Length, only.Text) : null;
        string lines = string.Join(" and ", edits.Select(e => e.Text.Trim().Replace('\n', ' ')));
        Findings.Fix("no-bibliography", first.Position, first.Length, $"Sources are cited, but the manuscript prints no list of them, so {bib} isn't read. Until then ?? is printed.",
            lines.Length > 0 ? $"Put in {lines}, before the end of the document." : "Put \\bibliographystyle{plain} and \\bibliography{…} where the list should stand.", repair);
        return true;
    }

    // What is wrong with labels and references is known at the end.
    internal void CheckLabels()
    {
        bool isListMissing = ReportMissingList();
        foreach (LabelUse use in LabelUses)
        {
            if (Labels.ContainsKey(use.Key))
            {
                continue;
            }

            if (use.Key.StartsWith("source ", StringComparison.Ordinal))
            {
                if (isListMissing)
                {
                    continue;
                }

                string? likely = NearestName.Find(use.Key[7..], Builder.Bibliography.CitationCollector.Keys);
                Findings.Fix("missing-source", use.Position, use.Length, $"There is no source “{use.Key[7..]}”.",
                    likely is null ? "Check its key, or add it to the .bib file. Until then ?? is printed." : $"Did you mean “{likely}”?",
                    KeyRepair(use, use.Key[7..], likely));
            }
            else
            {
                string? near = NearestName.Find(use.Key, Labels.Keys.Where(k => !k.StartsWith("source ", StringComparison.Ordinal)));
                Findings.Fix("missing-label", use.Position, use.Length, $"There is no label “{use.Key}”.",
                    near is null ? "Put \\label{" + use.Key + "} where it should lead. Until then ?? is printed." : $"Did you mean “{near}”?",
                    KeyRepair(use, use.Key, near));
            }
        }

        var used = LabelUses.Select(u => u.Key).ToHashSet(StringComparer.Ordinal);
        List<Label> headings = [];
        foreach (Label label in Labels.Values.OrderBy(l => l.Position))
        {
            if (used.Contains(label.Key) || label.Kind == "source")
            {
                continue;
            }

            if (HeadingCommands.Names.Contains(label.Kind) || label.Kind == "page")
            {
                headings.Add(label);
                continue;
            }

            if (label.Kind is "figure" or "table")
            {
                Findings.Check("float-not-mentioned", label.Position, label.Length, $"The text never refers to this {label.Kind} (“{label.Key}”).",
                    $"Refer to it with \\ref{{{label.Key}}}, so that readers look at it; journals ask for it.");
            }
            else
            {
                Findings.Check("unused-label", label.Position, label.Length, $"The label “{label.Key}” is never referred to.",
                    "Delete it, or refer to it.", new Repair(label.Position, label.Length, ""));
            }
        }

        ReportUnusedHeadings(headings);
    }

    // Many give every heading a label: that some aren't used is one remark, not many.
    private void ReportUnusedHeadings(List<Label> labels)
    {
        if (labels is [var first, ..])
        {
            string named = string.Join(", ", labels.Take(3).Select(l => $"“{l.Key}”")) + (labels.Count > 3 ? $" and {labels.Count - 3} more" : "");
            Findings.Check("unused-heading-labels", first.Position, first.Length,
                labels.Count == 1 ? $"The label {named} of a heading is never referred to." : $"{labels.Count} labels of headings are never referred to: {named}.",
                "They do no harm; the room Cross-refs lists them.");
        }
    }

    private Repair? KeyRepair(LabelUse use, string key, string? near)
    {
        if (near is null || Machine.Positions.Resolve(use.Position) is not { } place)
        {
            return null;
        }

        int at = place.File.Text.IndexOf(key, place.Offset, StringComparison.Ordinal);
        return at >= 0 && at < place.Offset + use.Length + key.Length ? new Repair(use.Position - place.Offset + at, key.Length, near) : null;
    }
}
