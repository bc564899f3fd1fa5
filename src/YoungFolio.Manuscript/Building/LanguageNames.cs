namespace YoungFolio.Manuscript.Building;

/// <summary>Names of things and dates in each language (common usage, from memory).</summary>
internal static class LanguageNames
{
    /// <summary>Languages by the names that preambles use.</summary>
    private static readonly Dictionary<string, string> s_codes = new(StringComparer.Ordinal)
    {
        ["british"] = "en-gb",
        ["UKenglish"] = "en-gb",
        ["english-gb"] = "en-gb",
        ["australian"] = "en-gb",
        ["newzealand"] = "en-gb",
        ["english"] = "en-us",
        ["american"] = "en-us",
        ["USenglish"] = "en-us",
        ["canadian"] = "en-us",
        ["german"] = "de",
        ["ngerman"] = "de",
        ["austrian"] = "de",
        ["naustrian"] = "de",
        ["swissgerman"] = "de",
        ["nswissgerman"] = "de",
        ["french"] = "fr",
        ["francais"] = "fr",
        ["frenchb"] = "fr",
        ["acadian"] = "fr",
        ["canadien"] = "fr",
        ["spanish"] = "es",
        ["mexican"] = "es",
        ["italian"] = "it",
        ["dutch"] = "nl",
        ["portuguese"] = "pt",
        ["portuges"] = "pt",
        ["brazilian"] = "pt",
        ["brazil"] = "pt",
    };

    /// <summary>The name that preambles use of a language most: <c>english</c> for en-us.</summary>
    public static string NameOf(string code) => code switch
    {
        "en-us" => "english",
        "de" => "ngerman",
        _ => s_codes.FirstOrDefault(c => c.Value == code).Key ?? code,
    };

    private static readonly string[] s_macros =
    [
        "contentsname", "listfigurename", "listtablename", "figurename", "tablename", "partname", "chaptername", "appendixname",
        "abstractname", "refname", "bibname", "indexname", "pagename", "seename", "alsoname", "proofname", "enclname", "ccname", "headtoname",
        "prefacename", "glossaryname",
    ];

    // In the order of the macros above.
    private static readonly Dictionary<string, string[]> s_names = new(StringComparer.Ordinal)
    {
        ["en-gb"] = ["Contents", "List of Figures", "List of Tables", "Figure", "Table", "Part", "Chapter", "Appendix", "Abstract", "References",
            "Bibliography", "Index", "Page", "see", "see also", "Proof", "encl", "cc", "To", "Preface", "Glossary"],
        ["de"] = ["Inhaltsverzeichnis", "Abbildungsverzeichnis", "Tabellenverzeichnis", "Abbildung", "Tabelle", "Teil", "Kapitel", "Anhang",
            "Zusammenfassung", "Literatur", "Literaturverzeichnis", "Index", "Seite", "siehe", "siehe auch", "Beweis", "Anlage(n)", "Verteiler", "An",
            "Vorwort", "Glossar"],
        ["fr"] = ["Table des matières", "Table des figures", "Liste des tableaux", "Figure", "Tableau", "Partie", "Chapitre", "Annexe", "Résumé",
            "Références", "Bibliographie", "Index", "Page", "voir", "voir aussi", "Démonstration", "P. J.", "Copie à", "À", "Préface", "Glossaire"],
        ["es"] = ["Índice general", "Índice de figuras", "Índice de tablas", "Figura", "Tabla", "Parte", "Capítulo", "Apéndice", "Resumen",
            "Referencias", "Bibliografía", "Índice alfabético", "Página", "véase", "véase también", "Demostración", "Adjunto(s)", "Copia a", "A",
            "Prefacio", "Glosario"],
        ["it"] = ["Indice", "Elenco delle figure", "Elenco delle tabelle", "Figura", "Tabella", "Parte", "Capitolo", "Appendice", "Sommario",
            "Riferimenti bibliografici", "Bibliografia", "Indice analitico", "Pagina", "vedi", "vedi anche", "Dimostrazione", "Allegati", "e p. c.", "Per",
            "Prefazione", "Glossario"],
        ["nl"] = ["Inhoudsopgave", "Lijst van figuren", "Lijst van tabellen", "Figuur", "Tabel", "Deel", "Hoofdstuk", "Bijlage", "Samenvatting",
            "Referenties", "Bibliografie", "Index", "Pagina", "zie", "zie ook", "Bewijs", "Bijlage(n)", "cc", "Aan", "Voorwoord", "Verklarende woordenlijst"],
        ["pt"] = ["Conteúdo", "Lista de figuras", "Lista de tabelas", "Figura", "Tabela", "Parte", "Capítulo", "Apêndice", "Resumo", "Referências",
            "Bibliografia", "Índice", "Página", "ver", "ver também", "Demonstração", "Anexo", "Com cópia a", "Para", "Prefácio", "Glossário"],
    };

    private static readonly Dictionary<string, string[]> s_months = new(StringComparer.Ordinal)
    {
        ["en"] = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"],
        ["de"] = ["Januar", "Februar", "März", "April", "Mai", "Juni", "Juli", "August", "September", "Oktober", "November", "Dezember"],
        ["fr"] = ["janvier", "février", "mars", "avril", "mai", "juin", "juillet", "août", "septembre", "octobre", "novembre", "décembre"],
        ["es"] = ["enero", "febrero", "marzo", "abril", "mayo", "junio", "julio", "agosto", "septiembre", "octubre", "noviembre", "diciembre"],
        ["it"] = ["gennaio", "febbraio", "marzo", "aprile", "maggio", "giugno", "luglio", "agosto", "settembre", "ottobre", "novembre", "dicembre"],
        ["nl"] = ["januari", "februari", "maart", "april", "mei", "juni", "juli", "augustus", "september", "oktober", "november", "december"],
        ["pt"] = ["janeiro", "fevereiro", "março", "abril", "maio", "junho", "julho", "agosto", "setembro", "outubro", "novembro", "dezembro"],
    };

    /// <summary>Names of languages that preambles may use.</summary>
    public static IEnumerable<string> All => s_codes.Keys;

    /// <summary>The code of a language by the name that a preamble uses; null when it isn't known.</summary>
    public static string? CodeOf(string name) => s_codes.GetValueOrDefault(name);

    /// <summary>A name of the table in a language; English where the language has none.</summary>
    public static string NameOf(string macro, string code) =>
        (s_names.GetValueOrDefault(code) ?? s_names["en-gb"])[Array.IndexOf(s_macros, macro)];

    /// <summary>Defines the names of things in a language, in the present group.</summary>
    public static void Apply(DocumentBuilder builder, string code)
    {
        string[] names = s_names.GetValueOrDefault(code) ?? s_names["en-gb"];
        for (int i = 0; i < s_macros.Length; i++)
        {
            builder.Machine.Assign(builder.Machine.Symbol(s_macros[i]).Meaning, new Markup.MacroMeaning
            {
                Pattern = [],
                Arity = 0,
                Body = builder.Machine.Tokenize(names[i], Markup.PositionTable.None),
            });
        }
    }

    /// <summary>A date as the language writes it.</summary>
    public static string Date(DateOnly date, string code)
    {
        string month = (s_months.GetValueOrDefault(code) ?? s_months["en"])[date.Month - 1];
        return code switch
        {
            "en-us" => $"{month} {date.Day}, {date.Year}",
            "de" => $"{date.Day}. {month} {date.Year}",
            "fr" => $"{(date.Day == 1 ? "1er" : date.Day.ToString(System.Globalization.CultureInfo.InvariantCulture))} {month} {date.Year}",
            "es" or "pt" => $"{date.Day} de {month} de {date.Year}",
            "it" => $"{(date.Day == 1 ? "1º" : date.Day.ToString(System.Globalization.CultureInfo.InvariantCulture))} {month} {date.Year}",
            _ => $"{date.Day} {month} {date.Year}",
        };
    }
}
