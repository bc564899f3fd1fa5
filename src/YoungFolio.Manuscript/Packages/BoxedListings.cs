using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// Program text in coloured boxes, with what it sets beside or below it (tcolorbox' library listings, from its documentation, from memory): what is typed is
/// kept as a file of the text's own, listed from there, and read once more where it is to be set.
/// </summary>
internal sealed class BoxedListings
{
    private readonly DocumentBuilder _builder;
    private int _written;

    private BoxedListings(DocumentBuilder builder) => _builder = builder;

    private enum Form
    {
        ListingAndText,
        TextAndListing,
        ListingOnly,
        TextOnly,
        ListingBesideText,
        TextBesideListing,
    }

    /// <summary>Gives the environment tcblisting, and the commands that make more of them.</summary>
    public static void Define(DocumentBuilder builder)
    {
        var listings = new BoxedListings(builder);
        builder.Environments.DefineEnvironment("tcblisting", t => listings.Write(builder.Machine.ReadArgument(t), t));
        foreach (string name in (string[])["newtcblisting", "renewtcblisting"])
        {
            builder.Machine.Define(name, (_, t) => listings.DefineOne(t));
        }

        builder.Machine.Define("tcbinputlisting", (m, t) =>
        {
            List<Token> options = m.ReadArgument(t);
            (Form form, List<Token> listing, List<Token> box, string? file) = listings.Parted(options, t);
            listings.Push(form is Form.ListingAndText ? Form.ListingOnly : form, listing, box, file ?? "", [], t);
        });
    }

    // \newtcblisting[…]{name}[arguments][standard]{options}.
    private void DefineOne(Token token)
    {
        Machine machine = _builder.Machine;
        machine.ReadOptional(token);
        string name = machine.ReadText(token).Trim();
        int count = int.TryParse(machine.ReadOptionalText(token), out int n) ? Math.Clamp(n, 0, 9) : 0;
        List<Token>? standard = machine.ReadOptional(token);
        List<Token> options = machine.Definitions.NumberParameters(machine.ReadArgument(token), count);
        _builder.Environments.DefineEnvironment(name, t =>
        {
            List<List<Token>> arguments = [.. Enumerable.Range(0, count).Select(i => i == 0 && standard is not null ? machine.ReadOptional(t) ?? standard : machine.ReadArgument(t))];
            Write([.. options.SelectMany(o => o.Is(Category.Argument) && o.Code >= 1 && o.Code <= count ? arguments[o.Code - 1] : [o])], t);
        });
    }

    private void Write(List<Token> options, Token token)
    {
        if (_builder.Verbatim.TakeRawBody(token) is not { } body)
        {
            return;
        }

        (Form form, List<Token> listing, List<Token> box, _) = Parted(options, token);
        string file = $"tcblisting-{++_written}.txt";
        _builder.SourceFiles.Write(file, body.Text, true);
        Push(form, listing, box, file, form == Form.ListingOnly ? [] : [.. _builder.Machine.Tokenize(body.Text, token.Position)], token);
    }

    private void Push(Form form, List<Token> listing, List<Token> box, string file, List<Token> text, Token token)
    {
        Machine machine = _builder.Machine;
        List<Token> Markup(string markup) => [.. machine.Tokenize(markup, token.Position)];
        List<Token> listed = [.. machine.Input.Tokenize("\\lstinputlisting[", listing, "]", token.Position), .. Markup($"{{{file}}}")];
        List<Token> content = form switch
        {
            Form.ListingOnly => listed,
            Form.TextOnly => text,
            Form.TextAndListing => [.. text, .. Markup("\\tcblower "), .. listed],
            Form.ListingBesideText => Beside(listed, text),
            Form.TextBesideListing => Beside(text, listed),
            _ => [.. listed, .. Markup("\\tcblower "), .. text],
        };
        machine.Push([.. machine.Input.Tokenize("\\begin{tcolorbox}[", box, "]", token.Position), .. content, .. Markup("\\end{tcolorbox}")]);

        List<Token> Beside(List<Token> left, List<Token> right) =>
            [.. Markup("\\noindent\\begin{minipage}{.48\\linewidth}"), .. left, .. Markup("\\end{minipage}\\hfill\\begin{minipage}{.48\\linewidth}"), .. right, .. Markup("\\end{minipage}")];
    }

    // Keys of the listing, and those of the box.
    private (Form Form, List<Token> Listing, List<Token> Box, string? File) Parted(List<Token> options, Token token)
    {
        Machine machine = _builder.Machine;
        Form form = Form.ListingAndText;
        var listing = new List<Token>();
        var box = new List<Token>();
        string? file = null;
        foreach (ListedOption option in ListedOption.Of(machine, options))
        {
            switch (option.Key)
            {
                case "listing only":
                    form = Form.ListingOnly;
                    break;
                case "text only":
                    form = Form.TextOnly;
                    break;
                case "text and listing" or "text above listing" or "text outside listing":
                    form = Form.TextAndListing;
                    break;
                case "listing and text" or "listing above text" or "listing outside text" or "listing and comment":
                    break;
                case "listing side text" or "listing side comment":
                    form = Form.ListingBesideText;
                    break;
                case "text side listing" or "comment side listing":
                    form = Form.TextBesideListing;
                    break;
                case "listing options":
                    listing.AddRange([.. option.Value ?? [], Token.Character(',', Category.Other, token.Position)]);
                    break;
                case "listing style" or "minted language" or "listing remove caption" or "minted options" or "minted style" or "listing engine" or "listing utf8":
                    string key = option.Key switch { "listing style" => "style", "minted language" => "language", _ => "" };
                    listing.AddRange(key.Length == 0 ? [] : [.. machine.Tokenize(key + "=", token.Position), .. option.Value ?? [], Token.Character(',', Category.Other, token.Position)]);
                    break;
                case "listing file":
                    file = option.Text(machine);
                    break;
                default:
                    box.AddRange([.. option.Source, Token.Character(',', Category.Other, token.Position)]);
                    break;
            }
        }

        return (form, listing, box, file);
    }
}
