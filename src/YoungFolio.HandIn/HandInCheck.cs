using System.Text.Json.Serialization;
using YoungFolio.Compiler;

namespace YoungFolio.HandIn;

/// <summary>How a check came out.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<CheckState>))]
public enum CheckState
{
    /// <summary>It holds.</summary>
    [JsonStringEnumMemberName("holds")]
    Holds,

    /// <summary>Someone should look at it.</summary>
    [JsonStringEnumMemberName("look")]
    Look,

    /// <summary>It has to be mended.</summary>
    [JsonStringEnumMemberName("mend")]
    Mend,
}

/// <summary>A place that a check speaks of.</summary>
/// <param name="Says">What is there.</param>
/// <param name="Sheet">The page of the PDF, from 1; null: it isn't one place on the pages.</param>
/// <param name="File">The file; null: it stands in none.</param>
/// <param name="Line">Line from 1.</param>
/// <param name="Offset">The first character.</param>
/// <param name="Repair">The one safe mend.</param>
public sealed record CheckPlace(string Says, int? Sheet = null, string? File = null, int? Line = null, int? Offset = null, RepairLine? Repair = null);

/// <summary>One thing that was looked at before a manuscript is handed in.</summary>
/// <param name="Key">Its key: the same for the same check of any manuscript.</param>
/// <param name="State">How it came out.</param>
/// <param name="Says">What was found, in a sentence.</param>
public sealed record HandInCheck(string Key, CheckState State, string Says)
{
    /// <summary>What is asked for; empty: nothing but the craft.</summary>
    public string Rule { get; init; } = "";

    /// <summary>Why it matters, and what to do.</summary>
    public string Advice { get; init; } = "";

    /// <summary>Where.</summary>
    public IReadOnlyList<CheckPlace> Places { get; init; } = [];

    /// <summary>The room in which it is mended: <c>write</c>, <c>sources</c>, <c>set-up</c>, <c>notes</c>; null: at its places.</summary>
    public string? Room { get; init; }
}

/// <summary>Checks of one subject.</summary>
/// <param name="Title">What they are about.</param>
/// <param name="Checks">The checks.</param>
public sealed record CheckGroup(string Title, IReadOnlyList<HandInCheck> Checks);

/// <summary>What people still say about a manuscript.</summary>
/// <param name="Notes">Notes in the margin that are open.</param>
/// <param name="Suggestions">Suggestions that are neither taken nor declined.</param>
public sealed record OpenTalk(int Notes, int Suggestions);
