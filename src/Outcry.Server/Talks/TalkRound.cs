using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Greetings;
using Outcry.Core.Saying;
using Outcry.Core.Scripts;
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
    TalkRecipients recipients,
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

    /// <summary>So long somebody waits, in open time, until they are told that nobody has come yet.</summary>
    private static readonly Duration Late = Duration.FromMinutes(3);

    private static readonly Duration UsualEvery = Duration.FromMinutes(1);
    private Instant _usualAt;

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
        await using (var db = database.Open())
            await TeamGroups.ReadAsync(db, team, stop);
        await WakeAsync(now, stop);
        await EndScriptsAsync(now, stop);
        await TellLateAsync(now, stop);
        await SendAfterAsync(now, stop);
        await AlarmAsync(now, stop);
        if (now - _usualAt >= UsualEvery)
        {
            await CountUsualAsync(now, stop);
            _usualAt = now;
        }
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

    // Whoever left in the midst of a script is told of, and what they said so far is not lost.
    private async Task EndScriptsAsync(Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        var due = await db
            .Talks.AsNoTracking()
            .Where(t => t.ScriptEndsAt <= now)
            .OrderBy(t => t.ScriptEndsAt)
            .Take(MostAtOnce)
            .ToListAsync(stop);
        foreach (var talk in due)
        {
            await using var one = database.Open();
            var script = await TalkScripts.ReadAsync(one, talk, stop);
            await book.ActAsync(
                one,
                talk.Id,
                (row, at) =>
                {
                    // They may have written, or a person taken it, in this very moment.
                    if (row.ScriptEndsAt is not { } ends || ends > at)
                        return (TalkVerdict.Done, row.Standing, []);
                    row.ScriptEndsAt = null;
                    if (script is null || row.Script is not { IsOver: false } state)
                        return (TalkVerdict.Done, row.Standing, []);
                    var (standing, words) = RunningScript.Take(
                        ScriptTurn.Leave(script, state, row.Standing, at),
                        row,
                        at
                    );
                    return (TalkVerdict.Done, standing, words);
                },
                stop
            );
        }
    }

    // Told once and honestly, where it is open and nobody comes.
    private async Task TellLateAsync(Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        var since = now - Late;
        // While a launcher is closed its visitors were told so.
        var open = sites
            .All.SelectMany(s => s.Compiled.Values)
            .OfType<Launcher>()
            .Where(l => l.Times.IsInside(now))
            .Select(l => l.Id)
            .ToList();
        var waiting = await db
            .Talks.AsNoTracking()
            .Where(t =>
                t.State == TalkState.Unclaimed
                && t.WaitingSince <= since
                && t.ToldLateAt == null
                && !t.IsBlocked
                && open.Contains(t.LauncherId)
            )
            .OrderBy(t => t.WaitingSince)
            .Take(MostAtOnce)
            .ToListAsync(stop);
        foreach (var talk in waiting)
        {
            if (
                sites.FindById(talk.SiteId) is not { } site
                || (site.Compiled.GetValueOrDefault(talk.LauncherId) as Launcher) is not { } launcher
                || !launcher.Times.IsInside(now)
                || Waiting.Open(launcher.Times, talk.WaitingSince!.Value, now) < Late
            )
                continue;
            var voice = TalkLetters.VoiceOf(site, talk);
            await using var one = database.Open();
            await book.ActAsync(
                one,
                talk.Id,
                (row, at) =>
                {
                    if (row.State != TalkState.Unclaimed || row.WaitingSince is null || row.ToldLateAt is not null)
                        return (TalkVerdict.Done, row.Standing, []);
                    row.ToldLateAt = at;
                    return (
                        TalkVerdict.Done,
                        row.Standing,
                        [
                            new NewWord(
                                Guid.CreateVersion7(),
                                SaidBy.House,
                                ReadBy.Both,
                                BuiltInWords.Say(voice, BuiltInWord.TalkNobody)
                            ),
                        ]
                    );
                },
                stop
            );
        }
    }

    /// <summary>Counts how soon people answer, which is said to visitors.</summary>
    public async Task CountUsualAsync(Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        var from = now - UsualAnswer.Span;
        var answered = await db
            .Talks.Where(t => t.AnsweredAt != null && t.BegunAt >= from && !t.IsTest && !t.IsBlocked)
            .Select(t => new
            {
                t.SiteId,
                t.LauncherId,
                t.BegunAt,
                t.AnsweredAt,
            })
            .ToListAsync(stop);
        var bySite = answered.ToLookup(t => t.SiteId);
        foreach (var site in sites.All)
            site.UsualAnswerMinutes = UsualAnswer.Minutes([
                .. bySite[site.Id]
                    .Select(t =>
                        Waiting.Open(
                            (site.Compiled.GetValueOrDefault(t.LauncherId) as Launcher)?.Times,
                            t.BegunAt,
                            t.AnsweredAt!.Value
                        )
                    ),
            ]);
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
        // Where somebody is at a desk nobody is mailed, so those talks are not looked at either; of a group it must be somebody of theirs.
        var present = sites.All.Select(s => s.WorkspaceId).Distinct().Where(team.IsThere).ToList();
        var waiting = await db
            .Talks.Where(t =>
                t.WaitingSince != null
                && t.AlarmedAt == null
                && !t.IsBlocked
                && !t.IsTest
                && (t.GroupId != null || !present.Contains(t.WorkspaceId))
            )
            .OrderBy(t => t.WaitingSince)
            .AsTracking()
            .ToListAsync(stop);
        var limits = await LimitsAsync(db, waiting, stop);
        var told = 0;
        foreach (var talk in waiting)
        {
            if (
                sites.FindById(talk.SiteId) is not { } site
                || (talk.GroupId is not null && team.ThereOf(talk.WorkspaceId).IsThere(talk.GroupId))
            )
                continue;
            var launcher = site.Compiled.GetValueOrDefault(talk.LauncherId) as Launcher;
            if (!MustTell(talk, launcher, limits[talk.WorkspaceId], now))
                continue;
            // A flood is told of in several rounds; whoever waits longest comes first.
            if (told++ == MostAtOnce)
                break;
            talk.AlarmedAt = now;
            await letters.TellMembersAsync(
                db,
                talk,
                await recipients.OfAsync(db, talk, launcher, stop),
                $"{talk.Id}:waits:{talk.WaitingSince!.Value.ToUnixTimeSeconds()}",
                $"{(talk.Name.Length > 0 ? talk.Name : "A visitor")} waits for an answer",
                $"{talk.Glimpse}\n\nPage: {talk.Page}\nNobody is at a desk. Answer in the inbox{(desk.Set is { } at ? $": {at}/inbox?talk={talk.Id}" : ".")}",
                stop
            );
        }
        await db.SaveChangesAsync(stop);
    }

    private static async Task<Dictionary<Guid, WaitingLimits>> LimitsAsync(
        OutcryDb db,
        List<TalkRow> talks,
        CancellationToken stop
    )
    {
        var ids = talks.Select(t => t.WorkspaceId).Distinct().ToList();
        return await db
            .Workspaces.Where(w => ids.Contains(w.Id))
            .ToDictionaryAsync(w => w.Id, w => ShowTalk.LimitsOf(w.Habits), stop);
    }

    // Closed, they were told so: their word is a message, which is told of at once.
    private static bool MustTell(TalkRow talk, Launcher? launcher, WaitingLimits limits, Instant now) =>
        launcher is null
        || !launcher.Times.IsInside(talk.WaitingSince!.Value)
        || Waiting.Of(talk.WaitingSince, now, launcher.Times, limits) == Urgency.Everybody;
}
