using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>From the main file's first sign to its last: what is missing, what is too much, and what is left open at the end.</summary>
internal sealed class DocumentReader(DocumentBuilder builder) : ReadingFeature(builder)
{
    private bool _isCut;

    internal void ReadDocument(ManuscriptFile? main)
    {
        if (main is null)
        {
            Findings.Fix("missing-main-file", PositionTable.None, 0,
                $"The main file {Builder.Options.MainFile} isn't there.", "Choose another main file, or put this one back.");
        }
        else if (string.IsNullOrWhiteSpace(main.Text))
        {
            Findings.Fix("empty-manuscript", Machine.Positions.Register(main), 0, "The manuscript is empty.",
                "Begin with \\documentclass{article}, \\begin{document} and some words.");
        }
        else
        {
            Builder.MissingBegin = !main.Text.Contains("\\begin{document}", StringComparison.Ordinal);
            Machine.Input.OpenFile(main);
            RunToTheEnd();
            FinishDocument(main);
        }

        if (!Builder.DocumentBegun)
        {
            Builder.Pages.BeginDocument();
        }

        Builder.EndParagraph();
        while (Builder.Frames.Count > 1)
        {
            Builder.EndParagraph();
            List<Block> left = Builder.Frames.Pop().Blocks;
            Builder.Frames.Peek().Blocks.AddRange(left);
        }

        foreach (Action action in Builder.Hooks.ActionsAtEnd)
        {
            action();
        }

        Builder.References.ResolveDeferred();
        if (!_isCut)
        {
            FileChecks.Run(Builder.SourceFiles, Builder.Options.MainFile, Machine.Positions, Findings);
            StraightQuotes.Run(Builder.Text.StraightQuotes, Machine.Symbol("enquote").Meaning.Value is not null, Machine.Positions, Findings);
        }
    }

    private void RunToTheEnd()
    {
        try
        {
            Builder.Dispatcher.Run();
        }
        catch (Exception e) when (e is MarkupLimitException or WorkLimitException)
        {
            ReportLimit(e);
            _isCut = true;
            Builder.Budget.Begin(WorkBudget.Ending, WorkBudget.EndingUntil);
        }
    }

    internal void ReportLimit(Exception e)
    {
        const string Advice = "The proof ends here. Look for something that repeats without end.";
        if (e is MarkupLimitException limit)
        {
            Findings.Fix(limit.Code, limit.Position, 1, limit.Message, Advice);
        }
        else if (e is WorkLimitException { Limit: WorkLimit.Time })
        {
            Findings.Fix("too-slow", Machine.Input.CurrentPosition, 1, "The commands of this manuscript take longer than the compiler allows.", Advice);
        }
        else if (e is WorkLimitException)
        {
            Findings.Fix("too-much-text", Machine.Input.CurrentPosition, 1, "The commands here make more text than the compiler takes.", Advice);
        }
    }

    private void FinishDocument(ManuscriptFile main)
    {
        if (!Builder.DocumentEnded)
        {
            // What a limit cut short isn't the writer's to close.
            foreach (Group group in _isCut ? [] : Machine.Groups.Reverse())
            {
                Builder.Environments.ReportUnclosed(group);
            }

            while (Machine.Groups.Count > 0)
            {
                Builder.Environments.CloseInnermost();
            }

            if (Builder.DocumentBegun && !Builder.MissingBegin && !_isCut)
            {
                int end = Machine.Positions.Register(main) + main.Text.Length;
                Findings.Fix("missing-end-document", Math.Max(0, end - 1), 1, "The document isn't ended by \\end{document}.",
                    "Put it on the last line.", new Repair(end, 0, "\n\\end{document}\n"));
            }
        }

        if (Builder.MissingBegin)
        {
            int start = Machine.Positions.Register(main);
            // It belongs at the beginning of the line with the first thing that prints.
            int at = Builder.FirstPrinted >= start && Builder.FirstPrinted < start + main.Text.Length ? Builder.FirstPrinted - start : 0;
            int line = at == 0 ? 0 : main.Text.LastIndexOf('\n', at - 1) + 1;
            Findings.Fix("missing-begin-document", start + line, 1, $"The main file {main.Path} has no \\begin{{document}}.",
                "What comes before it is the preamble, what comes after it is printed. It was taken to belong here.",
                new Repair(start + line, 0, "\\begin{document}\n"));
        }
    }
}
