using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Names that nothing defines: which package gives them, which name may have been meant.</summary>
internal sealed class UnknownNames(DocumentBuilder builder) : ReadingFeature(builder)
{
    // Commands that are written with a brace behind their name.
    private static readonly Lazy<HashSet<string>> s_takes = new(() =>
        [.. Guide.MarkupGuide.Lines.SelectMany(l => l.Names).Where(n => !n.IsEnvironment && n.Form.Contains('{', StringComparison.Ordinal)).Select(n => n.Name)]);

    private readonly Dictionary<string, string?> _nearCommands = new(StringComparer.Ordinal);
    private readonly HashSet<string> _reported = new(StringComparer.Ordinal);
    internal Dictionary<string, string?> NearEnvironments { get; } = new(StringComparer.Ordinal);

    internal void ReportUnknownCommand(Token token)
    {
        string name = token.Symbol!.Name;
        if (HeadingCommands.Names.Contains(name))
        {
            Builder.HeadingCommands.SetAbsent(token);
            return;
        }

        if (Packages.PackageCatalogue.ProviderOf(name) is { } provider)
        {
            Findings.Fix("package-needed", token.Position, token.Length,
                $"{token} needs the package {provider}, which the preamble doesn't load.",
                $"Add \\usepackage{{{provider}}} to the preamble.", LoadRepair(provider));
            return;
        }

        if (Machine.Arguments.SplitRunTogether(token))
        {
            return;
        }

        string? near = Nearest(name);
        // Where nothing can be offered, saying it once is enough: a package that isn't here leaves its commands all over a manuscript.
        if (near is not null || _reported.Add(name))
        {
            Findings.Fix("unknown-command", token.Position, token.Length, $"There is no command {token}.",
                near is not null
                    ? $"Did you mean \\{near}?"
                    : "Check its spelling, or define it with \\newcommand in the preamble. What follows it was printed as it stands.",
                near is not null ? new Repair(token.Position, token.Length, "\\" + near) : null);
        }

        // What a likely slip takes is taken here too, so that it doesn't bring others along. Any other guess is only offered: what follows a wrong one
        // would be garbage.
        if (near is not null && NearestName.IsSlip(name, near) && Machine.Symbol(near).Meaning.Value is { } meaning && MayStandHere(near, meaning))
        {
            Machine.PutBack(Token.Command(Machine.Symbol(near), token.Position));
        }
    }

    // Looking for the nearest of some thousand names takes a while; in a loop it is asked for again and again. The manuscript's own names come first.
    private string? Nearest(string name)
    {
        if (!_nearCommands.TryGetValue(name, out string? near))
        {
            List<string> defined = [.. Machine.Symbols.DefinedNames.Where(n => !n.StartsWith("end", StringComparison.Ordinal) || n.Length < 5)];
            _nearCommands[name] = near = NearestName.Find(name, defined.Where(IsOwn)) ?? NearestName.Find(name, defined.Concat(Packages.PackageCatalogue.AllCommands));
        }

        return near;
    }

    private bool IsOwn(string name) => Machine.Symbol(name).Meaning.Value is MacroMeaning { Position: >= 0 };

    private bool MayStandHere(string name, Meaning meaning)
    {
        if (name is "end" or "begin" or "input" or "include" or "includeonly" or "documentclass" or "usepackage"
            || name.StartsWith("cite", StringComparison.Ordinal) || name.StartsWith("if", StringComparison.Ordinal)
            || (meaning is SymbolMeaning && Builder.Formulas.Math is null) || meaning is ExpandableCommand or RegisterFamily or QuantityCommand)
        {
            return false;
        }

        // A command that takes something in braces isn't meant where no brace follows.
        bool takes = meaning switch
        {
            MacroMeaning macro => macro.Arity > (macro.Default is null ? 0 : 1),
            DocumentCommandMeaning command => command.Arguments.Any(a => a.Kind == 'm'),
            _ => s_takes.Value.Contains(name),
        };
        return !takes || Machine.Peek() is var next && (next.Is(Category.BeginGroup) || next.IsCharacter('[') || next.IsCharacter('*') || next.IsCharacter('('));
    }

    internal Repair? LoadRepair(string package)
    {
        if (Builder.Preamble.ClassPosition == PositionTable.None || Machine.Positions.Resolve(Builder.Preamble.ClassPosition) is not { } place)
        {
            return null;
        }

        int end = place.File.Text.IndexOf('\n', place.Offset);
        return end < 0 ? null : new Repair(Builder.Preamble.ClassPosition - place.Offset + end + 1, 0, $"\\usepackage{{{package}}}\n");
    }
}
