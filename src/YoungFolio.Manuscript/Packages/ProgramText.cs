using System.Collections.Frozen;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Kinds of words in a program's text.</summary>
internal enum ProgramWord
{
    /// <summary>Anything else.</summary>
    Plain,

    /// <summary>A word of the language itself.</summary>
    Keyword,

    /// <summary>A comment.</summary>
    Comment,

    /// <summary>A text between quotation marks.</summary>
    Text,
}

/// <summary>What a programming language's text looks like: enough to print it well.</summary>
/// <param name="Keywords">Words of the language.</param>
/// <param name="LineComment">What begins a comment to the end of the line, or empty.</param>
/// <param name="BlockOpen">What begins a comment over lines, or empty.</param>
/// <param name="BlockClose">What ends it.</param>
/// <param name="IgnoresCase">Whether keywords may stand in any case.</param>
internal sealed record ProgramLanguage(FrozenSet<string> Keywords, string LineComment, string BlockOpen, string BlockClose, bool IgnoresCase = false)
{
    private static ProgramLanguage Of(string words, string line, string open = "", string close = "", bool anyCase = false) =>
        new(words.Split(' ').ToFrozenSet(anyCase ? StringComparer.OrdinalIgnoreCase : StringComparer.Ordinal), line, open, close, anyCase);

    private const string CWords = "auto break case char const continue default do double else enum extern float for goto if int long register return short signed sizeof static struct switch typedef union unsigned void volatile while";

    private static readonly Dictionary<string, ProgramLanguage> s_all = new(StringComparer.OrdinalIgnoreCase)
    {
        ["c"] = Of(CWords, "//", "/*", "*/"),
        ["c++"] = Of(CWords + " bool catch class constexpr delete explicit false friend inline mutable namespace new noexcept nullptr operator override private protected public template this throw true try typename using virtual", "//", "/*", "*/"),
        ["c#"] = Of("abstract as async await base bool break byte case catch char class const continue decimal default delegate do double else enum event false finally float for foreach get if in int interface internal is lock long namespace new null object out override params private protected public readonly record ref return sealed set short static string struct switch this throw true try typeof using var virtual void while yield", "//", "/*", "*/"),
        ["java"] = Of("abstract assert boolean break byte case catch char class const continue default do double else enum extends final finally float for if implements import instanceof int interface long native new null package private protected public return short static super switch synchronized this throw throws transient true false try void volatile while", "//", "/*", "*/"),
        ["javascript"] = Of("async await break case catch class const continue default delete do else export extends false finally for from function if import in instanceof let new null of return static super switch this throw true try typeof undefined var void while yield", "//", "/*", "*/"),
        ["python"] = Of("False None True and as assert async await break class continue def del elif else except finally for from global if import in is lambda nonlocal not or pass raise return try while with yield", "#", "\"\"\"", "\"\"\""),
        ["r"] = Of("if else repeat while function for next break TRUE FALSE NULL NA NaN Inf in library require return", "#"),
        ["matlab"] = Of("break case catch classdef continue else elseif end for function global if otherwise parfor persistent return switch try while", "%"),
        ["octave"] = Of("break case catch continue else elseif end endfor endfunction endif endwhile for function global if otherwise return switch try while", "%"),
        ["sql"] = Of("select from where insert into values update set delete create table alter drop index view join left right inner outer on group by order having as and or not null primary key foreign references distinct union all limit in is like between case when then else end", "--", "/*", "*/", true),
        ["bash"] = Of("if then else elif fi for while do done case esac function in return local export echo exit set", "#"),
        ["sh"] = Of("if then else elif fi for while do done case esac in return export echo exit set", "#"),
        ["fortran"] = Of("program end subroutine function integer real double precision complex logical character parameter implicit none do if then else endif enddo call return stop use module contains allocatable dimension intent in out", "!", "", "", true),
        ["pascal"] = Of("and array begin case const div do downto else end file for function goto if in label mod nil not of or packed procedure program record repeat set then to type until var while with", "//", "{", "}", true),
        ["haskell"] = Of("case class data default deriving do else foreign if import in infix infixl infixr instance let module newtype of then type where", "--", "{-", "-}"),
        ["julia"] = Of("abstract begin break catch const continue do else elseif end export false finally for function global if import in let local macro module mutable quote return struct true try using where while", "#", "#=", "=#"),
        ["go"] = Of("break case chan const continue default defer else fallthrough for func go goto if import interface map package range return select struct switch type var", "//", "/*", "*/"),
        ["rust"] = Of("as break const continue crate else enum extern false fn for if impl in let loop match mod move mut pub ref return self static struct super trait true type unsafe use where while", "//", "/*", "*/"),
        ["tex"] = Of("", "%"),
        ["html"] = Of("", "", "<!--", "-->"),
        ["xml"] = Of("", "", "<!--", "-->"),
        [""] = Of("", ""),
    };

    /// <summary>The language of a name; a plain one when it isn't known.</summary>
    public static ProgramLanguage Find(string name) => s_all.GetValueOrDefault(name.Trim('{', '}').Replace("[LaTeX]", "", StringComparison.Ordinal).TrimStart('[', ']'))
        ?? s_all.GetValueOrDefault(name[(name.IndexOf(']', StringComparison.Ordinal) + 1)..]) ?? s_all[""];

    /// <summary>Whether a language of this name is known.</summary>
    public static bool IsKnown(string name) => s_all.ContainsKey(name) || s_all.ContainsKey(name[(name.IndexOf(']', StringComparison.Ordinal) + 1)..]);

    /// <summary>The same language with other keywords.</summary>
    /// <param name="more">Words that are keywords too.</param>
    /// <param name="fewer">Words that are none.</param>
    public ProgramLanguage With(IReadOnlyList<string> more, IReadOnlyList<string> fewer) =>
        more.Count + fewer.Count == 0 ? this : this with { Keywords = Keywords.Concat(more).Except(fewer, Keywords.Comparer).ToFrozenSet(Keywords.Comparer) };

    /// <summary>
    /// Parts a line into words of one kind.
    /// </summary>
    /// <param name="line">The line.</param>
    /// <param name="inComment">Whether a comment over lines is open; changed to whether one is at the end.</param>
    public List<(string Text, int Offset, ProgramWord Kind)> Parse(string line, ref bool inComment)
    {
        var result = new List<(string, int, ProgramWord)>();
        int at = 0;
        while (at < line.Length)
        {
            int start = at;
            ProgramWord kind = ProgramWord.Plain;
            if (inComment)
            {
                kind = ProgramWord.Comment;
                int close = line.IndexOf(BlockClose, at, StringComparison.Ordinal);
                at = close < 0 ? line.Length : close + BlockClose.Length;
                inComment = close < 0;
            }
            else if (LineComment.Length > 0 && line.AsSpan(at).StartsWith(LineComment, StringComparison.Ordinal))
            {
                kind = ProgramWord.Comment;
                at = line.Length;
            }
            else if (BlockOpen.Length > 0 && line.AsSpan(at).StartsWith(BlockOpen, StringComparison.Ordinal))
            {
                kind = ProgramWord.Comment;
                int close = line.IndexOf(BlockClose, at + BlockOpen.Length, StringComparison.Ordinal);
                at = close < 0 ? line.Length : close + BlockClose.Length;
                inComment = close < 0;
            }
            else if (line[at] is '"' or '\'' && Keywords.Count > 0)
            {
                kind = ProgramWord.Text;
                char quote = line[at++];
                while (at < line.Length && line[at] != quote)
                {
                    at += line[at] == '\\' && at + 1 < line.Length ? 2 : 1;
                }

                at = Math.Min(at + 1, line.Length);
            }
            else if (char.IsLetter(line[at]) || line[at] == '_')
            {
                while (at < line.Length && (char.IsLetterOrDigit(line[at]) || line[at] == '_'))
                {
                    at++;
                }

                kind = Keywords.Contains(line[start..at]) ? ProgramWord.Keyword : ProgramWord.Plain;
            }
            else
            {
                at++;
            }

            if (result.Count > 0 && result[^1].Item3 == kind && kind == ProgramWord.Plain)
            {
                result[^1] = (result[^1].Item1 + line[start..at], result[^1].Item2, kind);
            }
            else
            {
                result.Add((line[start..at], start, kind));
            }
        }

        return result;
    }
}
