using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Lines;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Formulas;

/// <summary>
/// Sets formulas: spacing classes and styles of The TeXbook (ch. 17, 18 and appendix G), measures of the OpenType MATH
/// table.
/// </summary>
internal sealed partial class MathSetter(SettingContext context)
{
    // The TeXbook, p. 170: 0 none, 1 thin, 2 medium, 3 thick; negative: only in display and text size. Rows: left atom.
    private static readonly int[,] s_spacing =
    {
        { 0, 1, -2, -3, 0, 0, 0, -1 },
        { 1, 1, 0, -3, 0, 0, 0, -1 },
        { -2, -2, 0, 0, -2, 0, 0, -2 },
        { -3, -3, 0, 0, -3, 0, 0, -3 },
        { 0, 0, 0, 0, 0, 0, 0, 0 },
        { 0, 1, -2, -3, 0, 0, 0, -1 },
        { -1, -1, 0, -1, -1, -1, -1, -1 },
        { -1, 1, -2, -3, -1, 0, -1, -1 },
    };

    private readonly MathFont _font = context.Resources.Fonts.Mathematics(context.Document.Typefaces.Mathematics);
    private readonly FontFile _fallback = context.Resources.Fonts.Fallback(new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10));
    private ParagraphSetter _text = null!;
    private int _colour;

    // Height that a delimiter in the middle grows to: that of the ones around it.
    private double _fence;

    /// <summary>Size and looks of a formula's part.</summary>
    private readonly record struct FormulaStyle(MathSize Size, bool Cramped, double Basic, TextStyle Text)
    {
        public bool IsDisplay => Size == MathSize.Display;

        public bool IsScript => Size >= MathSize.Script;
    }

    /// <summary>Sets a formula in the line: boxes with the cost of a break after each, and the space that follows.</summary>
    public List<(Box Box, int? Penalty, double Space)> SetInline(MathList formula, TextStyle style, ParagraphSetter text)
    {
        _text = text;
        _colour = style.Colour;
        var result = new List<(Box, int?, double)>();
        var current = new Box();
        int? lastBreak = null;
        FormulaStyle looks = new(MathSize.Text, false, style.Size, style);
        foreach ((Box box, double spaceBefore, AtomClass? atomClass, int? wish) in Arrange(formula, looks))
        {
            if (lastBreak is not null && current.Width > 0)
            {
                result.Add((current, lastBreak, spaceBefore));
                current = new Box();
            }
            else
            {
                current.Width += spaceBefore;
            }

            current.Append(box);
            // The plain format's \relpenalty and \binoppenalty (The TeXbook, p. 348), unless the formula says otherwise.
            lastBreak = wish ?? atomClass switch { AtomClass.Relation => 500, AtomClass.Binary => 700, _ => null };
            lastBreak = lastBreak >= 10_000 ? null : lastBreak;
        }

        result.Add((current, null, 0));
        return result;
    }

    /// <summary>Sets a displayed formula.</summary>
    public Box SetDisplay(MathList formula, TextStyle style, ParagraphSetter text)
    {
        _text = text;
        _colour = style.Colour;
        return SetList(formula, new FormulaStyle(MathSize.Display, false, style.Size, style));
    }

    private double SizeOf(FormulaStyle looks) => looks.Basic * looks.Size switch
    {
        MathSize.Script => _font.Constant(MathConstant.ScriptPercentScaleDown),
        MathSize.ScriptScript => _font.Constant(MathConstant.ScriptScriptPercentScaleDown),
        _ => 1,
    };

    private double Measure(MathConstant constant, FormulaStyle looks) => _font.Constant(constant) * SizeOf(looks);

    private static FormulaStyle Script(FormulaStyle looks, bool cramped) => looks with
    {
        Size = looks.Size <= MathSize.Text ? MathSize.Script : MathSize.ScriptScript,
        Cramped = looks.Cramped || cramped,
    };

    private Box SetList(MathList list, FormulaStyle looks)
    {
        var result = new Box();
        foreach ((Box box, double before, _, _) in Arrange(list, looks))
        {
            result.Width += before;
            result.Append(box);
            result.Italic = box.Italic;
        }

        return result;
    }

    // Each atom's box with the space before it and the wish for a line's end after it; binary signs without two sides become ordinary.
    private List<(Box Box, double Before, AtomClass? Class, int? Penalty)> Arrange(MathList list, FormulaStyle looks)
    {
        var result = new List<(Box, double, AtomClass?, int?)>();
        AtomClass[] classes = Classes(list);
        AtomClass? last = null;
        double pending = 0;
        for (int i = 0; i < list.Nodes.Count; i++)
        {
            switch (list.Nodes[i])
            {
                case MathGlue glue:
                    pending += glue.VanishesInScripts && looks.IsScript ? 0 : glue.IsInPoints ? glue.Width : glue.Width / 18 * SizeOf(looks);
                    break;
                case MathPenalty penalty when result.Count > 0:
                    result[^1] = result[^1] with { Item4 = penalty.Penalty };
                    break;
                case SizeChange change:
                    looks = looks with { Size = change.Size };
                    break;
                case Atom atom:
                    double space = last is { } l ? Space(l, classes[i], looks) : 0;
                    result.Add((SetAtom(atom, looks), space + pending, classes[i], null));
                    pending = 0;
                    last = classes[i];
                    break;
            }
        }

        if (pending != 0)
        {
            result.Add((new Box(), pending, null, null));
        }

        return result;
    }

    private double Space(AtomClass left, AtomClass right, FormulaStyle looks)
    {
        int kind = s_spacing[(int)left, (int)right];
        if (kind == 0 || (kind < 0 && looks.IsScript))
        {
            return 0;
        }

        return (Math.Abs(kind) switch { 1 => 3, 2 => 4, _ => 5 }) / 18.0 * SizeOf(looks);
    }

    // Appendix G, rules 5 and 6.
    private static AtomClass[] Classes(MathList list)
    {
        var classes = new AtomClass[list.Nodes.Count];
        int before = -1;
        for (int i = 0; i < classes.Length; i++)
        {
            if (list.Nodes[i] is not Atom atom)
            {
                continue;
            }

            classes[i] = atom.Class;
            if (atom.Class == AtomClass.Binary && (before < 0 || classes[before] is AtomClass.Binary or AtomClass.Operator
                or AtomClass.Relation or AtomClass.Opening or AtomClass.Punctuation))
            {
                classes[i] = AtomClass.Ordinary;
            }
            else if (atom.Class is AtomClass.Relation or AtomClass.Closing or AtomClass.Punctuation && before >= 0
                && classes[before] == AtomClass.Binary)
            {
                classes[before] = AtomClass.Ordinary;
            }

            before = i;
        }

        if (before >= 0 && classes[before] == AtomClass.Binary)
        {
            classes[before] = AtomClass.Ordinary;
        }

        return classes;
    }

    // ---- atoms and scripts -----------------------------------------------------------------------------

    private Box SetAtom(Atom atom, FormulaStyle looks)
    {
        context.Budget.Spend(4);
        bool limits = atom.Limits == Limits.Always
            || (atom.Class == AtomClass.Operator && atom.Limits == Limits.Automatic && looks.IsDisplay);
        Box nucleus = SetNucleus(atom, looks);
        if (atom.Superscript is null && atom.Subscript is null)
        {
            // A slanted letter's overhang belongs to its width; inside a word of one alphabet letters stand as they are.
            if (atom.Nucleus is SymbolNucleus { IsLarge: false })
            {
                nucleus.Width += nucleus.Italic;
            }

            return nucleus;
        }

        return limits ? WithLimits(atom, nucleus, looks) : WithScripts(atom, nucleus, looks);
    }

    private Box WithScripts(Atom atom, Box nucleus, FormulaStyle looks)
    {
        Box? sup = atom.Superscript is { } s ? SetList(s, Script(looks, false)) : null;
        Box? sub = atom.Subscript is { } b ? SetList(b, Script(looks, true)) : null;
        bool single = atom.Nucleus is SymbolNucleus { IsLarge: false } or WordNucleus;
        double up = Math.Max(
            Measure(looks.Cramped ? MathConstant.SuperscriptShiftUpCramped : MathConstant.SuperscriptShiftUp, looks),
            single ? 0 : nucleus.Height - Measure(MathConstant.SuperscriptBaselineDropMax, looks));
        double down = Math.Max(
            Measure(MathConstant.SubscriptShiftDown, looks),
            single ? 0 : nucleus.Depth + Measure(MathConstant.SubscriptBaselineDropMin, looks));
        if (sup is not null)
        {
            up = Math.Max(up, sup.Depth + Measure(MathConstant.SuperscriptBottomMin, looks));
        }

        if (sub is not null)
        {
            down = Math.Max(down, sub.Height - Measure(MathConstant.SubscriptTopMax, looks));
        }

        if (sup is not null && sub is not null)
        {
            double gap = up - sup.Depth - (sub.Height - down);
            double wanted = Measure(MathConstant.SubSuperscriptGapMin, looks);
            if (gap < wanted)
            {
                double lift = Math.Min(wanted - gap, Math.Max(0, Measure(MathConstant.SuperscriptBottomMaxWithSubscript, looks) - (up - sup.Depth)));
                up += lift;
                down += wanted - gap - lift;
            }
        }

        var result = new Box();
        result.Append(nucleus);
        double width = result.Width;
        double after = Measure(MathConstant.SpaceAfterScript, looks);
        double end = width;
        // A large operator's advance holds its slant already (OpenType, MATH: italics correction): its subscript goes back by it.
        bool large = atom.Nucleus is SymbolNucleus { IsLarge: true };
        if (sup is not null)
        {
            double x = (large ? width : width + nucleus.Italic) + Kern(atom, atom.Superscript!, up, true, looks);
            result.Add(sup, x, up);
            end = Math.Max(end, x + sup.Width + after);
        }

        if (sub is not null)
        {
            double x = (large ? width - nucleus.Italic : width) + Kern(atom, atom.Subscript!, -down, false, looks);
            result.Add(sub, x, -down);
            end = Math.Max(end, x + sub.Width + after);
        }

        result.Width = end;
        return result;
    }

    // Kerning where a script's corner meets its base's (OpenType, MATH: MathKernInfo). Heights are shares of each one's size.
    private double Kern(Atom atom, MathList script, double shift, bool raised, FormulaStyle looks)
    {
        if (atom.Nucleus is not SymbolNucleus { Height: 0 } symbol || script.Nodes is not [Atom { Nucleus: SymbolNucleus inner }, ..])
        {
            return 0;
        }

        uint glyph = FormOf(FirstCharacter.Of(symbol.Text), looks);
        uint first = FormOf(FirstCharacter.Of(inner.Text), Script(looks, false));
        double size = SizeOf(looks);
        double scriptSize = SizeOf(Script(looks, false));
        double meet = raised ? _font.File.Box(first).Bottom * scriptSize + shift : _font.File.Box(first).Top * scriptSize + shift;
        return (_font.Kern(glyph, raised ? MathCorner.TopRight : MathCorner.BottomRight, meet / size) * size)
            + (_font.Kern(first, raised ? MathCorner.BottomLeft : MathCorner.TopLeft, (meet - shift) / scriptSize) * scriptSize);
    }

    private Box WithLimits(Atom atom, Box nucleus, FormulaStyle looks)
    {
        Box? top = atom.Superscript is { } s ? SetList(s, Script(looks, false)) : null;
        Box? bottom = atom.Subscript is { } b ? SetList(b, Script(looks, true)) : null;
        double width = Math.Max(nucleus.Width, Math.Max(top?.Width ?? 0, bottom?.Width ?? 0));
        var result = new Box { Width = width };
        result.Add(nucleus, (width - nucleus.Width) / 2, 0);
        double slant = nucleus.Italic / 2;
        if (top is not null)
        {
            double rise = nucleus.Height + Math.Max(
                Measure(MathConstant.UpperLimitGapMin, looks) + top.Depth, Measure(MathConstant.UpperLimitBaselineRiseMin, looks));
            result.Add(top, ((width - top.Width) / 2) + slant, rise);
        }

        if (bottom is not null)
        {
            double drop = nucleus.Depth + Math.Max(
                Measure(MathConstant.LowerLimitGapMin, looks) + bottom.Height, Measure(MathConstant.LowerLimitBaselineDropMin, looks));
            result.Add(bottom, ((width - bottom.Width) / 2) - slant, -drop);
        }

        return result;
    }

    private Box SetNucleus(Atom atom, FormulaStyle looks) => atom.Nucleus switch
    {
        SymbolNucleus symbol => SetSymbol(symbol, atom.Position, looks),
        ListNucleus list => SetList(list.Content, looks),
        WordNucleus word => SetWord(word.Text, atom.Position, looks),
        TextNucleus text => SetText(text, looks),
        FractionNucleus fraction => SetFraction(fraction, atom.Position, looks),
        RadicalNucleus radical => SetRadical(radical, atom.Position, looks),
        DelimitedNucleus delimited => SetDelimited(delimited, atom.Position, looks),
        AccentNucleus accent => SetAccent(accent, atom.Position, looks),
        BarNucleus bar => SetBar(bar, looks),
        GridNucleus grid => SetGrid(grid, looks),
        MiddleNucleus middle => Delimiter(middle.Text, _fence, atom.Position, looks),
        StretchNucleus stretch => SetStretch(stretch, atom.Position, looks),
        ArrowNucleus arrow => SetArrow(arrow, atom.Position, looks),
        PhantomNucleus room => SetRoom(room, looks),
        ColourNucleus colour => SetColour(colour, looks),
        StrikeNucleus strike => SetStrike(strike, looks),
        ChoiceNucleus choice => SetList(choice.Choices[Math.Min((int)looks.Size, choice.Choices.Count - 1)], looks),
        LeftScriptsNucleus scripts => SetLeftScripts(scripts, looks),
        _ => new Box(),
    };

    private Box SetText(TextNucleus text, FormulaStyle looks)
    {
        double factor = SizeOf(looks) / looks.Basic;
        return _text.SetBox(factor == 1 ? text.Content : [.. text.Content.Select(i => i is TextRun r
            ? new TextRun(r.Text, r.Positions, r.Style with { Size = r.Style.Size * factor })
            : i)]);
    }

    private Box SetWord(string word, int position, FormulaStyle looks)
    {
        var style = new TextStyle(FontFamily.Roman, false, FontShape.Upright, SizeOf(looks), Colour: _colour);
        var run = new TextRun(word, [.. Enumerable.Repeat(position, word.Length)], style);
        Box box = _text.SetBox([run]);
        box.Height = 0.7 * style.Size;
        box.Depth = word.AsSpan().IndexOfAny("gjpqy") >= 0 ? 0.22 * style.Size : 0;
        return box;
    }

    // ---- glyphs ----------------------------------------------------------------------------------------

    private Box SetSymbol(SymbolNucleus symbol, int position, FormulaStyle looks)
    {
        if (symbol.Height > 0)
        {
            return Delimiter(symbol.Text, symbol.Height * looks.Basic, position, looks);
        }

        uint glyph = GlyphOf(symbol.Text, position);
        if (glyph != 0 && looks.IsScript && !symbol.IsLarge)
        {
            glyph = FormOf(FirstCharacter.Of(symbol.Text), looks);
        }

        if (symbol.IsLarge && looks.IsDisplay)
        {
            double wanted = _font.Constant(MathConstant.DisplayOperatorMinHeight);
            foreach ((uint variant, double height) in _font.Variants(glyph, true))
            {
                glyph = variant;
                if (height >= wanted)
                {
                    break;
                }
            }
        }

        Box box = SetGlyph(glyph, symbol.Text, position, SizeOf(looks));
        if (symbol.IsBold)
        {
            box = Emboldened(box, SizeOf(looks));
        }

        if (symbol.IsLarge)
        {
            // Large operators stand centred on the axis.
            double shift = ((box.Height - box.Depth) / 2) - Measure(MathConstant.AxisHeight, looks);
            var centred = new Box { Width = box.Width, Italic = box.Italic };
            centred.Add(box, 0, -shift);
            return centred;
        }

        return box;
    }

    // A sign without a bold form is set thrice, a little apart, as printers without bold type did: the shifts in ems are near those of The TeXbook's
    // “poor man's bold” (from memory). Only the first is text that copies.
    private static Box Emboldened(Box box, double size)
    {
        var bold = new Box { Width = box.Width + (0.03 * size), Height = box.Height + (0.015 * size), Depth = box.Depth, Italic = box.Italic };
        bold.Add(box, 0, 0);
        foreach ((double x, double y) in (ReadOnlySpan<(double, double)>)[(0.015, 0.015), (0.03, 0)])
        {
            foreach (Placed placed in box.Marks)
            {
                Mark mark = placed.Mark is GlyphMark glyphs ? glyphs.WithoutText() : placed.Mark;
                bold.Marks.Add(placed with { Mark = mark, X = placed.X + (x * size), Y = placed.Y + (y * size) });
            }
        }

        return bold;
    }

    // The glyph of a character in a style: scripts have forms of their own.
    private uint FormOf(int code, FormulaStyle looks) => looks.IsScript ? _font.ScriptGlyph(code, looks.Size - MathSize.Text) : _font.File.GlyphOf(code);

    // A sign that the mathematics font lacks comes from the fallback, which has no measures for formulas but the sign.
    private uint GlyphOf(string text, int position)
    {
        int code = FirstCharacter.Of(text);
        uint glyph = _font.File.GlyphOf(code);
        if (glyph == 0 && _fallback.GlyphOf(code) == 0)
        {
            context.Findings.Layout("missing-glyph", position, 1, $"The mathematics font has no character “{text}”.",
                "An empty box stands in its place.");
        }

        return glyph;
    }

    private Box SetFallback(string text, int position, double size)
    {
        uint glyph = _fallback.GlyphOf(FirstCharacter.Of(text));
        GlyphBox extents = _fallback.Box(glyph);
        var box = new Box { Width = _fallback.Advance(glyph) * size, Height = Math.Max(0, extents.Top * size), Depth = Math.Max(0, -extents.Bottom * size) };
        box.Marks.Add(new Placed(new GlyphMark
        {
            Font = _fallback,
            Size = size,
            Glyphs = [glyph],
            Edges = [0, _fallback.Advance(glyph) * size],
            Positions = [position],
            Colour = _colour,
            Texts = [text.Normalize(System.Text.NormalizationForm.FormKC)],
        }, 0, 0));
        return box;
    }

    private Box SetGlyph(uint glyph, string text, int position, double size)
    {
        if (glyph == 0 && text.Length > 0 && _fallback.GlyphOf(FirstCharacter.Of(text)) != 0)
        {
            return SetFallback(text, position, size);
        }

        GlyphBox extents = _font.File.Box(glyph);
        var box = new Box
        {
            Width = _font.File.Advance(glyph) * size,
            Height = Math.Max(0, extents.Top * size),
            Depth = Math.Max(0, -extents.Bottom * size),
            Italic = _font.ItalicCorrection(glyph) * size,
        };
        box.Marks.Add(new Placed(Mark(glyph, text, position, size), 0, 0));
        return box;
    }

    private GlyphMark Mark(uint glyph, string text, int position, double size) => new()
    {
        Font = _font.File,
        Size = size,
        Glyphs = [glyph],
        Edges = [0, _font.File.Advance(glyph) * size],
        Positions = [position],
        Colour = _colour,
        // Copied text gets plain letters rather than mathematical ones.
        Texts = [text.Normalize(System.Text.NormalizationForm.FormKC)],
    };

    /// <summary>A delimiter at least as high as wanted, centred on the axis.</summary>
    private Box Delimiter(string text, double wanted, int position, FormulaStyle looks)
    {
        double size = SizeOf(looks);
        if (text.Length == 0)
        {
            return new Box { Width = 0.12 * size };
        }

        Box grown = Grow(GlyphOf(text, position), text, wanted, position, size);
        double shift = ((grown.Height - grown.Depth) / 2) - Measure(MathConstant.AxisHeight, looks);
        var box = new Box { Width = grown.Width };
        box.Add(grown, 0, -shift);
        box.Height = grown.Height - shift;
        box.Depth = grown.Depth + shift;
        return box;
    }

    private Box Grow(uint glyph, string text, double wanted, int position, double size, bool upwards = true)
    {
        (uint Glyph, double Advance)[] variants = _font.Variants(glyph, upwards);
        foreach ((uint variant, double advance) in variants)
        {
            if (advance * size >= wanted)
            {
                return SetGlyph(variant, text, position, size);
            }
        }

        GlyphPart[] parts = _font.Assembly(glyph, upwards);
        if (parts.Length == 0)
        {
            return SetGlyph(variants.Length > 0 ? variants[^1].Glyph : glyph, text, position, size);
        }

        return Assemble(parts, text, wanted / size, position, size, upwards);
    }

    // Repeats the extenders until the whole is long enough, then spreads the overlaps evenly (OpenType, MATH: GlyphAssembly).
    private Box Assemble(GlyphPart[] parts, string text, double wanted, int position, double size, bool upwards)
    {
        double least = _font.MinConnectorOverlap;
        List<GlyphPart> all = [];
        for (int repeat = 1; repeat < 400; repeat++)
        {
            all = [.. parts.SelectMany(p => Enumerable.Repeat(p, p.IsExtender ? repeat : 1))];
            if (all.Sum(p => p.FullAdvance) - ((all.Count - 1) * least) >= wanted)
            {
                break;
            }
        }

        double longest = all.Sum(p => p.FullAdvance) - ((all.Count - 1) * least);
        // No joint overlaps by more than its connectors are long.
        double room = all.Count > 1 ? all.Zip(all.Skip(1), (a, b) => Math.Min(a.EndConnector, b.StartConnector)).Min() - least : 0;
        double more = all.Count > 1 ? Math.Clamp((longest - wanted) / (all.Count - 1), 0, Math.Max(0, room)) : 0;
        var box = new Box();
        double at = 0;
        for (int i = 0; i < all.Count; i++)
        {
            GlyphBox extents = _font.File.Box(all[i].Glyph);
            GlyphMark mark = Mark(all[i].Glyph, i == 0 ? text : "", position, size);
            double end = at + all[i].FullAdvance;
            if (upwards)
            {
                box.Marks.Add(new Placed(mark, 0, (at - extents.Bottom) * size));
                box.Width = Math.Max(box.Width, _font.File.Advance(all[i].Glyph) * size);
                box.Height = end * size;
            }
            else
            {
                box.Marks.Add(new Placed(mark, (at - extents.Left) * size, 0));
                box.Height = Math.Max(box.Height, extents.Top * size);
                box.Depth = Math.Max(box.Depth, -extents.Bottom * size);
                box.Width = end * size;
            }

            double overlap = i + 1 < all.Count ? Math.Min(least + more, Math.Min(all[i].EndConnector, all[i + 1].StartConnector)) : 0;
            at = end - overlap;
        }

        return box;
    }
}
