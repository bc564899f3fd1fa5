using System.Text;
using System.Xml.Linq;

namespace YoungFolio.Compiler.Html;

/// <summary>The words of a page of HTML: a paragraph, heading, item or row a line, an empty line between paragraphs.</summary>
internal sealed class PageText
{
    // What makes a line of its own.
    private static readonly HashSet<string> s_lines = new(StringComparer.Ordinal)
    {
        "h1", "h2", "h3", "h4", "h5", "h6", "p", "li", "tr", "figcaption", "div", "figure", "table", "ul", "ol", "nav", "section", "aside",
    };

    private readonly StringBuilder _text = new();

    private PageText()
    {
    }

    /// <summary>The words.</summary>
    /// <param name="body">What the page holds.</param>
    public static string Of(XElement body)
    {
        var page = new PageText();
        page.AddAll(body);
        return page._text.ToString().TrimEnd('\n', ' ', '\t') + "\n";
    }

    private void AddAll(XElement element)
    {
        foreach (XNode node in element.Nodes())
        {
            if (node is XText words)
            {
                // Spaces of every width are spaces here.
                foreach (char c in words.Value)
                {
                    _text.Append(char.IsWhiteSpace(c) ? ' ' : c);
                }
            }
            else if (node is XElement inner)
            {
                Add(inner);
            }
        }
    }

    private void Add(XElement element)
    {
        string name = element.Name.LocalName;
        switch (name)
        {
            case "br":
                _text.Append('\n');
                return;
            case "img":
                _text.Append(element.Attribute("alt")?.Value);
                return;
            case "td" or "th":
                AddAll(element);
                _text.Append('\t');
                return;
        }

        bool isInItem = element.Parent?.Name.LocalName == "li";
        int lines = name is "tr" or "li" || isInItem ? 1 : 2;
        bool isLine = s_lines.Contains(name);
        // An item's paragraph begins behind its number.
        bool goesOn = isInItem && name == "p" && element.ElementsBeforeSelf().All(e => e.Name.LocalName is "span" or "a");
        if (isLine && !goesOn)
        {
            End(lines);
        }

        AddAll(element);
        if (isLine)
        {
            End(lines);
        }
    }

    private void End(int lines)
    {
        while (_text.Length > 0 && _text[^1] is ' ' or '\t')
        {
            _text.Length--;
        }

        int ends = 0;
        while (ends < _text.Length && _text[^(ends + 1)] == '\n')
        {
            ends++;
        }

        _text.Append('\n', _text.Length == 0 ? 0 : Math.Max(0, lines - ends));
    }
}
