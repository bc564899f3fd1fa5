using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Pictures, figures and captions.</summary>
internal sealed class FigureCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private static readonly string[] s_pictureExtensions = ["", ".pdf", ".png", ".jpg", ".jpeg", ".PDF", ".PNG", ".JPG", ".JPEG", ".SVG", ".svg"];

    internal void DefineFigures()
    {
        DefineFloatKind("figure", "lof");
        DefineFloatKind("table", "lot");
        Machine.Define("caption", (_, t) =>
        {
            // Outside floats \@captype says what it is a caption of (common practice in class files).
            if (Builder.Float.Value is null && Builder.Titles.Kept("@captype") is { Count: > 0 } kind)
            {
                SetFloatKind(Machine.ExpandToText(kind));
            }

            if (!Builder.LongTables.ReadBetweenRows(t, ReadCaption))
            {
                ReadCaption(t);
            }
        });
        // Until a preamble makes captions its own way, this is no macro.
        Machine.Define("@makecaption", static (m, t) => m.Push([.. m.ReadArgument(t), .. m.Tokenize(": ", t.Position), .. m.ReadArgument(t), Token.Command(m.Par, t.Position)]));
        Machine.Define("suppressfloats", (m, t) => m.ReadOptional(t));
    }

    /// <summary>Defines a kind of float; its counter and its name in print are defined elsewhere.</summary>
    internal void DefineFloatKind(string kind, string list)
    {
        Builder.FloatStyles.FloatKinds[kind] = new FloatKind(kind, list) { Look = Builder.FloatStyles.FloatStyle };
        Builder.Environments.DefineEnvironment(kind, t => BeginFloat(t, Builder.FloatStyles.FloatKinds[kind]), t => EndFloat(t, kind));
        Builder.Environments.DefineEnvironment(kind + "*", t => BeginFloat(t, Builder.FloatStyles.FloatKinds[kind], true), t => EndFloat(t, kind, true));
    }

    /// <summary>Has captions outside floats count as a kind; null: they don't.</summary>
    internal void SetFloatKind(string? kind) =>
        Machine.Assign(Builder.Float, string.IsNullOrEmpty(kind) ? null : new FloatKind(kind, kind == "figure" ? "lof" : kind == "table" ? "lot" : "lo" + kind[..1]) { Open = Builder.Float.Value?.Open });

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
                    Builder.Files.GraphicsFolders.Add(folder.Trim());
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
        ImageInline image = ReadPictureOptions(optionTokens, FindPicture(name, token, at)?.Path ?? name, token);
        Builder.AddInline(image);
    }

    /// <summary>The file of a picture; null, and a finding, where there is none.</summary>
    internal ManuscriptFile? FindPicture(string name, Token token, int at)
    {
        ManuscriptFile? file = null;
        foreach (string folder in Builder.Files.GraphicsFolders)
        {
            string path = folder.TrimEnd('/') + "/" + name;
            foreach (string extension in s_pictureExtensions)
            {
                file ??= FileCommands.Normalise(path) is { } p ? Builder.Files.FindFile(p + extension) : null;
            }
        }

        return file ?? Builder.Files.Resolve(name, s_pictureExtensions, token, at);
    }

    /// <summary>A picture with what is cut off at its sides.</summary>
    internal ImageInline WithSides(ImageInline image, List<Token>? trim, bool clips, Token token) => image with
    {
        Trim = trim is null ? null : ReadSides(trim, token),
        Clips = clips,
    };

    private ImageInline ReadPictureOptions(List<Token>? tokens, string path, Token token)
    {
        double? width = null;
        double? height = null;
        double scale = 1;
        string? alternative = null;
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
                    width = Machine.Quantities.ParseGlue(value, token)?.Width.Points;
                    break;
                case "height" or "totalheight":
                    height = Machine.Quantities.ParseGlue(value, token)?.Width.Points;
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
                case "alt":
                    // Braces keep its commas together.
                    alternative = text() is ['{', .. var words, '}'] ? words : text();
                    break;
                case "origin" or "type" or "ext" or "read" or "command" or "interpolate" or "draft" or "final" or "pagebox" or "artifact" or "hiresbb" or "decodearray" or "quiet":
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
            Alternative = alternative,
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
            ? bp * Units.BigPoint : Machine.Quantities.ParseGlue(Machine.Tokenize(s, token.Position), token)?.Width.Points ?? 0)];
        return (points[0], points[1], points[2], points[3]);
    }

    internal double? Number(string text, Token token)
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

    internal void BeginFloat(Token token, FloatKind kind, bool isWide = false)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        string? where = Machine.ReadOptionalText(token);
        EndParagraphForFloat();
        Builder.OpenFrame();
        _floatPlacement.Push(where ?? kind.Placement);
        Machine.Assign(Builder.Float, kind with { Open = new OpenFloat(token.Position) });
        Machine.Assign(Builder.LeftMargin, 0);
        Machine.Assign(Builder.RightMargin, 0);
        Machine.Assign(Builder.TextAlignment, Alignment.Justified);
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(Builder.Style.Value.Size));
        Builder.Text.SetSize("normalsize");
        Machine.Assign(Builder.Spread, 1);
        Builder.Boxes.SetLineWidth(isWide ? Builder.PageMeasures.PageNow.TextWidth : Builder.PageMeasures.PageNow.ColumnWidth);
        foreach (string part in (string[])["subfigure", "subtable"])
        {
            if (Machine.Counters.Find(part) is { } counter)
            {
                Machine.Assign(counter, 0, true);
            }
        }

        Builder.Text.HasNoIndent = true;
    }

    /// <summary>Gives places that no float may pass.</summary>
    /// <param name="atSections">Whether each section is one.</param>
    internal void DefineFloatBarrier(bool atSections)
    {
        Machine.Define("FloatBarrier", (_, _) => Builder.Pages.AddAfterParagraph(new FloatBarrierBlock()));
        if (atSections)
        {
            Machine.Definitions.Load("\\let\\section@before@barrier=\\section\\def\\section{\\FloatBarrier\\section@before@barrier}");
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

        if (Language.Of(Builder.Text.Language).PutsNumbersFirst)
        {
            return [Builder.HeadingCommands.TheOf(kind, token.Position), Token.Character('.', Category.Other, token.Position),
                Token.Command(Machine.Symbols.OfActive('~'), token.Position), Token.Command(Machine.Symbol(kind + "name"), token.Position)];
        }

        return [Token.Command(Machine.Symbol(kind + "name"), token.Position), Token.Command(Machine.Symbols.OfActive('~'), token.Position),
            Builder.HeadingCommands.TheOf(kind, token.Position)];
    }

    // A space that a text begins with is no space at a line's beginning.
    private List<Token> Spaced(string text, int position) =>
        [.. text.StartsWith(' ') ? [Token.Command(Machine.Symbol(" "), position)] : (Token[])[], .. Machine.Tokenize(text.TrimStart(), position)];

    // A float inside a paragraph doesn't end it: the rest goes on without an indent.
    internal void EndParagraphForFloat()
    {
        BlockFrame frame = Builder.Frames.Peek();
        bool inside = frame.Paragraph is { HasContent: true };
        Builder.EndParagraph();
        frame.Continues = inside;
    }

    internal void EndFloat(Token token, string kind, bool isWide = false)
    {
        if (Builder.Frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = Builder.CloseFrame();
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
                '!' => Placement.Urgent,
                _ => Placement.None,
            };
        }

        bool continues = Builder.Frames.Peek().Continues;
        OpenFloat open = Builder.Float.Value?.Open ?? new OpenFloat(token.Position);
        Builder.AddBlock(new FloatBlock
        {
            Kind = kind,
            Content = Builder.FloatStyles.LayOut(Builder.Float.Value?.Look ?? FloatStyle.Plain, frame, open),
            Placement = (placement & ~Placement.Urgent) == Placement.None ? placement | Placement.Top | Placement.Bottom | Placement.Page : placement,
            IsWide = isWide,
            Captions = open.Captions,
            IsCaptioned = open.IsCaptioned,
            Position = open.Position,
        });
        Builder.Frames.Peek().Continues = continues;
        Machine.SkipSpaces();
    }

    internal void ReadCaption(Token token)
    {
        bool star = Machine.TakeStar();
        List<Token>? shortText = Machine.ReadOptional(token);
        List<Token> text = Machine.ReadArgument(token);
        if (Builder.Float.Value is not { Name: var kind } floatKind)
        {
            Findings.Fix("caption-outside-float", token.Position, token.Length, "\\caption belongs in a figure or a table, and there is none here.",
                "Put it inside \\begin{figure} or \\begin{table}.");
            foreach (Inline inline in Builder.BuildInlines(text))
            {
                Builder.AddInline(inline);
            }

            return;
        }

        if (Builder.Frames.Peek().InlineOnly)
        {
            Machine.Push(TokenLists.Braced(text, token.Position));
            return;
        }

        Builder.EndParagraph();
        // A caption above its table keeps off the table, one below its figure off the figure.
        bool isAbove = !Builder.Frames.Peek().Blocks.Exists(b => b is not AnchorBlock and not SpaceBlock);
        List<Token> words = [];
        string number = "";
        if (floatKind.Open is { } open)
        {
            open.IsCaptioned = true;
        }

        if (!star)
        {
            if (!floatKind.IsNumbered)
            {
                Machine.Counters.Step(kind, token);
            }

            List<Token> title = TitleCommands.WithoutNotes(shortText ?? text);
            Builder.SubFigures.WithFloatNumber(kind, () => Builder.References.StartLabel(kind, token, Builder.BuildInlines(title)));
            number = Builder.CurrentLabel.Value!.Number ?? "";
            bool isListed = shortText is not { Count: 0 };
            if (!floatKind.IsPart)
            {
                List(new Caption(kind, number, Builder.CurrentLabel.Value.Title, Builder.CurrentLabel.Value.Anchor, token.Position, isListed ? floatKind.List : ""), floatKind.Open);
            }

            words.AddRange(Builder.CaptionSetup.Labelled(kind, CaptionLabel(kind, token), token));
            Builder.AddBlock(new AnchorBlock(Builder.CurrentLabel.Value.Anchor));
        }

        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        CaptionSetup.CaptionLook look = Builder.CaptionSetup.For(kind);
        Builder.Execute([.. look.Font]);
        // Captions stand in narrow places: wide spaces rather than words beyond the edge.
        Machine.Assign(Builder.Text.Tolerance, Math.Max(Builder.Text.Tolerance.Value, 1_000));
        Machine.Assign(Builder.Text.EmergencyStretch, Dimension.FromPoints(Math.Max(Builder.Text.EmergencyStretch.Value.Points, 2 * Builder.Style.Value.Size)));
        Symbol ownCaption = Machine.Symbol("@makecaption");
        if (ownCaption.Meaning.Value is MacroMeaning && words.Count > 0 && floatKind.Look != FloatStyle.Ruled)
        {
            List<Token> made = [Token.Command(ownCaption, token.Position), .. TokenLists.Braced(words, token.Position), .. TokenLists.Braced(text, token.Position)];
            Builder.BuildBlocks(made).ForEach(Builder.AddBlock);
            Machine.EndGroup();
            return;
        }

        List<Inline> content = [];
        double hang = 0;
        if (words.Count > 0)
        {
            // The sign after the number belongs to the label and takes its type.
            bool isRuled = floatKind.Look == FloatStyle.Ruled;
            string usual = isRuled || floatKind.IsPart ? " " : Language.Of(Builder.Text.Language).CaptionSeparator ?? ": ";
            (IReadOnlyList<Token> sign, bool isSpaced) = look.Separator is { } own && !isRuled
                ? own is [.., { Category: Category.Space }] ? ([.. own.SkipLast(1)], true) : (own, false)
                : (Spaced(usual.TrimEnd(), token.Position), usual.EndsWith(' '));
            content.AddRange(Builder.BuildInlines([.. isRuled ? [Token.Command(Machine.Symbol("bfseries"), token.Position)] : look.LabelFont, .. words, .. sign]));
            content.AddRange(look.BreaksAfterLabel ? [new LineBreakInline(default)] : isSpaced ? [Builder.References.MakeText(" ", token.Position)] : []);
            hang = look.Hangs ? Builder.Boxes.Measure(content).Width : 0;
        }

        content.AddRange(Builder.BuildInlines([.. look.TextFont, .. text]));
        if (floatKind.Look == FloatStyle.Ruled)
        {
            floatKind.Open?.Above.AddRange([new SpaceBlock(Glue.Of(2)), new ParagraphBlock(content, Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Left, SpaceAbove = default }), new SpaceBlock(Glue.Of(2))]);
            Machine.EndGroup();
            return;
        }

        double margin = look.Width is { } width ? Math.Max(0, (Builder.Boxes.LineWidth - width) / 2) : look.Margin;
        bool isShort = look.CentresOneLine && !look.BreaksAfterLabel && Builder.Boxes.Measure(content).Width < Builder.Boxes.LineWidth - (2 * margin);
        double above = look.Above ?? Machine.Registers.NamedGlue("abovecaptionskip").Value.Width.Points;
        double below = Machine.Registers.NamedGlue("belowcaptionskip").Value.Width.Points;
        // The space parts caption and table also where the caption comes first, unless the preamble gave it one of its own there.
        bool turned = (isAbove || floatKind.Look == FloatStyle.CaptionAbove) && below == 0;
        ParagraphStyle around = Builder.ParagraphStyleNow(0);
        Block[] blocks =
        [
            new SpaceBlock(Glue.Of(turned ? below : above)),
            new ParagraphBlock(content, around with
            {
                Alignment = isShort ? Alignment.Centre : look.Alignment,
                SpaceAbove = default,
                HangIndent = isShort ? 0 : hang,
                LeftMargin = around.LeftMargin + margin,
                RightMargin = around.RightMargin + margin,
            }),
            new SpaceBlock(Glue.Of(turned ? above : below)),
        ];
        if (floatKind is { Look: FloatStyle.CaptionAbove, Open: not null })
        {
            floatKind.Open.Above.AddRange(blocks);
        }
        else
        {
            Array.ForEach(blocks, Builder.AddBlock);
        }

        Machine.EndGroup();
    }

    // One outside floats stands where it is written; lists and reports find it in the flow, beside the box that it may stand in.
    private void List(Caption caption, OpenFloat? open)
    {
        if (open is not null)
        {
            open.Captions.Add(caption);
            return;
        }

        BlockFrame flow = Builder.Frames.Last();
        (flow.Paragraph is { HasContent: true } ? flow.AfterParagraph : flow.Blocks).Add(new ListedCaptionBlock(caption));
    }
}
