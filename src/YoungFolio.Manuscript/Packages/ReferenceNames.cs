using YoungFolio.Manuscript.Building;

namespace YoungFolio.Manuscript.Packages;

/// <summary>What kinds of labelled things are called in references, by language (common usage, from memory).</summary>
internal static class ReferenceNames
{
    // kind: singular, plural; in small letters where the language writes them so.
    private static readonly Dictionary<string, Dictionary<string, (string One, string Many)>> s_names = new(StringComparer.Ordinal)
    {
        ["en"] = Table("part:part:parts chapter:chapter:chapters section:section:sections appendix:appendix:appendices figure:figure:figures table:table:tables "
            + "equation:equation:equations item:item:items footnote:footnote:footnotes page:page:pages listing:listing:listings algorithm:algorithm:algorithms line:line:lines"),
        ["de"] = Table("part:Teil:Teile chapter:Kapitel:Kapitel section:Abschnitt:Abschnitte appendix:Anhang:Anhänge figure:Abbildung:Abbildungen table:Tabelle:Tabellen "
            + "equation:Gleichung:Gleichungen item:Punkt:Punkte footnote:Fußnote:Fußnoten page:Seite:Seiten listing:Listing:Listings algorithm:Algorithmus:Algorithmen line:Zeile:Zeilen"),
        ["fr"] = Table("part:partie:parties chapter:chapitre:chapitres section:section:sections appendix:annexe:annexes figure:figure:figures table:tableau:tableaux "
            + "equation:équation:équations item:point:points footnote:note:notes page:page:pages listing:liste:listes algorithm:algorithme:algorithmes line:ligne:lignes"),
        ["es"] = Table("part:parte:partes chapter:capítulo:capítulos section:sección:secciones appendix:apéndice:apéndices figure:figura:figuras table:tabla:tablas "
            + "equation:ecuación:ecuaciones item:punto:puntos footnote:nota:notas page:página:páginas listing:listado:listados algorithm:algoritmo:algoritmos line:línea:líneas"),
        ["it"] = Table("part:parte:parti chapter:capitolo:capitoli section:sezione:sezioni appendix:appendice:appendici figure:figura:figure table:tabella:tabelle "
            + "equation:equazione:equazioni item:voce:voci footnote:nota:note page:pagina:pagine listing:listato:listati algorithm:algoritmo:algoritmi line:linea:linee"),
        ["nl"] = Table("part:deel:delen chapter:hoofdstuk:hoofdstukken section:paragraaf:paragrafen appendix:bijlage:bijlagen figure:figuur:figuren table:tabel:tabellen "
            + "equation:vergelijking:vergelijkingen item:punt:punten footnote:voetnoot:voetnoten page:pagina:pagina’s listing:listing:listings algorithm:algoritme:algoritmen line:lijn:lijnen"),
        ["pt"] = Table("part:parte:partes chapter:capítulo:capítulos section:seção:seções appendix:apêndice:apêndices figure:figura:figuras table:tabela:tabelas "
            + "equation:equação:equações item:item:itens footnote:nota:notas page:página:páginas listing:listagem:listagens algorithm:algoritmo:algoritmos line:linha:linhas"),
    };

    private static Dictionary<string, (string One, string Many)> Table(string text) =>
        text.Split(' ').Select(e => e.Split(':')).ToDictionary(e => e[0], e => (e[1], e[2]), StringComparer.Ordinal);

    private static string Key(string language) => language.StartsWith("en", StringComparison.Ordinal) ? "en" : language;

    /// <summary>The name of a kind; of a theorem-like kind its printed name.</summary>
    public static string Of(DocumentBuilder builder, string kind, bool many, bool capital)
    {
        string general = kind switch
        {
            "subsection" or "subsubsection" or "paragraph" or "subparagraph" => "section",
            "enumi" or "enumii" or "enumiii" or "enumiv" => "item",
            "lstlisting" => "listing",
            "FancyVerbLine" => "line",
            _ => kind.StartsWith("sub", StringComparison.Ordinal) && kind[3..] is "figure" or "table" ? kind[3..] : kind,
        };
        Dictionary<string, (string One, string Many)> names = s_names.GetValueOrDefault(Key(builder.Text.Language)) ?? s_names["en"];
        string name;
        if (names.TryGetValue(general, out (string One, string Many) known))
        {
            name = many ? known.Many : known.One;
        }
        else
        {
            name = builder.Theorems.TheoremTitles.GetValueOrDefault(general) ?? general;
            name = builder.Text.Language == "de" || capital ? name : name.ToLowerInvariant();
            name = !many ? name : name.EndsWith('y') ? name[..^1] + "ies" : name + "s";
        }

        return capital && name.Length > 0 ? char.ToUpperInvariant(name[0]) + name[1..] : name;
    }

    /// <summary>Words between members of a list, and within a range.</summary>
    public static (string And, string To) Conjunctions(string language) => Key(language) switch
    {
        "de" => (" und ", " bis "),
        "fr" => (" et ", " à "),
        "es" => (" y ", " a "),
        "it" => (" e ", " a "),
        "nl" => (" en ", " tot "),
        "pt" => (" e ", " a "),
        _ => (" and ", " to "),
    };
}
