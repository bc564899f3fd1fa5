using YoungFolio.Markup;

namespace YoungFolio.Compiler;

/// <summary>A manuscript's files with others in the place of some of them: what it would be.</summary>
public sealed class FilesOver(IReadOnlyDictionary<string, ManuscriptFile> over, IFileTree files) : IFileTree
{
    /// <inheritdoc/>
    public IReadOnlyList<string> Paths => files.Paths;

    /// <inheritdoc/>
    public bool IsManuscriptAlone => files.IsManuscriptAlone;

    /// <inheritdoc/>
    public ManuscriptFile? Find(string path) => over.TryGetValue(path, out ManuscriptFile? file) ? file : files.Find(path);
}
