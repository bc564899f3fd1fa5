namespace YoungFolio.Markup;

/// <summary>The category code of each character (<em>The TeXbook</em>, chapter 7).</summary>
public sealed class CategoryTable
{
    private static readonly Category[] s_standard = [.. Enumerable.Range(0, 256).Select(Standard)];
    private readonly ScopeTable _scopes;
    private readonly Scoped<Category>[] _categories;
    private readonly Dictionary<int, Scoped<Category>> _moreCategories = [];
    private string? _key;

    internal CategoryTable(ScopeTable scopes)
    {
        _scopes = scopes;
        _categories = [.. s_standard.Select(Create)];
    }

    /// <summary>The category code of a character now.</summary>
    public Category Of(int code)
    {
        if (code < _categories.Length)
        {
            return _categories[code].Value;
        }

        if (_moreCategories.Count > 0 && _moreCategories.TryGetValue(code, out Scoped<Category>? special))
        {
            return special.Value;
        }

        return code switch
        {
            // Accents that combine with the letter before them belong to it.
            >= 0x300 and <= 0x36F => Category.Letter,
            0xFEFF or 0x200B => Category.Ignored,
            < 0x10000 => char.IsLetter((char)code) ? Category.Letter : Category.Other,
            _ => Category.Other,
        };
    }

    /// <summary>Changes a character's category.</summary>
    public void Set(int code, Category category, bool global = false)
    {
        if (code < _categories.Length)
        {
            _scopes.Assign(_categories[code], category, global);
            return;
        }

        if (!_moreCategories.TryGetValue(code, out Scoped<Category>? scoped))
        {
            _moreCategories[code] = scoped = Create(Of(code));
        }

        _scopes.Assign(scoped, category, global);
    }

    // The category codes that differ from the usual ones, in words.
    internal string Key()
    {
        if (_key is null)
        {
            var key = new System.Text.StringBuilder();
            for (int i = 0; i < _categories.Length; i++)
            {
                if (_categories[i].Value != s_standard[i])
                {
                    key.Append(i).Append(':').Append((int)_categories[i].Value).Append(' ');
                }
            }

            foreach ((int code, Scoped<Category> category) in _moreCategories.OrderBy(c => c.Key))
            {
                key.Append(code).Append(':').Append((int)category.Value).Append(' ');
            }

            _key = key.ToString();
        }

        return _key;
    }

    /// <summary>Sets a letter's category outside all groups while definitions of the house's own are read.</summary>
    internal Category Swap(char letter, Category category)
    {
        Category before = _categories[letter].Value;
        _categories[letter].Value = category;
        return before;
    }

    private Scoped<Category> Create(Category category) => new(category) { Changed = () => _key = null };

    private static Category Standard(int code) => code switch
    {
        '\\' => Category.Escape,
        '{' => Category.BeginGroup,
        '}' => Category.EndGroup,
        '$' => Category.MathShift,
        '&' => Category.Alignment,
        '\n' => Category.EndOfLine,
        '#' => Category.Parameter,
        '^' => Category.Superscript,
        '_' => Category.Subscript,
        '\r' or 0 => Category.Ignored,
        ' ' or '\t' => Category.Space,
        '~' => Category.Active,
        '%' => Category.Comment,
        < 32 or 127 => Category.Invalid,
        _ => char.IsLetter((char)code) ? Category.Letter : Category.Other,
    };
}
