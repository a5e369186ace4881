using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Talks;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>Something to be said in a talk.</summary>
/// <param name="Id">Made by whoever says it: sent twice it is kept once.</param>
internal sealed record NewWord(
    Guid Id,
    SaidBy By,
    ReadBy For,
    string Text,
    Guid? MemberId = null,
    string Name = "",
    IReadOnlyList<Guid>? Mentions = null
)
{
    /// <summary>Ready replies of a script's question.</summary>
    public IReadOnlyList<string> Replies { get; init; } = [];

    /// <summary>The address of a script's offer.</summary>
    public string Link { get; init; } = "";

    /// <summary>Milliseconds before its reader sees it, as if it were typed.</summary>
    public int PauseMs { get; init; }

    /// <summary>A file that is sent.</summary>
    public TalkFile? File { get; init; }

    /// <summary>What happened, for the team to read.</summary>
    public static NewWord Happened(string text) => new(Guid.CreateVersion7(), SaidBy.House, ReadBy.Team, text);
}

/// <summary>What became of an act.</summary>
/// <param name="Talk">The talk as it stands now.</param>
/// <param name="Number">Number of what was said; 0 where nothing was.</param>
internal sealed record TalkAnswer(TalkVerdict Verdict, TalkRow Talk, int Number);

/// <summary>Writes into talks, one act at a time: each is whole, numbered without gaps, and told of once it is committed.</summary>
internal sealed class TalkBook(TalkNews news, IClock clock)
{
    /// <summary>Does something to a talk; null where there is no such talk.</summary>
    /// <param name="db">A database that sees the talk.</param>
    /// <param name="act">Its standing after the act, and what is said by it, in order.</param>
    /// <param name="once">Id of a word: where that is said already the act is done, however the talk stands meanwhile.</param>
    public async Task<TalkAnswer?> ActAsync(
        OutcryDb db,
        Guid talkId,
        Func<TalkRow, Instant, (TalkVerdict Verdict, TalkStanding Standing, IReadOnlyList<NewWord> Words)> act,
        CancellationToken stop,
        Guid? once = null
    )
    {
        TalkAnswer answer;
        await using (var transaction = await db.Database.BeginTransactionAsync(stop))
        {
            // Whoever comes second waits here for the first: that makes claiming atomic and numbers gapless.
            var talk = await db
                .Talks.FromSql($"select * from talks where id = {talkId} for update")
                .AsTracking()
                .FirstOrDefaultAsync(stop);
            if (talk is null)
                return null;
            var known = await db
                .TalkWords.Where(w => w.TalkId == talkId && w.Id == once)
                .Select(w => (int?)w.Number)
                .FirstOrDefaultAsync(stop);
            if (known is { } said)
                return new TalkAnswer(TalkVerdict.Done, talk, said);
            var now = clock.GetCurrentInstant();
            var before = talk.Standing;
            var (verdict, standing, words) = act(talk, now);
            if (verdict != TalkVerdict.Done)
                return new TalkAnswer(verdict, talk, 0);
            var number = 0;
            foreach (var word in words)
                number = Add(db, talk, word, now);
            talk.Standing = standing;
            if (standing.MemberId != before.MemberId && standing.MemberId is not null)
                talk.GivenAt = now;
            if (standing.WaitingSince is null)
                talk.AlarmedAt = null;
            await db.SaveChangesAsync(stop);
            await transaction.CommitAsync(stop);
            answer = new TalkAnswer(TalkVerdict.Done, talk, number);
        }
        await news.TellAsync(answer.Talk.SiteId, talkId, Stir.Words);
        return answer;
    }

    /// <summary>Puts a word at the end of a talk that is locked or new, and tells its number.</summary>
    public static int Add(OutcryDb db, TalkRow talk, NewWord word, Instant now)
    {
        talk.Last++;
        db.TalkWords.Add(
            new TalkWordRow
            {
                Id = word.Id,
                WorkspaceId = talk.WorkspaceId,
                TalkId = talk.Id,
                Number = talk.Last,
                By = word.By,
                For = word.For,
                MemberId = word.MemberId,
                Name = word.Name,
                Text = word.Text,
                At = now,
                Replies = [.. word.Replies],
                Link = word.Link,
                PauseMs = word.PauseMs,
                File = word.File,
                Mentions = [.. word.Mentions ?? []],
                SearchedAs = SearchLanguages.Of(talk.Language),
            }
        );
        if (word.By != SaidBy.House)
            talk.LastAt = now;
        if (word.For == ReadBy.Both && word.By is SaidBy.Visitor or SaidBy.Member)
            talk.Glimpse = TalkText.GlimpseOf(word.Text);
        if (word is { By: SaidBy.Member, For: ReadBy.Both })
            talk.AnsweredAt ??= now;
        return talk.Last;
    }
}
