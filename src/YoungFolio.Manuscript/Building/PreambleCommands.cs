using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The preamble: the document class, packages, their options, and class and style files that are files of the manuscript.</summary>
internal sealed partial class PreambleCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal List<LoadedPackage> Packages { get; } = [];
    private readonly Dictionary<string, (int Position, int Order)> _packagePlaces = new(StringComparer.Ordinal);
    private readonly Dictionary<string, List<Token>> _passedOptions = new(StringComparer.Ordinal);
    private readonly Stack<OptionScope> _optionScopes = new();
    internal List<ListedOption> ClassOptions { get; set; } = [];
    internal int ClassPosition { get; set; } = PositionTable.None;

    /// <summary>What a class or style file declares about its options.</summary>
    private sealed class OptionScope(string name, bool isClass, List<ListedOption> given)
    {
        public string Name => name;

        public bool IsClass => isClass;

        public List<ListedOption> Given => given;

        public List<(string Name, List<Token> Code)> Declared { get; } = [];

        public List<Token>? Otherwise { get; set; }

        public List<Token> AtEnd { get; } = [];
    }

    /// <summary>Options given to the class or style file being read.</summary>
    internal IReadOnlyList<ListedOption> GivenOptions => _optionScopes.TryPeek(out OptionScope? scope) ? scope.Given : [];

    /// <summary>The class or package whose file is being read; empty in the manuscript.</summary>
    internal string NameOfFile => _optionScopes.TryPeek(out OptionScope? scope) ? scope.Name : "";

    /// <summary>Whether a class's own file is being read.</summary>
    internal bool ReadsClass => _optionScopes.TryPeek(out OptionScope? scope) && scope.IsClass;

    /// <summary>The packages that have been asked for, in order.</summary>
    internal IReadOnlyList<LoadedPackage> LoadedPackages => Packages;

    internal void DefinePreamble()
    {
        Machine.Define("documentclass", (_, t) => ReadDocumentClass(t));
        Machine.Define("documentstyle", (_, t) =>
        {
            Findings.Check("old-command", t.Position, t.Length, "\\documentstyle is the old form of \\documentclass.",
                "Write \\documentclass.", new Repair(t.Position, t.Length, "\\documentclass"));
            ReadDocumentClass(t);
        });
        Machine.Define("usepackage", (_, t) => ReadPackages(t, null));
        Machine.Define("RequirePackage", (_, t) => ReadPackages(t, null));
        Machine.Define("RequirePackageWithOptions", (_, t) => ReadPackages(t, _optionScopes.TryPeek(out OptionScope? scope) ? scope.Given : []));
        Machine.Define("LoadClass", (m, t) => LoadClass(t, ListedOption.Of(m, m.ReadOptional(t))));
        Machine.Define("LoadClassWithOptions", (_, t) => LoadClass(t, _optionScopes.TryPeek(out OptionScope? scope) ? scope.Given : []));
        foreach (string name in (string[])["ProvidesPackage", "ProvidesClass", "ProvidesFile", "NeedsTeXFormat"])
        {
            Machine.Define(name, (m, t) =>
            {
                m.ReadArgument(t);
                m.ReadOptional(t);
            });
        }

        foreach (string name in (string[])["PassOptionsToPackage", "PassOptionsToClass"])
        {
            Machine.Define(name, (m, t) =>
            {
                List<Token> options = m.ReadArgument(t);
                string target = m.ReadText(t);
                _passedOptions[target] = _passedOptions.TryGetValue(target, out List<Token>? known)
                    ? [.. known, Token.Character(',', Category.Other, t.Position), .. options]
                    : options;
            });
        }

        Machine.Define("DeclareOption", (m, t) =>
        {
            bool star = m.TakeStar();
            string name = star ? "*" : m.ReadText(t);
            List<Token> code = m.ReadArgument(t);
            if (!_optionScopes.TryPeek(out OptionScope? scope))
            {
                return;
            }

            if (star)
            {
                scope.Otherwise = code;
            }
            else
            {
                scope.Declared.RemoveAll(d => d.Name == name);
                scope.Declared.Add((name, code));
            }
        });
        Machine.Define("ProcessOptions", (m, t) =>
        {
            bool inOrder = m.TakeStar();
            ProcessOptions(t, inOrder);
        });
        Machine.Define("@options", (_, t) => ProcessOptions(t, true));
        Machine.Define("ExecuteOptions", (m, t) =>
        {
            foreach (ListedOption option in ListedOption.Of(m, m.ReadArgument(t)))
            {
                if (_optionScopes.TryPeek(out OptionScope? scope) && scope.Declared.Find(d => d.Name == option.Key) is { Code: { } code })
                {
                    ExecuteOption(option, code, t);
                }
            }
        });
        Machine.Define("OptionNotUsed", static (_, _) => { });
        Machine.Definitions.DefineMacro("CurrentOption", "");
        foreach (string name in (string[])["AtEndOfPackage", "AtEndOfClass"])
        {
            Machine.Define(name, (m, t) =>
            {
                List<Token> code = m.ReadArgument(t);
                if (_optionScopes.TryPeek(out OptionScope? scope))
                {
                    scope.AtEnd.AddRange(code);
                }
            });
        }

        foreach ((string name, Func<string, bool> test) in (ReadOnlySpan<(string, Func<string, bool>)>)[
            ("@ifpackageloaded", n => Packages.Exists(p => p.Name == n)), ("@ifclassloaded", n => Builder.Class.Name == n),
            ("IfPackageLoadedTF", n => Packages.Exists(p => p.Name == n)), ("IfClassLoadedTF", n => Builder.Class.Name == n)])
        {
            Machine.Define(name, (m, t) =>
            {
                bool holds = test(m.ReadText(t));
                List<Token> yes = m.ReadArgument(t);
                List<Token> no = m.ReadArgument(t);
                m.Push(holds ? yes : no);
            });
        }

        // Whatever there is here is as new as it is asked for, and what options it was loaded with is not told.
        Machine.Definitions.Load("\\def\\@ifpackagelater#1#2{\\@ifpackageloaded{#1}}\\def\\@ifpackagewith#1#2{\\@ifpackageloaded{#1}}\\def\\@ptsize{0}");

        // Engine tests answer as a modern Unicode engine with PDF output.
        foreach ((string name, bool answer) in (ReadOnlySpan<(string, bool)>)[("ifpdf", true), ("ifxetex", false), ("ifluatex", true), ("ifPDFTeX", false),
            ("ifXeTeX", false), ("ifLuaTeX", true), ("iftutex", true)])
        {
            Machine.Conditionals.Define(name, _ => answer);
        }

        KeyCommands.Define(Builder);
        KeyDeclarations.Define(Builder);
    }

    // ---- the class -------------------------------------------------------------------------------------

    internal void UseClass(DocumentClass documentClass)
    {
        Builder.Class = documentClass;
        Machine.Definitions.Load(ClassDefinitions.Common);
        foreach ((string counter, string? within) in documentClass.Counters)
        {
            Machine.Counters.Add(counter, within);
        }

        Machine.Definitions.Load(documentClass.Definitions);
        Machine.Definitions.Load(documentClass.HasChapters ? "\\toc@chapters" : "\\toc@sections");
        Machine.Assign(Builder.HeadingCommands.NumberDepth, documentClass.NumberDepth, true);
        Machine.Assign(Builder.HeadingCommands.ContentsDepth, documentClass.ContentsDepth, true);
        Machine.Conditionals.SetSwitch("@titlepage", documentClass.HasTitlePage, true);
        Machine.Conditionals.SetSwitch("@openright", documentClass.OpensRight, true);
        Machine.Conditionals.SetSwitch("@twoside", documentClass.IsTwoSided, true);
        Machine.Conditionals.SetSwitch("@mainmatter", true, true);
        Builder.HeadingCommands.UseHeadings(documentClass);
        Builder.Pages.TwoSided = documentClass.IsTwoSided;
        Builder.PageStyles.PageStyleName = documentClass.PageStyle;
        Machine.Definitions.Offer(!documentClass.HasMatter, "frontmatter", "mainmatter", "backmatter");
        documentClass.Extend(Builder);
        Language.Of(Builder.Language.Value).DefineCaptions(Machine);
    }

    internal bool HasTitlePage => IsOn("@titlepage");

    /// <summary>Whether a switch made by <c>\newif</c> is on.</summary>
    internal bool IsOn(string name) => Machine.Conditionals.IsSwitchOn(name);

    private void ReadDocumentClass(Token token)
    {
        List<ListedOption> options = ListedOption.Of(Machine, Machine.ReadOptional(token));
        List<Token> argument = Machine.ReadArgument(token);
        Machine.ReadOptional(token);
        string name = Machine.ExpandToText(argument).Trim();
        if (ClassPosition != PositionTable.None)
        {
            Findings.Fix("second-class", token.Position, token.Length, "The manuscript has a document class already.", "Keep one \\documentclass.");
            return;
        }

        ClassPosition = token.Position;
        ClassOptions = options;
        if (_passedOptions.Remove(name, out List<Token>? passed))
        {
            options = [.. ListedOption.Of(Machine, passed), .. options];
        }

        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        if (ClassCatalogue.Find(name) is { } found)
        {
            ApplyClass(found, options, name);
        }
        else if (StandInClass.Find(name) is { } standIn)
        {
            Findings.Check("class-stands-in", at, Math.Max(1, name.Length), $"The class {name} doesn't ship; one of ours stands in for it.",
                $"Its commands for titles, authors and the like are known; the page is {(standIn.HasOwnPage ? "about as that class has it" : "that of " + standIn.Base.Name)}."
                + (Builder.SourceFiles.Find(name + ".cls") is null ? "" : $" The file {name}.cls isn't read; under a name of your own it is."));
            ApplyStandIn(standIn, options, name);
        }
        else if (name is "subfiles" or "standalone")
        {
            ApplyClass(new ArticleClass(), [.. options.Where(o => name == "standalone" && o.Key.EndsWith("pt", StringComparison.Ordinal))], name);
        }
        else if (Builder.SourceFiles.Find(name + ".cls") is { } file)
        {
            LoadFile(file, new OptionScope(name, true, options), token);
        }
        else
        {
            string? near = NearestName.Find(name, ClassCatalogue.All.Select(c => c.Name));
            DocumentClass instead = ClassCatalogue.Standing(name);
            Findings.Fix("unknown-class", at, Math.Max(1, name.Length), $"There is no document class “{name}” here.",
                $"The manuscript was set in the class {instead.Name}. Available: {string.Join(", ", ClassCatalogue.All.Select(c => c.Name))}; "
                + $"or put the group's own {name}.cls among the files.",
                near is not null && argument.Count > 0 ? new Repair(at, name.Length, near) : null);
            ApplyClass(instead, options, name, report: false);
        }

        Builder.Text.SetSize("normalsize");
    }

    private void LoadClass(Token token, List<ListedOption> options)
    {
        List<Token> argument = Machine.ReadArgument(token);
        Machine.ReadOptional(token);
        string name = Machine.ExpandToText(argument).Trim();
        if (_passedOptions.Remove(name, out List<Token>? passed))
        {
            options = [.. ListedOption.Of(Machine, passed), .. options];
        }

        if (ClassCatalogue.Find(name) is { } found)
        {
            // Options that a class file hands on may be meant for itself alone.
            ApplyClass(found, options, name, report: false);
            Builder.Text.SetSize("normalsize");
        }
        else if (StandInClass.Find(name) is { } standIn)
        {
            ApplyStandIn(standIn, options, name);
            Builder.Text.SetSize("normalsize");
        }
        else if (Builder.SourceFiles.Find(name + ".cls") is { } file)
        {
            LoadFile(file, new OptionScope(name, true, options), token);
        }
        else
        {
            Findings.Fix("unknown-class", token.Position, token.Length, $"There is no document class “{name}” here.",
                "The class article was used in its place.");
        }
    }

    private void ApplyStandIn(StandInClass standIn, List<ListedOption> options, string name)
    {
        bool two = standIn.HasTwoColumns([name, .. options.Select(o => o.Key)]);
        ApplyClass(standIn.Base, [.. options, .. two ? ListedOption.Of(Machine, Machine.Tokenize("twocolumn", PositionTable.None)) : []], name, report: false, standIn);
    }

    private void ApplyClass(DocumentClass found, List<ListedOption> options, string name, bool report = true, StandInClass? standIn = null)
    {
        UseClass(found);
        if (standIn is not null)
        {
            // What it loads may ask for measures, and may change them.
            ApplySizes();
            standIn.Extend(Builder);
        }

        ApplySizes();

        // The type's size comes first: all measures follow from it, and other options change them.
        void ApplySizes()
        {
            foreach (ListedOption option in options.Where(IsTypeSize))
            {
                ApplyClassOption(option);
            }

            Builder.StandardMeasures.Apply();
        }

        foreach (ListedOption option in options)
        {
            if (!ApplyClassOption(option) && report)
            {
                Findings.Check("unknown-option", option.Position >= 0 ? option.Position : ClassPosition, option.Length, $"The class {name} has no option “{option.Key}”.",
                    option.Key.EndsWith("pt", StringComparison.Ordinal)
                        ? "Its type sizes are 10pt, 11pt and 12pt." : "It was passed over.");
            }
        }

        if (Builder.PageMeasures.Columns > 1)
        {
            Builder.StandardMeasures.ApplyColumns();
        }

        Builder.PageMeasures.PublishGeometry();
    }

    private static bool IsTypeSize(ListedOption option) => option.Key is "10pt" or "11pt" or "12pt" or "fontsize";

    private bool ApplyClassOption(ListedOption option)
    {
        string name = option.Key;
        switch (name)
        {
            case "10pt" or "11pt" or "12pt":
                Builder.BasicSize = int.Parse(name.AsSpan(0, 2), CultureInfo.InvariantCulture);
                Machine.Definitions.DefineMacro("@ptsize", name[1..2]);
                return true;
            case "titlepage" or "notitlepage":
                Machine.Conditionals.SetSwitch("@titlepage", name == "titlepage", true);
                return true;
            case "oneside" or "twoside":
                Builder.Pages.TwoSided = name == "twoside";
                Machine.Conditionals.SetSwitch("@twoside", Builder.Pages.TwoSided, true);
                return true;
            case "openright" or "openany":
                Machine.Conditionals.SetSwitch("@openright", name == "openright", true);
                return Builder.Class.HasChapters;
            case "landscape":
                (Builder.Pages.PaperWidth, Builder.Pages.PaperHeight) = (Math.Max(Builder.Pages.PaperWidth, Builder.Pages.PaperHeight), Math.Min(Builder.Pages.PaperWidth, Builder.Pages.PaperHeight));
                return true;
            case "draft" or "final":
                Builder.Pages.IsDraft = name == "draft";
                return true;
            case "leqno":
                Builder.Pages.NumbersLeft = true;
                return true;
            case "fleqn":
                Builder.Pages.DisplaysLeft = true;
                return true;
            case "openbib":
                return true;
            case "onecolumn" or "twocolumn":
                Builder.PageMeasures.Columns = name == "twocolumn" ? 2 : 1;
                Machine.Conditionals.SetSwitch("@twocolumn", Builder.PageMeasures.Columns > 1, true);
                return true;
            default:
                if (Builder.Class.ApplyOption(Builder, name, option))
                {
                    return true;
                }

                return (Language.CodeOf(name) is not null && Builder.Text.SelectLanguage(name, default))
                    || (name.EndsWith("paper", StringComparison.Ordinal) && Builder.Pages.SetPaper(name[..^5]));
        }
    }

    // ---- packages --------------------------------------------------------------------------------------

    internal static string[] Split(string list) =>
        list.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    // The command with its arguments goes, and comes in behind the packages that the preamble loads.
    private Repair? MoveIntoPreamble(Token token)
    {
        if (Machine.Positions.Resolve(token.Position) is not var (file, offset) || Builder.UnknownNames.LoadRepair("") is not { } place)
        {
            return null;
        }

        System.Text.RegularExpressions.Match written = LateLoading().Match(file.Text, offset);
        return written.Success ? new Repair(token.Position, written.Length, "") { Also = place with { Text = written.Value.Trim() + "\n" } } : null;
    }

    [System.Text.RegularExpressions.GeneratedRegex(@"\G\\(?:usepackage|RequirePackage)\s{0,3}(?:\[[^\]\n]{0,500}\])?\s{0,3}\{[^}\n]{0,500}\}[ \t]*\n?")]
    private static partial System.Text.RegularExpressions.Regex LateLoading();

    private void ReadPackages(Token token, List<ListedOption>? handedOn)
    {
        List<ListedOption> options = ListedOption.Of(Machine, Machine.ReadOptional(token));
        List<Token> argument = Machine.ReadArgument(token);
        Machine.ReadOptional(token);
        if (Builder.DocumentBegun)
        {
            Findings.Fix("package-too-late", token.Position, token.Length, "Packages are loaded before \\begin{document}.",
                "Move this line into the preamble.", MoveIntoPreamble(token));
            return;
        }

        foreach (List<Token> member in TokenLists.SplitAtCommas(argument))
        {
            string name = Machine.ExpandToText(member).Trim();
            int at = member.Count > 0 ? member[0].Position : token.Position;
            LoadPackage(name, handedOn ?? options, token.At(at >= 0 ? at : token.Position), Math.Max(1, name.Length));
        }
    }

    /// <summary>Loads a package unless it is there already.</summary>
    internal void LoadPackage(string name, List<ListedOption> options, Token token, int length)
    {
        if (_passedOptions.Remove(name, out List<Token>? passed))
        {
            options = [.. ListedOption.Of(Machine, passed), .. options];
        }

        if (Packages.Exists(p => p.Name == name))
        {
            if (options.Count > 0 && PackageCatalogue.Find(name) is { } again)
            {
                again.Load?.Invoke(new PackageLoad(Builder, again, options, token));
            }

            return;
        }

        Package? package = PackageCatalogue.Find(name);
        ManuscriptFile? file = package is null ? Builder.SourceFiles.Find(name + ".sty") : null;
        Packages.Add(new LoadedPackage(name, package is not null || file is not null));
        _packagePlaces[name] = (token.Position, Packages.Count);
        if (file is not null)
        {
            LoadFile(file, new OptionScope(name, false, options), token);
            return;
        }

        if (package is null)
        {
            string? near = NearestName.Find(name, PackageCatalogue.All.Select(p => p.Name));
            Findings.Check("unknown-package", token.Position, length,
                $"The package {name} isn't available here.",
                (near is null ? "" : $"Did you mean {near}? ")
                + "What it defines is missing; each such command is named where it is used, and its text is printed as it stands.");
            return;
        }

        foreach (string required in package.Requires)
        {
            LoadPackage(required, [], token, length);
        }

        if (package.Definitions.Length > 0)
        {
            Machine.Definitions.Load(package.Definitions);
        }

        var load = new PackageLoad(Builder, package, options, token);
        package.Load?.Invoke(load);
        if (package.Options is { } known)
        {
            foreach (ListedOption option in options)
            {
                if (!known.Contains(option.Key) && Language.CodeOf(option.Key) is null && option.Key is not ("draft" or "final"))
                {
                    load.ReportOption(option);
                }
            }
        }
    }

    /// <summary>Says what is wrong with the packages' order and company.</summary>
    internal void CheckPackages()
    {
        foreach (LoadedPackage loaded in Packages)
        {
            if (PackageCatalogue.Find(loaded.Name) is not { } package)
            {
                continue;
            }

            (int position, int order) = _packagePlaces[loaded.Name];
            foreach (string earlier in package.ComesAfter)
            {
                // What a class loads is its own matter.
                if (position >= 0 && _packagePlaces.TryGetValue(earlier, out (int Position, int Order) other) && other.Order > order)
                {
                    Findings.Check("package-order", position, loaded.Name.Length, $"The package {loaded.Name} should be loaded after {earlier}.",
                        $"Other tools give wrong results otherwise; move its line below that of {earlier}. Here the order makes no difference.");
                }
            }

            foreach (string clash in package.Clashes)
            {
                if (_packagePlaces.TryGetValue(clash, out (int Position, int Order) other) && other.Order < order)
                {
                    Findings.Check("package-clash", position, loaded.Name.Length, $"The packages {clash} and {loaded.Name} define the same commands.",
                        $"Keep one of the two. What {loaded.Name} defines was used.");
                }
            }
        }
    }

    // ---- class and style files of the group --------------------------------------------------------------

    private void LoadFile(ManuscriptFile file, OptionScope scope, Token token)
    {
        if (_optionScopes.Count > 20 || Machine.Input.OpenFiles.Contains(file.Path))
        {
            Findings.Fix("file-in-itself", token.Position, token.Length, $"The file {file.Path} takes itself in.", "Take this line out.");
            return;
        }

        Category at = Machine.Categories.Of('@');
        Machine.Categories.Set('@', Category.Letter);
        _optionScopes.Push(scope);
        Machine.Input.ScanFile(file, Builder.Dispatcher.Run);
        if (scope.AtEnd.Count > 0)
        {
            Builder.Execute([.. scope.AtEnd]);
        }

        _optionScopes.Pop();
        Machine.Categories.Set('@', at);
    }

    private void ProcessOptions(Token token, bool inOrder)
    {
        if (!_optionScopes.TryPeek(out OptionScope? scope))
        {
            return;
        }

        if (inOrder)
        {
            foreach (ListedOption option in scope.Given)
            {
                if (scope.Declared.Find(d => d.Name == option.Key) is { Code: { } code })
                {
                    ExecuteOption(option, code, token);
                }
            }
        }
        else
        {
            foreach ((string name, List<Token> code) in scope.Declared)
            {
                ListedOption? given = scope.Given.Find(o => o.Key == name) ?? (scope.IsClass ? null : ClassOptions.Find(o => o.Key == name));
                if (given is not null)
                {
                    ExecuteOption(given, code, token);
                }
            }
        }

        foreach (ListedOption option in scope.Given.Where(o => !scope.Declared.Exists(d => d.Name == o.Key)))
        {
            if (scope.Otherwise is { } otherwise)
            {
                ExecuteOption(option, otherwise, token);
            }
            else if (!scope.IsClass)
            {
                Findings.Check("unknown-option", option.Position >= 0 ? option.Position : token.Position, option.Length,
                    $"The package {scope.Name} has no option “{option.Key}”.", "It was passed over.");
            }
        }
    }

    private void ExecuteOption(ListedOption option, List<Token> code, Token token)
    {
        Machine.Assign(Machine.Symbol("CurrentOption").Meaning, new MacroMeaning
        {
            Pattern = [],
            Arity = 0,
            Body = [.. option.Source.Select(t => t.At(token.Position))],
        });
        Builder.Execute([.. code]);
    }
}
