using YoungFolio.Typesetting.Fonts;

namespace YoungFolio.Core.Tests;

/// <summary>What font files say of themselves.</summary>
public class FontFileTests
{
    // OpenType specification, table OS/2, fsType: 0 installable, 2 restricted, 4 preview and print, 8 editable, 0x100 no subsetting, 0x200 bitmaps only.
    [Theory]
    [InlineData(0x0000, true)]
    [InlineData(0x0002, false)]
    [InlineData(0x0004, true)]
    [InlineData(0x0008, true)]
    [InlineData(0x0100, false)]
    [InlineData(0x0204, false)]
    public void Licence_bits_say_whether_a_font_may_be_embedded(int bits, bool may)
    {
        byte[] table = new byte[96];
        (table[8], table[9]) = ((byte)(bits >> 8), (byte)bits);
        Assert.Equal(may, FontFile.PermitsEmbedding(table));
    }

    [Fact]
    public void All_fonts_that_ship_may_be_embedded()
    {
        var library = new FontLibrary();
        string[] names = [.. typeof(FontLibrary).Assembly.GetManifestResourceNames().Where(n => n.EndsWith(".otf", StringComparison.Ordinal)).Select(n => n[..^4])];
        Assert.True(names.Length > 80);
        Assert.All(names, n => Assert.True(library.Load(n).MayBeEmbedded, n));
        Assert.All(names, n => Assert.NotEqual(0, library.Load(n).Table("OS/2").Length));
    }
}
