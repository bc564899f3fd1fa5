using System.Text.RegularExpressions;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// The programming layer between \ExplSyntaxOn and \ExplSyntaxOff isn't run: it is passed over with one finding, and the commands and environments that it
/// gives to the text print what they take, so that no words are lost.
/// </summary>
internal sealed partial class ProgrammingLayer(DocumentBuilder builder) : ReadingFeature(builder)
{
    private bool _isSaid;

    internal void Define()
    {
        Machine.Define("ExplSyntaxOn", (_, t) => PassOver(t));
        Machine.Define("ExplSyntaxOff", static (_, _) => { });
        foreach (string name in (string[])["ProvidesExplPackage", "ProvidesExplClass", "ProvidesExplFile"])
        {
            // A file that says so is written in it to its end.
            Machine.Define(name, (m, t) =>
            {
                for (int i = 0; i < 4; i++)
                {
                    m.ReadArgument(t);
                }

                PassOver(t);
            });
        }
    }

    private void PassOver(Token token)
    {
        if (Machine.Input.DirectLexer is not { } lexer)
        {
            return;
        }

        string code = lexer.TakeRawUntil("\\ExplSyntaxOff") ?? lexer.TakeRawBefore("\\endinput") ?? lexer.TakeRawBefore("\\begin{document}") ?? "";
        if (!_isSaid)
        {
            _isSaid = true;
            Findings.Check("programming-layer", token.Position, token.Length, "What stands in the programming layer isn't run here.",
                "Commands that it defines print what they take. Define them without \\ExplSyntaxOn where that is not enough.");
        }

        foreach (Match match in Commands().Matches(code))
        {
            string arguments = match.Groups["arguments"].Value;
            int count = Letters().Count(arguments);
            bool isEnvironment = match.Groups["environment"].Success;
            string name = isEnvironment ? match.Groups["environment"].Value : match.Groups["command"].Value;
            string printed = string.Concat(Enumerable.Range(1, Math.Min(count, 9)).Where(i => Letters().Matches(arguments)[i - 1].Value is "m" or "+m" or "v" or "+b" or "b").Select(i => "#" + i));
            Machine.Push([.. Machine.Tokenize(isEnvironment
                ? $"\\DeclareDocumentEnvironment{{{name}}}{{{arguments}}}{{{printed}}}{{}}"
                : $"\\DeclareDocumentCommand\\{name}{{{arguments}}}{{{printed}}}", token.Position)]);
        }
    }

    [GeneratedRegex(@"\\(?:New|Renew|Provide|Declare)(?:Expandable)?Document(?:Command\s*\{?\s*\\(?<command>[A-Za-z]+)\s*\}?|Environment\s*\{\s*(?<environment>[A-Za-z*]+)\s*\})\s*\{(?<arguments>[^{}]*(?:\{[^{}]*\}[^{}]*)*)\}")]
    private static partial Regex Commands();

    // One match for each argument; what stands in braces is a standard.
    [GeneratedRegex(@"\+?[mbvs]|t.|\+?[oORrDd](?:\([^)]?\)|<>|\(\))?(?:\{[^{}]*\})?|e\{[^{}]*\}")]
    private static partial Regex Letters();
}
