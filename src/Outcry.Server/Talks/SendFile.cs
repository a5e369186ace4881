using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>A member sends a file, which claims the talk as an answer does. The file is the body; its name and id stand in the query.</summary>
internal static class SendFile
{
    public static async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid talkId,
        Guid id,
        HttpRequest request,
        OutcryDb db,
        AnswerTalk answer,
        CurrentMember member,
        IClock clock,
        CancellationToken stop,
        string? name = null
    )
    {
        if (request.HttpContext.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = TalkFiles.MostBytes + 1;
        if (await BodyLimits.TryReadAsync(request, TalkFiles.MostBytes, stop) is not { } bytes)
            return Problems.TooLarge(TalkFiles.MostBytes);
        if (id == Guid.Empty)
            return Problems.BadField("id", "A file needs an id of its own.");
        var talk = await db.Talks.AsNoTracking().FirstOrDefaultAsync(t => t.Id == talkId && t.SiteId == siteId, stop);
        if (talk is null)
            return Problems.NotFound("talk");
        var now = clock.GetCurrentInstant();
        if (await TalkFiles.HasSentMostAsync(db, talkId, ofVisitor: false, now, stop))
            return Problems.BadField("file", $"At most {TalkFiles.MostAnHour} files an hour in one talk.");
        var (row, file, fault) = await TalkFiles.ReadAsync(
            talk,
            Guid.CreateVersion7(),
            name ?? "",
            bytes,
            isOfVisitor: false,
            now,
            stop
        );
        if (row is null)
            return Problems.BadField("file", fault);
        return await answer.SayAsync(
            siteId,
            talkId,
            new NewWord(id, SaidBy.Member, ReadBy.Both, file!.Name, member.Id, member.Name) { File = file },
            row,
            stop
        );
    }
}
