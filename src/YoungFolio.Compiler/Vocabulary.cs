using System.Runtime.CompilerServices;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Markup;

namespace YoungFolio.Compiler;

/// <summary>The names that a manuscript's own files define and use. What a file has is read once, as long as it doesn't change.</summary>
internal static class Vocabulary
{
    private static readonly ConditionalWeakTable<ManuscriptFile, TypedNames> s_names = [];

    /// <summary>The definitions of all files that were read, and the uses together.</summary>
    public static (IReadOnlyList<DefinitionLine> Definitions, IReadOnlyDictionary<string, int> Uses) Of(PositionTable positions)
    {
        var definitions = new List<DefinitionLine>();
        var uses = new SortedDictionary<string, int>(StringComparer.Ordinal);
        foreach ((int first, ManuscriptFile file) in positions.Files.Where(f => Path.GetExtension(f.File.Path) is ".tex" or ".sty" or ".cls" or ".ltx"))
        {
            TypedNames names = s_names.GetValue(file, static f => TypedNames.Of(f.Text));
            definitions.AddRange(names.Definitions.Select(d => new DefinitionLine(KindOf(d.Kind), d.Name, d.Form, d.Text, file.Path, positions.Locate(first + d.Offset)?.Line ?? 1)));
            foreach ((string name, int count) in names.Uses)
            {
                uses[name] = uses.GetValueOrDefault(name) + count;
            }
        }

        return (definitions, uses);
    }

    private static string KindOf(DefinedKind kind) => kind switch
    {
        DefinedKind.Command => "command",
        DefinedKind.Environment => "environment",
        DefinedKind.Length => "length",
        DefinedKind.Counter => "counter",
        DefinedKind.Colour => "colour",
        _ => "entry",
    };
}
