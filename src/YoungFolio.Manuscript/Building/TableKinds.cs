using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Further environments for tables, and the colour of their lines.</summary>
internal sealed class TableKinds(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Gives an environment for tables of a given width in a line.</summary>
    internal void DefineSharedWidth(string name) => Builder.Environments.DefineEnvironment(name, t => Builder.Tables.BeginTable(t, Builder.Tables.ReadTableWidth(t)), Builder.Tables.EndTable);

    /// <summary>Gives an environment whose width follows the word <c>to</c>.</summary>
    internal void DefineWidthByKeyword(string name, bool isLong) => Builder.Environments.DefineEnvironment(name, t =>
    {
        double? width = Machine.Quantities.TakeKeyword("to") || Machine.Quantities.TakeKeyword("spread") ? Math.Clamp(Machine.Quantities.ScanDimension().Points, 1, 10_000) : null;
        Builder.Tables.BeginTable(t, width ?? Builder.Boxes.LineWidth, isLong ? new LongTableState { Float = Builder.LongTables.BeginNumberedTable(t) } : null);
    }, Builder.Tables.EndTable);

    /// <summary>Gives a command that colours lines of tables, between rows or before a table.</summary>
    internal void DefineColourOfLines(string name)
    {
        Builder.Tables.RowCommands.Add(name);
        Machine.Define(name, (m, t) => Builder.Tables.ColourTableLines(Packages.ColourPackages.ReadColour(Builder, m, t)));
    }
}
