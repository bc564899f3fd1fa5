using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>Something that was stored, for those who have to be told of it.</summary>
/// <param name="ManuscriptId">The manuscript.</param>
public abstract record StoreChange(int ManuscriptId);

/// <summary>A text changed.</summary>
/// <param name="ManuscriptId">The manuscript.</param>
/// <param name="FileId">The file.</param>
/// <param name="Version">Its version after the updates.</param>
/// <param name="Updates">The updates.</param>
public sealed record TextChanged(int ManuscriptId, int FileId, int Version, IReadOnlyList<Update> Updates) : StoreChange(ManuscriptId);

/// <summary>Files came, went, or have another name, content or role.</summary>
public sealed record FilesChanged(int ManuscriptId) : StoreChange(ManuscriptId);

/// <summary>The manuscript's people changed, or its title, or whether it is there.</summary>
public sealed record PeopleChanged(int ManuscriptId) : StoreChange(ManuscriptId);

/// <summary>What is kept for those who write changed: words, goals, remarks that are left.</summary>
public sealed record AidsChanged(int ManuscriptId) : StoreChange(ManuscriptId);

/// <summary>Pins came, went, or have another name.</summary>
public sealed record PinsChanged(int ManuscriptId) : StoreChange(ManuscriptId);

/// <summary>A manuscript was handed in, or goes by other rules.</summary>
public sealed record HandInChanged(int ManuscriptId) : StoreChange(ManuscriptId);

/// <summary>Margin notes came, went, were answered or settled.</summary>
public sealed record NotesChanged(int ManuscriptId) : StoreChange(ManuscriptId);

/// <summary>Something was said in the talk, or taken back.</summary>
public sealed record TalkChanged(int ManuscriptId) : StoreChange(ManuscriptId);

/// <summary>Another state of the data was put in the place of this one: nothing known before holds.</summary>
public sealed record AllChanged() : StoreChange(0);
