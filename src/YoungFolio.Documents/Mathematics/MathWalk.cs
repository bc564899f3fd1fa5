namespace YoungFolio.Documents.Mathematics;

/// <summary>Goes through formulas.</summary>
public static class MathWalk
{
    /// <summary>All nodes of a formula, those inside others too.</summary>
    public static IEnumerable<MathNode> Nodes(MathList list)
    {
        foreach (MathNode node in list.Nodes)
        {
            yield return node;
            if (node is Atom atom)
            {
                foreach (MathNode inner in Lists(atom).SelectMany(Nodes))
                {
                    yield return inner;
                }
            }
        }
    }

    private static IEnumerable<MathList> Lists(Atom atom)
    {
        IEnumerable<MathList?> lists = atom.Nucleus switch
        {
            ListNucleus list => (IEnumerable<MathList?>)[list.Content],
            FractionNucleus fraction => [fraction.Numerator, fraction.Denominator],
            RadicalNucleus radical => [radical.Degree, radical.Radicand],
            DelimitedNucleus delimited => [delimited.Content],
            AccentNucleus accent => [accent.Content],
            BarNucleus bar => [bar.Content],
            StretchNucleus stretch => [stretch.Content],
            ArrowNucleus arrow => [arrow.Above, arrow.Below],
            PhantomNucleus room => [room.Content],
            ColourNucleus colour => [colour.Content],
            StrikeNucleus strike => [strike.Content],
            ChoiceNucleus choice => choice.Choices,
            LeftScriptsNucleus scripts => [scripts.Superscript, scripts.Subscript, scripts.Content],
            GridNucleus grid => grid.Rows.SelectMany(r => r),
            _ => [],
        };
        return lists.Append(atom.Superscript).Append(atom.Subscript).OfType<MathList>();
    }
}
