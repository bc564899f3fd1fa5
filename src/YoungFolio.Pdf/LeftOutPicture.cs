using System.Runtime.CompilerServices;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf;

/// <summary>A picture that isn't shown.</summary>
/// <param name="Mark">Where it would stand first.</param>
/// <param name="Reason">Why, in plain words.</param>
public sealed record LeftOutPicture(ImageMark Mark, string Reason)
{
    // What has to be unpacked takes time: half a second for ten million pixels of the worst kind.
    private const long MostUnpacked = 80_000_000;

    private static readonly ConditionalWeakTable<Picture, object> s_whole = [];

    /// <summary>The pictures on some pages that are left out: those whose data are damaged, and those behind too many that have to be unpacked.</summary>
    /// <param name="pages">The pages.</param>
    /// <param name="budget">Tells whether it is still wanted.</param>
    public static IReadOnlyList<LeftOutPicture> Of(IReadOnlyList<Page> pages, WorkBudget budget)
    {
        var result = new List<LeftOutPicture>();
        var seen = new HashSet<Picture>(ReferenceEqualityComparer.Instance);
        long unpacked = 0;
        foreach (Page page in pages)
        {
            Look(page.Marks);
        }

        return result;

        void Look(IReadOnlyList<Placed> marks)
        {
            foreach (Placed placed in marks)
            {
                if (placed.Mark is GroupMark group)
                {
                    Look(group.Content);
                }

                if (placed.Mark is not ImageMark image || !seen.Add(image.Picture))
                {
                    continue;
                }

                budget.Look();
                unpacked += PdfImages.Unpacked(image.Picture);
                if (unpacked > MostUnpacked)
                {
                    result.Add(new LeftOutPicture(image, FormattableString.Invariant(
                        $"the pictures before it have {MostUnpacked / 1_000_000} million pixels to unpack already, which is the most; make some smaller")));
                }
                else if (!IsWhole(image.Picture))
                {
                    result.Add(new LeftOutPicture(image, "its data are damaged"));
                }
            }
        }
    }

    // Looked at once: it may have to be unpacked for that.
    private static bool IsWhole(Picture picture) => (bool)s_whole.GetValue(picture, static p => PdfImages.IsWhole(p));
}
