using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Lines and spaces between the rows of a table.</summary>
internal sealed class TableLineCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal static void AddTableLine(TableReader.TableState table, TableLine line) => table.Items.Add(line);

    /// <summary>Adds a line across the whole table.</summary>
    internal void AddTableLine(double thickness, double above, double below) =>
        AddTableLine(Builder.Tables.CurrentTable!, new TableLine(thickness, above, below, Builder.Tables.RuleColour.Value));

    /// <summary>Adds space between two rows.</summary>
    internal void AddTableSpace(double space) => AddTableLine(Builder.Tables.CurrentTable!, new TableLine(0, space, 0, 0) { Stretches = [] });

    /// <summary>Adds a stretch of a line, on the level of the one before when that has stretches too.</summary>
    internal void AddTableStretch(List<Token> columns, Token token, double thickness, double above, double below, string trim, double kern) =>
        AddStretch(Builder.Tables.CurrentTable!, columns, token, new TableLine(thickness, above, below, Builder.Tables.RuleColour.Value), trim, kern);

    /// <summary>Adds a line in pieces, a letter a column: - a line, = two, ~ none; the other letters join them and need nothing here.</summary>
    internal void AddPiecedLine(Token token)
    {
        string pieces = string.Concat(Machine.ReadArgument(token).ToSource().Where(c => c is '-' or '=' or '~'));
        TableReader.TableState table = Builder.Tables.CurrentTable!;
        if (pieces.Length > table.Columns.Count)
        {
            Findings.Check("no-such-columns", token.Position, token.Length, $"\\hhline names {pieces.Length} columns; this table has {table.Columns.Count}.", "Write a letter for each column: - or = or ~.");
            pieces = pieces[..table.Columns.Count];
        }

        double thickness = Builder.Get("arrayrulewidth");
        AddTableLine(table, new TableLine(thickness, 0, 0, Builder.Tables.RuleColour.Value) { Stretches = Stretches("-=") });
        if (pieces.Contains('=', StringComparison.Ordinal))
        {
            AddTableLine(table, new TableLine(thickness, Builder.Get("doublerulesep"), 0, Builder.Tables.RuleColour.Value) { Stretches = Stretches("=") });
        }

        List<LineStretch> Stretches(string letters)
        {
            var stretches = new List<LineStretch>();
            for (int i = 0; i < pieces.Length; i++)
            {
                if (letters.Contains(pieces[i], StringComparison.Ordinal))
                {
                    bool goesOn = stretches is [.., var last] && last.Last == i - 1;
                    if (goesOn)
                    {
                        stretches[^1] = stretches[^1] with { Last = i };
                    }
                    else
                    {
                        stretches.Add(new LineStretch(i, i, 0, 0));
                    }
                }
            }

            return stretches;
        }
    }

    internal void AddStretch(TableReader.TableState table, List<Token> columns, Token token, TableLine line, string trim, double kern)
    {
        string[] ends = Machine.ExpandToText(columns).Split('-');
        if (!int.TryParse(ends[0], out int first) || !int.TryParse(ends[^1], out int last) || first < 1 || last < first || last > table.Columns.Count)
        {
            Findings.Check("no-such-columns", token.Position, token.Length, $"“{columns.ToSource()}” are no columns of this table.",
                $"Write two numbers from 1 to {table.Columns.Count}, such as 1-2.");
            return;
        }

        var stretch = new LineStretch(first - 1, last - 1, Trim('l'), Trim('r'));
        if (table.Items is [.., TableLine { Stretches: { Count: > 0 } stretches } before] && before.TakesRoom == line.TakesRoom
            && stretches[^1].Last < stretch.First && before.Thickness == line.Thickness)
        {
            table.Items[^1] = before with { Stretches = [.. stretches, stretch] };
            return;
        }

        table.Items.Add(line with { Stretches = [stretch] });

        double Trim(char side)
        {
            int at = trim.IndexOf(side, StringComparison.Ordinal);
            if (at < 0)
            {
                return 0;
            }

            int open = at + 1 < trim.Length && trim[at + 1] == '{' ? at + 1 : -1;
            int close = open < 0 ? -1 : trim.IndexOf('}', open);
            return close > open && Machine.Quantities.ParseGlue(Machine.Tokenize(trim[(open + 1)..close], token.Position), token) is { } own ? own.Width.Points : kern;
        }
    }
}
