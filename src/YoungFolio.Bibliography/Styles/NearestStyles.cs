namespace YoungFolio.Bibliography;

/// <summary>Which of our bibliography styles stands in for one that doesn't ship: the table nearest-styles.txt.</summary>
internal static class NearestStyles
{
    private static readonly Lazy<List<(bool IsModern, string Ours, string Name)>> s_rows = new(Read);

    /// <summary>The name of the classic style that is most like one, or null.</summary>
    public static string? Classic(string name) => Find(name, isModern: false);

    /// <summary>The name of biblatex' style that is most like one, or null.</summary>
    public static string? Modern(string name) => Find(name, isModern: true);

    // A whole name comes before what a star stands for, and of those the longest one.
    private static string? Find(string name, bool isModern) => s_rows.Value
        .Where(r => r.IsModern == isModern && (r.Name == name || (r.Name.EndsWith('*') && name.StartsWith(r.Name[..^1], StringComparison.Ordinal))))
        .OrderByDescending(r => r.Name == name).ThenByDescending(r => r.Name.Length)
        .Select(r => r.Ours).FirstOrDefault();

    private static List<(bool IsModern, string Ours, string Name)> Read()
    {
        using var reader = new StreamReader(typeof(NearestStyles).Assembly.GetManifestResourceStream("nearest-styles.txt")!);
        var rows = new List<(bool, string, string)>();
        while (reader.ReadLine() is { } line)
        {
            if (!line.StartsWith('#') && line.Split(' ', StringSplitOptions.RemoveEmptyEntries) is [var kind, var ours, .. var names])
            {
                rows.AddRange(names.Select(n => (kind == "modern", ours, n)));
            }
        }

        return rows;
    }
}
