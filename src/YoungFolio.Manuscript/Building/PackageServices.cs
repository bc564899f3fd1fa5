using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>What packages ask of the builder beyond the kernel: the present state, and words drawn on, spaced and scaled.</summary>
internal sealed class PackageServices(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Colours defined by the manuscript.</summary>
    internal Dictionary<string, int> Colours { get; } = new(StringComparer.Ordinal);

    /// <summary>Width of notes in the margin in points.</summary>
    internal double MarginWidth => Builder.PageMeasures.Geometry?.MarginWidth ?? 60;

    /// <summary>Counter of the list around the one being begun, or null.</summary>
    internal string? OuterListCounter => Builder.Lists.Lists.FirstOrDefault(l => l.Setup.Counter.Length > 0)?.Setup.Counter;

    /// <summary>Sets the colour of what follows; null leaves it.</summary>
    internal void SetColour(int? colour)
    {
        if (colour is { } c)
        {
            Builder.Formulas.Math?.Colours.Add((Builder.Formulas.Math.Nodes.Count, c));
            Machine.Assign(Builder.Style, Builder.Style.Value with { Colour = c });
        }
    }

    /// <summary>Sets lines flush at both sides again.</summary>
    internal void Justify() => Machine.Assign(Builder.TextAlignment, Alignment.Justified);

    /// <summary>Forgets the last number of a kind of list.</summary>
    internal void ForgetList(string kind) => Builder.Lists.LastNumbers.Remove(kind);

    /// <summary>How a paragraph stands here, without space above.</summary>
    internal ParagraphStyle PlainParagraph() => Builder.ParagraphStyleNow(0) with { SpaceAbove = default, Alignment = Alignment.Left };

    /// <summary>Kind that names what a label stands for; chapters and sections after <c>\appendix</c> are appendices.</summary>
    internal string ReferenceKindOf(Label label) => AppendixAnchors.Contains(label.Anchor) ? "appendix" : label.Kind;

    internal HashSet<string> AppendixAnchors { get; } = new(StringComparer.Ordinal);

    /// <summary>Defines a command that draws a line under, through or behind its words.</summary>
    internal void DefineDecoration(string name, Decoration decoration, int colour) => Machine.Define(name, (m, t) =>
        Builder.AddInline(new DecoratedInline(Builder.BuildInlines(m.ReadArgument(t)), decoration, colour)));

    /// <summary>Gives letterspaced words.</summary>
    internal void DefineLetterspacing() => Machine.Define("so", (m, t) =>
    {
        List<Inline> content = Builder.BuildInlines(m.ReadArgument(t));
        foreach (Inline inline in content)
        {
            if (inline is not TextRun run)
            {
                Builder.AddInline(inline);
                continue;
            }

            for (int i = 0; i < run.Text.Length; i++)
            {
                Builder.AddInline(new TextRun(run.Text[i].ToString(), [run.Positions[i]], run.Style));
                if (i + 1 < run.Text.Length && run.Text[i] != ' ' && run.Text[i + 1] != ' ')
                {
                    Builder.AddInline(new PenaltyInline(10_000));
                    Builder.AddInline(new SpaceInline(Glue.Of(0.25 * run.Style.Size), false));
                }
            }
        }
    });

    /// <summary>Gives sizes relative to the text around.</summary>
    internal void DefineRelativeSizes()
    {
        void Scale(double factor)
        {
            Machine.Assign(Builder.Style, Builder.Style.Value with { Size = Math.Clamp(Builder.Style.Value.Size * factor, 3, 200) });
            Machine.Assign(Builder.Leading, Builder.Leading.Value * factor);
        }

        foreach ((string name, int sign) in (ReadOnlySpan<(string, int)>)[("larger", 1), ("smaller", -1)])
        {
            Machine.Define(name, (m, t) => Scale(Math.Pow(1.2, sign * (m.ReadOptional(t) is { } n ? m.Quantities.ParseInteger(n, t) ?? 1 : 1))));
            Machine.Definitions.Load($"\\newcommand{{\\text{name}}}[2][1]{{{{\\{name}[#1]#2}}}}");
        }

        Machine.Define("relsize", (m, t) => Scale(Math.Pow(1.2, m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0)));
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
            Builder.AddSpace(t.Position);
        }
    });

    /// <summary>Whether a thin space is put before ; ! ? and a no-break one before a colon, as French does.</summary>
    internal bool SpacesHighSigns { get; set; }

    /// <summary>Sets the language of words, not of names and signs.</summary>
    internal void SelectWords(string name, Token token)
    {
        if (Language.CodeOf(name) is { } code)
        {
            Machine.Assign(Builder.Style, Builder.Style.Value with { Language = code });
            return;
        }

        Builder.Text.SelectLanguage(name, token);
    }
}
