using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Further environments for tables, and the colour of their lines.
public sealed partial class DocumentBuilder
{
    /// <summary>Gives an environment for tables of a given width in a line.</summary>
    internal void DefineSharedWidth(string name) => DefineEnvironment(name, t => BeginTable(t, ReadTableWidth(t)), EndTable);

    /// <summary>Gives an environment whose width follows the word <c>to</c>.</summary>
    internal void DefineWidthByKeyword(string name, bool isLong) => DefineEnvironment(name, t =>
    {
        double? width = Machine.TakeKeyword("to") || Machine.TakeKeyword("spread") ? Math.Clamp(Machine.ScanDimension().Points, 1, 10_000) : null;
        if (isLong)
        {
            BeginNumberedTable(t);
        }

        BeginTable(t, width ?? LineWidth, isLong ? new LongTableState() : null);
    }, EndTable);

    /// <summary>Gives a command that colours lines of tables, between rows or before a table.</summary>
    internal void DefineColourOfLines(string name)
    {
        _rowCommands.Add(name);
        Machine.Define(name, (m, t) => ColourTableLines(Packages.ColourPackages.ReadColour(this, m, t)));
    }
}
