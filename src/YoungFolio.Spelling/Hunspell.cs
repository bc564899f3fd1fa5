using System.Runtime.InteropServices;
using System.Text;

namespace YoungFolio.Spelling;

/// <summary>A dictionary in the Hunspell library, which Debian keeps. It isn't for several threads at once: its user holds a lock.</summary>
internal sealed partial class Hunspell : SafeHandle
{
    // The name carries the library's version, as Debian ships it.
    private const string Library = "libhunspell-1.7.so.0";

    private Encoding _encoding = Encoding.UTF8;

    public Hunspell()
        : base(0, ownsHandle: true)
    {
    }

    /// <inheritdoc/>
    public override bool IsInvalid => handle == 0;

    /// <summary>Whether the library is on this machine.</summary>
    public static bool IsThere { get; } = NativeLibrary.TryLoad(Library, out _);

    /// <summary>Opens a dictionary.</summary>
    /// <param name="affixes">The .aff file.</param>
    /// <param name="words">The .dic file.</param>
    public static Hunspell Open(string affixes, string words)
    {
        // Older dictionaries are in encodings of their own.
        Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);
        var made = new Hunspell();
        made.SetHandle(Create(affixes, words));
        made._encoding = Encoding.GetEncoding(Marshal.PtrToStringAnsi(EncodingOf(made.handle)) ?? "UTF-8", EncoderFallback.ExceptionFallback, DecoderFallback.ReplacementFallback);
        return made;
    }

    /// <summary>Whether a word is known.</summary>
    public bool Knows(string word) => Bytes(word) is { } bytes && Spell(handle, bytes) != 0;

    /// <summary>Words that may have been meant, the likeliest first.</summary>
    public IReadOnlyList<string> Suggest(string word)
    {
        if (Bytes(word) is not { } bytes)
        {
            return [];
        }

        int count = Suggest(handle, out nint list, bytes);
        if (count <= 0)
        {
            return [];
        }

        try
        {
            return [.. Enumerable.Range(0, count).Select(i => Text(Marshal.ReadIntPtr(list, i * nint.Size)))];
        }
        finally
        {
            FreeList(handle, ref list, count);
        }
    }

    /// <inheritdoc/>
    protected override bool ReleaseHandle()
    {
        Destroy(handle);
        return true;
    }

    // With the zero that ends it; null when the dictionary's encoding hasn't all of its letters.
    private byte[]? Bytes(string word)
    {
        try
        {
            return _encoding.GetBytes(word + "\0");
        }
        catch (EncoderFallbackException)
        {
            return null;
        }
    }

    private string Text(nint bytes)
    {
        int length = 0;
        while (Marshal.ReadByte(bytes, length) != 0)
        {
            length++;
        }

        byte[] copy = new byte[length];
        Marshal.Copy(bytes, copy, 0, length);
        return _encoding.GetString(copy);
    }

    [LibraryImport(Library, EntryPoint = "Hunspell_create", StringMarshalling = StringMarshalling.Utf8)]
    private static partial nint Create(string affixes, string words);

    [LibraryImport(Library, EntryPoint = "Hunspell_destroy")]
    private static partial void Destroy(nint dictionary);

    [LibraryImport(Library, EntryPoint = "Hunspell_spell")]
    private static partial int Spell(nint dictionary, byte[] word);

    [LibraryImport(Library, EntryPoint = "Hunspell_get_dic_encoding")]
    private static partial nint EncodingOf(nint dictionary);

    [LibraryImport(Library, EntryPoint = "Hunspell_suggest")]
    private static partial int Suggest(nint dictionary, out nint list, byte[] word);

    [LibraryImport(Library, EntryPoint = "Hunspell_free_list")]
    private static partial void FreeList(nint dictionary, ref nint list, int count);
}
