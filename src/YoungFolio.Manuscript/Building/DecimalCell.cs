using System.Text;
using System.Text.RegularExpressions;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;

namespace YoungFolio.Manuscript.Building;

/// <summary>Numbers in cells whose decimal signs stand under one another.</summary>
internal static partial class DecimalCell
{
    private const char Minus = '\u2212';
    private const char ThinSpace = '\u2009';

    /// <summary>Parts a number before its decimal sign; null when the text isn't a number.</summary>
    /// <param name="content">The cell's text.</param>
    /// <param name="sign">The decimal sign in the source.</param>
    /// <param name="print">The decimal sign in print.</param>
    public static (List<Inline> Whole, List<Inline> Fraction)? Split(List<Inline> content, char sign, string print)
    {
        if (content is [MathInline math])
        {
            return Split(math, sign, print);
        }

        int first = content.FindIndex(i => i is TextRun);
        if (first < 0 || content[first] is not TextRun run)
        {
            return null;
        }

        if (Exponent().Match(run.Text) is { Success: true } power)
        {
            content = [.. content.Take(first), Part(run, 0, power.Index), Power(run, power.Groups[1].Value), Part(run, power.Index + power.Length, run.Text.Length), .. content.Skip(first + 1)];
            run = (TextRun)content[first];
        }

        string text = run.Text;
        int end = 0;
        while (end < text.Length && (char.IsAsciiDigit(text[end]) || text[end] == sign || text[end] is '.' or ',' or '+' or '-' or Minus or '–' or '<' or '>' or '=' or '~' or ' ' or '\u00A0'))
        {
            end++;
        }

        // What follows the digits, such as stars or a bracket, stays with the decimals.
        int point = text.IndexOf(sign, StringComparison.Ordinal);
        point = point < 0 && sign == '.' ? text.IndexOf(',', StringComparison.Ordinal) : point;
        point = point >= end ? -1 : point;
        if (!text.AsSpan(0, Math.Min(text.Length, end)).ContainsAnyInRange('0', '9'))
        {
            // Brackets around a number belong to it too: (0.12).
            if (text.Length > 1 && text[0] is '(' or '[' && char.IsAsciiDigit(text[1]) | (text[1] is '-' or '.' or '–' or Minus))
            {
                point = text.IndexOf(sign, StringComparison.Ordinal);
                end = point < 0 ? text.Length : point;
            }
            else
            {
                return null;
            }
        }

        int cut = point < 0 ? WholeEnd(text) : point;
        List<Inline> whole = [.. content.Take(first), .. Piece(run, 0, cut, true)];
        List<Inline> fraction = [];
        if (point >= 0)
        {
            fraction.Add(new TextRun(print, [.. Enumerable.Repeat(run.Positions[point], print.Length)], run.Style));
            fraction.AddRange(Piece(run, point + 1, text.Length, false));
        }
        else
        {
            fraction.AddRange(Piece(run, cut, text.Length, false));
        }

        fraction.AddRange(content.Skip(first + 1));
        return (whole, fraction);
    }

    private static (List<Inline> Whole, List<Inline> Fraction)? Split(MathInline math, char sign, string print)
    {
        List<MathNode> nodes = [.. math.Formula.Nodes];
        int point = nodes.FindIndex(n => n is Atom { Nucleus: SymbolNucleus s } && s.Text == sign.ToString());
        int cut = point >= 0 ? point : nodes.FindLastIndex(n => n is Atom { Nucleus: SymbolNucleus { Text: [>= '0' and <= '9'] } }) + 1;
        if (point < 0 && cut == 0)
        {
            return null;
        }

        List<MathNode> fraction = nodes.GetRange(cut, nodes.Count - cut);
        if (point >= 0 && fraction[0] is Atom dot)
        {
            // As an ordinary sign it has no space around.
            fraction[0] = new Atom(AtomClass.Ordinary, new SymbolNucleus(print)) { Position = dot.Position };
        }
        else if (point < 0 && nodes[cut - 1] is Atom { Superscript: not null } or Atom { Subscript: not null })
        {
            // Stars over the last digit hang out to the right.
            var digit = (Atom)nodes[cut - 1];
            fraction.Insert(0, new Atom(AtomClass.Ordinary, new ListNucleus(MathList.Empty)) { Superscript = digit.Superscript, Subscript = digit.Subscript, Position = digit.Position });
            nodes[cut - 1] = new Atom(AtomClass.Ordinary, digit.Nucleus) { Position = digit.Position };
        }

        return ([new MathInline(new MathList(nodes.GetRange(0, cut)), math.Style)], [new MathInline(new MathList(fraction), math.Style)]);
    }

    private static TextRun Part(TextRun run, int from, int to) => new(run.Text[from..to], run.Positions[from..to], run.Style);

    // 1.2e-3 is printed as 1.2 times a power of ten.
    private static MathInline Power(TextRun run, string exponent)
    {
        static Atom Sign(string sign) => new(AtomClass.Ordinary, new SymbolNucleus(sign));
        MathList raised = new([.. exponent.TrimStart('+').Select(c => Sign(c == '-' ? Minus.ToString() : c.ToString()))]);
        return new MathInline(new MathList([Sign("\u200A"), new Atom(AtomClass.Binary, new SymbolNucleus("×")), Sign("1"), new Atom(AtomClass.Ordinary, new SymbolNucleus("0")) { Superscript = raised }]), run.Style);
    }

    [GeneratedRegex(@"(?<=\d)[eE]([+-]?\d+)")]
    private static partial Regex Exponent();

    private static int WholeEnd(string text)
    {
        int i = 0;
        while (i < text.Length && !char.IsAsciiDigit(text[i]))
        {
            i++;
        }

        while (i < text.Length && char.IsAsciiDigit(text[i]))
        {
            i++;
        }

        return i;
    }

    // Five digits and more stand in groups of three (ISO 80000-1, section 7.3.1).
    private static IEnumerable<Inline> Piece(TextRun run, int start, int end, bool whole)
    {
        if (end <= start)
        {
            return [];
        }

        var text = new StringBuilder();
        var positions = new List<int>();
        int digits = 0;
        while (start + digits < end && !whole && char.IsAsciiDigit(run.Text[start + digits]))
        {
            digits++;
        }

        int leading = whole ? run.Text.AsSpan(start, end - start).IndexOfAnyInRange('0', '9') : 0;
        int count = whole ? end - start - Math.Max(0, leading) : digits;
        for (int i = start; i < end; i++)
        {
            char c = run.Text[i];
            if (c is ' ' or '\u00A0' or '~')
            {
                continue;
            }

            int at = whole ? i - start - leading : i - start;
            bool boundary = count >= 5 && char.IsAsciiDigit(c) && at > 0 && at < count && (whole ? (count - at) % 3 == 0 : at % 3 == 0);
            if (boundary)
            {
                text.Append(ThinSpace);
                positions.Add(run.Positions[i]);
            }

            text.Append(c is '-' or '–' ? Minus : c);
            positions.Add(run.Positions[i]);
        }

        return [new TextRun(text.ToString(), [.. positions], run.Style)];
    }
}
