using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Formulas;

// Fractions, roots, fences, accents, bars and grids.
internal sealed partial class MathSetter
{
    private Box SetFraction(FractionNucleus fraction, int position, FormulaStyle looks)
    {
        if (fraction.Size is { } size)
        {
            looks = looks with { Size = size };
        }

        FormulaStyle inner = fraction.IsContinued ? looks : looks.Size == MathSize.Display ? looks with { Size = MathSize.Text } : Script(looks, false);
        Box top = SetList(fraction.Numerator, inner);
        Box bottom = SetList(fraction.Denominator, inner with { Cramped = true });
        if (fraction.IsContinued)
        {
            // A strut keeps the levels of continued fractions at one distance (amsmath's own way).
            top.Height = Math.Max(top.Height, 0.7 * SizeOf(looks));
            top.Depth = Math.Max(top.Depth, 0.3 * SizeOf(looks));
            bottom.Height = Math.Max(bottom.Height, 0.7 * SizeOf(looks));
        }

        bool display = looks.IsDisplay;
        double rule = fraction.HasRule ? fraction.Thickness ?? Measure(MathConstant.FractionRuleThickness, looks) : 0;
        double axis = Measure(MathConstant.AxisHeight, looks);
        double up = Measure(fraction.HasRule
            ? display ? MathConstant.FractionNumeratorDisplayStyleShiftUp : MathConstant.FractionNumeratorShiftUp
            : display ? MathConstant.StackTopDisplayStyleShiftUp : MathConstant.StackTopShiftUp, looks);
        double down = Measure(fraction.HasRule
            ? display ? MathConstant.FractionDenominatorDisplayStyleShiftDown : MathConstant.FractionDenominatorShiftDown
            : display ? MathConstant.StackBottomDisplayStyleShiftDown : MathConstant.StackBottomShiftDown, looks);
        if (fraction.HasRule)
        {
            double topGap = Measure(display ? MathConstant.FractionNumDisplayStyleGapMin : MathConstant.FractionNumeratorGapMin, looks);
            double bottomGap = Measure(display ? MathConstant.FractionDenomDisplayStyleGapMin : MathConstant.FractionDenominatorGapMin, looks);
            up = Math.Max(up, axis + (rule / 2) + topGap + top.Depth);
            down = Math.Max(down, bottom.Height + bottomGap + (rule / 2) - axis);
        }
        else
        {
            double gap = Measure(display ? MathConstant.StackDisplayStyleGapMin : MathConstant.StackGapMin, looks);
            double missing = gap - (up - top.Depth - (bottom.Height - down));
            up += Math.Max(0, missing / 2);
            down += Math.Max(0, missing / 2);
        }

        double width = Math.Max(top.Width, bottom.Width);
        double side = 0.12 * SizeOf(looks);
        var stack = new Box();
        double free = width - top.Width;
        stack.Add(top, side + (fraction.NumeratorAlignment switch { 'l' => 0, 'r' => free, _ => free / 2 }), up);
        stack.Add(bottom, side + ((width - bottom.Width) / 2), -down);
        if (rule > 0)
        {
            stack.Marks.Add(new Placed(new RuleMark(width, rule, _colour), side, axis - (rule / 2)));
        }

        stack.Width = width + (2 * side);
        if (fraction.Left.Length + fraction.Right.Length == 0)
        {
            return stack;
        }

        double height = 2 * Math.Max(stack.Height - axis, stack.Depth + axis);
        var result = new Box();
        result.Append(Delimiter(fraction.Left, height, position, looks));
        result.Append(stack);
        result.Append(Delimiter(fraction.Right, height, position, looks));
        return result;
    }

    private Box SetRadical(RadicalNucleus radical, int position, FormulaStyle looks)
    {
        Box inner = SetList(radical.Radicand, looks with { Cramped = true });
        double rule = Measure(MathConstant.RadicalRuleThickness, looks);
        double gap = Measure(looks.IsDisplay ? MathConstant.RadicalDisplayStyleVerticalGap : MathConstant.RadicalVerticalGap, looks);
        double wanted = inner.Height + inner.Depth + gap + rule;
        Box sign = Grow(_font.File.GlyphOf('√'), "√", wanted, position, SizeOf(looks));
        double signHeight = sign.Height + sign.Depth;
        // What the sign is too long by is shared between the gap above and the foot (appendix G, rule 11).
        gap += Math.Max(0, (signHeight - wanted) / 2);
        double top = inner.Height + gap + rule;
        var result = new Box();
        if (radical.Degree is { } degree)
        {
            Box index = SetList(degree, looks with { Size = MathSize.ScriptScript, Cramped = true });
            result.Width = Math.Max(0, Measure(MathConstant.RadicalKernBeforeDegree, looks));
            double rise = (_font.Constant(MathConstant.RadicalDegreeBottomRaisePercent) * signHeight) - (signHeight - top) + index.Depth;
            double unit = SizeOf(looks) / 18;
            result.Add(index, result.Width - (radical.DegreeLeft * unit), rise + (radical.DegreeUp * unit));
            result.Width = Math.Max(0, result.Width + index.Width + Measure(MathConstant.RadicalKernAfterDegree, looks));
        }

        result.Add(sign, result.Width, top - sign.Height);
        result.Width += sign.Width;
        result.Marks.Add(new Placed(new RuleMark(inner.Width, rule, _colour), result.Width, top - rule));
        result.Append(inner);
        result.Height = Math.Max(result.Height, top + Measure(MathConstant.RadicalExtraAscender, looks));
        return result;
    }

    private Box SetDelimited(DelimitedNucleus delimited, int position, FormulaStyle looks)
    {
        double outer = _fence;
        _fence = 0;
        Box inner = SetList(delimited.Content, looks);
        double axis = Measure(MathConstant.AxisHeight, looks);
        double reach = Math.Max(inner.Height - axis, inner.Depth + axis);
        // The TeXbook, p. 152: at least 901/1000 of the formula, and short by at most 5 points.
        double wanted = Math.Max(2 * reach * 0.901, (2 * reach) - 5);
        if (delimited.Content.Nodes.Any(n => n is Atom { Nucleus: MiddleNucleus }))
        {
            // Now that the height is known, delimiters in the middle grow to it.
            _fence = wanted;
            inner = SetList(delimited.Content, looks);
        }

        _fence = outer;
        var result = new Box();
        result.Append(Delimiter(delimited.Left, wanted, position, looks));
        result.Append(inner);
        result.Append(Delimiter(delimited.Right, wanted, position, looks));
        return result;
    }

    private Box SetAccent(AccentNucleus accent, int position, FormulaStyle looks)
    {
        Box inner = SetList(accent.Content, looks with { Cramped = true });
        double size = SizeOf(looks);
        uint glyph = _font.File.GlyphOf(accent.Accent[0]);
        if (accent.Grows)
        {
            foreach ((uint variant, double width) in _font.Variants(glyph, false))
            {
                if (width * size > inner.Width)
                {
                    break;
                }

                glyph = variant;
            }
        }

        GlyphBox extents = _font.File.Box(glyph);
        double attach = _font.TopAccent(glyph) * size;
        double middle = accent.Content.Nodes is [Atom { Nucleus: SymbolNucleus symbol, Superscript: null, Subscript: null }]
            ? _font.TopAccent(_font.File.GlyphOf(FirstCharacter.Of(symbol.Text))) * size
            : inner.Width / 2;
        double rise = Math.Max(0, inner.Height - Measure(MathConstant.AccentBaseHeight, looks));
        var result = new Box();
        result.Append(inner);
        result.Marks.Add(new Placed(Mark(glyph, "", position, size), middle - attach, rise));
        result.Height = Math.Max(inner.Height, (extents.Top * size) + rise);
        return result;
    }

    private Box SetBar(BarNucleus bar, FormulaStyle looks)
    {
        Box inner = SetList(bar.Content, looks with { Cramped = true });
        double rule = Measure(bar.IsOver ? MathConstant.OverbarRuleThickness : MathConstant.UnderbarRuleThickness, looks);
        double gap = Measure(bar.IsOver ? MathConstant.OverbarVerticalGap : MathConstant.UnderbarVerticalGap, looks);
        var result = new Box();
        result.Append(inner);
        result.Marks.Add(new Placed(new RuleMark(inner.Width, rule, _colour), 0, bar.IsOver ? inner.Height + gap : -inner.Depth - gap - rule));
        result.Height = inner.Height + (bar.IsOver ? gap + (2 * rule) : 0);
        result.Depth = inner.Depth + (bar.IsOver ? 0 : gap + (2 * rule));
        return result;
    }

    // A sign over or under a formula, as wide as it (gaps and heights by the stretch stack's constants).
    private Box SetStretch(StretchNucleus stretch, int position, FormulaStyle looks)
    {
        Box inner = SetList(stretch.Content, looks with { Cramped = stretch.IsOver || looks.Cramped });
        double size = SizeOf(looks);
        Box sign = Grow(GlyphOf(stretch.Sign, position), stretch.Sign, inner.Width, position, size, upwards: false);
        double width = Math.Max(inner.Width, sign.Width);
        bool isArrow = stretch.Sign is "→" or "←" or "↔";
        double gap = isArrow ? Measure(MathConstant.OverbarVerticalGap, looks) / 2 : Measure(MathConstant.StretchStackGapBelowMin, looks);
        var result = new Box();
        result.Add(inner, (width - inner.Width) / 2, 0);
        // The sign's own marks may stand high above its baseline: it is moved by where its ink is.
        (double foot, double top) = Ink(sign, stretch.Sign, size);
        if (stretch.IsOver)
        {
            result.Add(sign, (width - sign.Width) / 2, inner.Height + gap - foot);
            result.Height = inner.Height + gap + (top - foot);
        }
        else
        {
            result.Add(sign, (width - sign.Width) / 2, -inner.Depth - gap - top);
            result.Depth = inner.Depth + gap + (top - foot);
        }

        result.Width = width;
        return result;
    }

    private static (double Foot, double Top) Ink(Box box, string sign, double size)
    {
        double foot = double.PositiveInfinity;
        double top = double.NegativeInfinity;
        foreach (Placed placed in box.Marks)
        {
            if (placed.Mark is GlyphMark mark)
            {
                GlyphBox extents = mark.Font.Box(mark.Glyphs[0]);
                foot = Math.Min(foot, placed.Y + (extents.Bottom * size));
                top = Math.Max(top, placed.Y + (extents.Top * size));
            }
        }

        return top > foot ? (foot, top) : throw new InvalidOperationException($"The sign {sign} has no ink.");
    }

    // An arrow that reaches half an em over its longer label (common practice).
    private Box SetArrow(ArrowNucleus arrow, int position, FormulaStyle looks)
    {
        double size = SizeOf(looks);
        Box? above = arrow.Above.Nodes.Count > 0 ? SetList(arrow.Above, Script(looks, false)) : null;
        Box? below = arrow.Below.Nodes.Count > 0 ? SetList(arrow.Below, Script(looks, true)) : null;
        double wanted = Math.Max(1.3 * size, Math.Max(above?.Width ?? 0, below?.Width ?? 0) + (0.6 * size));
        Box sign = Grow(GlyphOf(arrow.Sign, position), arrow.Sign, wanted, position, size, upwards: false);
        (double foot, double top) = Ink(sign, arrow.Sign, size);
        var result = new Box();
        result.Append(sign);
        double width = sign.Width;
        double gap = Measure(MathConstant.StretchStackGapAboveMin, looks);
        if (above is not null)
        {
            result.Add(above, (width - above.Width) / 2, top + gap + above.Depth);
        }

        if (below is not null)
        {
            result.Add(below, (width - below.Width) / 2, foot - gap - below.Height);
        }

        result.Width = width;
        return result;
    }

    private Box SetRoom(PhantomNucleus room, FormulaStyle looks)
    {
        Box inner = SetList(room.Content, looks);
        var result = new Box
        {
            Width = room.KeepsWidth ? inner.Width : 0,
            Height = room.KeepsHeight ? inner.Height : 0,
            Depth = room.KeepsDepth ? inner.Depth : 0,
        };
        if (!room.IsHidden)
        {
            double x = room.KeepsWidth || room.Side > 0 ? 0 : room.Side < 0 ? -inner.Width : -inner.Width / 2;
            foreach (Placed placed in inner.Marks)
            {
                result.Marks.Add(placed with { X = placed.X + x });
            }
        }

        return result;
    }

    private Box SetColour(ColourNucleus colour, FormulaStyle looks)
    {
        int outer = _colour;
        _colour = colour.Colour;
        Box box = SetList(colour.Content, looks with { Text = looks.Text with { Colour = colour.Colour } });
        _colour = outer;
        return box;
    }

    private Box SetStrike(StrikeNucleus strike, FormulaStyle looks)
    {
        Box box = SetList(strike.Content, looks);
        string colour = string.Create(System.Globalization.CultureInfo.InvariantCulture,
            $"{(_colour >> 16 & 255) / 255.0:0.###} {(_colour >> 8 & 255) / 255.0:0.###} {(_colour & 255) / 255.0:0.###} RG");
        (double foot, double top) = (-box.Depth - 1, box.Height + 1);
        foreach (char stroke in strike.Strokes)
        {
            (double from, double to) = stroke switch { '/' => (foot, top), '\\' => (top, foot), _ => ((foot + top) / 2, (foot + top) / 2) };
            box.Marks.Add(new Placed(new PathMark(string.Create(System.Globalization.CultureInfo.InvariantCulture,
                $"{colour}\n{Measure(MathConstant.FractionRuleThickness, looks):0.###} w\n0 {from:0.###} m\n{box.Width:0.###} {to:0.###} l\nS\n")), 0, 0));
        }

        return box;
    }

    private Box SetLeftScripts(LeftScriptsNucleus scripts, FormulaStyle looks)
    {
        // They hang on an empty atom as high as the formula, flush with it.
        Box content = SetList(scripts.Content, looks);
        Box? sup = scripts.Superscript is { } s ? SetList(s, Script(looks, false)) : null;
        Box? sub = scripts.Subscript is { } b ? SetList(b, Script(looks, true)) : null;
        double width = Math.Max(sup?.Width ?? 0, sub?.Width ?? 0);
        double up = Math.Max(Measure(MathConstant.SuperscriptShiftUp, looks), content.Height - Measure(MathConstant.SuperscriptBaselineDropMax, looks));
        double down = Math.Max(Measure(MathConstant.SubscriptShiftDown, looks), content.Depth + Measure(MathConstant.SubscriptBaselineDropMin, looks));
        var result = new Box();
        if (sup is not null)
        {
            result.Add(sup, width - sup.Width, up);
        }

        if (sub is not null)
        {
            result.Add(sub, width - sub.Width, -down);
        }

        result.Width = width + Measure(MathConstant.SpaceAfterScript, looks);
        result.Append(content);
        return result;
    }
}
