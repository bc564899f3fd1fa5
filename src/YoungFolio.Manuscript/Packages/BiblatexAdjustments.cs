using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Manuscript.Sources;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// What preambles change in biblatex' styles, as people do it (its documentation, 4.5 to 4.10, from memory): fields that aren't printed, how a field
/// looks, the word “in”, the order of names, signs between parts, and words of the language.
/// </summary>
internal static class BiblatexAdjustments
{
    public static void Define(DocumentBuilder builder, CitationCollector desk)
    {
        Machine machine = builder.Machine;
        foreach (string name in (string[])["AtEveryBibitem", "AtEveryCitekey"])
        {
            machine.Define(name, (m, t) =>
            {
                string code = m.ReadArgument(t).ToShownSource();
                if (name == "AtEveryBibitem")
                {
                    Adjust(desk, a => a with { Cleared = [.. a.Cleared, .. Clears(code, [])] });
                }
            });
        }

        machine.Define("DeclareSourcemap", (m, t) =>
        {
            string maps = m.ReadArgument(t).ToShownSource();
            Adjust(desk, a => a with { Cleared = [.. a.Cleared, .. Dropped(maps)] });
        });
        foreach (string name in (string[])["renewbibmacro", "newbibmacro", "providebibmacro"])
        {
            machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                string macro = m.ReadText(t);
                m.ReadOptional(t);
                m.ReadOptional(t);
                string body = m.ReadArgument(t).ToShownSource().Trim();
                if (macro == "in:" && name == "renewbibmacro")
                {
                    Adjust(desk, a => a with { WithoutIn = ConditionOfIn(body) });
                }
            });
        }

        machine.Define("DeclareFieldFormat", (m, t) =>
        {
            bool isForAll = m.TakeStar();
            string[] types = m.ReadOptionalText(t) is { Length: > 0 } listed && !isForAll ? PreambleCommands.Split(listed) : [""];
            string field = m.ReadText(t);
            string format = m.ReadArgument(t).ToShownSource().Replace("##", "#", StringComparison.Ordinal);
            Adjust(desk, a =>
            {
                Dictionary<(string, string), string> formats = a.Formats.Where(f => !isForAll || f.Key.Field != field).ToDictionary(f => f.Key, f => f.Value);
                foreach (string type in types)
                {
                    formats[(type, field)] = format;
                }

                return a with { Formats = formats };
            });
        });
        machine.Define("DeclareNameAlias", (m, t) =>
        {
            m.ReadOptional(t);
            string alias = m.ReadText(t);
            NameForm? form = m.ReadText(t) switch
            {
                "family-given" or "last-first" => NameForm.Inverted,
                "family-given/given-family" or "last-first/first-last" => NameForm.FirstInverted,
                "given-family" or "first-last" => NameForm.GivenFirst,
                _ => null,
            };
            if (form is { } names && alias is "default" or "author" or "sortname")
            {
                desk.Style = desk.Style with { Names = names };
            }
        });
        machine.Define("DefineBibliographyStrings", (m, t) =>
        {
            string? language = Language.CodeOf(m.ReadText(t));
            foreach (ListedOption option in ListedOption.Of(m, m.ReadArgument(t)))
            {
                Word(builder, desk, language, option.Key, option.Value?.ToShownSource().Trim() ?? "");
            }
        });
        machine.Define("DeclareDelimFormat", (m, t) =>
        {
            m.TakeStar();
            m.ReadOptional(t);
            string[] names = PreambleCommands.Split(m.ReadText(t));
            List<Token> sign = m.ReadArgument(t);
            foreach (string name in names)
            {
                machine.Assign(machine.Symbol(name).Meaning, new MacroMeaning { Pattern = [], Body = [.. sign], Arity = 0 }, true);
            }
        });
        machine.Define("DeclareCiteCommand", (m, t) => DeclareCitation(builder, m, t));
        desk.MannerChanges.Add(manner => Delimited(machine, manner));
        desk.WordChanges.Add((null, words => Sign(machine, "finalnamedelim") is { } sign
            ? words with { And = sign.Trim(' ', ',').Replace("\\&", "&", StringComparison.Ordinal).Replace("&", "\\&", StringComparison.Ordinal), CommaBeforeAnd = sign.TrimStart().StartsWith(',') } : words));
    }

    // A citation of one's own becomes the one of the package that prints the same parts of an entry, in the signs around it. What is there already stays.
    private static void DeclareCitation(DocumentBuilder builder, Machine m, Token t)
    {
        m.TakeStar();
        Token name = m.Definitions.ReadCommandToken(t);
        string wrapper = m.ReadOptional(t)?.ToShownSource() ?? "";
        List<Token>[] codes = [m.ReadArgument(t), m.ReadArgument(t), m.ReadArgument(t), m.ReadArgument(t)];
        if (name.Symbol is not { Meaning.Value: null } symbol)
        {
            return;
        }

        string loop = codes[1].ToShownSource();
        string all = wrapper + string.Concat(codes.Select(c => c.ToShownSource()));
        bool Has(params string[] parts) => Array.Exists(parts, p => loop.Contains(p, StringComparison.Ordinal));
        bool hasName = Has("labelname", "{author}", "cite:label", "{cite}", "{citeauthor}");
        bool hasYear = Has("year", "date");
        string inner = Has("fullcite", "usedriver") ? "fullcite" : Has("title") && !hasYear ? "citetitle" : Has("url") ? "citeurl" : hasYear && !hasName ? "citeyear" : hasName && !hasYear && !Has("{cite}", "cite:label") ? "citeauthor" : "cite";
        if (all.Contains("footnote", StringComparison.Ordinal))
        {
            CitationCommands.DefineFoot(builder, symbol.Name, inner);
            return;
        }

        (string open, string close) = all.Contains("paren", StringComparison.OrdinalIgnoreCase) ? ("(", ")") : all.Contains("bracket", StringComparison.OrdinalIgnoreCase) ? ("[", "]") : ("", "");
        m.Definitions.Load($"\\NewDocumentCommand\\{symbol.Name}{{s o o m}}{{{open}\\IfNoValueTF{{#2}}{{\\{inner}{{#4}}}}{{\\IfNoValueTF{{#3}}{{\\{inner}[#2]{{#4}}}}{{\\{inner}[#2][#3]{{#4}}}}}}{close}}}");
    }

    private static void Adjust(CitationCollector desk, Func<ReferenceAdjustments, ReferenceAdjustments> change) => desk.Adjustments = change(desk.Adjustments);

    // ---- fields that aren't printed ---------------------------------------------------------------------------

    // \clearfield and its kin, within \ifentrytype and \iffieldundef too.
    private static IEnumerable<ClearedField> Clears(string code, EntryCondition[] when)
    {
        for (int at = code.IndexOf('\\', StringComparison.Ordinal); at >= 0;)
        {
            int end = at + 1;
            while (end < code.Length && char.IsAsciiLetter(code[end]))
            {
                end++;
            }

            string name = code[(at + 1)..end];
            int next = end;
            switch (name)
            {
                case "clearfield" or "clearlist" or "clearname" when Group(code, ref next) is { } field:
                    yield return new ClearedField(field.Trim(), when);
                    break;
                case "ifentrytype" or "iffieldundef" or "ifnameundef" or "iflistundef" when Group(code, ref next) is { } tested && Group(code, ref next) is { } then && Group(code, ref next) is { } otherwise:
                    bool isType = name == "ifentrytype";
                    EntryCondition holds = isType ? new EntryCondition(tested.Trim(), null, true) : new EntryCondition(null, tested.Trim(), false);
                    foreach (ClearedField cleared in Clears(then, [.. when, holds]).Concat(Clears(otherwise, [.. when, holds with { Holds = !holds.Holds }])))
                    {
                        yield return cleared;
                    }

                    break;
                default:
                    next = Math.Max(end, at + 1);
                    break;
            }

            at = next < code.Length ? code.IndexOf('\\', next) : -1;
        }
    }

    // \step[fieldset=…, null] of source maps, for the types that their map names.
    private static IEnumerable<ClearedField> Dropped(string maps)
    {
        for (int at = maps.IndexOf("\\map", StringComparison.Ordinal); at >= 0; at = maps.IndexOf("\\map", at + 4, StringComparison.Ordinal))
        {
            int next = at + 4;
            // \maps holds them all.
            if (next < maps.Length && char.IsAsciiLetter(maps[next]))
            {
                continue;
            }

            Option(maps, ref next);
            if (Group(maps, ref next) is not { } map)
            {
                continue;
            }

            string[] types = [.. After(map, "\\pertype", '{', '}')];
            foreach (string step in After(map, "\\step", '[', ']'))
            {
                string[] parts = [.. step.Split(',').Select(p => p.Replace(" ", "", StringComparison.Ordinal))];
                if (parts.Contains("null") && parts.FirstOrDefault(p => p.StartsWith("fieldset=", StringComparison.Ordinal)) is { } set)
                {
                    foreach (string? type in types.Length == 0 ? (string?[])[null] : types)
                    {
                        yield return new ClearedField(set["fieldset=".Length..], type is null ? [] : [new EntryCondition(type.Trim(), null, true)]);
                    }
                }
            }
        }
    }

    // ---- the word “in” ----------------------------------------------------------------------------------------

    private static IReadOnlyList<EntryCondition>? ConditionOfIn(string body)
    {
        const string Test = "\\ifentrytype";
        int at = Test.Length;
        if (body.StartsWith(Test, StringComparison.Ordinal) && Group(body, ref at) is { } type && Group(body, ref at) is { } then && Group(body, ref at) is { } otherwise)
        {
            bool saysThen = then.Contains("in}", StringComparison.Ordinal);
            bool saysOtherwise = otherwise.Contains("in}", StringComparison.Ordinal);
            return saysThen == saysOtherwise ? saysThen ? null : [] : [new EntryCondition(type.Trim(), null, saysOtherwise)];
        }

        return body.Contains("{in}", StringComparison.Ordinal) ? null : [];
    }

    // ---- words and signs --------------------------------------------------------------------------------------

    private static void Word(DocumentBuilder builder, CitationCollector desk, string? language, string key, string text)
    {
        if (key is "bibliography" or "references")
        {
            builder.Machine.Definitions.DefineMacro(key == "references" ? "refname" : "bibname", text);
            return;
        }

        Func<SourceWords, SourceWords>? change = key switch
        {
            "and" => w => w with { And = text },
            "andothers" => w => w with { Others = text },
            "in" => w => w with { In = text },
            "editor" => w => w with { Editor = text },
            "editors" => w => w with { Editors = text },
            "page" => w => w with { Page = (w.Page.Long, text) },
            "pages" => w => w with { Pages = (w.Pages.Long, text) },
            "volume" => w => w with { Volume = (w.Volume.Long, text) },
            "number" => w => w with { Number = text },
            "edition" => w => w with { Edition = (w.Edition.Long, text) },
            "chapter" => w => w with { Chapter = text },
            "urlseen" => w => w with { Visited = text },
            "nodate" => w => w with { NoDate = text },
            "phdthesis" => w => w with { Doctoral = text },
            "mathesis" => w => w with { Masters = text },
            "techreport" => w => w with { Report = text },
            _ => null,
        };
        if (change is not null)
        {
            desk.WordChanges.Add((language, change));
        }
    }

    // Signs that the preamble gives a meaning; one that it leaves alone is empty.
    private static CitationManner Delimited(Machine machine, CitationManner manner)
    {
        return manner with
        {
            BeforeYear = Sign(machine, manner.Label == CitationLabel.AuthorTitle ? "nametitledelim" : "nameyeardelim") ?? manner.BeforeYear,
            Between = Sign(machine, "multicitedelim") ?? manner.Between,
            BetweenYears = Sign(machine, "compcitedelim") ?? manner.BetweenYears,
            BeforeNote = Sign(machine, "postnotedelim") ?? manner.BeforeNote,
        };
    }

    private static string? Sign(Machine machine, string name) =>
        machine.IsDefined(name) && machine.ExpandToText([Token.Command(machine.Symbol(name), PositionTable.None)]) is { Length: > 0 } sign ? sign : null;

    // ---- reading ----------------------------------------------------------------------------------------------

    private static IEnumerable<string> After(string text, string command, char open, char close)
    {
        for (int at = text.IndexOf(command, StringComparison.Ordinal); at >= 0; at = text.IndexOf(command, at + command.Length, StringComparison.Ordinal))
        {
            int next = at + command.Length;
            if (Enclosed(text, ref next, open, close) is { } inside)
            {
                yield return inside;
            }
        }
    }

    private static string? Group(string text, ref int at) => Enclosed(text, ref at, '{', '}');

    private static string? Option(string text, ref int at) => Enclosed(text, ref at, '[', ']');

    private static string? Enclosed(string text, ref int at, char open, char close)
    {
        int begin = at;
        while (begin < text.Length && char.IsWhiteSpace(text[begin]))
        {
            begin++;
        }

        if (begin >= text.Length || text[begin] != open)
        {
            return null;
        }

        int depth = 0;
        for (int i = begin; i < text.Length; i++)
        {
            depth += text[i] == open ? 1 : text[i] == close ? -1 : 0;
            if (depth == 0)
            {
                at = i + 1;
                return text[(begin + 1)..i];
            }
        }

        return null;
    }
}
