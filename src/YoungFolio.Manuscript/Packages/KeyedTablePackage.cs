using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.KeyedTables;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Tables whose looks are said by keys, apart from their cells (the usual part of tabularray's documentation, from memory).</summary>
internal static class KeyedTablePackage
{
    public static Package Package { get; } = new("tabularray", "Tables whose looks are said by keys.")
    {
        Requires = ["array", "booktabs", "multirow", "makecell", "colortbl", "tabularx", "xltabular", "diagbox"],
        Environments = ["tblr", "tblr*", "longtblr", "talltblr", "booktabs", "longtabs", "talltabs"],
        Commands = ["UseTblrLibrary", "SetTblrInner", "SetTblrOuter", "SetCell", "SetRow", "SetHlines", "SetVlines", "SetHline", "NewTblrEnviron", "DefTblrTemplate", "SetTblrTemplate", "SetTblrStyle", "TblrNote", "TableNote"],
        Definitions = "\\def\\UseTblrLibrary#1{}\\NewDocumentCommand\\SetTblrOuter{O{}m}{}\\newcommand\\DefTblrTemplate[3]{}\\newcommand\\SetTblrTemplate[2]{}\\newcommand\\SetTblrStyle[2]{}"
            + "\\NewDocumentCommand\\SetCell{O{}m}{}\\NewDocumentCommand\\SetRow{O{}m}{}\\NewDocumentCommand\\SetHlines{O{}m}{}\\NewDocumentCommand\\SetVlines{O{}m}{}\\NewDocumentCommand\\SetHline{O{}m}{}"
            + "\\def\\TblrNote#1{\\textsuperscript{\\itshape #1}}\\let\\TableNote\\TblrNote",
        Load = static load => Define(load.Builder),
    };

    private static void Define(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        foreach (string name in (string[])["tblr", "tblr*", "booktabs", "longtblr", "longtabs", "talltblr", "talltabs"])
        {
            DefineTable(builder, name, name.StartsWith("long", StringComparison.Ordinal));
        }

        machine.Define("NewTblrEnviron", (m, t) => DefineTable(builder, m.ReadText(t).Trim(), false));
        // What holds for all tables from here on.
        machine.Define("SetTblrInner", (m, t) =>
        {
            string of = m.ReadOptionalText(t) ?? "tblr";
            List<Token> keys = m.ReadArgument(t);
            foreach (string name in of.Split(',', StringSplitOptions.TrimEntries))
            {
                builder.Titles.Keep("tblr@" + name, [.. builder.Titles.Kept("tblr@" + name) ?? [], .. keys, Token.Character(',', Category.Other, t.Position)], false);
            }
        });
        builder.LongTables.DefineLongTableRows();
    }

    private static void DefineTable(DocumentBuilder builder, string name, bool isLong)
    {
        Machine machine = builder.Machine;
        builder.Environments.DefineEnvironment(name, t =>
        {
            List<Token>? outer = machine.ReadOptional(t);
            List<Token> inner = machine.ReadArgument(t);
            List<Token> body = machine.DocumentCommands.ReadEnvironmentBody(t);
            var table = new KeyedTable(inner, [.. builder.Titles.Kept("tblr@" + name) ?? []], AlignedCells.Of(body));
            var caption = new List<Token>();
            string place = "m";
            foreach ((string key, List<Token> value) in TableKeys.Of(outer ?? []))
            {
                switch (key)
                {
                    case "caption":
                        caption.AddRange([Token.Command(machine.Symbol("caption"), t.Position), .. TokenLists.Braced(value, t.Position)]);
                        break;
                    case "label" when value.ToSource() is not "none":
                        caption.AddRange([Token.Command(machine.Symbol("label"), t.Position), .. TokenLists.Braced(value, t.Position)]);
                        break;
                    case "t" or "b" or "m" or "c" when value.Count == 0:
                        place = key == "m" ? "c" : key;
                        break;
                    case "baseline" or "valign" when value.ToSource() is "t" or "T" or "b" or "B" or "m":
                        place = value.ToSource().ToLowerInvariant().Replace('m', 'c');
                        break;
                    default:
                        break;
                }
            }

            machine.Push(KeyedTableMarkup.Of(machine, table, t, isLong ? null : place == "m" ? "c" : place, caption));
        }, static _ => { });
    }
}
