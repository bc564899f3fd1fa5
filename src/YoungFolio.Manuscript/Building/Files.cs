using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Manuscripts of many parts.
public sealed partial class DocumentBuilder
{
    private readonly List<string> _graphicsFolders = [];
    private HashSet<string>? _includeOnly;

    private void DefineFiles()
    {
        Machine.Define("input", (m, t) => Input(t, false));
        Machine.Define("include", (m, t) => Input(t, true));
        Machine.Define("includeonly", (m, t) => _includeOnly = [.. Split(m.ReadText(t))]);
    }

    private void Input(Token token, bool include)
    {
        List<Token> argument;
        if (!include && !Machine.Peek().Is(Category.BeginGroup))
        {
            argument = [];
            for (Token t = Machine.NextExpanded(); t.Category is Category.Letter or Category.Other; t = Machine.NextExpanded())
            {
                argument.Add(t);
            }
        }
        else
        {
            argument = Machine.ReadArgument(token);
        }

        string name = Machine.ExpandToText(argument).Trim().Trim('"');
        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        if (include && _includeOnly is not null && !_includeOnly.Contains(name))
        {
            return;
        }

        if (Resolve(name, ["", ".tex"], token, at) is not { } part)
        {
            return;
        }

        if (Machine.OpenParts.Contains(part.Path))
        {
            Findings.Fix("part-in-itself", at, Math.Max(1, name.Length), $"The part {part.Path} takes itself in.",
                "Take this line out; a part can't stand inside itself.");
            return;
        }

        if (Machine.OpenParts.Count() > 50)
        {
            Findings.Fix("nested-too-deep", at, Math.Max(1, name.Length), "Parts are nested more than 50 deep here.", "Flatten their order.");
            return;
        }

        if (include)
        {
            AddBlock(new PageBreakBlock(PageEnd.Clear));
            Machine.Push(Token.Command(Machine.Symbol("clearpage"), PositionTable.None));
        }

        Machine.OpenPart(part);
    }

    /// <summary>Finds a part by the name that the source gives; null, with a finding, when there is none.</summary>
    private Part? Resolve(string name, string[] extensions, Token token, int at)
    {
        if (Normalise(name) is not { } path)
        {
            Findings.Fix("part-outside", at, Math.Max(1, name.Length), $"“{name}” lies outside the manuscript.",
                "Only the manuscript's own parts can be read; put the file among them.");
            return null;
        }

        foreach (string extension in extensions)
        {
            if (_parts.Find(path + extension) is { } part)
            {
                return part;
            }
        }

        string wanted = System.IO.Path.HasExtension(path) ? path : path + extensions[^1];
        string? near = _parts.Paths.FirstOrDefault(p => string.Equals(p, wanted, StringComparison.OrdinalIgnoreCase)
                || System.IO.Path.GetFileName(p) == System.IO.Path.GetFileName(wanted))
            ?? NearestName.Find(wanted, _parts.Paths);
        Findings.Fix("missing-part", at, Math.Max(1, name.Length), $"The part “{name}” that {token} names isn't there.",
            near is null ? "Upload it, or correct the name." : $"Did you mean {near}?",
            near is null ? null : new Repair(at, name.Length, near));
        return null;
    }

    // Works out . and .. ; null when the path leaves the manuscript.
    private static string? Normalise(string name)
    {
        var result = new List<string>();
        foreach (string step in name.Replace('\\', '/').Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            if (step == "..")
            {
                if (result.Count == 0)
                {
                    return null;
                }

                result.RemoveAt(result.Count - 1);
            }
            else if (step != ".")
            {
                result.Add(step);
            }
        }

        return name.StartsWith('/') ? null : string.Join('/', result);
    }
}
