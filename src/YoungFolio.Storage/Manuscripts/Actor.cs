namespace YoungFolio.Storage;

/// <summary>Who does something.</summary>
/// <param name="Person">The person.</param>
/// <param name="Token">The access token, when a script does it.</param>
/// <param name="At">When it was done, in UTC, for history that is brought in; null: now.</param>
/// <param name="Act">What it is, in words for the chronicle; null: it speaks for itself.</param>
public readonly record struct Actor(int Person, int? Token = null, DateTime? At = null, string? Act = null);
