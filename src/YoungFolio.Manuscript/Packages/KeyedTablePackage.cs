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

    // Thirteen hues in nine shades each, 9 the lightest: about as the colour library of the tables has them.
    private static void DefineShades(DocumentBuilder builder)
    {
        foreach ((string hue, int colour) in (ReadOnlySpan<(string, int)>)[
            ("gray", 0x808080), ("red", 0xD01010), ("brown", 0xA05010), ("yellow", 0xB09000), ("olive", 0x808000), ("green", 0x209020), ("teal", 0x108080),
            ("cyan", 0x1090B0), ("azure", 0x2070D0), ("blue", 0x3030F0), ("violet", 0x7030E0), ("magenta", 0xC010C0), ("purple", 0xC01070)])
        {
            for (int shade = 1; shade <= 9; shade++)
            {
                // From the hue at 5 to nearly white, or nearly black.
                double share = Math.Abs(shade - 5) * 0.21;
                int end = shade > 5 ? 255 : 0;
                int Mixed(int shift) => (int)Math.Round((((colour >> shift) & 255) * (1 - share)) + (end * share));
                builder.PackageServices.Colours.TryAdd(hue + shade, (Mixed(16) << 16) | (Mixed(8) << 8) | Mixed(0));
            }
        }
    }

    private static void Define(DocumentBuilder builder)
    {
        DefineShades(builder);
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
