namespace YoungFolio.Bibliography;

/// <summary>Words that references and citations are put together with, in a language.</summary>
public sealed record SourceWords
{
    /// <summary>Code of the language.</summary>
    public required string Language { get; init; }

    /// <summary>Between the last two names.</summary>
    public required string And { get; init; }

    /// <summary>Behind one editor.</summary>
    public required string Editor { get; init; }

    /// <summary>Behind several editors.</summary>
    public required string Editors { get; init; }

    /// <summary>For names that aren't listed.</summary>
    public string Others { get; init; } = "et~al.";

    /// <summary>Before what something is in.</summary>
    public string In { get; init; } = "In";

    /// <summary>Before a volume's number, written out and short.</summary>
    public required (string Long, string Short) Volume { get; init; }

    /// <summary>Before a number in a series.</summary>
    public required string Number { get; init; }

    /// <summary>Before pages, written out and short.</summary>
    public required (string Long, string Short) Pages { get; init; }

    /// <summary>Before one page, written out and short.</summary>
    public required (string Long, string Short) Page { get; init; }

    /// <summary>Before a chapter's number.</summary>
    public required string Chapter { get; init; }

    /// <summary>Behind an edition, written out and short.</summary>
    public required (string Long, string Short) Edition { get; init; }

    /// <summary>What a doctoral thesis is called.</summary>
    public required string Doctoral { get; init; }

    /// <summary>What a master's thesis is called.</summary>
    public required string Masters { get; init; }

    /// <summary>What a report is called.</summary>
    public required string Report { get; init; }

    /// <summary>Between a volume and its series.</summary>
    public string Of { get; init; } = "of";

    /// <summary>Before the day on which a page was read.</summary>
    public required string Visited { get; init; }

    /// <summary>For sources without a date.</summary>
    public required string NoDate { get; init; }

    /// <summary>Quotation marks of titles.</summary>
    public (string Open, string Close) Quotes { get; init; } = ("“", "”");

    /// <summary>Whether a comma stands before the last of three names.</summary>
    public bool CommaBeforeAnd { get; init; }

    /// <summary>Whether titles are set in small letters by styles that do so.</summary>
    public bool LowersTitles { get; init; }

    /// <summary>Names of months.</summary>
    public required string Months { get; init; }

    /// <summary>A number as an ordinal.</summary>
    public string Ordinal(string number)
    {
        if (!int.TryParse(number, out int n))
        {
            return number;
        }

        return Language switch
        {
            "en" => n + (n % 100 is >= 11 and <= 13 ? "th" : (n % 10) switch { 1 => "st", 2 => "nd", 3 => "rd", _ => "th" }),
            "fr" => n == 1 ? "1\\textsuperscript{re}" : n + "\\textsuperscript{e}",
            "nl" => n + "\\textsuperscript{e}",
            "es" or "it" or "pt" => n + "\\textsuperscript{a}",
            _ => n + ".",
        };
    }

    /// <summary>A month's name; empty for none.</summary>
    public string Month(int month) => month is >= 1 and <= 12 ? Months.Split(' ')[month - 1] : "";

    /// <summary>The words of a language by its code; English for one that isn't known.</summary>
    public static SourceWords For(string language) => s_all.FirstOrDefault(w => language.StartsWith(w.Language, StringComparison.Ordinal)) ?? s_all[0];

    private static readonly SourceWords[] s_all =
    [
        new()
        {
            Language = "en", And = "and", Editor = "editor", Editors = "editors", Volume = ("volume", "vol."), Number = "number", Pages = ("pages", "pp."), Page = ("page", "p."),
            Chapter = "chapter", Edition = ("edition", "ed."), Doctoral = "PhD thesis", Masters = "Master's thesis", Report = "Technical Report", Visited = "visited on", NoDate = "n.d.",
            CommaBeforeAnd = true, LowersTitles = true, Months = "January February March April May June July August September October November December",
        },
        new()
        {
            Language = "de", And = "und", Editor = "Hrsg.", Editors = "Hrsg.", Others = "u.~a.", Volume = ("Band", "Bd."), Number = "Nummer", Pages = ("Seiten", "S."), Page = ("Seite", "S."),
            Chapter = "Kapitel", Edition = ("Auflage", "Aufl."), Doctoral = "Dissertation", Masters = "Masterarbeit", Report = "Technischer Bericht", Of = "von", Visited = "besucht am", NoDate = "o. D.",
            Quotes = ("„", "“"), Months = "Januar Februar März April Mai Juni Juli August September Oktober November Dezember",
        },
        new()
        {
            Language = "fr", And = "et", Editor = "éd.", Editors = "éds.", In = "Dans", Volume = ("volume", "t."), Number = "numéro", Pages = ("pages", "p."), Page = ("page", "p."),
            Chapter = "chapitre", Edition = ("édition", "éd."), Doctoral = "Thèse de doctorat", Masters = "Mémoire de master", Report = "Rapport technique", Of = "de", Visited = "visité le", NoDate = "s. d.",
            Quotes = ("«~", "~»"), Months = "janvier février mars avril mai juin juillet août septembre octobre novembre décembre",
        },
        new()
        {
            Language = "es", And = "y", Editor = "ed.", Editors = "eds.", In = "En", Volume = ("volumen", "vol."), Number = "número", Pages = ("páginas", "págs."), Page = ("página", "pág."),
            Chapter = "capítulo", Edition = ("edición", "ed."), Doctoral = "Tesis doctoral", Masters = "Tesis de máster", Report = "Informe técnico", Of = "de", Visited = "visitado el", NoDate = "s. f.",
            Quotes = ("«", "»"), Months = "enero febrero marzo abril mayo junio julio agosto septiembre octubre noviembre diciembre",
        },
        new()
        {
            Language = "it", And = "e", Editor = "a cura di", Editors = "a cura di", Volume = ("volume", "vol."), Number = "numero", Pages = ("pagine", "pp."), Page = ("pagina", "p."),
            Chapter = "capitolo", Edition = ("edizione", "ed."), Doctoral = "Tesi di dottorato", Masters = "Tesi di laurea", Report = "Rapporto tecnico", Of = "di", Visited = "visitato il", NoDate = "s.d.",
            Quotes = ("«", "»"), Months = "gennaio febbraio marzo aprile maggio giugno luglio agosto settembre ottobre novembre dicembre",
        },
        new()
        {
            Language = "nl", And = "en", Editor = "red.", Editors = "red.", Others = "e.a.", Volume = ("deel", "dl."), Number = "nummer", Pages = ("pagina's", "p."), Page = ("pagina", "p."),
            Chapter = "hoofdstuk", Edition = ("druk", "dr."), Doctoral = "Proefschrift", Masters = "Masterscriptie", Report = "Technisch rapport", Of = "van", Visited = "bezocht op", NoDate = "z.d.",
            Quotes = ("‘", "’"), Months = "januari februari maart april mei juni juli augustus september oktober november december",
        },
        new()
        {
            Language = "pt", And = "e", Editor = "ed.", Editors = "eds.", In = "Em", Volume = ("volume", "vol."), Number = "número", Pages = ("páginas", "pp."), Page = ("página", "p."),
            Chapter = "capítulo", Edition = ("edição", "ed."), Doctoral = "Tese de doutoramento", Masters = "Dissertação de mestrado", Report = "Relatório técnico", Of = "de", Visited = "acesso em", NoDate = "s.d.",
            Quotes = ("«", "»"), Months = "janeiro fevereiro março abril maio junho julho agosto setembro outubro novembro dezembro",
        },
    ];
}
