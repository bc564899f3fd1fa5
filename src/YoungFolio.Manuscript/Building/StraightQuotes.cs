using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Words between straight quotation marks, which print as they are typed: both alike. A sign that no word follows, or that has no partner in
/// its paragraph, may well be one for inches or seconds, or for "the same again" in a table.
/// </summary>
internal static class StraightQuotes
{
    private const int MostRemarks = 20;
    private const int LongestQuotation = 2_000;

    /// <summary>Says each pair, with its mend.</summary>
    /// <param name="signs">Positions of the straight signs that were printed.</param>
    /// <param name="hasCommand">Whether the preamble loads a command for quotations.</param>
    /// <param name="positions">Where positions lie.</param>
    /// <param name="findings">Takes the remarks.</param>
    public static void Run(IEnumerable<int> signs, bool hasCommand, PositionTable positions, FindingLog findings)
    {
        int behind = -1;
        int count = 0;
        foreach (int sign in signs.Where(p => p >= 0).Distinct().Order())
        {
            if (sign <= behind || positions.Resolve(sign) is not { } place || Partner(place.File.Text, place.Offset) is not { } close)
            {
                continue;
            }

            behind = sign - place.Offset + close;
            (string open, string end) = hasCommand ? ("\\enquote{", "}") : ("``", "''");
            var repair = new Repair(sign, 1, open) { Also = new Repair(behind, 1, end) };
            findings.Check("straight-quotes", sign, behind - sign + 1, "These quotation marks print straight, and alike on both sides.", $"Write {open}…{end}.", repair);
            if (++count == MostRemarks)
            {
                return;
            }
        }
    }

    // Where the quotation that a sign opens ends in its paragraph; null when it opens none.
    private static int? Partner(string text, int at)
    {
        bool opens = at < text.Length && text[at] == '"' && (at == 0 || char.IsWhiteSpace(text[at - 1]) || text[at - 1] is '(' or '[' or '{' or '~' or '-')
            && at + 1 < text.Length && (char.IsLetterOrDigit(text[at + 1]) || text[at + 1] == '\\');
        int close = opens ? text.IndexOf('"', at + 1) : -1;
        return close > at + 1 && close - at < LongestQuotation && !char.IsWhiteSpace(text[close - 1])
            && (close + 1 == text.Length || !char.IsLetterOrDigit(text[close + 1])) && !text.AsSpan(at, close - at).ContainsAny('&', '%') && text.IndexOf("\n\n", at, close - at, StringComparison.Ordinal) < 0
            ? close
            : null;
    }
}
