using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Greetings;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>What time does to talks: it wakes them, sends answers after visitors who left, and mails when one waits and nobody is there.</summary>
internal sealed class TalkRound(
    SystemDb database,
    TalkBook book,
    TalkLetters letters,
    LiveSites sites,
    TeamPresence team,
    DeskAddress desk,
    LoopWatch watch,
    IClock clock
) : BackgroundService
{
    private const string Round = "talks that wait";
    private const int MostAtOnce = 100;
    private static readonly TimeSpan Tick = TimeSpan.FromSeconds(5);

    /// <summary>So long an answer may lie unseen before it is sent after its visitor.</summary>
    private static readonly Duration Unseen = Duration.FromMinutes(5);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        watch.KeepAsync(Round, GoAsync, stoppingToken);

    private async Task GoAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Tick);
        while (await timer.WaitForNextTickAsync(stop))
        {
            try
            {
                await RunAsync(stop);
            }
            catch (Exception away) when (!stop.IsCancellationRequested && Problems.IsDatabaseAway(away))
            {
                watch.PassedOver(Round, away);
            }
            watch.WentRound(Round);
        }
    }

    /// <summary>One round, as of now.</summary>
    public async Task RunAsync(CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await WakeAsync(now, stop);
        await SendAfterAsync(now, stop);
        await AlarmAsync(now, stop);
    }

    private async Task WakeAsync(Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        var due = await db
            .Talks.Where(t => t.State == TalkState.Snoozed && t.SnoozedUntil <= now)
            .Select(t => t.Id)
            .Take(MostAtOnce)
            .ToListAsync(stop);
        foreach (var id in due)
        {
            await using var one = database.Open();
            await book.ActAsync(
                one,
                id,
                (row, at) =>
                    (
                        TalkVerdict.Done,
                        row.Standing.Wake(at),
                        row.State == TalkState.Snoozed && row.SnoozedUntil <= at ? [NewWord.Happened("Woke up.")] : []
                    ),
                stop
            );
        }
    }

    private async Task SendAfterAsync(Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        var from = now - Unseen;
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Another node takes others: what is locked is being looked at.
        var due = await db
            .Talks.FromSql(
                $"""
                select * from talks t where t.email is not null and t.agreed_at is not null and not t.is_blocked
                and t.last > greatest(t.seen_by_visitor, t.mailed_up_to)
                and exists (select 1 from talk_words w where w.talk_id = t.id and w.by = 'Member' and w.for = 'Both'
                  and w.number > greatest(t.seen_by_visitor, t.mailed_up_to) and w.at <= {from})
                limit {MostAtOnce} for update skip locked
                """
            )
            .AsTracking()
            .ToListAsync(stop);
        foreach (var talk in due)
            if (sites.FindById(talk.SiteId) is { } site)
                await letters.SendAnswersAsync(db, site, talk, stop);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
    }

    private async Task AlarmAsync(Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        var waiting = await db
            .Talks.Where(t => t.WaitingSince != null && t.AlarmedAt == null && !t.IsBlocked && !t.IsTest)
            .OrderBy(t => t.WaitingSince)
            .Take(MostAtOnce)
            .ToListAsync(stop);
        foreach (var talk in waiting)
        {
            if (sites.FindById(talk.SiteId) is not { } site || team.IsThere(talk.WorkspaceId))
                continue;
            var launcher = site.Compiled.GetValueOrDefault(talk.LauncherId) as Launcher;
            if (!MustTell(talk, launcher, now))
                continue;
            talk.AlarmedAt = now;
            await letters.TellMembersAsync(
                db,
                talk,
                await ToAsync(db, talk, launcher, stop),
                $"{talk.Id}:waits:{talk.WaitingSince!.Value.ToUnixTimeSeconds()}",
                $"{(talk.Name.Length > 0 ? talk.Name : "A visitor")} waits for an answer",
                $"{talk.Glimpse}\n\nPage: {talk.Page}\nNobody is at a desk. Answer in the inbox{(desk.Set is { } at ? $": {at}/inbox?talk={talk.Id}" : ".")}",
                stop
            );
        }
        await db.SaveChangesAsync(stop);
    }

    // Closed, they were told so: their word is a message, which is told of at once.
    private static bool MustTell(TalkRow talk, Launcher? launcher, Instant now) =>
        launcher is null
        || !launcher.Times.IsInside(talk.WaitingSince!.Value)
        || Waiting.Of(talk.WaitingSince, now, launcher.Times, WaitingLimits.Start) == Urgency.Everybody;

    private static async Task<IReadOnlyList<string>> ToAsync(
        OutcryDb db,
        TalkRow talk,
        Launcher? launcher,
        CancellationToken stop
    ) =>
        launcher?.Brief.MailTo is { Count: > 0 } to
            ? to
            : await db
                .Memberships.Where(m => m.WorkspaceId == talk.WorkspaceId && m.Role == Role.Owner)
                .Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => u.Email!)
                .ToListAsync(stop);
}
