namespace YoungFolio.Bibliography;

/// <summary>Lists of names in print, as markup.</summary>
internal static class NameLists
{
    /// <summary>Names of a reference.</summary>
    public static string Print(string field, BibliographyStyle style, SourceWords words)
    {
        IReadOnlyList<PersonName> names = PersonName.ReadList(field);
        (List<PersonName> shown, bool cut) = Cut(names, style.MaxNames, style.MinNames);
        List<string> printed = [.. shown.Select((n, i) => One(n, style, i == 0))];
        return Join(printed, cut, words, printed.Count > 2 && words.CommaBeforeAnd);
    }

    /// <summary>Family names of a citation.</summary>
    /// <param name="field">The names.</param>
    /// <param name="style">The style, which says how many are listed.</param>
    /// <param name="words">The language.</param>
    /// <param name="all">Whether all are listed.</param>
    public static string Short(string field, BibliographyStyle style, SourceWords words, bool all)
    {
        IReadOnlyList<PersonName> names = PersonName.ReadList(field);
        // “and others” counts as a name in the classic manner.
        bool isLong = style.Manner == ReferenceManner.Classic && names.Count > style.MaxCiteNames;
        (List<PersonName> shown, bool cut) = all ? Cut(names, int.MaxValue, 1) : Cut(names, isLong ? 0 : style.MaxCiteNames, style.MinCiteNames);
        return Join([.. shown.Select(n => n.Family)], cut, words, shown.Count > 2 && words.CommaBeforeAnd);
    }

    private static (List<PersonName> Shown, bool Cut) Cut(IReadOnlyList<PersonName> names, int max, int min)
    {
        bool others = names is [.., { IsOthers: true }];
        List<PersonName> people = [.. names.Where(n => !n.IsOthers)];
        return people.Count > max ? (people[..Math.Clamp(min, 1, people.Count)], true) : (people, others);
    }

    private static string One(PersonName name, BibliographyStyle style, bool isFirst)
    {
        string given = style.Initials ? name.Initials : name.First;
        bool inverted = style.Names == NameForm.Inverted || (style.Names == NameForm.FirstInverted && isFirst);
        if (!inverted)
        {
            return string.Join(' ', new[] { given, name.Von, name.Last }.Where(p => p.Length > 0)) + (name.Junior.Length > 0 ? ", " + name.Junior : "");
        }

        // Where particles don't count in sorting they stand behind the given names.
        string family = style.SortsWithParticle ? name.Family : name.Last;
        string behind = style.SortsWithParticle || name.Von.Length == 0 ? given : (given + " " + name.Von).Trim();
        return string.Join(", ", new[] { family, name.Junior, behind }.Where(p => p.Length > 0));
    }

    private static string Join(List<string> names, bool cut, SourceWords words, bool commaBeforeLast)
    {
        if (names.Count == 0)
        {
            return "";
        }

        if (cut)
        {
            return string.Join(", ", names) + (names.Count > 1 && commaBeforeLast ? ", " : " ") + words.Others;
        }

        return names.Count == 1 ? names[0] : string.Join(", ", names[..^1]) + (commaBeforeLast ? ", " : " ") + words.And + " " + names[^1];
    }
}
