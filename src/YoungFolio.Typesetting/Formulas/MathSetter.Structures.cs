using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Formulas;

// Fractions, roots, fences, accents, bars and grids.
internal sealed partial class MathSetter
{
    private Box SetFraction(FractionNucleus fraction, int position, Looks looks)
    {
        if (fraction.Size is { } size)
        {
            looks = looks with { Size = size };
        }

        Looks inner = looks.Size == MathSize.Display ? looks with { Size = MathSize.Text } : Script(looks, false);
        Box top = SetList(fraction.Numerator, inner);
        Box bottom = SetList(fraction.Denominator, inner with { Cramped = true });
        bool display = looks.IsDisplay;
        double rule = fraction.HasRule ? Measure(MathConstant.FractionRuleThickness, looks) : 0;
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
        stack.Add(top, side + ((width - top.Width) / 2), up);
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

    private Box SetRadical(RadicalNucleus radical, int position, Looks looks)
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
            result.Add(index, result.Width, rise);
            result.Width = Math.Max(0, result.Width + index.Width + Measure(MathConstant.RadicalKernAfterDegree, looks));
        }

        result.Add(sign, result.Width, top - sign.Height);
        result.Width += sign.Width;
        result.Marks.Add(new Placed(new RuleMark(inner.Width, rule, _colour), result.Width, top - rule));
        result.Append(inner);
        result.Height = Math.Max(result.Height, top + Measure(MathConstant.RadicalExtraAscender, looks));
        return result;
    }

    private Box SetDelimited(DelimitedNucleus delimited, int position, Looks looks)
    {
        Box inner = SetList(delimited.Content, looks);
        double axis = Measure(MathConstant.AxisHeight, looks);
        double reach = Math.Max(inner.Height - axis, inner.Depth + axis);
        // The TeXbook, p. 152: at least 901/1000 of the formula, and short by at most 5 points.
        double wanted = Math.Max(2 * reach * 0.901, (2 * reach) - 5);
        var result = new Box();
        result.Append(Delimiter(delimited.Left, wanted, position, looks));
        result.Append(inner);
        result.Append(Delimiter(delimited.Right, wanted, position, looks));
        return result;
    }

    private Box SetAccent(AccentNucleus accent, int position, Looks looks)
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
            ? _font.TopAccent(_font.File.GlyphOf(char.ConvertToUtf32(symbol.Text, 0))) * size
            : inner.Width / 2;
        double rise = Math.Max(0, inner.Height - Measure(MathConstant.AccentBaseHeight, looks));
        var result = new Box();
        result.Append(inner);
        result.Marks.Add(new Placed(Mark(glyph, "", position, size), middle - attach, rise));
        result.Height = Math.Max(inner.Height, (extents.Top * size) + rise);
        return result;
    }

    private Box SetBar(BarNucleus bar, Looks looks)
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

    private Box SetGrid(GridNucleus grid, Looks looks)
    {
        Looks cell = looks with { Size = grid.InDisplay ? MathSize.Display : looks.IsScript ? looks.Size : MathSize.Text };
        double size = SizeOf(looks);
        List<List<Box>> rows = [.. grid.Rows.Select(r => r.Select(c => SetList(c, cell)).ToList())];
        int columns = rows.Count == 0 ? 0 : rows.Max(r => r.Count);
        double[] widths = [.. Enumerable.Range(0, columns).Select(c => rows.Max(r => c < r.Count ? r[c].Width : 0))];
        double gap = grid.ColumnGap * size;
        var result = new Box();
        double y = 0;
        double total = 0;
        List<double> baselines = [];
        for (int r = 0; r < rows.Count; r++)
        {
            double height = Math.Max(0.84 * size, rows[r].Select(b => b.Height).DefaultIfEmpty().Max());
            double depth = Math.Max(0.36 * size, rows[r].Select(b => b.Depth).DefaultIfEmpty().Max());
            y += height;
            baselines.Add(y);
            y += depth + (grid.InDisplay ? 0.3 * size : 0);
            total = y;
        }

        double middle = (total / 2) + Measure(MathConstant.AxisHeight, looks);
        for (int r = 0; r < rows.Count; r++)
        {
            double x = 0;
            for (int c = 0; c < rows[r].Count; c++)
            {
                char align = grid.Columns[Math.Min(c, grid.Columns.Length - 1)];
                if (grid.Columns.Length == 2 && c > 1)
                {
                    align = grid.Columns[c % 2];
                }

                double free = widths[c] - rows[r][c].Width;
                result.Add(rows[r][c], x + (align switch { 'l' => 0, 'r' => free, _ => free / 2 }), middle - baselines[r]);
                x += widths[c] + (grid.InDisplay && c % 2 == 1 ? 2 * size : gap);
            }
        }

        result.Width = widths.Sum() + (Math.Max(0, columns - 1) * gap);
        result.Height = Math.Max(result.Height, middle);
        result.Depth = Math.Max(result.Depth, total - middle);
        return result;
    }
}
