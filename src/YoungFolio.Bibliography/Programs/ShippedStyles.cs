using System.Collections.Concurrent;
using YoungFolio.Markup;

namespace YoungFolio.Bibliography;

/// <summary>The programs of styles, which ship: each of some parts, read when it is used first.</summary>
internal static class ShippedStyles
{
    // The parts of each; what comes later takes the place of functions before. They have names of their own: they are no copies of the files by
    // the styles' names.
    private static readonly Dictionary<string, string[]> s_parts = new(StringComparer.Ordinal)
    {
        ["plain"] = ["numbered"],
        ["unsrt"] = ["numbered-as-cited"],
        ["abbrv"] = ["short-names", "numbered"],
        ["alpha"] = ["letters"],
        ["plainnat"] = ["natbib", "labelled"],
        ["abbrvnat"] = ["short-names", "natbib", "labelled"],
        ["unsrtnat"] = ["natbib", "labelled-as-cited"],
        ["apalike"] = ["inverted", "labelled"],
        ["yearly"] = ["inverted", "inverted-with-addresses", "labelled-by-names"],
        ["engineering"] = ["short-names", "few-names", "numbered-as-cited"],
        ["ieeetr"] = ["short-names", "quoted-titles", "numbered-as-cited"],
        ["siam"] = ["short-names", "slanted-titles", "numbered"],
        ["acm"] = ["short-names", "small-capitals", "numbered"],

        // Of biblatex: these print what is sorted and labelled already.
        ["apa"] = ["modern", "parentheses", "print"],
        ["ieee"] = ["short-names", "quoted-titles", "modern", "editions-behind", "print"],
        ["nature"] = ["modern", "bold-volumes", "print"],
        ["chicago"] = ["modern", "full-names", "print"],
        ["mla"] = ["modern", "containers", "print"],
    };

    private static readonly ConcurrentDictionary<string, StyleProgram> s_read = new(StringComparer.Ordinal);

    /// <summary>A style's program.</summary>
    /// <param name="name">The style's name; one of ours.</param>
    public static StyleProgram Of(string name) => s_read.GetOrAdd(name, static n => StyleProgram.Read(s_parts[n].Prepend("common").Select(static p => ShippedText.Of(typeof(ShippedStyles).Assembly, $"classic-{p}.bst"))));
}
