namespace YoungFolio.Markup;

/// <summary>What the kernel defines in the language itself: files beside this one, read in their order.</summary>
internal static class KernelDefinitions
{
    private static readonly Lazy<string> s_markup = new(() =>
        string.Concat(new[] { "kernel.tex", "plain.tex", "formulas.tex", "internals.tex", "contents.tex" }.Select(static f => ShippedText.Of(typeof(KernelDefinitions).Assembly, f))));

    /// <summary>Their markup.</summary>
    public static string Markup => s_markup.Value;
}
