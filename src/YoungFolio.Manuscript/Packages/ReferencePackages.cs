using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for references and links.</summary>
internal static class ReferencePackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("hyperref", "Links, addresses, and the PDF's title and author.")
        {
            Requires = ["nameref"],
            Commands = ["href", "hypersetup", "url", "nolinkurl", "hyperref", "hypertarget", "hyperlink", "autoref", "autopageref", "phantomsection", "texorpdfstring",
                "pdfbookmark", "currentpdfbookmark", "subpdfbookmark", "belowpdfbookmark", "MakeLinkTarget", "urlstyle", "path"],
            ComesAfter = ["natbib", "float", "listings", "varioref", "titlesec", "setspace", "tocloft", "tocbibind", "footmisc", "endnotes", "amsthm"],
            Load = static load => Hyperref(load),
        },
        new("bookmark", "The PDF's outline, and links.")
        {
            Requires = ["hyperref"],
            Commands = ["bookmarksetup", "bookmark", "bookmarksetupnext"],
            Definitions = "\\def\\bookmarksetup#1{}\\newcommand{\\bookmark}[2][]{}\\def\\bookmarksetupnext#1{}",
        },
        new("nameref", "References to titles.")
        {
            Commands = ["nameref", "Nameref"],
            Load = static load => NameReference(load.Builder),
        },
        new("cleveref", "References that say what they refer to, with ranges and lists.")
        {
            Commands = ["cref", "Cref", "crefrange", "Crefrange", "cpageref", "Cpageref", "labelcref", "namecref", "nameCref", "lcnamecref", "lcnamecrefs", "namecrefs", "nameCrefs", "crefname", "Crefname",
                "crefformat", "Crefformat", "crefmultiformat", "crefrangeformat", "crefalias", "creflabelformat", "crefdefaultlabelformat", "labelcpageref"],
            ComesAfter = ["hyperref", "amsmath", "amsthm", "varioref"],
            Load = static load => CleverReferences.Load(load),
        },
        new("varioref", "References that say the page where it helps.")
        {
            Commands = ["vref", "vpageref", "Vref", "vrefrange", "labelformat"],
            Definitions = """
                \def\vref#1{\ref{#1} on page~\pageref{#1}}\def\Vref#1{\ref{#1} on page~\pageref{#1}}\def\vpageref{\@ifnextchar[{\vpageref@text}{\vpageref@text[]}}
                \def\vpageref@text[#1]{\@ifnextchar[{\vpageref@two}{\vpageref@two[]}}\def\vpageref@two[#1]#2{on page~\pageref{#2}}
                \def\vrefrange#1#2{\ref{#1} to \ref{#2}}\def\labelformat#1{\expandafter\def\csname p@#1\endcsname##1}
                """,
        },
        new("lastpage", "A label on the last page.")
        {
            Commands = [],
            Load = static load => load.Builder.BackMatter.LabelLastPage(),
        },
        new("totcount", "How far counters came by the end, printed anywhere.")
        {
            Commands = ["newtotcounter", "regtotcounter", "total", "totvalue"],
            Definitions = "\\newcommand\\newtotcounter[1]{\\newcounter{#1}}\\newcommand\\regtotcounter[1]{}",
            Load = static load =>
            {
                load.Machine.Define("total", (m, t) => PrintTotal(load.Builder, m.ReadText(t), t));
                load.Machine.DefineMeaning("totvalue", load.Machine.Symbol("total").Meaning.Value!);
            },
        },
        new("pageslts", "A label on the last page.") { Requires = ["lastpage"] },
        new("xr", "References to other documents; there are none here.")
        {
            Commands = ["externaldocument"],
            Definitions = "\\newcommand{\\externaldocument}[2][]{}",
        },
        new("refcount", "Numbers of references for sums.") { Commands = ["setcounterref"], Definitions = "\\def\\setcounterref#1#2{}" },
    ];

    // A counter has its last value when all is read; until then the place is held.
    private static void PrintTotal(DocumentBuilder builder, string counter, Token token)
    {
        if (builder.Machine.Counters.Require(counter, token) is { } last)
        {
            builder.References.AddReference(
                builder.References.Defer(() => [builder.References.MakeText(last.Value.ToString(CultureInfo.InvariantCulture), token.Position)]), token);
        }
    }

    private static void Hyperref(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        Machine machine = load.Machine;
        Setup(builder, load.Options);
        builder.Addresses.DefineAddresses();
        machine.Define("hypersetup", (m, t) => Setup(builder, ListedOption.Of(m, m.ReadArgument(t))));
        machine.Define("hyperref", (m, t) =>
        {
            List<Token>? key = m.ReadOptional(t);
            if (key is null)
            {
                // The old form with four braces: address, category, name, text.
                m.ReadArgument(t);
                m.ReadArgument(t);
                m.ReadArgument(t);
                m.Push(TokenLists.Braced(m.ReadArgument(t), t.Position));
                return;
            }

            string name = m.ExpandToText(key).Trim();
            List<Inline> text = builder.Addresses.WithColour(builder.References.ReferenceColour, () => builder.BuildInlines(m.ReadArgument(t)));
            builder.References.UseLabel(name, t.Position, t.Length);
            builder.AddInline(builder.References.Defer(() => builder.References.Labels.TryGetValue(name, out Label? label) ? [new LinkInline(text, label.Anchor, false)] : text));
        });
        machine.Define("hypertarget", (m, t) =>
        {
            builder.References.AddInlineAnchor("target " + m.ReadText(t));
            m.Push(TokenLists.Braced(m.ReadArgument(t), t.Position));
        });
        machine.Define("hyperlink", (m, t) =>
        {
            string name = m.ReadText(t);
            List<Inline> text = builder.Addresses.WithColour(builder.References.ReferenceColour, () => builder.BuildInlines(m.ReadArgument(t)));
            builder.AddInline(new LinkInline(text, "target " + name, false));
        });
        machine.Define("phantomsection", (_, t) => builder.BackMatter.StartPhantomSection(t));
        machine.Definitions.Load("\\def\\texorpdfstring#1#2{#1}\\newcommand{\\currentpdfbookmark}[2]{}\\newcommand{\\subpdfbookmark}[2]{}\\newcommand{\\belowpdfbookmark}[2]{}\\newcommand{\\pdfbookmark}[3][]{}"
            + "\\def\\MakeLinkTarget{\\@ifstar\\@gobble\\@gobble}");
        DefineAutoNames(builder);
        machine.Define("autoref", (m, t) => AutoReference(builder, m, t, false));
        machine.Define("autopageref", (m, t) => AutoReference(builder, m, t, true));
    }

    private static void Setup(DocumentBuilder builder, IReadOnlyList<ListedOption> options)
    {
        foreach (ListedOption option in options)
        {
            string value = option.Text(builder.Machine);
            switch (option.Key)
            {
                case "pdftitle" or "pdfauthor":
                    builder.Pages.SetMetadata(option.Key, option.Value is { } tokens ? PlainText.Of(builder.BuildInlines(tokens)) : value);
                    break;
                case "colorlinks" or "allcolors" or "linkcolor" or "citecolor" or "urlcolor" or "filecolor" or "hidelinks":
                    if (option.Key == "hidelinks" || (option.Key == "colorlinks" && !option.IsOn(builder.Machine)))
                    {
                        (builder.References.ReferenceColour, builder.Addresses.AddressColour, builder.Bibliography.CitationColour) = (null, null, null);
                        break;
                    }

                    // The standard colours of links: deep ones that print well.
                    int? colour = option.Key == "colorlinks" ? 0x34567A : ColourNames.Find(builder, value);
                    if (option.Key is "colorlinks" or "allcolors" or "linkcolor")
                    {
                        builder.References.ReferenceColour = colour;
                    }

                    if (option.Key is "colorlinks" or "allcolors" or "citecolor")
                    {
                        builder.Bibliography.CitationColour = colour;
                    }

                    if (option.Key is "colorlinks" or "allcolors" or "urlcolor")
                    {
                        builder.Addresses.AddressColour = colour;
                    }

                    break;
            }
        }
    }

    private static void NameReference(DocumentBuilder builder)
    {
        foreach (string name in (string[])["nameref", "Nameref"])
        {
            builder.Machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                List<Token> argument = m.ReadArgument(t);
                string key = m.ExpandToText(argument).Trim();
                builder.References.UseLabel(key, t.Position, t.Length + 2 + key.Length);
                builder.AddInline(builder.References.Defer(() => builder.References.Labels.TryGetValue(key, out Label? label)
                    ? [new LinkInline(label.Title.Count > 0 ? label.Title : [builder.References.MakeText(label.Number ?? "", t.Position)], label.Anchor, false)]
                    : [builder.References.MakeReference(key, ReferenceKind.Number, t)]));
            });
        }
    }

    // What references by kind print before the number; the commands can be given other words.
    private static void DefineAutoNames(DocumentBuilder builder)
    {
        foreach (string kind in (string[])["part", "chapter", "section", "subsection", "subsubsection", "paragraph", "appendix", "figure", "table", "equation", "footnote", "theorem", "item", "page"])
        {
            builder.Machine.Define(kind + "autorefname", (_, t) => builder.Text.AddText(AutoName(builder, kind), t.Position));
        }

        builder.Machine.DefineMeaning("Itemautorefname", builder.Machine.Symbol("itemautorefname").Meaning.Value!);
    }

    private static string AutoName(DocumentBuilder builder, string kind) =>
        ReferenceNames.Of(builder, kind, false, kind is "figure" or "table" or "equation" or "part" or "appendix" || builder.Theorems.TheoremTitles.ContainsKey(kind));

    private static void AutoReference(DocumentBuilder builder, Machine m, Token t, bool page)
    {
        m.TakeStar();
        string key = m.ReadText(t);
        builder.References.UseLabel(key, t.Position, t.Length + 2 + key.Length);
        builder.AddInline(builder.References.Defer(() =>
        {
            ReferenceInline number = builder.References.MakeReference(key, page ? ReferenceKind.Page : ReferenceKind.Number, t, !builder.References.Labels.ContainsKey(key));
            if (!builder.References.Labels.TryGetValue(key, out Label? label))
            {
                return [number];
            }

            string kind = page ? "page" : builder.PackageServices.ReferenceKindOf(label);
            string macro = kind + "autorefname";
            List<Inline> name = m.IsDefined(macro)
                ? builder.BuildInlines([Token.Command(m.Symbol(macro), t.Position)])
                : [builder.References.MakeText(AutoName(builder, kind), t.Position)];
            return [new LinkInline([.. name, builder.References.MakeText("\u00A0", t.Position), number], label.Anchor, false)];
        }));
    }
}
