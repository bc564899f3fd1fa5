using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Addresses on the web, and links to them.</summary>
internal sealed class AddressCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Gives the commands for addresses.</summary>
    internal void DefineAddresses()
    {
        Machine.Define("url", (m, t) => Address(t));
        Machine.Define("nolinkurl", (m, t) => Address(t, false));
        Machine.Define("path", (m, t) => Address(t, false));
        Machine.Define("urlstyle", (m, t) => AddressFamily = m.ReadText(t) switch { "rm" => FontFamily.Roman, "sf" => FontFamily.Sans, "same" => null, _ => FontFamily.Mono });
        Machine.Define("href", (m, t) =>
        {
            string target = RawArgument(t);
            List<Inline> shown = WithColour(AddressColour, () => Builder.BuildInlines(m.ReadArgument(t)));
            AddLink(shown, target, t);
        });
    }

    /// <summary>Colour of addresses; set by packages.</summary>
    internal int? AddressColour { get; set; }

    /// <summary>Family of addresses (<c>\urlstyle</c>).</summary>
    internal FontFamily? AddressFamily { get; set; } = FontFamily.Mono;

    /// <summary>Builds text in a colour; null leaves the present one.</summary>
    internal List<Inline> WithColour(int? colour, Func<List<Inline>> build)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Machine.Assign(Builder.Style, Builder.Style.Value with { Colour = colour ?? Builder.Style.Value.Colour });
        List<Inline> result = build();
        Machine.EndGroup();
        return result;
    }

    /// <summary>Sets an address that may break after its signs, leading outside unless it is only shown.</summary>
    internal void Address(Token token, bool links = true)
    {
        string address = RawArgument(token);
        TextStyle style = Builder.Style.Value with { Family = AddressFamily ?? Builder.Style.Value.Family, Colour = AddressColour ?? Builder.Style.Value.Colour };
        List<Inline> content = AddressPieces(address, token.Position, style);
        if (links)
        {
            AddLink(content, address, token);
            return;
        }

        foreach (Inline inline in content)
        {
            Builder.AddInline(inline);
        }
    }

    // Where a link may lead: the web and letters. What would run a program or open a file on the reader's computer is shown without one.
    private void AddLink(List<Inline> content, string target, Token token)
    {
        if (IsSafe(target))
        {
            Builder.AddInline(new LinkInline(content, target, true));
            return;
        }

        Findings.Check("unsafe-link", token.Position, token.Length, $"A link may lead to http, https or mailto; “{(target.Length > 40 ? target[..40] + "…" : target)}” is shown without one.",
            "Give a whole address, such as https://place.example/page.");
        foreach (Inline inline in content)
        {
            Builder.AddInline(inline);
        }
    }

    // An address without a scheme is one of the web; a colon before any slash names a scheme.
    private static bool IsSafe(string target)
    {
        string plain = string.Concat(target.Where(c => !char.IsControl(c) && !char.IsWhiteSpace(c)));
        int colon = plain.IndexOf(':', StringComparison.Ordinal);
        int slash = plain.IndexOfAny(['/', '?', '#']);
        return colon < 0 || (slash >= 0 && slash < colon)
            || plain[..colon].ToLowerInvariant() is "http" or "https" or "mailto";
    }

    // An address may break after a slash, a full stop or a hyphen.
    internal static List<Inline> AddressPieces(string address, int position, TextStyle style)
    {
        var content = new List<Inline>();
        int start = 0;
        for (int i = 0; i < address.Length; i++)
        {
            if ((address[i] is '/' or '.' or '-' or '?' or '&' or '=' && !(address[i] == '/' && i + 1 < address.Length && address[i + 1] == '/')) || i == address.Length - 1)
            {
                string piece = address[start..(i + 1)];
                content.Add(new TextRun(piece, [.. Enumerable.Repeat(position, piece.Length)], style));
                content.Add(new PenaltyInline(i == address.Length - 1 ? 10000 : 100));
                start = i + 1;
            }
        }

        return content;
    }

    // An address's signs mean nothing: % and # and _ are read as they stand.
    internal string RawArgument(Token token)
    {
        if (Machine.Input.DirectLexer is { } lexer && lexer.PeekRaw() is '{' or '|' or '!')
        {
            string text = Builder.Verbatim.RawDelimited(token, lexer, out _)?.Trim() ?? "";
            return text.Replace("\\%", "%", StringComparison.Ordinal).Replace("\\#", "#", StringComparison.Ordinal).Replace("\\_", "_", StringComparison.Ordinal);
        }

        return Machine.ExpandToText(Machine.ReadArgument(token).ConvertAll(t => t.Category is Category.Comment or Category.Parameter or Category.Subscript
            ? Token.Character(t.Code, Category.Other, t.Position) : ReferenceEquals(t.Symbol, Machine.Symbols.OfActive('~')) ? Token.Character('~', Category.Other, t.Position) : t)).Trim();
    }
}
