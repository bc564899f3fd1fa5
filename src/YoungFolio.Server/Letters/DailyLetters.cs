using System.Globalization;
using System.Text;
using YoungFolio.Server.Api;
using YoungFolio.Storage;

namespace YoungFolio.Server.Letters;

/// <summary>What waits for a person in a manuscript.</summary>
/// <param name="Title">The manuscript's title.</param>
/// <param name="Writers">Who changed something since the person was last there.</param>
/// <param name="Files">In how many files.</param>
/// <param name="Notes">How many open notes name the person.</param>
/// <param name="Suggestions">How many suggestions of others wait, where the person decides.</param>
/// <param name="Settled">How many notes and suggestions that the person wrote or answered were settled by others since.</param>
/// <param name="Messages">How many messages of the talk aren't read.</param>
public sealed record Waiting(string Title, IReadOnlyList<string> Writers, int Files, int Notes, int Suggestions, int Settled, int Messages)
{
    /// <summary>Whether anything does.</summary>
    public bool IsAnything => Writers.Count + Notes + Suggestions + Settled + Messages > 0;
}

/// <summary>Letters with what waits, once a day at most, for those who want them; nobody gets one when nothing came since the last.</summary>
public sealed class DailyLetters(LetterStore letters, ManuscriptStore store, NewsReader news, NoteStore notes, TalkStore talk, PeopleStore people)
{
    private static readonly TimeSpan s_day = TimeSpan.FromDays(1);

    /// <summary>Writes the letters that are due.</summary>
    /// <param name="now">The moment, in UTC.</param>
    /// <returns>How many were written.</returns>
    public async Task<int> WriteAsync(DateTime now)
    {
        int written = 0;
        foreach ((int person, DateTime? last) in await letters.DueAsync(now - s_day))
        {
            (IReadOnlyList<Waiting> waiting, bool isNew) = await WaitingAsync(person, last ?? now - s_day);
            if (isNew)
            {
                written += await letters.WriteAsync(person, now, Subject(waiting), Body(waiting), "/");
            }
        }

        return written;
    }

    /// <summary>What a letter is about.</summary>
    public static string Subject(IReadOnlyList<Waiting> waiting)
    {
        ArgumentNullException.ThrowIfNull(waiting);
        return waiting.Count == 1 ? $"What waits in “{waiting[0].Title}”" : $"What waits in {waiting.Count.ToString(CultureInfo.InvariantCulture)} manuscripts";
    }

    /// <summary>What a letter says.</summary>
    public static string Body(IReadOnlyList<Waiting> waiting)
    {
        ArgumentNullException.ThrowIfNull(waiting);
        var text = new StringBuilder();
        foreach (Waiting one in waiting)
        {
            text.Append(text.Length > 0 ? "\n\n" : "").Append(one.Title);
            if (one.Writers.Count > 0)
            {
                Line($"{(one.Writers.Count > 1 ? string.Join(", ", one.Writers.SkipLast(1)) + " and " : "")}{one.Writers[^1]} changed {Many(one.Files, "file")}.");
            }

            if (one.Notes > 0)
            {
                Line($"{Many(one.Notes, "open note")} to you.");
            }

            if (one.Suggestions > 0)
            {
                Line($"{Many(one.Suggestions, "suggestion")} to take or decline.");
            }

            if (one.Settled > 0)
            {
                Line($"{Many(one.Settled, "note")} settled by others.");
            }

            if (one.Messages > 0)
            {
                Line($"{Many(one.Messages, "message")} you haven't read.");
            }
        }

        return text.Append("\n\nYou get this letter once a day at most, when something came in. In your account you can say that you want it no longer.").ToString();

        void Line(string says) => text.Append("\n  ").Append(says);
    }

    private async Task<(IReadOnlyList<Waiting> Waiting, bool IsNew)> WaitingAsync(int person, DateTime last)
    {
        var all = new List<Waiting>();
        bool isNew = false;
        foreach (ManuscriptEntity m in await store.ShelfAsync(person))
        {
            Membership own = m.Members.First(x => x.PersonId == person);
            if (m.DeletedAt is not null || own.IsArchived)
            {
                continue;
            }

            IReadOnlyList<NewsItem> items = (await news.ReadAsync(m.Id, person)).Items;
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(items.Select(i => i.PersonId).Distinct());
            IReadOnlyList<MarginNote> open = await notes.ListAsync(m.Id, isOpen: true);
            List<MarginNote> toMe = [.. NotesApi.ToMe(open, m.Members, person)];
            List<MarginNote> suggested = [.. NotesApi.ToDecide(open, own)];
            IReadOnlyList<MarginNote> settled = await notes.SettledForAsync(m.Id, person, own.SeenAt);
            int unread = await talk.UnreadAsync(m.Id, person);
            var waiting = new Waiting(
                m.Title, [.. items.Select(i => i.PersonId).Distinct().Select(p => by.TryGetValue(p, out Person? found) ? found.Name : "someone who left")],
                items.Select(i => i.FileId ?? 0).Distinct().Count(), toMe.Count, suggested.Count, settled.Count, unread);
            if (!waiting.IsAnything)
            {
                continue;
            }

            all.Add(waiting);
            DateTime said = unread > 0 ? (await talk.ListAsync(m.Id))[^1].At : DateTime.MinValue;
            isNew |= said > last || settled.Any(n => n.SettledAt > last) || items.Any(i => i.Until > last) || toMe.Concat(suggested).Any(n => n.At > last || n.Replies.Exists(r => r.At > last));
        }

        return (all, isNew);
    }

    private static string Many(int count, string what) => string.Create(CultureInfo.InvariantCulture, $"{count} {what}{(count == 1 ? "" : "s")}");
}
