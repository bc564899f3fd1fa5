using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The main loop: carries out what comes from the machine, in a paragraph, between paragraphs and in formulas.</summary>
internal sealed class TokenDispatcher(DocumentBuilder builder) : ReadingFeature(builder)
{
    private int _everyParPosition = PositionTable.None;
    private int _everyParTimes;

    /// <summary>Carries out tokens until the scan's stop or the end of all input.</summary>
    internal void Run()
    {
        while (true)
        {
            try
            {
                // Plain words of a paragraph are taken at once.
                if (Builder.Formulas.Math is null && Builder.DocumentBegun && Builder.Frames.Peek().Paragraph is { } paragraph && Machine.Input.TryTakeWords(out ReadOnlySpan<char> words, out int position))
                {
                    paragraph.AppendWords(words, position, Builder.Style.Value);
                    continue;
                }

                Token token = Machine.NextExpanded();
                if (token.Is(Category.Stop))
                {
                    return;
                }

                Carry(token);
            }
            catch (RunawayException)
            {
                // The finding is made and the macro is gone; go on with the source.
            }
        }
    }

    internal void Carry(Token token)
    {
        if (token.Symbol is not { } symbol)
        {
            CarryCharacter(token, token.Category, token.Code);
            return;
        }

        switch (symbol.Meaning.Value)
        {
            case null:
                Builder.UnknownNames.ReportUnknownCommand(token);
                break;
            case BuiltInCommand command:
                command.Execute(Machine, token);
                break;
            case CharacterMeaning character:
                CarryCharacter(token, character.Category, character.Code);
                break;
            case ConstantMeaning { IsMathCharacter: true }:
                Builder.Formulas.StrayMathematics(token);
                break;
            case ConstantMeaning constant:
                Builder.AddCharacter(constant.Value, token.Position);
                break;
            case SymbolMeaning:
                Builder.Formulas.StrayMathematics(token);
                break;
            case { IsExpandable: true }:
                // \noexpand stood before it: it means nothing for once.
                break;
            case var register:
                Machine.Assignments.AssignRegister(register, token);
                break;
        }
    }

    private void CarryCharacter(Token token, Category category, int code)
    {
        switch (category)
        {
            case Category.Letter or Category.Other:
                if (BeginsParagraph(token))
                {
                    break;
                }

                Builder.AddCharacter(code, token.Position);
                break;
            case Category.Space:
                Builder.AddSpace(token.Position);
                break;
            case Category.BeginGroup:
                Machine.BeginGroup(GroupKind.Brace, "", token.Position);
                break;
            case Category.EndGroup:
                CarryEndBrace(token);
                break;
            case Category.MathShift:
                if (!BeginsParagraph(token))
                {
                    Builder.Formulas.InlineFormula(token);
                }

                break;
            case Category.Superscript or Category.Subscript:
                Builder.Formulas.StrayScript(token);
                break;
            case Category.Alignment when Builder.Tables.EndCellBy(token):
                break;
            case Category.Alignment:
                Findings.Fix("stray-ampersand", token.Position, 1, "& parts the columns of a table, and there is none here.",
                    "For the sign itself write \\&.", new Repair(token.Position, 1, "\\&"));
                Builder.AddCharacter('&', token.Position);
                break;
            case Category.Parameter:
                Findings.Fix("stray-hash", token.Position, 1, "# stands for a parameter in a definition, and there is none here.",
                    "For the sign itself write \\#.", new Repair(token.Position, 1, "\\#"));
                Builder.AddCharacter('#', token.Position);
                break;
        }
    }

    // \everypar is read before the first sign of a paragraph (The TeXbook, p. 105).
    private bool BeginsParagraph(Token token)
    {
        if (!Builder.DocumentBegun || Builder.Text.EveryPar.Value.Length == 0 || Builder.Frames.Peek() is not { Paragraph: null } frame)
        {
            return false;
        }

        // A paragraph that \\everypar itself ends begins again and again.
        _everyParTimes = Machine.Input.LastSourcePosition == _everyParPosition ? _everyParTimes + 1 : 0;
        _everyParPosition = Machine.Input.LastSourcePosition;
        if (_everyParTimes > 1_000)
        {
            throw new MarkupLimitException("endless-macro", "\\everypar begins new paragraphs without end.", Machine.Input.CurrentPosition);
        }

        frame.Paragraph = new InlineCollector();
        Machine.PutBack(token);
        Machine.Push(Builder.Text.EveryPar.Value);
        return true;
    }

    private void CarryEndBrace(Token token)
    {
        if (Machine.Groups.Count > 0 && Machine.Groups[^1].Kind == GroupKind.Brace)
        {
            Machine.EndGroup();
            return;
        }

        if (Machine.Groups.Count > 0 && Machine.Groups[^1].Kind == GroupKind.Command && token.Position == PositionTable.None)
        {
            Machine.EndGroup();
            return;
        }

        Findings.Fix("surplus-brace", token.Position, 1, "This } closes nothing.",
            "Delete it, or put { where its group begins.", new Repair(token.Position, 1, ""));
    }
}
