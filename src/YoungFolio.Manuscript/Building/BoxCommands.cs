using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>A box kept in a register.</summary>
/// <param name="Inlines">The box as one inline, or what stands in it when it is unpacked.</param>
/// <param name="Blocks">The blocks of a vertical box; null for a horizontal one.</param>
/// <param name="Extent">Its measures in points; they can be set.</param>
internal sealed record StoredBox(IReadOnlyList<Inline> Inlines, IReadOnlyList<Block>? Blocks, Extent Extent);

/// <summary>Boxes: text kept together, paragraphs of a width, frames, and registers that keep them (The TeXbook, ch. 11 and 12; Lamport, C.13).</summary>
internal sealed class BoxCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Dictionary<int, Scoped<StoredBox?>> _boxes = [];
    private Scoped<Dimension> _frameSeparation = null!;
    private Scoped<Dimension> _frameRule = null!;
    internal Scoped<Dimension> LineWidthRegister { get; set; } = null!;

    /// <summary>Width of a line here in points.</summary>
    internal double LineWidth => LineWidthRegister.Value.Points;

    internal void DefineBoxes()
    {
        _frameSeparation = Machine.Registers.NamedDimension("fboxsep", Dimension.FromPoints(3));
        _frameRule = Machine.Registers.NamedDimension("fboxrule", Dimension.FromPoints(0.4));
        LineWidthRegister = Machine.Registers.NamedDimension("linewidth", Dimension.FromPoints(345));
        Machine.Registers.NamedDimension("boxmaxdepth", new(Dimension.Max));
        Machine.Define("mbox", (m, t) => Builder.AddInline(new BoxInline(Builder.BuildInlines(m.ReadArgument(t)))));
        Machine.Define("fbox", (m, t) => Builder.AddInline(Framed(Builder.BuildInlines(m.ReadArgument(t)), null, 0)));
        Machine.Define("frame", (m, t) => Builder.AddInline(new BoxInline(Builder.BuildInlines(m.ReadArgument(t))) { IsFramed = true, Padding = 0 }));
        foreach ((string name, bool isFramed) in (ReadOnlySpan<(string, bool)>)[("makebox", false), ("framebox", true)])
        {
            Machine.Define(name, (_, t) =>
            {
                if (!Builder.Drawings.ReadsBox(t, isFramed))
                {
                    MakeBox(t, isFramed);
                }
            });
        }

        Machine.Define("underline", (m, t) => Builder.AddInline(new BoxInline(Builder.BuildInlines(m.ReadArgument(t))) { IsUnderlined = true }));
        Machine.Define("raisebox", (m, t) =>
        {
            List<Token> rise = m.ReadArgument(t);
            List<Token>? height = m.ReadOptional(t);
            List<Token>? depth = m.ReadOptional(t);
            List<Inline> content = Builder.BuildInlines(m.ReadArgument(t));
            WithBoxMeasures(content, () => Builder.AddInline(new BoxInline(content)
            {
                Rise = m.Quantities.ParseGlue(rise, t)?.Width.Points ?? 0,
                Height = height is null ? null : m.Quantities.ParseGlue(height, t)?.Width.Points,
                Depth = depth is null ? null : m.Quantities.ParseGlue(depth, t)?.Width.Points,
            }));
        });
        Machine.Define("rule", (m, t) =>
        {
            Glue? rise = m.ReadOptional(t) is { } r ? m.Quantities.ParseGlue(r, t) : null;
            Glue? width = m.Quantities.ParseGlue(m.ReadArgument(t), t);
            Glue? height = m.Quantities.ParseGlue(m.ReadArgument(t), t);
            Builder.AddInline(new RuleInline(width?.Width.Points ?? 0, height?.Width.Points ?? 0, rise?.Width.Points ?? 0) { Colour = Builder.Style.Value.Colour });
        });
        Machine.Define("strut", (_, _) => Builder.AddInline(new RuleInline(0, Builder.Leading.Value, -0.3 * Builder.Leading.Value)));
        Machine.DefineMeaning("null", new MacroMeaning { Pattern = [], Arity = 0, Body = Machine.Tokenize("\\hbox{}", PositionTable.None) });
        foreach ((string name, int alignment) in (ReadOnlySpan<(string, int)>)[("rlap", -1), ("llap", 1), ("clap", 0)])
        {
            Machine.Define(name, (m, t) => Builder.AddInline(new BoxInline(Builder.BuildInlines(m.ReadArgument(t))) { Width = 0, Alignment = alignment }));
        }

        foreach ((string name, Alignment alignment) in (ReadOnlySpan<(string, Alignment)>)[
            ("centerline", Alignment.Centre), ("leftline", Alignment.Left), ("rightline", Alignment.Right)])
        {
            Machine.Define(name, (m, t) =>
            {
                List<Inline> content = Builder.BuildInlines(m.ReadArgument(t));
                Builder.EndParagraph();
                Builder.AddBlock(new ParagraphBlock(content, Builder.ParagraphStyleNow(0) with { Alignment = alignment }));
            });
        }

        foreach ((string name, bool width, bool height) in (ReadOnlySpan<(string, bool, bool)>)[
            ("phantom", true, true), ("hphantom", true, false), ("vphantom", false, true)])
        {
            Machine.Define(name, (m, t) =>
            {
                List<Inline> content = Builder.BuildInlines(Builder.Formulas.Math is null ? m.ReadArgument(t) : AsFormula(m.ReadArgument(t), t));
                AddBoxed(new BoxInline(content)
                {
                    IsPhantom = true,
                    Width = width ? null : 0,
                    Height = height ? null : 0,
                    Depth = height ? null : 0,
                }, t);
            });
        }

        Machine.Define("smash", (m, t) =>
        {
            m.ReadOptional(t);
            List<Inline> content = Builder.BuildInlines(Builder.Formulas.Math is null ? m.ReadArgument(t) : AsFormula(m.ReadArgument(t), t));
            AddBoxed(new BoxInline(content) { Height = 0, Depth = 0 }, t);
        });
        DefineParagraphBoxes();
        DefineBoxRegisters();
    }

    /// <summary>Extent of inlines on one line.</summary>
    internal Extent Measure(IReadOnlyList<Inline> content) => Builder.Options.Measure.Measure(content, Builder.TypefaceCommands.Typefaces);

    internal static List<Token> AsFormula(List<Token> tokens, Token token) =>
        [Token.Character('$', Category.MathShift, token.Position), .. tokens, Token.Character('$', Category.MathShift, token.Position)];

    // A box of text in a formula is an ordinary symbol there.
    internal void AddBoxed(Inline box, Token token)
    {
        if (Builder.Formulas.Math is { } math)
        {
            math.Nodes.Add(new Atom(AtomClass.Ordinary, new TextNucleus([box])) { Position = token.Position });
        }
        else
        {
            Builder.AddInline(box);
        }
    }

    internal BoxInline Framed(List<Inline> content, double? width, int alignment) => new(content)
    {
        IsFramed = true,
        Width = width is { } w ? Math.Max(0, w - (2 * (_frameSeparation.Value.Points + _frameRule.Value.Points))) : null,
        Alignment = alignment,
        Padding = _frameSeparation.Value.Points,
        FrameLine = _frameRule.Value.Points,
    };

    private void MakeBox(Token token, bool framed)
    {
        List<Token>? widthTokens = Machine.ReadOptional(token);
        string? where = Machine.ReadOptionalText(token);
        List<Inline> content = Builder.BuildInlines(Machine.ReadArgument(token));
        double? width = null;
        if (widthTokens is not null)
        {
            WithBoxMeasures(content, () => width = Machine.Quantities.ParseGlue(widthTokens, token)?.Width.Points);
        }

        int alignment = where switch { "l" => -1, "r" => 1, _ => 0 };
        if (where == "s")
        {
            alignment = -1;
        }

        Builder.AddInline(framed ? Framed(content, width, alignment) : new BoxInline(content) { Width = width, Alignment = alignment });
    }

    // \width, \height, \depth and \totalheight are the content's own measures (Lamport, section C.13.3).
    private void WithBoxMeasures(List<Inline> content, Action read)
    {
        Extent extent = Measure(content);
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        foreach ((string name, double value) in (ReadOnlySpan<(string, double)>)[
            ("width", extent.Width), ("height", extent.Height), ("depth", extent.Depth), ("totalheight", extent.Height + extent.Depth)])
        {
            Machine.Assign(Machine.Symbol(name).Meaning, new RegisterMeaning<Dimension>(new Scoped<Dimension>(Dimension.FromPoints(value))));
        }

        read();
        Machine.EndGroup();
    }

    // ---- paragraphs in boxes ---------------------------------------------------------------------------

    private void DefineParagraphBoxes()
    {
        Machine.Define("parbox", (m, t) =>
        {
            (char position, double? height, char inner) = ReadBoxPlace(t);
            double width = m.Quantities.ParseGlue(m.ReadArgument(t), t)?.Width.Points ?? 100;
            List<Block> blocks = BuildColumn(m.ReadArgument(t), width);
            Builder.AddInline(new BlockBoxInline(blocks, width) { Position = position, Height = height, InnerPosition = inner });
        });
        Builder.Environments.DefineEnvironment("minipage", BeginMinipage, _ => EndMinipage());
        Builder.Environments.DefineEnvironment("lrbox", t =>
        {
            Token register = Machine.Definitions.ReadCommandToken(t);
            Builder.Frames.Push(new BlockFrame(true));
            _boxTargets.Push(register.Symbol?.Meaning.Value is ConstantMeaning c ? c.Value : -1);
        }, _ =>
        {
            if (_boxTargets.Count == 0 || Builder.Frames.Count < 2 || Builder.Frames.Peek() is { IsBase: true } or { Paragraph: null })
            {
                return;
            }

            List<Inline> content = Builder.Frames.Pop().Paragraph!.Finish();
            // The box outlives the environment's group.
            int target = _boxTargets.Pop();
            if (target >= 0)
            {
                Machine.Assign(BoxRegister(target), Store(new BoxInline(content)), true);
            }
        });
        Machine.Define("vcenter", (m, t) =>
        {
            List<Block> blocks = BuildColumn(m.ReadArgument(t), LineWidth);
            AddBoxed(new BlockBoxInline(blocks, NaturalWidth(blocks)) { Position = 'c' }, t);
        });
        Machine.Define("shortstack", (m, t) =>
        {
            string where = m.ReadOptionalText(t) ?? "c";
            Builder.AddInline(Stack(m.ReadArgument(t), where switch { "l" => Alignment.Left, "r" => Alignment.Right, _ => Alignment.Centre }, 'b'));
        });
    }

    private readonly Stack<int> _boxTargets = new();
    internal Stack<(char Position, double? Height, char Inner, double Width, int Note)> Minipages { get; } = new();

    private (char Position, double? Height, char Inner) ReadBoxPlace(Token token)
    {
        string position = Machine.ReadOptionalText(token) ?? "";
        double? height = Machine.ReadOptional(token) is { } h ? Machine.Quantities.ParseGlue(h, token)?.Width.Points : null;
        string inner = Machine.ReadOptionalText(token) ?? "";
        char place = position.Length > 0 ? position[0] : 'c';
        return (place, height, inner.Length > 0 ? inner[0] : place);
    }

    /// <summary>Builds blocks for a column of the given width in points.</summary>
    internal List<Block> BuildColumn(List<Token> tokens, double width)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        EnterColumn(width);
        List<Block> blocks = Builder.BuildBlocks(tokens);
        Machine.EndGroup();
        return blocks;
    }

    // Inside a box text begins anew: no indents, no margins of lists around.
    internal void EnterColumn(double width)
    {
        Machine.Assign(Builder.LeftMargin, 0);
        Machine.Assign(Builder.RightMargin, 0);
        Machine.Assign(Builder.TextAlignment, Alignment.Justified);
        Machine.Assign(Builder.Text.ParIndent, default);
        Machine.Assign(Builder.Text.ParSkip, default);
        SetLineWidth(width);
    }

    /// <summary>Sets the width of lines and columns from here on, in points.</summary>
    internal void SetLineWidth(double width)
    {
        var value = Dimension.FromPoints(width);
        Machine.Assign(LineWidthRegister, value);
        foreach (string name in (string[])["hsize", "columnwidth", "textwidth"])
        {
            Machine.Assign(Machine.Registers.NamedDimension(name), value);
        }
    }

    internal void BeginMinipage(Token token)
    {
        (char position, double? height, char inner) = ReadBoxPlace(token);
        double width = Machine.Quantities.ParseGlue(Machine.ReadArgument(token), token)?.Width.Points ?? 100;
        Minipages.Push((position, height, inner, width, Machine.Counters.Find("mpfootnote")!.Value));
        Builder.Paragraph();
        Builder.OpenFrame();
        EnterColumn(width);
        Machine.Assign(Machine.Counters.Find("mpfootnote")!, 0, true);
        Builder.Notes.MiniNotes.Push([]);
        Machine.SkipSpaces();
    }

    internal void EndMinipage()
    {
        if (Minipages.Count == 0 || Builder.Frames.Count < 2)
        {
            return;
        }

        (char position, double? height, char inner, double width, int note) = Minipages.Pop();
        List<Block> blocks = Builder.CloseFrame().Blocks;
        List<Block> notes = Builder.Notes.MiniNotes.Pop();
        if (notes.Count > 0)
        {
            blocks.Add(new SpaceBlock(Glue.Of(6)));
            blocks.Add(new ParagraphBlock([new RuleInline(width * 0.4, 0.4, 0)], Builder.ParagraphStyleNow(0) with { Leading = 3, Alignment = Alignment.Left, SpaceAbove = default }));
            blocks.AddRange(notes);
        }

        Machine.Assign(Machine.Counters.Find("mpfootnote")!, note, true);
        Builder.AddInline(new BlockBoxInline(blocks, width) { Position = position, Height = height, InnerPosition = inner });
    }

    /// <summary>Lines under one another in a box as wide as the widest.</summary>
    internal BlockBoxInline Stack(List<Token> tokens, Alignment alignment, char position)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        EnterColumn(10_000);
        Machine.Assign(Builder.TextAlignment, alignment);
        List<Block> blocks = Builder.BuildBlocks(tokens);
        Machine.EndGroup();
        return new BlockBoxInline(blocks, NaturalWidth(blocks)) { Position = position };
    }

    /// <summary>Width of the widest line that the source ends by hand, in points.</summary>
    private double NaturalWidth(IEnumerable<Block> blocks)
    {
        double width = 0;
        foreach (Block block in blocks)
        {
            switch (block)
            {
                case ParagraphBlock paragraph:
                    var line = new List<Inline>();
                    foreach (Inline inline in paragraph.Content.Append(new LineBreakInline(default)))
                    {
                        if (inline is LineBreakInline)
                        {
                            width = Math.Max(width, Measure(line).Width + paragraph.Style.Indent + paragraph.Style.LeftMargin);
                            line.Clear();
                        }
                        else
                        {
                            line.Add(inline);
                        }
                    }

                    break;
                case GroupBlock group:
                    width = Math.Max(width, NaturalWidth(group.Content));
                    break;
            }
        }

        return width + 0.01;
    }

    // ---- registers -------------------------------------------------------------------------------------

    private void DefineBoxRegisters()
    {
        foreach (string name in (string[])["hbox", "vbox", "vtop", "box", "copy", "unhbox", "unhcopy", "unvbox", "unvcopy", "raise", "lower", "moveleft", "moveright"])
        {
            Machine.Define(name, (_, t) => PlaceBox(t));
        }

        Machine.Define("setbox", (m, _) =>
        {
            bool global = m.Definitions.TakeGlobal();
            int number = m.Quantities.ScanInteger();
            m.Assignments.TakeEquals();
            Token command = m.NextExpanded();
            while (command.Is(Category.Space) || command.IsCommand("relax"))
            {
                command = m.NextExpanded();
            }

            m.Assign(BoxRegister(number), ReadBox(command), global);
            m.Assignments.FinishAssignment();
        });
        Machine.Define("newsavebox", (m, t) =>
        {
            Token name = m.Definitions.ReadCommandToken(t);
            m.Push(Token.Command(m.Symbol("newbox"), t.Position), name);
        });
        Machine.Define("sbox", (m, t) =>
        {
            if (BoxNumber() is { } number)
            {
                m.Push(m.Input.Tokenize($"\\setbox{number}\\hbox{{", m.ReadArgument(t), "}", t.Position));
                return;
            }

            SaveBox(t, null, null);
        });
        Machine.Define("savebox", (m, t) =>
        {
            Token register = m.Definitions.ReadCommandToken(t);
            List<Token>? width = m.ReadOptional(t);
            string? where = m.ReadOptionalText(t);
            m.PutBack(register);
            SaveBox(t, width, where);
        });
        Machine.Define("usebox", (m, t) =>
        {
            if (BoxNumber() is { } number)
            {
                m.Input.PushMarkup($"\\leavevmode\\copy{number}\\relax ", t.Position);
                return;
            }

            Token register = m.Definitions.ReadCommandToken(t);
            if (register.Symbol?.Meaning.Value is ConstantMeaning c && BoxRegister(c.Value).Value is { } box)
            {
                AddBoxed(Packed(box), t);
            }
        });
        foreach ((string name, int part) in (ReadOnlySpan<(string, int)>)[("settowidth", 0), ("settoheight", 1), ("settodepth", 2)])
        {
            Machine.Define(name, (m, t) =>
            {
                Token length = m.Assignments.ReadLengthName(t);
                Extent extent = Measure(Builder.BuildInlines(m.ReadArgument(t)));
                var value = Dimension.FromPoints(part switch { 0 => extent.Width, 1 => extent.Height, _ => extent.Depth });
                m.Assignments.SetLength(length, new Glue(value));
            });
        }

        foreach ((string name, int part) in (ReadOnlySpan<(string, int)>)[("wd", 0), ("ht", 1), ("dp", 2)])
        {
            Machine.DefineMeaning(name, new QuantityCommand(name,
                m => Quantity.Of(Dimension.FromPoints(Part(BoxRegister(m.Quantities.ScanInteger()).Value?.Extent ?? default))),
                (m, _) =>
                {
                    Scoped<StoredBox?> register = BoxRegister(m.Quantities.ScanInteger());
                    m.Assignments.TakeEquals();
                    double value = m.Quantities.ScanDimension().Points;
                    if (register.Value is { } box)
                    {
                        Extent e = box.Extent;
                        m.Assign(register, box with
                        {
                            Extent = part switch { 0 => e with { Width = value }, 1 => e with { Height = value }, _ => e with { Depth = value } },
                        });
                    }
                }));

            double Part(Extent extent) => part switch { 0 => extent.Width, 1 => extent.Height, _ => extent.Depth };
        }

        Machine.Conditionals.Define("ifvoid", m => BoxRegister(m.Quantities.ScanInteger()).Value is null);
        Machine.Conditionals.Define("ifhbox", m => BoxRegister(m.Quantities.ScanInteger()).Value is { Blocks: null });
        Machine.Conditionals.Define("ifvbox", m => BoxRegister(m.Quantities.ScanInteger()).Value is { Blocks: not null });
    }

    private Scoped<StoredBox?> BoxRegister(int number)
    {
        if (!_boxes.TryGetValue(number, out Scoped<StoredBox?>? register))
        {
            _boxes[number] = register = new(null);
        }

        return register;
    }

    // A register's number in the place of a name, as the plain format has it: \sbox0{…}.
    private string? BoxNumber()
    {
        Machine.SkipSpaces();
        string number = "";
        while (Machine.Peek() is { Category: Category.Other, Code: >= '0' and <= '9' } digit)
        {
            number += (char)digit.Code;
            Machine.Next();
        }

        return number.Length > 0 ? number : null;
    }

    private void SaveBox(Token token, List<Token>? width, string? where)
    {
        Token register = Machine.Definitions.ReadCommandToken(token);
        List<Inline> content = Builder.BuildInlines(Machine.ReadArgument(token));
        if (register.Symbol?.Meaning.Value is not ConstantMeaning number)
        {
            Findings.Fix("unknown-box", register.Position, register.Length, $"{register} is not a box.", "Make it with \\newsavebox first.");
            return;
        }

        Machine.Assign(BoxRegister(number.Value), Store(new BoxInline(content)
        {
            Width = width is null ? null : Machine.Quantities.ParseGlue(width, token)?.Width.Points,
            Alignment = where switch { "l" => -1, "r" => 1, _ => 0 },
        }));
    }

    private StoredBox Store(Inline box, IReadOnlyList<Block>? blocks = null) => new([box], blocks, Measure([box]));

    // A box whose measures were set takes that room, whatever stands in it.
    private Inline Packed(StoredBox box)
    {
        Extent own = Measure(box.Inlines);
        return box.Inlines.Count == 1 && Math.Abs(own.Width - box.Extent.Width) < 0.01 && Math.Abs(own.Height - box.Extent.Height) < 0.01
            && Math.Abs(own.Depth - box.Extent.Depth) < 0.01
            ? box.Inlines[0]
            : new BoxInline(box.Inlines) { Width = box.Extent.Width, Height = box.Extent.Height, Depth = box.Extent.Depth, Alignment = -1 };
    }

    // Reads what a box command makes; null for an empty register.
    private StoredBox? ReadBox(Token command)
    {
        switch ((command.Symbol?.Meaning.Value as BuiltInCommand)?.Name)
        {
            case "hbox":
                double? width = ReadBoxWidth(out double spread);
                List<Inline> content = Builder.BuildInlines(Machine.ReadArgument(command));
                return Store(new BoxInline(content)
                {
                    Width = width ?? (spread != 0 ? Measure(content).Width + spread : null),
                    Alignment = -1,
                });
            case ("vbox" or "vtop") and { } kind:
                double? height = ReadBoxWidth(out _);
                double measure = LineWidth;
                Machine.BeginGroup(GroupKind.Command, "", command.Position);
                EnterColumn(measure);
                List<Block> blocks = Builder.BuildBlocks(Machine.ReadArgument(command), () => measure = Machine.Registers.NamedDimension("hsize").Value.Points);
                Machine.EndGroup();
                bool lines = blocks.TrueForAll(b => b is not ParagraphBlock p || p.Content is [BoxInline]);
                double wide = lines ? NaturalWidth(blocks) : measure;
                return Store(new BlockBoxInline(blocks, wide) { Position = kind == "vbox" ? 'b' : 't', Height = height }, blocks);
            case ("box" or "copy") and { } take:
                Scoped<StoredBox?> register = BoxRegister(Machine.Quantities.ScanInteger());
                StoredBox? box = register.Value;
                if (take == "box")
                {
                    Machine.Assign(register, null);
                }

                return box is null ? null : box with { Inlines = [Packed(box)] };
            case "raise" or "lower":
                double rise = Machine.Quantities.ScanDimension().Points * (command.IsCommand("lower") ? -1 : 1);
                return ReadBox(Machine.NextExpanded()) is { } inner ? Store(new BoxInline(inner.Inlines) { Rise = rise }) : null;
            case "moveleft" or "moveright":
                double shift = Machine.Quantities.ScanDimension().Points * (command.IsCommand("moveleft") ? -1 : 1);
                return ReadBox(Machine.NextExpanded()) is { } moved
                    ? Store(new BoxInline([new SpaceInline(Glue.Of(shift), false), .. moved.Inlines]))
                    : null;
            default:
                Machine.PutBack(command);
                Findings.Fix("wrong-use", command.Position >= 0 ? command.Position : Machine.Input.CurrentPosition, command.Length,
                    $"A box is wanted here, and {command} makes none.", "Write \\hbox{…}, \\vbox{…} or \\box with a register's number.");
                return null;
        }
    }

    /// <summary>Reads a box that isn't printed where it stands.</summary>
    internal IReadOnlyList<Inline> ReadBoxContent() => ReadBox(Machine.NextExpanded())?.Inlines ?? [];

    private double? ReadBoxWidth(out double spread)
    {
        spread = 0;
        if (Machine.Quantities.TakeKeyword("to"))
        {
            return Machine.Quantities.ScanDimension().Points;
        }

        if (Machine.Quantities.TakeKeyword("spread"))
        {
            spread = Machine.Quantities.ScanDimension().Points;
        }

        return null;
    }

    private void PlaceBox(Token token)
    {
        string name = ((BuiltInCommand)token.Symbol!.Meaning.Value!).Name;
        if (name.StartsWith("un", StringComparison.Ordinal))
        {
            Scoped<StoredBox?> register = BoxRegister(Machine.Quantities.ScanInteger());
            if (register.Value is { } stored)
            {
                if (stored.Blocks is { } blocks)
                {
                    foreach (Block block in blocks)
                    {
                        Builder.AddBlock(block);
                    }
                }
                else
                {
                    foreach (Inline inline in stored.Inlines.SelectMany(i => i is BoxInline b ? b.Content : [i]))
                    {
                        Builder.AddInline(inline);
                    }
                }

                if (!name.EndsWith("copy", StringComparison.Ordinal))
                {
                    Machine.Assign(register, null);
                }
            }

            return;
        }

        if (ReadBox(token) is not { } box)
        {
            return;
        }

        if (Builder.Formulas.Math is null && Builder.Frames.Peek() is { Paragraph: null, InlineOnly: false })
        {
            // Between paragraphs a box is a line of its own.
            Builder.AddBlock(new ParagraphBlock(box.Inlines, Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Left, SpaceAbove = default }));
            return;
        }

        foreach (Inline inline in box.Inlines)
        {
            AddBoxed(inline, token);
        }
    }
}
