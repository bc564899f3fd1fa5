using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The look of captions, and captions outside floats.</summary>
internal sealed class CaptionSetup(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal CaptionLook Look { get; set; } = new();

    internal sealed record CaptionLook
    {
        public IReadOnlyList<Token> Font { get; init; } = [];

        public IReadOnlyList<Token> LabelFont { get; init; } = [];

        public string? Separator { get; init; }

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
            Builder.Figures.SetFloatKind(kind);
            if (star)
            {
                m.PutBack(Token.Character('*', Category.Other, t.Position));
            }

            Builder.Figures.ReadCaption(t);
            CurrentLabel? label = Builder.CurrentLabel.Value;
            Machine.EndGroup();
            Machine.Assign(Builder.CurrentLabel, label);
        });
        Machine.Definitions.Load("\\newcommand{\\ContinuedFloat}{}\\newcommand{\\DeclareCaptionFont}[2]{}\\newcommand{\\DeclareCaptionFormat}[2]{}\\newcommand{\\DeclareCaptionLabelFormat}[2]{}"
            + "\\newcommand{\\DeclareCaptionStyle}[3][]{}\\newcommand{\\clearcaptionsetup}[2][]{}\\newcommand{\\DeclareCaptionLabelSeparator}[2]{}\\newcommand{\\DeclareCaptionJustification}[2]{}");
    }

    internal void ApplyCaptionOptions(IReadOnlyList<ListedOption> options)
    {
        foreach (ListedOption option in options)
        {
            List<Token> value = option.Value ?? [];
            string text = option.Text(Machine);
            List<Token> Fonts() => [.. PreambleCommands.Split(text).SelectMany(f => Machine.Tokenize(f switch
            {
                "bf" => "\\bfseries ", "it" => "\\itshape ", "sc" => "\\scshape ", "sf" => "\\sffamily ", "rm" => "\\rmfamily ", "tt" => "\\ttfamily ", "sl" => "\\slshape ",
                "up" => "\\upshape ", "md" => "\\mdseries ", "small" or "footnotesize" or "normalsize" or "large" or "scriptsize" => $"\\{f} ", _ => "",
            }, PositionTable.None))];
            Look = option.Key switch
            {
                "font" => Look with { Font = Fonts() },
                "labelfont" => Look with { LabelFont = Fonts() },
                "textfont" => Look with { Font = [.. Look.Font, .. Fonts()] },
                "labelsep" => Look with { Separator = text switch { "period" => ". ", "space" => " ", "quad" => " ", "endash" => " – ", "none" => "", "newline" => "\n", _ => ": " } },
                "justification" => Look with { Centres = text is "centering" or "centerlast" ? true : false },
                "singlelinecheck" => Look with { Centres = text is "false" or "off" or "0" ? false : Look.Centres },
                "skip" => Look with { Above = Machine.Quantities.ParseGlue(value, default)?.Width.Points },
                _ => Look,
            };
        }
    }
}
