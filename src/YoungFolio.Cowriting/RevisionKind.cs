namespace YoungFolio.Cowriting;

/// <summary>Kinds of revisions.</summary>
public static class RevisionKind
{
    /// <summary>A change of a text; the payload is the change set.</summary>
    public const string Text = "text";

    /// <summary>A new file; the payload is its path, and a digest when it isn't text.</summary>
    public const string Create = "create";

    /// <summary>A file that was deleted is there again; the payload is as for a new one.</summary>
    public const string BringBack = "back";

    /// <summary>A file has another path; the payload is it.</summary>
    public const string Rename = "rename";

    /// <summary>A file was deleted; the payload is its path.</summary>
    public const string Delete = "delete";

    /// <summary>A file that isn't text has new content; the payload is its digest.</summary>
    public const string Upload = "upload";

    /// <summary>A setting of the manuscript; the payload says which: <c>title: …</c>.</summary>
    public const string Setting = "setting";

    /// <summary>Someone came, went or has another role; the payload says it.</summary>
    public const string People = "people";
}
