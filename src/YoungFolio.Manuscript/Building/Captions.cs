using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// The look of captions, and captions outside floats.
public sealed partial class DocumentBuilder
{
    private CaptionLook _captionLook = new();

    private sealed record CaptionLook
    {
        public IReadOnlyList<Token> Font { get; init; } = [];

        public IReadOnlyList<Token> LabelFont { get; init; } = [];

        public string Separator { get; init; } = ": ";

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
            SetFloatKind(kind);
            if (star)
            {
                m.PutBack(Token.Character('*', Category.Other, t.Position));
            }

            ReadCaption(t);
            CurrentLabel? label = _currentLabel.Value;
            Machine.EndGroup();
            Machine.Assign(_currentLabel, label);
        });
        Machine.LoadDefinitions("\\newcommand{\\ContinuedFloat}{}\\newcommand{\\DeclareCaptionFont}[2]{}\\newcommand{\\DeclareCaptionFormat}[2]{}\\newcommand{\\DeclareCaptionLabelFormat}[2]{}"
            + "\\newcommand{\\DeclareCaptionStyle}[3][]{}\\newcommand{\\clearcaptionsetup}[2][]{}\\newcommand{\\DeclareCaptionLabelSeparator}[2]{}\\newcommand{\\DeclareCaptionJustification}[2]{}");
    }

    private void ApplyCaptionOptions(IReadOnlyList<ListedOption> options)
    {
        foreach (ListedOption option in options)
        {
            List<Token> value = option.Value ?? [];
            string text = option.Text(Machine);
            List<Token> Fonts() => [.. Split(text).SelectMany(f => Machine.Tokenize(f switch
            {
                "bf" => "\\bfseries ", "it" => "\\itshape ", "sc" => "\\scshape ", "sf" => "\\sffamily ", "rm" => "\\rmfamily ", "tt" => "\\ttfamily ", "sl" => "\\slshape ",
                "up" => "\\upshape ", "md" => "\\mdseries ", "small" or "footnotesize" or "normalsize" or "large" or "scriptsize" => $"\\{f} ", _ => "",
            }, PositionTable.None))];
            _captionLook = option.Key switch
            {
                "font" => _captionLook with { Font = Fonts() },
                "labelfont" => _captionLook with { LabelFont = Fonts() },
                "textfont" => _captionLook with { Font = [.. _captionLook.Font, .. Fonts()] },
                "labelsep" => _captionLook with { Separator = text switch { "period" => ". ", "space" => " ", "quad" => " ", "endash" => " – ", "none" => "", "newline" => "\n", _ => ": " } },
                "justification" => _captionLook with { Centres = text is "centering" or "centerlast" ? true : false },
                "singlelinecheck" => _captionLook with { Centres = text is "false" or "off" or "0" ? false : _captionLook.Centres },
                "skip" => _captionLook with { Above = Machine.ParseGlue(value, default)?.Width.Points },
                _ => _captionLook,
            };
        }
    }
}
