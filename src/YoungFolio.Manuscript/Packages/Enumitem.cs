using System.Globalization;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Keys of lists: the package enumitem, and the numbering by example of enumerate and paralist.</summary>
internal static class Enumitem
{
    public static void Load(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        Machine machine = load.Machine;
        bool byExample = load.Has("shortlabels");
        // Settings for all lists, for a kind, and for a kind at a depth, in that order.
        var settings = new List<(string Kind, int Depth, List<ListedOption> Options)>();
        ListSetup Apply(string kind, int depth, ListSetup setup, IReadOnlyList<ListedOption> given, Token token)
        {
            var all = new List<ListedOption>();
            foreach ((string wanted, int wantedDepth, List<ListedOption> options) in settings)
            {
                if ((wanted.Length == 0 || wanted == kind || wanted == KindOf(setup)) && (wantedDepth == 0 || wantedDepth == depth))
                {
                    all.AddRange(options);
                }
            }

            all.AddRange(given);
            return ApplyKeys(builder, setup, all, byExample, token);
        }

        builder.Lists.ListOptions = Apply;
        machine.Define("setlist", (m, t) =>
        {
            m.TakeStar();
            List<Token>? which = m.ReadOptional(t);
            List<ListedOption> options = ListedOption.Of(m, m.ReadArgument(t));
            string[] names = which is null ? [""] : PreambleCommands.Split(m.ExpandToText(which));
            int[] depths = [.. names.Select(n => int.TryParse(n, out int d) ? d : 0).Where(d => d > 0)];
            string[] kinds = [.. names.Where(n => !int.TryParse(n, out _))];
            foreach (string kind in kinds.Length == 0 ? [""] : kinds)
            {
                foreach (int depth in depths.Length == 0 ? [0] : depths)
                {
                    settings.Add((kind, depth, options));
                }
            }
        });
        foreach (string name in (string[])["newlist", "renewlist"])
        {
            machine.Define(name, (m, t) =>
            {
                string list = m.ReadText(t);
                string kind = m.ReadText(t);
                int depth = m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 4;
                if (kind.EndsWith('*'))
                {
                    builder.Lists.DefineInlineList(list, kind[..^1]);
                }
                else
                {
                    builder.Lists.DefineListKind(list, kind, depth);
                }
            });
        }

        machine.Define("setlistdepth", (m, t) => m.ReadArgument(t));
        machine.Define("restartlist", (m, t) => builder.PackageServices.ForgetList(m.ReadText(t)));
        machine.Define("SetEnumerateShortLabel", (m, t) =>
        {
            m.ReadArgument(t);
            m.ReadArgument(t);
        });
        foreach (string kind in (string[])["enumerate", "itemize", "description"])
        {
            builder.Lists.DefineInlineList(kind + "*", kind);
        }
    }

    // A list of one's own is known by its counter.
    private static string KindOf(ListSetup setup) => setup.Counter.TrimEnd('i', 'v');

    public static void LoadByExample(DocumentBuilder builder) =>
        builder.Lists.ListOptions ??= (_, _, setup, options, token) => ApplyKeys(builder, setup, options, true, token);

    public static void LoadCompact(DocumentBuilder builder)
    {
        LoadByExample(builder);
        Func<string, int, ListSetup, IReadOnlyList<ListedOption>, Token, ListSetup> options = builder.Lists.ListOptions!;
        builder.Machine.Definitions.Load("\\def\\setdefaultenum#1#2#3#4{}\\def\\setdefaultitem#1#2#3#4{}\\def\\setdefaultleftmargin#1#2#3#4#5#6{}");
        foreach ((string name, string kind) in (ReadOnlySpan<(string, string)>)[("compactitem", "itemize"), ("compactenum", "enumerate"),
            ("compactdesc", "description"), ("asparaenum", "enumerate"), ("asparaitem", "itemize")])
        {
            builder.Lists.DefineListKind(name, kind, 4);
        }

        builder.Lists.DefineInlineList("inparaenum", "enumerate");
        builder.Lists.DefineInlineList("inparaitem", "itemize");
        builder.Lists.ListOptions = (kind, depth, setup, given, token) =>
        {
            ListSetup result = options(kind, depth, setup, given, token);
            if (builder.Machine.Groups[^1].Name.StartsWith("compact", StringComparison.Ordinal))
            {
                Close(builder, true);
            }

            return result;
        };
    }

    private static void Close(DocumentBuilder builder, bool outside)
    {
        foreach (string name in outside ? (string[])["itemsep", "parsep", "topsep", "partopsep"] : ["itemsep", "parsep"])
        {
            builder.Machine.Assign(builder.Machine.Registers.NamedGlue(name), default);
        }
    }

    private static ListSetup ApplyKeys(DocumentBuilder builder, ListSetup setup, IReadOnlyList<ListedOption> options, bool byExample, Token token)
    {
        Machine m = builder.Machine;
        foreach (ListedOption option in options)
        {
            List<Token> value = option.Value ?? [];
            Glue Length() => m.Quantities.ParseGlue(value, token) ?? default;
            string Text() => option.Text(m);
            switch (option.Key)
            {
                case "label" or "label*":
                    List<Token> label = NumberLabel(m, value, setup.Counter);
                    setup = setup with
                    {
                        Label = option.Key == "label*" && builder.PackageServices.OuterListCounter is { } outer ? [Token.Command(m.Symbol("the" + outer), token.Position), .. label] : label,
                        Reference = setup.Reference ?? (setup.Counter.Length > 0 ? label : null),
                    };
                    break;
                case "ref":
                    setup = setup with { Reference = NumberLabel(m, value, setup.Counter) };
                    break;
                case "start":
                    setup = setup with { Start = m.Quantities.ParseInteger(value, token) ?? 1 };
                    break;
                case "resume" or "resume*":
                    setup = setup with { Resumes = true };
                    break;
                case "series":
                    break;
                case "nosep":
                    Close(builder, true);
                    break;
                case "noitemsep":
                    Close(builder, false);
                    break;
                case "topsep" or "itemsep" or "parsep" or "partopsep":
                    m.Assign(m.Registers.NamedGlue(option.Key), Length());
                    break;
                case "leftmargin" when Text() is "*" or "!" or "":
                    double width = builder.Boxes.Measure(builder.BuildInlines(WidestLabel(m, setup))).Width;
                    builder.Set("labelwidth", width);
                    builder.Set("leftmargin", width + builder.Get("labelsep"));
                    break;
                case "leftmargin" or "rightmargin" or "labelwidth" or "labelsep" or "itemindent" or "listparindent":
                    if (Text() is not ("*" or "!"))
                    {
                        builder.Set(option.Key, Length().Width.Points);
                    }

                    if (option.Key == "leftmargin" && builder.Get("itemindent") < 0)
                    {
                        builder.Set("itemindent", -builder.Get("leftmargin"));
                    }

                    break;
                case "labelindent":
                    builder.Set("labelwidth", Math.Max(0, builder.Get("leftmargin") - builder.Get("labelsep") - (Text() is "*" or "!" ? 0 : Length().Width.Points)));
                    break;
                case "align":
                    setup = setup with { Alignment = Text() switch { "left" => 'l', "center" or "parleft" => 'c', _ => 'r' } };
                    break;
                case "font" or "format":
                    setup = setup with { Font = value };
                    break;
                case "style":
                    setup = Text() switch
                    {
                        "nextline" or "unboxed" => setup with { NextLine = Text() == "nextline" },
                        "multiline" or "sameline" or "standard" or "nextlines" => setup,
                        _ => setup,
                    };
                    if (Text() is "multiline" or "nextline" && builder.Get("itemindent") < 0)
                    {
                        builder.Set("itemindent", 0);
                        builder.Set("labelwidth", builder.Get("leftmargin") - builder.Get("labelsep"));
                    }

                    break;
                case "wide":
                    builder.Set("leftmargin", 0);
                    builder.Set("itemindent", value.Count > 0 ? Length().Width.Points + 15 : 25);
                    builder.Set("listparindent", 15);
                    builder.Set("labelwidth", 0);
                    setup = setup with { Alignment = 'l' };
                    break;
                case "widest":
                    break;
                case "before" or "before*" or "first" or "first*":
                    builder.Execute([.. value]);
                    break;
                case "after" or "after*" or "itemjoin" or "itemjoin*" or "afterlabel" or "mode" or "beginpenalty" or "midpenalty" or "endpenalty"
                    or "fullwidth" or "lang" or "left":
                    break;
                default:
                    if (byExample && option.Value is null && setup.Counter.Length > 0 && ByExample(m, option.Source, setup.Counter) is { } shown)
                    {
                        setup = setup with { Label = shown, Reference = shown };
                        break;
                    }

                    builder.Findings.Check("unknown-option", option.Position >= 0 ? option.Position : token.Position, option.Length,
                        $"Lists have no option “{option.Key}” here.", "It was passed over.");
                    break;
            }
        }

        return setup;
    }

    // The widest label of a list is taken to be that of number 8, as documented for one figure.
    private static List<Token> WidestLabel(Machine m, ListSetup setup)
    {
        if (setup.Counter.Length > 0 && m.Counters.Find(setup.Counter) is { } counter)
        {
            m.Assign(counter, 8, true);
        }

        return [.. setup.Label];
    }

    // \arabic* and its like count in the list's own counter.
    private static List<Token> NumberLabel(Machine m, List<Token> label, string counter)
    {
        var result = new List<Token>();
        foreach (Token token in label)
        {
            if (token.IsCharacter('*') && result.Count > 0 && result[^1].Symbol is { Name: "arabic" or "roman" or "Roman" or "alph" or "Alph" or "fnsymbol" })
            {
                result.AddRange(TokenLists.Braced([.. counter.Select(c => Token.Character(c, Category.Letter, token.Position))], token.Position));
            }
            else
            {
                result.Add(token);
            }
        }

        return result;
    }

    // [(a)] shows how numbers look: the first of A a I i 1 outside braces stands for the number.
    private static List<Token>? ByExample(Machine m, List<Token> example, string counter)
    {
        var result = new List<Token>();
        bool found = false;
        int depth = 0;
        foreach (Token token in example)
        {
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            string? format = found || depth > 0 || token.Symbol is not null ? null : token.Code switch
            {
                'A' => "Alph",
                'a' => "alph",
                'I' => "Roman",
                'i' => "roman",
                '1' => "arabic",
                _ => null,
            };
            if (format is null)
            {
                result.Add(token);
                continue;
            }

            found = true;
            result.Add(Token.Command(m.Symbol(format), token.Position));
            result.AddRange(TokenLists.Braced([.. counter.Select(c => Token.Character(c, Category.Letter, token.Position))], token.Position));
        }

        return found ? result : null;
    }
}
