using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Addresses on the web, and links to them.
public sealed partial class DocumentBuilder
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
            AddInline(new LinkInline(WithColour(AddressColour, () => BuildInlines(m.ReadArgument(t))), target, true));
        });
    }

    /// <summary>Colour of addresses; set by packages.</summary>
    internal int? AddressColour { get; set; }

    /// <summary>Family of addresses (<c>\urlstyle</c>).</summary>
    internal FontFamily? AddressFamily { get; set; } = FontFamily.Mono;

    /// <summary>Builds text in a colour; null leaves the present one.</summary>
    internal List<Inline> WithColour(int? colour, Func<List<Inline>> build)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        Machine.Assign(_style, _style.Value with { Colour = colour ?? _style.Value.Colour });
        List<Inline> result = build();
        Machine.EndGroup();
        return result;
    }

    /// <summary>Sets an address that may break after its signs, leading outside unless it is only shown.</summary>
    internal void Address(Token token, bool links = true)
    {
        string address = RawArgument(token);
        TextStyle style = _style.Value with { Family = AddressFamily ?? _style.Value.Family, Colour = AddressColour ?? _style.Value.Colour };
        List<Inline> content = AddressPieces(address, token.Position, style);
        if (links)
        {
            AddInline(new LinkInline(content, address, true));
            return;
        }

        foreach (Inline inline in content)
        {
            AddInline(inline);
        }
    }

    // An address may break after a slash, a full stop or a hyphen.
    private static List<Inline> AddressPieces(string address, int position, TextStyle style)
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
        if (Machine.DirectLexer is { } lexer && lexer.PeekRaw() is '{' or '|' or '!')
        {
            string text = RawDelimited(token, lexer, out _)?.Trim() ?? "";
            return text.Replace("\\%", "%", StringComparison.Ordinal).Replace("\\#", "#", StringComparison.Ordinal).Replace("\\_", "_", StringComparison.Ordinal);
        }

        return Machine.ExpandToText(Machine.ReadArgument(token).ConvertAll(t => t.Category is Category.Comment or Category.Parameter or Category.Subscript
            ? Token.Character(t.Code, Category.Other, t.Position) : ReferenceEquals(t.Symbol, Machine.ActiveSymbol('~')) ? Token.Character('~', Category.Other, t.Position) : t)).Trim();
    }
}
