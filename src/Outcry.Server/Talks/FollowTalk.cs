using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>How a visitor hears what is said: server-sent events (HTML standard, 9.2), or asking again and again.</summary>
internal sealed class FollowTalk(
    TalkDoor door,
    TalkLines lines,
    LiveSites sites,
    SystemDb database,
    IHostApplicationLifetime life,
    IClock clock
)
{
    private const int MostWords = 200;

    // Proxies end what is silent for a minute or so; and whatever news got lost is made up for by then.
    private static readonly TimeSpan Beat = TimeSpan.FromSeconds(15);
    private static readonly TimeSpan LongestPoll = TimeSpan.FromSeconds(25);

    /// <summary>POST /v/talks/stream: words as they are said, until the browser goes.</summary>
    public async Task<IResult> StreamAsync(HttpContext http)
    {
        var (at, problem) = await door.OpenAsync(http, TalkJson.Default.ReadTalkRequest);
        if (at is null)
            return problem!;
        using var stopping = CancellationTokenSource.CreateLinkedTokenSource(
            http.RequestAborted,
            life.ApplicationStopping
        );
        var stop = stopping.Token;
        http.Response.ContentType = "text/event-stream";
        http.Response.Headers.CacheControl = "no-store";
        // Proxies hold back what they might compress or collect.
        http.Response.Headers["X-Accel-Buffering"] = "no";
        using var line = lines.Open(at.Talk.Id);
        try
        {
            await FollowAsync(http, at.Talk.Id, at.Request.After, line, stop);
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            // The browser has gone, or the host stops: whoever is still there asks anew.
        }
        return Results.Empty;
    }

    private async Task FollowAsync(HttpContext http, Guid talkId, int after, TalkLine line, CancellationToken stop)
    {
        TalkStatePart? told = null;
        while (true)
        {
            if (await ReadAsync(talkId, after, stop) is not { } part)
                return;
            if (part.Words.Count > 0 || part.State != told)
            {
                await WriteAsync(http, "talk", JsonSerializer.Serialize(part, TalkJson.Default.TalkPart), stop);
                after = part.Words.Count > 0 ? part.Words[^1].N : after;
                told = part.State;
                if (part.Words.Count == MostWords)
                    continue;
            }
            while (true)
            {
                if (await NextAsync(line, Beat, stop) is not { } move)
                {
                    await http.Response.WriteAsync(": beat\n\n", stop);
                    await http.Response.Body.FlushAsync(stop);
                    break;
                }
                if (move.Stir == Stir.MemberTypes)
                    await WriteAsync(
                        http,
                        "types",
                        JsonSerializer.Serialize(new TypingPart(move.Name), TalkJson.Default.TypingPart),
                        stop
                    );
                else if (move.Stir != Stir.VisitorTypes)
                    break;
            }
        }
    }

    /// <summary>POST /v/talks/read: what is new; waits for it where that was asked for.</summary>
    public async Task<IResult> ReadAsync(HttpContext http)
    {
        var (at, problem) = await door.OpenAsync(http, TalkJson.Default.ReadTalkRequest);
        if (at is null)
            return problem!;
        var (request, _, _, talk, _) = at;
        using var stopping = CancellationTokenSource.CreateLinkedTokenSource(
            http.RequestAborted,
            life.ApplicationStopping
        );
        using var line = lines.Open(talk.Id);
        var part = await ReadAsync(talk.Id, request.After, http.RequestAborted);
        if (request.Wait && part is { Words.Count: 0 })
        {
            try
            {
                await NextAsync(line, LongestPoll, stopping.Token);
            }
            catch (OperationCanceledException) when (!http.RequestAborted.IsCancellationRequested)
            {
                // The host stops: answered with what there is.
            }
            part = await ReadAsync(talk.Id, request.After, http.RequestAborted);
        }
        return part is null ? Problems.NotFound("talk") : Results.Json(part, TalkJson.Default.TalkPart);
    }

    private static async Task<TalkStir?> NextAsync(TalkLine line, TimeSpan most, CancellationToken stop)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(most);
        try
        {
            return await line.Moves.ReadAsync(limit.Token);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            return null;
        }
    }

    private async Task<TalkPart?> ReadAsync(Guid talkId, int after, CancellationToken stop)
    {
        await using var db = database.Open();
        var talk = await db
            .Talks.AsNoTracking()
            .Where(t => t.Id == talkId)
            .Select(t => new
            {
                t.SiteId,
                t.SeenByTeam,
                t.State,
                t.ToldLateAt,
                t.Last,
                HasAddress = t.Email != null,
                t.MemberId,
                Asks = t.ScriptEndsAt != null,
            })
            .FirstOrDefaultAsync(stop);
        if (talk is null)
            return null;
        var words =
            talk.Last <= after
                ? []
                : await db
                    .TalkWords.AsNoTracking()
                    .Where(w => w.TalkId == talkId && w.Number > after && w.For == ReadBy.Both)
                    .OrderBy(w => w.Number)
                    .Take(MostWords)
                    .ToListAsync(stop);
        var (site, now) = (sites.FindById(talk.SiteId), clock.GetCurrentInstant());
        var who = talk.MemberId is { } member ? await NameAsync(db, member, stop) : null;
        return new TalkPart(
            words.ConvertAll(w => TalkWordPart.Of(w, site, now)),
            new TalkStatePart(
                talk.SeenByTeam,
                who,
                talk.State == TalkState.Closed,
                talk.HasAddress,
                talk.Asks,
                talk is { ToldLateAt: not null, State: TalkState.Unclaimed }
            )
        );
    }

    private static async Task<string?> NameAsync(OutcryDb db, Guid member, CancellationToken stop) =>
        await db.Users.Where(u => u.Id == member).Select(u => u.DisplayName).FirstOrDefaultAsync(stop) is { } name
            ? TalkLetters.FirstName(name)
            : null;

    private static async Task WriteAsync(HttpContext http, string name, string data, CancellationToken stop)
    {
        await http.Response.WriteAsync($"event: {name}\ndata: {data}\n\n", stop);
        await http.Response.Body.FlushAsync(stop);
    }
}
