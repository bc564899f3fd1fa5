namespace YoungFolio.Documents;

/// <summary>Languages as other formats name them.</summary>
public static class LanguageTag
{
    /// <summary>A language as BCP 47 writes it: <c>en-GB</c> for <c>en-gb</c>.</summary>
    public static string Of(string code)
    {
        ArgumentNullException.ThrowIfNull(code);
        return code.Split('-') is [var language, var region] ? $"{language}-{region.ToUpperInvariant()}" : code;
    }
}
