using System.Text;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package siunitx: numbers, units and quantities in one form (ISO 80000-1, section 7).</summary>
internal sealed class Siunitx
{
    // Names as the SI brochure has them, with the spellings of both sides of the ocean.
    private static readonly Dictionary<string, string> s_units = new(StringComparer.Ordinal)
    {
        ["ampere"] = "A",
        ["candela"] = "cd",
        ["kelvin"] = "K",
        ["kilogram"] = "kg",
        ["metre"] = "m",
        ["meter"] = "m",
        ["mole"] = "mol",
        ["second"] = "s",
        ["becquerel"] = "Bq",
        ["degreeCelsius"] = "{}^{\\circ}C",
        ["celsius"] = "{}^{\\circ}C",
        ["coulomb"] = "C",
        ["farad"] = "F",
        ["gray"] = "Gy",
        ["henry"] = "H",
        ["hertz"] = "Hz",
        ["joule"] = "J",
        ["katal"] = "kat",
        ["lumen"] = "lm",
        ["lux"] = "lx",
        ["newton"] = "N",
        ["ohm"] = "\\Omega",
        ["pascal"] = "Pa",
        ["radian"] = "rad",
        ["siemens"] = "S",
        ["sievert"] = "Sv",
        ["steradian"] = "sr",
        ["tesla"] = "T",
        ["volt"] = "V",
        ["watt"] = "W",
        ["weber"] = "Wb",
        ["gram"] = "g",
        ["day"] = "d",
        ["hectare"] = "ha",
        ["hour"] = "h",
        ["litre"] = "L",
        ["liter"] = "L",
        ["minute"] = "min",
        ["tonne"] = "t",
        ["bar"] = "bar",
        ["astronomicalunit"] = "au",
        ["dalton"] = "Da",
        ["electronvolt"] = "eV",
        ["decibel"] = "dB",
        ["bel"] = "B",
        ["neper"] = "Np",
        ["percent"] = "\\%",
        ["degree"] = "{}^{\\circ}",
        ["arcminute"] = "{}'",
        ["arcsecond"] = "{}''",
        ["angstrom"] = "\\text{Å}",
        ["year"] = "a",
        ["bit"] = "bit",
        ["byte"] = "B",
        ["are"] = "a",
        ["m"] = "m",
        ["km"] = "km",
        ["cm"] = "cm",
        ["mm"] = "mm",
        ["um"] = "\\mu m",
        ["nm"] = "nm",
        ["pm"] = "pm",
        ["g"] = "g",
        ["kg"] = "kg",
        ["mg"] = "mg",
        ["s"] = "s",
        ["ms"] = "ms",
        ["us"] = "\\mu s",
        ["ns"] = "ns",
        ["A"] = "A",
        ["mA"] = "mA",
        ["V"] = "V",
        ["mV"] = "mV",
        ["kV"] = "kV",
        ["W"] = "W",
        ["kW"] = "kW",
        ["MW"] = "MW",
        ["J"] = "J",
        ["kJ"] = "kJ",
        ["Hz"] = "Hz",
        ["kHz"] = "kHz",
        ["MHz"] = "MHz",
        ["GHz"] = "GHz",
        ["N"] = "N",
        ["kN"] = "kN",
        ["Pa"] = "Pa",
        ["kPa"] = "kPa",
        ["MPa"] = "MPa",
        ["K"] = "K",
        ["mol"] = "mol",
        ["eV"] = "eV",
        ["keV"] = "keV",
        ["MeV"] = "MeV",
        ["GeV"] = "GeV",
        ["L"] = "L",
        ["mL"] = "mL",
        ["ml"] = "ml",
        ["dB"] = "dB",
        ["kWh"] = "kW\\,h",
    };

    private static readonly Dictionary<string, string> s_prefixes = new(StringComparer.Ordinal)
    {
        ["quecto"] = "q",
        ["ronto"] = "r",
        ["yocto"] = "y",
        ["zepto"] = "z",
        ["atto"] = "a",
        ["femto"] = "f",
        ["pico"] = "p",
        ["nano"] = "n",
        ["micro"] = "\\mu ",
        ["milli"] = "m",
        ["centi"] = "c",
        ["deci"] = "d",
        ["deca"] = "da",
        ["deka"] = "da",
        ["hecto"] = "h",
        ["kilo"] = "k",
        ["mega"] = "M",
        ["giga"] = "G",
        ["tera"] = "T",
        ["peta"] = "P",
        ["exa"] = "E",
        ["zetta"] = "Z",
        ["yotta"] = "Y",
        ["ronna"] = "R",
        ["quetta"] = "Q",
        ["kibi"] = "Ki",
        ["mebi"] = "Mi",
        ["gibi"] = "Gi",
        ["tebi"] = "Ti",
    };

    private readonly Machine _machine;
    private readonly Dictionary<string, string> _ownUnits = new(StringComparer.Ordinal);
    private string _decimalSign = ".";
    private string _groupSign = "\\,";
    private bool _groups = true;
    private string _perMode = "power";
    private string _product = "\\times";

    private Siunitx(Machine machine) => _machine = machine;

    public static Package Package { get; } = new("siunitx", "Numbers, units and quantities, and columns of numbers under their decimal signs.")
    {
        Commands = ["num", "qty", "SI", "unit", "si", "ang", "numrange", "qtyrange", "SIrange", "numlist", "qtylist", "sisetup", "DeclareSIUnit", "tablenum"],
        Requires = ["amstext"],
        Load = static load => new Siunitx(load.Machine).Load(load),
    };

    private void Load(PackageLoad load)
    {
        Apply(load.Options);
        Define("sisetup", t => Apply(ListedOption.Of(_machine, _machine.ReadArgument(t))));
        Define("num", t => Print(t, Scoped(t, () => Number(Text(t)))));
        Define("tablenum", t => Print(t, Scoped(t, () => Number(Text(t)))));
        Define("ang", t => Print(t, Scoped(t, () => Angle(Text(t)))));
        foreach (string name in (string[])["unit", "si"])
        {
            Define(name, t => Print(t, Scoped(t, () => Unit(_machine.ReadArgument(t)))));
        }

        foreach (string name in (string[])["qty", "SI"])
        {
            Define(name, t => Print(t, Scoped(t, () =>
            {
                string number = Number(Text(t));
                _machine.ReadOptional(t);
                return Join(number, Unit(_machine.ReadArgument(t)));
            })));
        }

        Define("numrange", t => Print(t, Scoped(t, () => $"{Number(Text(t))}\\text{{ to }}{Number(Text(t))}")));
        foreach (string name in (string[])["qtyrange", "SIrange"])
        {
            Define(name, t => Print(t, Scoped(t, () =>
            {
                (string from, string to) = (Number(Text(t)), Number(Text(t)));
                string unit = Unit(_machine.ReadArgument(t));
                return $"{Join(from, unit)}\\text{{ to }}{Join(to, unit)}";
            })));
        }

        Define("numlist", t => Print(t, Scoped(t, () => List(Text(t).Split(';').Select(Number)))));
        foreach (string name in (string[])["qtylist", "SIlist"])
        {
            Define(name, t => Print(t, Scoped(t, () =>
            {
                string[] numbers = [.. Text(t).Split(';').Select(Number)];
                string unit = Unit(_machine.ReadArgument(t));
                return List(numbers.Select(n => Join(n, unit)));
            })));
        }

        Define("DeclareSIUnit", t =>
        {
            _machine.ReadOptional(t);
            List<Token> name = _machine.ReadArgument(t);
            _ownUnits[name.Count > 0 && name[0].Symbol is { } symbol ? symbol.Name : name.ToSource()] = Unit(_machine.ReadArgument(t), false);
        });
        foreach (string name in (string[])["DeclareSIPrefix", "DeclareSIPower", "DeclareSIQualifier"])
        {
            Define(name, t =>
            {
                _machine.ReadArgument(t);
                _machine.ReadArgument(t);
                if (name == "DeclareSIPrefix")
                {
                    _machine.ReadArgument(t);
                }
            });
        }
    }

    private void Define(string name, Action<Token> carry) => _machine.Define(name, (_, t) => carry(t));

    private string Text(Token token) => _machine.ReadArgument(token).ToSource();

    private void Print(Token token, string formula) => _machine.Input.PushMarkup($"\\ensuremath{{{formula}}}", token.Position);

    // Options in brackets hold for one command.
    private string Scoped(Token token, Func<string> make)
    {
        (string decimalSign, string groupSign, bool groups, string perMode, string product) = (_decimalSign, _groupSign, _groups, _perMode, _product);
        if (_machine.ReadOptional(token) is { } options)
        {
            Apply(ListedOption.Of(_machine, options));
        }

        string result = make();
        (_decimalSign, _groupSign, _groups, _perMode, _product) = (decimalSign, groupSign, groups, perMode, product);
        return result;
    }

    private void Apply(IReadOnlyList<ListedOption> options)
    {
        foreach (ListedOption option in options)
        {
            string value = (option.Value ?? []).ToSource().Trim();
            switch (option.Key)
            {
                case "output-decimal-marker":
                    _decimalSign = value.Trim('{', '}');
                    break;
                case "group-separator":
                    _groupSign = value.Trim('{', '}') is "," ? "{,}" : value.Length == 0 ? "" : value;
                    break;
                case "group-digits":
                    _groups = value is not ("false" or "none");
                    break;
                case "per-mode":
                    _perMode = value is "symbol" or "repeated-symbol" or "symbol-or-fraction" ? "symbol" : value.StartsWith("frac", StringComparison.Ordinal) ? "fraction" : "power";
                    break;
                case "exponent-product":
                    _product = value;
                    break;
                case "locale" when value is "DE" or "FR":
                    _decimalSign = ",";
                    break;
            }
        }
    }

    private static string Join(string number, string unit) =>
        number.Length == 0 ? unit : unit.StartsWith("\\mathrm{{}^{\\circ}}", StringComparison.Ordinal) ? number + unit : $"{number}\\,{unit}";

    private static string List(IEnumerable<string> members)
    {
        string[] all = [.. members];
        return all.Length < 2 ? string.Concat(all) : string.Join("\\text{, }", all[..^1]) + "\\text{ and }" + all[^1];
    }

    /// <summary>A number as a formula: grouped digits, the decimal sign, uncertainty and power of ten.</summary>
    private string Number(string text)
    {
        string source = text.Replace(" ", "", StringComparison.Ordinal).Replace("\\pm", "+-", StringComparison.Ordinal).Replace("±", "+-", StringComparison.Ordinal).Replace('−', '-');
        int power = source.IndexOfAny(['e', 'E', 'd', 'D']);
        string exponent = power >= 0 ? source[(power + 1)..] : "";
        string mantissa = power >= 0 ? source[..power] : source;
        int spread = mantissa.IndexOf("+-", StringComparison.Ordinal);
        string result = spread >= 0 ? $"{Digits(mantissa[..spread])} \\pm {Digits(mantissa[(spread + 2)..])}" : Digits(mantissa);
        if (exponent.Length == 0)
        {
            return result;
        }

        string ten = $"10^{{{Digits(exponent.TrimStart('+'))}}}";
        return spread >= 0 ? $"({result}) {_product} {ten}" : mantissa.Length == 0 || mantissa is "+" or "-" ? mantissa + ten : $"{result} {_product} {ten}";
    }

    private string Digits(string text)
    {
        int bracket = text.IndexOf('(', StringComparison.Ordinal);
        string after = bracket >= 0 ? text[bracket..] : "";
        string number = bracket >= 0 ? text[..bracket] : text;
        int first = number.AsSpan().IndexOfAnyInRange('0', '9');
        int sign = number.AsSpan().IndexOfAny('.', ',');
        if (first < 0)
        {
            return text;
        }

        string lead = number[..(sign >= 0 && sign < first ? sign : first)];
        string whole = sign >= 0 ? number[lead.Length..sign] : number[lead.Length..];
        string fraction = sign >= 0 ? number[(sign + 1)..] : "";
        string point = sign < 0 ? "" : _decimalSign == "," ? "{,}" : "{" + _decimalSign + "}";
        return lead.Replace("<", "{<}", StringComparison.Ordinal).Replace(">", "{>}", StringComparison.Ordinal) + Group(whole.Length == 0 ? "0" : whole, true) + point + Group(fraction, false) + after;
    }

    // Five digits and more stand in groups of three, counted from the decimal sign (ISO 80000-1, 7.3.1).
    private string Group(string digits, bool fromRight)
    {
        if (!_groups || digits.Length < 5)
        {
            return digits;
        }

        var text = new StringBuilder();
        for (int i = 0; i < digits.Length; i++)
        {
            int before = fromRight ? digits.Length - i : i;
            text.Append(i > 0 && before % 3 == 0 ? _groupSign : "").Append(digits[i]);
        }

        return text.ToString();
    }

    private string Angle(string text)
    {
        string[] parts = text.Split(';');
        string[] signs = ["{}^{\\circ}", "{}'", "{}''"];
        return string.Concat(parts.Take(3).Select((p, i) => p.Trim().Length == 0 ? "" : Number(p) + signs[i]));
    }

    /// <summary>A unit as a formula, from names such as <c>\metre\per\second</c> or from letters.</summary>
    private string Unit(List<Token> tokens, bool upright = true)
    {
        var above = new List<string>();
        var below = new List<string>();
        string prefix = "";
        string power = "";
        bool per = false;
        bool symbols = false;
        for (int i = 0; i < tokens.Count; i++)
        {
            if (tokens[i].Symbol is not { } symbol || symbol.IsActiveCharacter)
            {
                continue;
            }

            symbols = true;
            string name = symbol.Name;
            switch (name)
            {
                case "per":
                    per = true;
                    break;
                case "square" or "cubic":
                    power = name == "square" ? "2" : "3";
                    break;
                case "squared" or "cubed":
                    Raise(name == "squared" ? "2" : "3");
                    break;
                case "tothe" or "raiseto":
                    string exponent = Group(tokens, ref i);
                    if (name == "tothe")
                    {
                        Raise(exponent);
                    }
                    else
                    {
                        power = exponent;
                    }

                    break;
                case "of":
                    string of = Group(tokens, ref i);
                    List<string> last = below.Count > 0 ? below : above;
                    if (last.Count > 0)
                    {
                        last[^1] += $"_{{{of}}}";
                    }

                    break;
                default:
                    if (s_prefixes.TryGetValue(name, out string? p))
                    {
                        prefix += p;
                        break;
                    }

                    string unit = prefix + (_ownUnits.TryGetValue(name, out string? own) || s_units.TryGetValue(name, out own) ? own : name);
                    (per ? below : above).Add(power.Length > 0 ? $"{unit}^{{{power}}}" : unit);
                    (prefix, power) = ("", "");
                    per = per && _perMode == "never";
                    break;
            }
        }

        if (!symbols)
        {
            string letters = tokens.ToSource().Replace(".", "\\,", StringComparison.Ordinal).Replace("~", "\\,", StringComparison.Ordinal);
            return upright ? $"\\mathrm{{{letters}}}" : letters;
        }

        string text = Assemble(above, below);
        return upright ? $"\\mathrm{{{text}}}" : text;

        void Raise(string exponent)
        {
            List<string> last = below.Count > 0 ? below : above;
            if (last.Count > 0)
            {
                last[^1] += $"^{{{exponent}}}";
            }
        }
    }

    private string Assemble(List<string> above, List<string> below)
    {
        string top = string.Join("\\,", above);
        if (below.Count == 0)
        {
            return top;
        }

        if (_perMode == "power")
        {
            string inverse = string.Join("\\,", below.Select(u => u.IndexOf('^', StringComparison.Ordinal) is >= 0 and var at && !u.StartsWith("{}", StringComparison.Ordinal)
                ? u[..(at + 2)] + "-" + u[(at + 2)..] : u + "^{-1}"));
            return top.Length == 0 ? inverse : $"{top}\\,{inverse}";
        }

        string foot = string.Join("\\,", below);
        return _perMode == "fraction" ? $"\\frac{{{(top.Length == 0 ? "1" : top)}}}{{{foot}}}"
            : $"{(top.Length == 0 ? "1" : top)}/{(below.Count > 1 ? $"({foot})" : foot)}";
    }

    private static string Group(List<Token> tokens, ref int i)
    {
        if (i + 1 < tokens.Count && !tokens[i + 1].Is(Category.BeginGroup))
        {
            return tokens[++i].ToString();
        }

        int end = tokens.FindIndex(i + 1, t => t.Is(Category.EndGroup));
        if (end < 0)
        {
            return "";
        }

        string text = tokens.GetRange(i + 2, end - i - 2).ToSource();
        i = end;
        return text;
    }
}
