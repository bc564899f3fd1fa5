using System.Collections.Concurrent;
using YoungFolio.Markup;

namespace YoungFolio.Bibliography;

/// <summary>The programs of styles, which ship: each of some parts, read when it is used first.</summary>
internal static class ShippedStyles
{
    // The parts of each; what comes later takes the place of functions before.
    private static readonly Dictionary<string, string[]> s_parts = new(StringComparer.Ordinal)
    {
        ["plain"] = ["plain"],
        ["unsrt"] = ["unsrt"],
        ["abbrv"] = ["short-names", "plain"],
        ["alpha"] = ["alpha"],
        ["plainnat"] = ["natbib", "labelled"],
        ["abbrvnat"] = ["short-names", "natbib", "labelled"],
        ["unsrtnat"] = ["natbib", "labelled-unsorted"],
        ["apalike"] = ["apalike", "labelled"],
        ["yearly"] = ["apalike", "yearly", "labelled-by-names"],
        ["engineering"] = ["short-names", "engineering", "unsrt"],
        ["ieeetr"] = ["short-names", "ieeetr", "unsrt"],
        ["siam"] = ["short-names", "siam", "plain"],
        ["acm"] = ["short-names", "acm", "plain"],

        // Of biblatex: these print what is sorted and labelled already.
        ["apa"] = ["modern", "apa", "print"],
        ["ieee"] = ["short-names", "ieeetr", "modern", "ieee", "print"],
        ["nature"] = ["modern", "nature", "print"],
        ["chicago"] = ["modern", "chicago", "print"],
        ["mla"] = ["modern", "mla", "print"],
    };

    private static readonly ConcurrentDictionary<string, StyleProgram> s_read = new(StringComparer.Ordinal);

    /// <summary>A style's program.</summary>
    /// <param name="name">The style's name; one of ours.</param>
    public static StyleProgram Of(string name) => s_read.GetOrAdd(name, static n => StyleProgram.Read(s_parts[n].Prepend("common").Select(static p => ShippedText.Of(typeof(ShippedStyles).Assembly, $"classic-{p}.bst"))));
}
