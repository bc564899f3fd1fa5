using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for tables.</summary>
internal static class TablePackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("array", "Columns of paragraphs centred or at the foot, text before and after each cell, kinds of column of one's own.")
        {
            Commands = ["newcolumntype"],
            Load = static load => Array(load.Builder),
        },
        new("booktabs", "Lines of different weight with space around, as in books.")
        {
            Commands = ["toprule", "midrule", "bottomrule", "cmidrule", "addlinespace", "specialrule", "morecmidrules"],
            Load = static load => Booktabs(load.Builder),
        },
        new("multirow", "Cells over several rows.")
        {
            Commands = ["multirow"],
            Load = static load => Multirow(load.Builder),
        },
        new("bigstrut", "Struts for cells over several rows.") { Commands = ["bigstrut"], Definitions = "\\newcommand{\\bigstrut}[1][]{\\rule[-0.6ex]{0pt}{2.9ex}}" },
        new("tabularx", "Tables of a given width whose columns of paragraphs share what is left.")
        {
            Environments = ["tabularx"],
            Requires = ["array"],
            Load = static load => load.Builder.TableKinds.DefineSharedWidth("tabularx"),
        },
        new("tabulary", "Tables of a given width with columns that share it.")
        {
            Environments = ["tabulary"],
            Requires = ["array"],
            Load = static load => load.Builder.TableKinds.DefineSharedWidth("tabulary"),
        },
        new("longtable", "Tables that go on over pages.")
        {
            Environments = ["longtable"],
            Commands = ["endhead", "endfirsthead", "endfoot", "endlastfoot"],
            Load = static load => Long(load.Builder),
        },
        new("xltabular", "Tables of a given width that go on over pages.")
        {
            Environments = ["xltabular"],
            Requires = ["tabularx", "longtable"],
            Load = static load => load.Builder.LongTables.DefineLongTable("xltabular", true),
        },
        new("ltablex", "Tables of a given width that go on over pages.")
        {
            Requires = ["tabularx", "longtable"],
            Load = static load => load.Builder.LongTables.DefineLongTable("tabularx", true),
            Definitions = "\\def\\keepXColumns{}\\def\\convertXColumns{}",
        },
        new("supertabular", "Tables that go on over pages.")
        {
            Environments = ["supertabular", "supertabular*"],
            Commands = ["tablehead", "tablefirsthead", "tabletail", "tablelasttail", "topcaption", "bottomcaption", "tablecaption"],
            Load = static load => SuperTables(load.Builder),
        },
        new("colortbl", "Coloured columns, rows, cells and lines.")
        {
            Commands = ["columncolor", "rowcolor", "cellcolor", "arrayrulecolor"],
            Requires = ["color", "array"],
            Load = static load => Colours(load.Builder),
        },
        new("makecell", "Cells with line breaks, and heads of columns.")
        {
            Commands = ["makecell", "thead", "multirowcell", "Xhline", "Xcline"],
            Requires = ["array"],
            Load = static load => Makecell(load.Builder),
        },
        new("threeparttable", "Tables with notes below, as wide as the table.")
        {
            Environments = ["threeparttable", "tablenotes"],
            Commands = ["tnote"],
            Load = static load => load.Machine.DefineExpandable("table@width", (m, t) =>
                m.Input.PushMarkup(load.Builder.Tables.LastTableWidth.ToString("0.###", System.Globalization.CultureInfo.InvariantCulture) + "pt", t.Position)),
            Definitions = """
                \newenvironment{threeparttable}[1][]{\begingroup}{\endgroup}
                \def\TPTtagStyle{\itshape}\def\TPTnoteLabel#1{\textsuperscript{\TPTtagStyle #1}}
                \newcommand{\tnote}[1]{\textsuperscript{\TPTtagStyle #1}}
                \newenvironment{tablenotes}[1][]{\par\vspace{4pt}\noindent\begin{minipage}{\table@width}\footnotesize\sloppy
                  \begin{list}{}{\setlength{\leftmargin}{1em}\setlength{\labelwidth}{0.8em}\setlength{\labelsep}{0.2em}\setlength{\itemsep}{0pt}\setlength{\parsep}{0pt}\setlength{\topsep}{0pt}\renewcommand{\makelabel}[1]{\TPTnoteLabel{##1}}}}{\end{list}\end{minipage}}
                """,
        },
        new("threeparttablex", "Notes below long tables.") { Requires = ["threeparttable", "longtable"], Commands = ["TableNotes", "insertTableNotes"], Environments = ["TableNotes"], Definitions = "\\newenvironment{TableNotes}[1][]{\\begin{tablenotes}}{\\end{tablenotes}}\\def\\insertTableNotes{}\\newenvironment{ThreePartTable}{}{}" },
        new("dcolumn", "Columns of numbers under their decimal signs.") { Requires = ["array"] },
        new("diagbox", "Cells parted by a slanted line; set as two lines.")
        {
            Commands = ["diagbox", "backslashbox", "slashbox"],
            Definitions = "\\newcommand{\\diagbox}[3][]{\\shortstack[l]{\\hspace*{2em}#3\\\\#2}}\\def\\backslashbox#1#2{\\diagbox{#1}{#2}}\\def\\slashbox#1#2{\\diagbox{#2}{#1}}",
        },
        new("tabu", "Tables with columns that share a width.")
        {
            Environments = ["tabu", "longtabu"],
            Commands = ["taburulecolor", "tabulinesep"],
            Requires = ["array"],
            Load = static load => Tabu(load.Builder),
        },
        KeyedTablePackage.Package,
        new("hhline", "Lines across in pieces.")
        {
            Commands = ["hhline"],
            Load = static load => load.Builder.Tables.DefineRowCommand("hhline", load.Builder.TableLines.AddPiecedLine),
        },
        new("tablefootnote", "Notes in tables.") { Commands = ["tablefootnote"], Definitions = "\\def\\tablefootnote{\\footnote}" },
    ];

    private static void Array(DocumentBuilder builder)
    {
        builder.Machine.Define("newcolumntype", (_, t) => builder.TableColumns.DefineColumnType(t));
        builder.Machine.Definitions.Load("\\def\\firsthline{\\hline}\\def\\lasthline{\\hline}\\newlength{\\extratabsurround}");
    }

    // Values of the package's own description (from memory).
    private static void Booktabs(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        double size = builder.BasicSize;
        foreach ((string name, double points) in (ReadOnlySpan<(string, double)>)[
            ("heavyrulewidth", 0.08 * size), ("lightrulewidth", 0.05 * size), ("cmidrulewidth", 0.03 * size), ("belowrulesep", 0.3 * size), ("aboverulesep", 0.18 * size),
            ("defaultaddspace", 0.5 * size), ("cmidrulekern", 0.5 * size), ("abovetopsep", 0), ("belowbottomsep", 0), ("cmidrulesep", 2)])
        {
            machine.Registers.NamedDimension(name, Dimension.FromPoints(points));
        }
        double Thickness(Token t, string standard) => machine.ReadOptional(t) is { } own && machine.Quantities.ParseGlue(own, t) is { } glue ? glue.Width.Points : builder.Get(standard);
        builder.Tables.DefineRowCommand("toprule", t => builder.TableLines.AddTableLine(Thickness(t, "heavyrulewidth"), builder.Get("abovetopsep"), builder.Get("belowrulesep")));
        builder.Tables.DefineRowCommand("midrule", t => builder.TableLines.AddTableLine(Thickness(t, "lightrulewidth"), builder.Get("aboverulesep"), builder.Get("belowrulesep")));
        builder.Tables.DefineRowCommand("bottomrule", t => builder.TableLines.AddTableLine(Thickness(t, "heavyrulewidth"), builder.Get("aboverulesep"), builder.Get("belowbottomsep")));
        bool more = false;
        builder.Tables.DefineRowCommand("cmidrule", t =>
        {
            double thickness = Thickness(t, "cmidrulewidth");
            string trim = machine.ReadOptional(t, '(', ')')?.ToSource() ?? "";
            if (more)
            {
                builder.TableLines.AddTableSpace(builder.Get("cmidrulesep"));
                more = false;
            }

            builder.TableLines.AddTableStretch(machine.ReadArgument(t), t, thickness, builder.Get("aboverulesep"), builder.Get("belowrulesep"), trim, builder.Get("cmidrulekern"));
        });
        builder.Tables.DefineRowCommand("morecmidrules", _ => more = true);
        builder.Tables.DefineRowCommand("addlinespace", t => builder.TableLines.AddTableSpace(Thickness(t, "defaultaddspace")));
        builder.Tables.DefineRowCommand("specialrule", t =>
        {
            double Length() => machine.Quantities.ParseGlue(machine.ReadArgument(t), t)?.Width.Points ?? 0;
            (double thickness, double above, double below) = (Length(), Length(), Length());
            builder.TableLines.AddTableLine(thickness, above, below);
        });
    }

    private static void Multirow(DocumentBuilder builder)
    {
        builder.Machine.Define("multirow", (m, t) =>
        {
            m.ReadOptional(t);
            double rows = double.TryParse(m.ReadText(t), System.Globalization.CultureInfo.InvariantCulture, out double n) ? n : 1;
            m.ReadOptional(t);
            List<Token> width = m.ReadArgument(t);
            double rise = m.ReadOptional(t) is { } fix && m.Quantities.ParseGlue(fix, t) is { } glue ? glue.Width.Points : 0;
            List<Token> content = m.ReadArgument(t);
            if (!builder.Tables.SpanRows((int)Math.Round(rows), rise))
            {
                builder.Findings.Fix("misplaced-in-table", t.Position, t.Length, $"{t} belongs in a cell of a table.", "Put it into a tabular environment.");
                m.Push(content);
                return;
            }

            string wanted = width.ToSource().Trim();
            if (wanted is "*" or "=" or "")
            {
                builder.AddInline(builder.Boxes.Stack(content, Alignment.Left, 'c'));
                return;
            }

            double points = Math.Clamp(m.Quantities.ParseGlue(width, t)?.Width.Points ?? 50, 1, 2_000);
            builder.AddInline(new BlockBoxInline(builder.Boxes.BuildColumn(content, points), points) { Position = 'c' });
        });
        builder.Machine.Definitions.Load("\\def\\multirowsetup{\\raggedright}");
    }

    private static void Long(DocumentBuilder builder)
    {
        builder.LongTables.DefineLongTableRows();
        builder.LongTables.DefineLongTable("longtable", false);
        builder.LongTables.DefineLongTable("longtable*", false);
        builder.Machine.Definitions.Load("\\def\\setlongtables{}");
    }

    private static void SuperTables(DocumentBuilder builder)
    {
        builder.LongTables.DefineLongTableRows();
        foreach (string name in (string[])["tablehead", "tablefirsthead", "tabletail", "tablelasttail"])
        {
            builder.Machine.Define(name, (m, t) => builder.Titles.Keep("st@" + name, m.ReadArgument(t)));
        }

        // Heads and tails are set before the table; where the first or last page has none of its own, it has that of all.
        List<Token> Beginning(Token token)
        {
            var tokens = new List<Token>();
            foreach ((string name, string usual, string end) in (ReadOnlySpan<(string, string, string)>)[
                ("tablefirsthead", "tablehead", "endfirsthead"), ("tablehead", "tablehead", "endhead"), ("tablelasttail", "tabletail", "endlastfoot"), ("tabletail", "tabletail", "endfoot")])
            {
                if ((builder.Titles.Kept("st@" + name) ?? builder.Titles.Kept("st@" + usual)) is { Count: > 0 } rows)
                {
                    tokens.AddRange([.. rows, Token.Command(builder.Machine.Symbol(end), token.Position)]);
                }
            }

            return tokens;
        }

        builder.LongTables.DefineLongTable("supertabular", false, Beginning);
        builder.LongTables.DefineLongTable("supertabular*", true, Beginning);
        builder.Machine.Definitions.Load("\\def\\topcaption{\\captionof{table}}\\def\\bottomcaption{\\captionof{table}}\\def\\tablecaption{\\captionof{table}}");
    }

    private static void Colours(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("columncolor", (m, t) =>
        {
            builder.Tables.ColourCell(ColourPackages.ReadColour(builder, m, t), true);
            SkipOverhangs(m, t);
        });
        machine.Define("cellcolor", (m, t) =>
        {
            builder.Tables.ColourCell(ColourPackages.ReadColour(builder, m, t), false);
            SkipOverhangs(m, t);
            m.SkipSpaces();
        });
        builder.Tables.DefineRowCommand("rowcolor", t =>
        {
            builder.Tables.ColourRow(ColourPackages.ReadColour(builder, machine, t));
            SkipOverhangs(machine, t);
        });
        builder.TableKinds.DefineColourOfLines("arrayrulecolor");
        machine.Define("doublerulesepcolor", (m, t) => ColourPackages.ReadColour(builder, m, t));
        foreach (string name in (string[])["rowcolors", "rowcolors*"])
        {
            machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                m.ReadOptional(t);
                int first = int.TryParse(m.ReadText(t), out int n) ? n : 1;
                int? Colour()
                {
                    string colour = m.ReadText(t);
                    return colour.Length == 0 ? null : ColourNames.Find(builder, colour);
                }

                int? odd = Colour();
                builder.Tables.StripeRows(first, odd, Colour());
            });
        }

        machine.Definitions.Load("\\def\\showrowcolors{}\\def\\hiderowcolors{}\\newlength{\\minrowclearance}");
    }

    private static void SkipOverhangs(Machine machine, Token token)
    {
        machine.ReadOptional(token);
        machine.ReadOptional(token);
    }

    private static void Makecell(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("makecell", (m, t) => Stack(m, t, 'c', []));
        machine.Define("thead", (m, t) => Stack(m, t, 'c', m.Tokenize("\\theadfont ", t.Position)));
        machine.Define("Gape", (m, t) =>
        {
            m.ReadOptional(t);
            m.ReadOptional(t);
        });
        builder.Tables.DefineRowCommand("Xhline", t => builder.TableLines.AddTableLine(machine.Quantities.ParseGlue(machine.ReadArgument(t), t)?.Width.Points ?? 1, 0, 0));
        builder.Tables.DefineRowCommand("Xcline", t =>
        {
            List<Token> columns = machine.ReadArgument(t);
            builder.TableLines.AddTableStretch(columns, t, machine.Quantities.ParseGlue(machine.ReadArgument(t), t)?.Width.Points ?? 1, 0, 0, "", 0);
        });
        machine.Definitions.Load("\\def\\theadfont{\\footnotesize}\\newcommand{\\multirowcell}[2]{\\multirow{#1}{*}{\\makecell{#2}}}\\newcommand{\\rothead}[1]{#1}\\newcommand{\\rotcell}[1]{#1}"
            + "\\def\\theadalign{cc}\\def\\cellalign{cc}\\def\\theadgape{}\\def\\cellgape{}\\newcommand{\\setcellgapes}[1]{}\\def\\makegapedcells{}\\def\\nomakegapedcells{}\\newcommand{\\nline}[1][]{}\\newcommand{\\eline}[1]{}");

        void Stack(Machine m, Token t, char standard, Token[] font)
        {
            m.TakeStar();
            string place = m.ReadOptionalText(t) ?? "";
            Alignment alignment = place.Contains('l', StringComparison.Ordinal) ? Alignment.Left : place.Contains('r', StringComparison.Ordinal) ? Alignment.Right : Alignment.Centre;
            char vertical = place.FirstOrDefault(c => c is 't' or 'b');
            builder.AddInline(builder.Boxes.Stack([.. font, .. m.ReadArgument(t)], alignment, vertical == default ? standard : vertical));
        }
    }

    private static void Tabu(DocumentBuilder builder)
    {
        foreach ((string name, bool isLong) in (ReadOnlySpan<(string, bool)>)[("tabu", false), ("longtabu", true)])
        {
            if (isLong)
            {
                builder.LongTables.DefineLongTableRows();
            }

            builder.TableKinds.DefineWidthByKeyword(name, isLong);
        }

        builder.TableKinds.DefineColourOfLines("taburulecolor");
        builder.Machine.Definitions.Load("\\newlength{\\tabulinesep}\\newlength{\\abovetabulinesep}\\newlength{\\belowtabulinesep}\\def\\tabucline#1{\\hline}\\def\\rowfont#1{}");
    }
}
