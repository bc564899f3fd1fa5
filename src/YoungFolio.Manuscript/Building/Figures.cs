using System.Globalization;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Pictures, figures and captions.
public sealed partial class DocumentBuilder
{
    private static readonly string[] s_pictureExtensions = ["", ".pdf", ".png", ".jpg", ".jpeg", ".svg"];

    private void DefineFigures()
    {
        DefineFloatKind("figure", "lof");
        DefineFloatKind("table", "lot");
        Machine.Define("caption", (_, t) =>
        {
            if (!ReadBetweenRows(t, ReadCaption))
            {
                ReadCaption(t);
            }
        });
        Machine.Define("suppressfloats", (m, t) => m.ReadOptional(t));
    }

    /// <summary>Defines a kind of float; its counter and its name in print are defined elsewhere.</summary>
    internal void DefineFloatKind(string kind, string list)
    {
        _floatKinds[kind] = new FloatKind(kind, list) { Look = _floatLook };
        DefineEnvironment(kind, t => BeginFloat(t, _floatKinds[kind]), t => EndFloat(t, kind));
        DefineEnvironment(kind + "*", t => BeginFloat(t, _floatKinds[kind], true), t => EndFloat(t, kind, true));
    }

    /// <summary>Has captions outside floats count as a kind; null: they don't.</summary>
    internal void SetFloatKind(string? kind) =>
        Machine.Assign(_float, string.IsNullOrEmpty(kind) ? null : new FloatKind(kind, kind == "figure" ? "lof" : kind == "table" ? "lot" : "lo" + kind[..1]));

    /// <summary>Gives the commands of the package graphicx.</summary>
    internal void DefinePictures()
    {
        Machine.Define("includegraphics", (_, t) => Picture(t));
        Machine.Define("graphicspath", (m, t) =>
        {
            foreach (string folder in m.ExpandToText(m.ReadArgument(t)).Split('{', '}'))
            {
                if (folder.Trim().Length > 0)
                {
                    _graphicsFolders.Add(folder.Trim());
                }
            }
        });
    }

    private void Picture(Token token)
    {
        Machine.TakeStar();
        List<Token>? optionTokens = Machine.ReadOptional(token);
        List<Token> argument = Machine.ReadArgument(token);
        string name = Machine.ExpandToText(argument).Trim();
        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        ManuscriptFile? file = null;
        foreach (string folder in _graphicsFolders)
        {
            string path = folder.TrimEnd('/') + "/" + name;
            foreach (string extension in s_pictureExtensions)
            {
                file ??= Normalise(path) is { } p ? FindFile(p + extension) : null;
            }
        }

        file ??= Resolve(name, s_pictureExtensions, token, at);
        ImageInline image = ReadPictureOptions(optionTokens, file?.Path ?? name, token);
        AddInline(image);
    }

    private ImageInline ReadPictureOptions(List<Token>? tokens, string path, Token token)
    {
        double? width = null;
        double? height = null;
        double scale = 1;
        double angle = 0;
        bool keeps = false;
        bool clips = false;
        bool isViewport = false;
        int page = 1;
        (double, double, double, double)? trim = null;
        foreach ((string key, List<Token> value) in KeyValues(tokens))
        {
            string text() => Machine.ExpandToText(value).Trim();
            switch (key)
            {
                case "width":
                    width = Machine.ParseGlue(value, token)?.Width.Points;
                    break;
                case "height" or "totalheight":
                    height = Machine.ParseGlue(value, token)?.Width.Points;
                    break;
                case "scale":
                    scale = Number(text(), token) ?? 1;
                    break;
                case "angle":
                    angle = Number(text(), token) ?? 0;
                    break;
                case "keepaspectratio":
                    keeps = text() != "false";
                    break;
                case "page":
                    page = int.TryParse(text(), out int wanted) && wanted > 0 ? wanted : 1;
                    break;
                case "trim" or "viewport" or "bb":
                    trim = ReadSides(value, token) ?? trim;
                    isViewport = key != "trim";
                    break;
                case "clip":
                    clips = text() != "false";
                    break;
                case "origin" or "type" or "ext" or "read" or "command" or "interpolate" or "draft" or "final" or "pagebox" or "alt" or "hiresbb" or "decodearray" or "quiet":
                    break;
                default:
                    Findings.Check("unknown-option", token.Position, token.Length, $"\\includegraphics has no option “{key}” here.",
                        "Available: width, height, scale, angle, keepaspectratio, trim, clip, page.");
                    break;
            }
        }

        return new ImageInline(path, token.Position)
        {
            Width = width,
            Height = height,
            Scale = scale,
            Angle = angle,
            KeepsAspect = keeps,
            Page = page,
            Trim = isViewport ? null : trim,
            Clips = clips,
        };
    }

    // Four lengths; plain numbers are PDF points (1/72 in).
    private (double, double, double, double)? ReadSides(List<Token> value, Token token)
    {
        string[] sides = Machine.ExpandToText(value).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        if (sides.Length != 4)
        {
            Findings.Fix("not-four-lengths", token.Position, token.Length, $"trim needs four lengths, and here are {sides.Length}.",
                "Write what is cut off at the left, the foot, the right and the top: trim=0 0 1cm 5mm.");
            return null;
        }

        double[] points = [.. sides.Select(s => double.TryParse(s, NumberStyles.Float, CultureInfo.InvariantCulture, out double bp)
            ? bp * 72.27 / 72 : Machine.ParseGlue(Machine.Tokenize(s, token.Position), token)?.Width.Points ?? 0)];
        return (points[0], points[1], points[2], points[3]);
    }

    private double? Number(string text, Token token)
    {
        if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double value))
        {
            return value;
        }

        Findings.Fix("not-a-number", token.Position, token.Length, $"“{text}” is not a number.", "Write digits, such as 0.5.");
        return null;
    }

    /// <summary>Parts a list of key=value options.</summary>
    internal static List<(string Key, List<Token> Value)> KeyValues(List<Token>? tokens)
    {
        var result = new List<(string, List<Token>)>();
        var key = new List<Token>();
        List<Token>? value = null;
        int depth = 0;
        foreach (Token token in tokens ?? [])
        {
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            if (depth == 0 && token.IsCharacter(','))
            {
                Add();
                key = [];
                value = null;
            }
            else if (depth == 0 && value is null && token.IsCharacter('='))
            {
                value = [];
            }
            else
            {
                (value ?? key).Add(token);
            }
        }

        Add();
        return result;

        void Add()
        {
            string name = key.ToSource().Trim();
            if (name.Length > 0)
            {
                result.Add((name, value ?? []));
            }
        }
    }

    private void BeginFloat(Token token, FloatKind kind, bool isWide = false)
    {
        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        string? where = Machine.ReadOptionalText(token);
        EndParagraphForFloat();
        OpenFrame();
        _floatPlacement.Push(where ?? kind.Placement);
        Machine.Assign(_float, kind);
        Machine.Assign(_leftMargin, 0);
        Machine.Assign(_rightMargin, 0);
        Machine.Assign(_alignment, Alignment.Justified);
        Machine.Assign(_style, PlainStyle(_style.Value.Size));
        SetSize("normalsize");
        Machine.Assign(_spread, 1);
        SetLineWidth(isWide ? _pageNow.TextWidth : _pageNow.ColumnWidth);
        foreach (string part in (string[])["subfigure", "subtable"])
        {
            if (Machine.Counter(part) is { } counter)
            {
                Machine.Assign(counter, 0, true);
            }
        }

        HasNoIndent = true;
    }

    /// <summary>Gives places that no float may pass.</summary>
    /// <param name="atSections">Whether each section is one.</param>
    internal void DefineFloatBarrier(bool atSections)
    {
        Machine.Define("FloatBarrier", (_, _) => AddAfterParagraph(new FloatBarrierBlock()));
        if (atSections)
        {
            Machine.LoadDefinitions("\\let\\section@before@barrier=\\section\\def\\section{\\FloatBarrier\\section@before@barrier}");
        }
    }

    private readonly Stack<string> _floatPlacement = new();

    // What stands before a caption's text: \fnum@figure may be redefined by a preamble.
    private List<Token> CaptionLabel(string kind, Token token)
    {
        if (Machine.IsDefined("fnum@" + kind))
        {
            return [Token.Command(Machine.Symbol("fnum@" + kind), token.Position)];
        }

        return [Token.Command(Machine.Symbol(kind + "name"), token.Position), Token.Command(Machine.ActiveSymbol('~'), token.Position),
            TheOf(kind, token.Position)];
    }

    // A float inside a paragraph doesn't end it: the rest goes on without an indent.
    private void EndParagraphForFloat()
    {
        BlockFrame frame = _frames.Peek();
        bool inside = frame.Paragraph is { HasContent: true };
        EndParagraph();
        frame.Continues = inside;
    }

    private void EndFloat(Token token, string kind, bool isWide = false)
    {
        if (_frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = CloseFrame();
        string where = _floatPlacement.Count > 0 ? _floatPlacement.Pop() : "";
        Placement placement = Placement.None;
        foreach (char c in where)
        {
            placement |= c switch
            {
                'h' => Placement.Here,
                'H' => Placement.Fixed,
                't' => Placement.Top,
                'b' => Placement.Bottom,
                'p' => Placement.Page,
                _ => Placement.None,
            };
        }

        bool continues = _frames.Peek().Continues;
        AddBlock(new FloatBlock
        {
            Kind = kind,
            Content = LayOut(_float.Value?.Look ?? FloatLook.Plain, frame),
            Placement = placement == Placement.None ? Placement.Top | Placement.Bottom | Placement.Page : placement,
            IsWide = isWide,
            Captions = frame.Captions,
            Position = token.Position,
        });
        _frames.Peek().Continues = continues;
        Machine.SkipSpaces();
    }

    private void ReadCaption(Token token)
    {
        bool star = Machine.TakeStar();
        List<Token>? shortText = Machine.ReadOptional(token);
        List<Token> text = Machine.ReadArgument(token);
        if (_float.Value is not { Name: var kind } floatKind)
        {
            Findings.Fix("caption-outside-float", token.Position, token.Length, "\\caption belongs in a figure or a table, and there is none here.",
                "Put it inside \\begin{figure} or \\begin{table}.");
            foreach (Inline inline in BuildInlines(text))
            {
                AddInline(inline);
            }

            return;
        }

        if (_frames.Peek().InlineOnly)
        {
            Machine.Push(Machine.Braced(text, token.Position));
            return;
        }

        EndParagraph();
        // A caption above its table keeps off the table, one below its figure off the figure.
        bool isAbove = !_frames.Peek().Blocks.Exists(b => b is not AnchorBlock and not SpaceBlock);
        List<Token> words = [];
        string number = "";
        if (!star)
        {
            if (!floatKind.IsNumbered)
            {
                Machine.StepCounter(kind, token);
            }

            List<Token> title = WithoutNotes(shortText ?? text);
            WithFloatNumber(kind, () => StartLabel(kind, token, BuildInlines(title)));
            number = _currentLabel.Value!.Number ?? "";
            bool isListed = shortText is not { Count: 0 };
            _frames.Peek().Captions.Add(new Caption(kind, number, _currentLabel.Value.Title, _currentLabel.Value.Anchor, token.Position, isListed ? floatKind.List : ""));
            words.AddRange(CaptionLabel(kind, token));
            AddBlock(new AnchorBlock(_currentLabel.Value.Anchor));
        }

        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Execute([.. _captionLook.Font]);
        // Captions stand in narrow places: wide spaces rather than words beyond the edge.
        Machine.Assign(_tolerance, Math.Max(_tolerance.Value, 1_000));
        Machine.Assign(_emergencyStretch, Dimension.FromPoints(Math.Max(_emergencyStretch.Value.Points, 2 * _style.Value.Size)));
        List<Inline> content = [];
        if (words.Count > 0)
        {
            // The sign after the number belongs to the label and takes its type.
            bool isRuled = floatKind.Look == FloatLook.Ruled;
            string separator = isRuled || kind.StartsWith("sub", StringComparison.Ordinal) ? " " : _captionLook.Separator;
            string sign = separator.Trim();
            content.AddRange(BuildInlines([.. isRuled ? [Token.Command(Machine.Symbol("bfseries"), token.Position)] : _captionLook.LabelFont, .. words, .. Machine.Tokenize(sign, token.Position)]));
            content.AddRange(separator == "\n" ? [new LineBreakInline(default)] : separator.Length > sign.Length ? [MakeText(" ", token.Position)] : []);
        }

        content.AddRange(BuildInlines(text));
        if (floatKind.Look == FloatLook.Ruled)
        {
            _frames.Peek().CaptionAbove.AddRange([new SpaceBlock(Glue.Of(2)), new ParagraphBlock(content, ParagraphStyleNow(0) with { Alignment = Alignment.Left, SpaceAbove = default }), new SpaceBlock(Glue.Of(2))]);
            Machine.EndGroup();
            return;
        }

        bool isShort = Measure(content).Width < LineWidth;
        double gap = _captionLook.Above ?? 8;
        isAbove |= floatKind.Look == FloatLook.CaptionAbove;
        Block[] blocks =
        [
            new SpaceBlock(Glue.Of(isAbove ? 0 : gap)),
            new ParagraphBlock(content, ParagraphStyleNow(0) with { Alignment = _captionLook.Centres ?? isShort ? Alignment.Centre : Alignment.Justified, SpaceAbove = default }),
            new SpaceBlock(Glue.Of(isAbove ? Math.Max(2, gap - 2) : 2)),
        ];
        if (floatKind.Look == FloatLook.CaptionAbove)
        {
            _frames.Peek().CaptionAbove.AddRange(blocks);
        }
        else
        {
            Array.ForEach(blocks, AddBlock);
        }

        Machine.EndGroup();
    }
}
