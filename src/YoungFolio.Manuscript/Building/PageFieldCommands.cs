using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Heads and feet in three fields (the package fancyhdr), and margins changed for a stretch of text.</summary>
internal sealed class PageFieldCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Gives margins changed for a stretch of text.</summary>
    internal void DefineAdjustedWidth()
    {
        foreach (string name in (string[])["adjustwidth", "adjustwidth*"])
        {
            Builder.Environments.DefineEnvironment(name, t =>
            {
                List<Token> left = Machine.ReadArgument(t);
                List<Token> right = Machine.ReadArgument(t);
                Builder.EndParagraph();
                Builder.OpenFrame();
                double Margin(List<Token> tokens) => tokens.Count == 0 ? 0 : Machine.Quantities.ParseGlue(tokens, t)?.Width.Points ?? 0;
                Builder.Lists.Indent(Margin(left), Margin(right));
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
        }

        Machine.Define("strictpagecheck", static (_, _) => { });
        Machine.Define("checkoddpage", static (_, _) => { });
        Machine.Conditionals.NewSwitch("oddpage");
    }

    private readonly Dictionary<(bool Head, bool Even, char Place), List<Token>> _fields = [];

    // How far heads and feet reach into the margins, in points.
    private readonly Dictionary<(bool Head, bool Even, char Place), double> _fieldReach = [];

    /// <summary>Gives heads and feet in three fields.</summary>
    internal void DefineHeadFields()
    {
        foreach ((string name, bool head, bool foot) in (ReadOnlySpan<(string, bool, bool)>)[("fancyhead", true, false), ("fancyfoot", false, true), ("fancyhf", true, true)])
        {
            Machine.Define(name, (m, t) =>
            {
                string places = m.ReadOptionalText(t) ?? "";
                SetFields(places, head, foot, m.ReadArgument(t));
            });
        }

        foreach ((string name, bool head, bool foot) in (ReadOnlySpan<(string, bool, bool)>)[("fancyheadoffset", true, false), ("fancyfootoffset", false, true), ("fancyhfoffset", true, true)])
        {
            Machine.Define(name, (m, t) =>
            {
                string places = m.ReadOptionalText(t) ?? "";
                double reach = m.Quantities.ParseGlue(m.ReadArgument(t), t)?.Width.Points ?? 0;
                foreach ((bool, bool, char) place in PlacesOf(places, head, foot))
                {
                    _fieldReach[place] = reach;
                }

                RefreshFields();
            });
        }

        foreach ((string name, char place, bool head) in (ReadOnlySpan<(string, char, bool)>)[
            ("lhead", 'L', true), ("chead", 'C', true), ("rhead", 'R', true), ("lfoot", 'L', false), ("cfoot", 'C', false), ("rfoot", 'R', false)])
        {
            Machine.Define(name, (m, t) =>
            {
                List<Token>? even = m.ReadOptional(t);
                List<Token> odd = m.ReadArgument(t);
                _fields[(head, false, place)] = odd;
                _fields[(head, true, place)] = even ?? odd;
                RefreshFields();
            });
        }

        Machine.Definitions.Load("\\def\\headrulewidth{0.4pt}\\def\\footrulewidth{0pt}\\def\\nouppercase#1{#1}\\def\\headrule{}\\def\\footrule{}\\newlength{\\headwidth}\\def\\plainheadrulewidth{0pt}\\def\\plainfootrulewidth{0pt}\\def\\iffloatpage#1#2{#2}");
        // As the package begins: marks at the head's edges, the number at the foot's middle.
        SetFields("", true, true, []);
        SetFields("LE,RO", true, false, Machine.Tokenize("\\slshape\\rightmark", PositionTable.None).ToList());
        SetFields("RE,LO", true, false, Machine.Tokenize("\\slshape\\leftmark", PositionTable.None).ToList());
        SetFields("C", false, true, Machine.Tokenize("\\thepage", PositionTable.None).ToList());
        Builder.PageStyles.DefinePageStyle("fancy", () => FieldStyle("fancy", _fields));
        Machine.Define("fancypagestyle", (m, t) =>
        {
            string name = m.ReadText(t);
            m.ReadOptional(t);
            List<Token> settings = m.ReadArgument(t);
            Builder.PageStyles.DefinePageStyle(name, () =>
            {
                var before = new Dictionary<(bool, bool, char), List<Token>>(_fields);
                bool quiet = _quietFields;
                _quietFields = true;
                Machine.BeginGroup(GroupKind.Command, "", t.Position);
                Builder.Execute([.. settings]);
                PageStyle style = FieldStyle(name, _fields);
                Machine.EndGroup();
                _quietFields = quiet;
                _fields.Clear();
                foreach (((bool, bool, char) place, List<Token> content) in before)
                {
                    _fields[place] = content;
                }

                return style;
            });
        });
        Machine.Definitions.Load("\\heading@marks");
    }

    private bool _quietFields;

    private void SetFields(string places, bool head, bool foot, List<Token> content)
    {
        foreach ((bool, bool, char) place in PlacesOf(places, head, foot))
        {
            _fields[place] = content;
        }

        RefreshFields();
    }

    // The places that letters name: L C R, E O, H F; what isn't said stands for all.
    private static IEnumerable<(bool Head, bool Even, char Place)> PlacesOf(string places, bool head, bool foot)
    {
        foreach (string place in places.Length == 0 ? ["LCR"] : PreambleCommands.Split(places))
        {
            string upper = place.ToUpperInvariant();
            bool Has(char letter) => upper.Contains(letter, StringComparison.Ordinal);
            bool heads = Has('H') ? head : !Has('F') && head;
            bool feet = Has('F') ? foot : !Has('H') && foot;
            foreach (char column in Has('L') || Has('C') || Has('R') ? string.Concat(upper.Where(c => c is 'L' or 'C' or 'R')) : "LCR")
            {
                foreach (bool even in Has('E') == Has('O') ? (bool[])[false, true] : [Has('E')])
                {
                    if (heads)
                    {
                        yield return (true, even, column);
                    }

                    if (feet)
                    {
                        yield return (false, even, column);
                    }
                }
            }
        }
    }

    private void RefreshFields()
    {
        if (Builder.DocumentBegun && !_quietFields && Builder.PageStyles.PageStyleName == "fancy")
        {
            Builder.PageStyles.SetPageStyle();
        }
    }

    private PageStyle FieldStyle(string name, Dictionary<(bool Head, bool Even, char Place), List<Token>> fields)
    {
        PageLine Line(bool head, bool even) => new(Field(head, even, 'L'), Field(head, even, 'C'), Field(head, even, 'R'))
        {
            ReachLeft = _fieldReach.GetValueOrDefault((head, even && Builder.Pages.TwoSided, 'L')),
            ReachRight = _fieldReach.GetValueOrDefault((head, even && Builder.Pages.TwoSided, 'R')),
        };
        List<Inline> Field(bool head, bool even, char place) => fields.TryGetValue((head, even && Builder.Pages.TwoSided, place), out List<Token>? content) ? Builder.PageStyles.BuildPageLine(content, even) : [];
        double Width(string macro) => Machine.Quantities.ParseGlue([Token.Command(Machine.Symbol(macro), PositionTable.None)], default)?.Width.Points ?? 0;
        return new PageStyle
        {
            Name = name,
            OddHead = Line(true, false),
            EvenHead = Line(true, true),
            OddFoot = Line(false, false),
            EvenFoot = Line(false, true),
            HeadRule = Width("headrulewidth"),
            FootRule = Width("footrulewidth"),
        };
    }
}
