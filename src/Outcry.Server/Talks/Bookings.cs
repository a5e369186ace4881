using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Saying;
using Outcry.Core.Scripts;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>A time that a visitor chose.</summary>
/// <param name="InvitedAt">When the invitation was written; null while no address is known.</param>
internal sealed record BookingView(Guid Id, string Title, Instant StartsAt, int Minutes, Instant? InvitedAt);

/// <summary>Times that visitors choose in scripts: each is given once, held for an hour until an address is known, and sent as an invitation.</summary>
internal sealed class Bookings(
    SystemDb database,
    TalkLetters letters,
    TalkRecipients recipients,
    IConfiguration configuration,
    IClock clock
)
{
    /// <summary>So long a time is held for somebody who left no address yet.</summary>
    private static readonly Duration Held = Duration.FromHours(1);

    /// <summary>Times of a question that nobody else can have any more.</summary>
    public static async Task<List<Instant>> TakenAsync(
        OutcryDb db,
        Guid stepId,
        Guid talkId,
        Instant now,
        CancellationToken stop
    )
    {
        var since = now - Held;
        return await db
            .Bookings.Where(b =>
                b.StepId == stepId
                && b.TalkId != talkId
                && b.StartsAt > now
                && b.CancelledAt == null
                && (b.InvitedAt != null || b.ChosenAt > since)
            )
            .Select(b => b.StartsAt)
            .ToListAsync(stop);
    }

    /// <summary>Holds the time that an answer chooses; false where somebody else was quicker, so that it is free no more.</summary>
    public static async Task<bool> HoldAsync(
        OutcryDb db,
        TalkRow talk,
        RunningScript running,
        string said,
        Instant now,
        CancellationToken stop
    )
    {
        if (
            talk.Script is not { IsOver: false } state
            || FreeTimes.Chosen(running.Script, state, said, running.Now) is not var (step, time)
        )
            return true;
        var (since, id) = (now - Held, Guid.CreateVersion7());
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        await db
            .Bookings.Where(b =>
                b.StepId == step.Id
                && b.StartsAt == time.At
                && b.TalkId != talk.Id
                && b.CancelledAt == null
                && b.InvitedAt == null
                && b.ChosenAt <= since
            )
            .ExecuteUpdateAsync(u => u.SetProperty(b => b.CancelledAt, now), stop);
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into bookings (id, workspace_id, site_id, talk_id, script_id, step_id, starts_at, minutes, chosen_at)
            values ({id}, {talk.WorkspaceId}, {talk.SiteId}, {talk.Id}, {talk.ScriptId}, {step.Id}, {time.At}, {step.Ask!.Times!.Minutes}, {now})
            on conflict do nothing
            """,
            stop
        );
        var isTheirs = await db.Bookings.AnyAsync(
            b => b.StepId == step.Id && b.StartsAt == time.At && b.CancelledAt == null && b.TalkId == talk.Id,
            stop
        );
        // Nobody holds two: what this talk chose before, and was not invited to yet, is free again.
        if (isTheirs)
            await db
                .Bookings.Where(b =>
                    b.TalkId == talk.Id
                    && b.CancelledAt == null
                    && b.InvitedAt == null
                    && (b.StepId != step.Id || b.StartsAt != time.At)
                )
                .ExecuteUpdateAsync(u => u.SetProperty(b => b.CancelledAt, now), stop);
        await transaction.CommitAsync(stop);
        return isTheirs;
    }

    /// <summary>Invites to the time that a talk holds, once it is known where to write; one chosen before is called off.</summary>
    public async Task InviteAsync(LiveSite site, TalkRow talk, CancellationToken stop)
    {
        if (talk is not { Email: { } email, AgreedAt: not null })
            return;
        await using var db = database.Open();
        var open = await db
            .Bookings.Where(b => b.TalkId == talk.Id && b.CancelledAt == null)
            .OrderByDescending(b => b.ChosenAt)
            .ToListAsync(stop);
        if (open.FirstOrDefault() is not { InvitedAt: null } latest)
            return;
        var now = clock.GetCurrentInstant();
        var title = await TitleOfAsync(db, talk, latest, stop);
        foreach (var earlier in open.Skip(1))
            CallOff(db, site, talk, earlier, title, now);
        (latest.InvitedAt, latest.Email) = (now, email);
        var voice = TalkLetters.VoiceOf(site, talk);
        Write(
            db,
            site,
            talk,
            latest,
            title,
            Said(site, talk, latest, title),
            BuiltInWords.Say(voice, BuiltInWord.MailInvitation),
            now
        );
        await TalkLetters.SaveOnceAsync(db, stop);
        await letters.TellMembersAsync(
            db,
            talk,
            await recipients.HolderOrAsync(
                db,
                talk,
                site.Compiled.GetValueOrDefault(talk.LauncherId) as Launcher,
                stop
            ),
            $"{latest.Id}:booked",
            $"Booked: {Said(site, talk, latest, title, "en")}",
            $"{(talk.Name.Length > 0 ? talk.Name : "A visitor")}, {email}\n{Said(site, talk, latest, title, "en")}, {latest.Minutes} minutes ({site.Zone.Id})",
            stop,
            InvitationOf(site, talk, latest, title).Write(now, isCancelled: false)
        );
    }

    /// <summary>What a talk has booked and not called off; null for nothing.</summary>
    public static async Task<BookingView?> ShowAsync(OutcryDb db, TalkRow talk, CancellationToken stop) =>
        await db
            .Bookings.AsNoTracking()
            .Where(b => b.TalkId == talk.Id && b.CancelledAt == null)
            .OrderByDescending(b => b.ChosenAt)
            .FirstOrDefaultAsync(stop)
            is { } row
            ? new BookingView(row.Id, await TitleOfAsync(db, talk, row, stop), row.StartsAt, row.Minutes, row.InvitedAt)
            : null;

    /// <summary>Calls a booked time off: it is free again, and whoever was invited is told.</summary>
    public async Task<bool> CallOffAsync(OutcryDb db, LiveSite site, TalkRow talk, CancellationToken stop)
    {
        var open = await db.Bookings.Where(b => b.TalkId == talk.Id && b.CancelledAt == null).ToListAsync(stop);
        var now = clock.GetCurrentInstant();
        foreach (var booking in open)
            CallOff(db, site, talk, booking, await TitleOfAsync(db, talk, booking, stop), now);
        await TalkLetters.SaveOnceAsync(db, stop);
        return open.Count > 0;
    }

    private void CallOff(OutcryDb db, LiveSite site, TalkRow talk, BookingRow booking, string title, Instant now)
    {
        booking.CancelledAt = now;
        if (booking.InvitedAt is null)
            return;
        var subject = BuiltInWords.Say(
            TalkLetters.VoiceOf(site, talk),
            BuiltInWord.MailCalledOff,
            Said(site, talk, booking, title)
        );
        Write(db, site, talk, booking, title, subject, "", now);
    }

    private void Write(
        OutcryDb db,
        LiveSite site,
        TalkRow talk,
        BookingRow booking,
        string title,
        string subject,
        string more,
        Instant now
    )
    {
        var voice = TalkLetters.VoiceOf(site, talk);
        string[] lines =
        [
            site.Name,
            $"{Said(site, talk, booking, title)} ({site.Zone.Id})",
            more,
            "",
            BuiltInWords.Say(voice, BuiltInWord.MailGoOn, TalkLetters.LinkBack(site, talk, now)),
            BuiltInWords.Say(voice, BuiltInWord.MailNoReply),
        ];
        db.Letters.Add(
            new LetterRow
            {
                WorkspaceId = booking.WorkspaceId,
                SiteId = booking.SiteId,
                To = booking.Email!,
                About = $"{booking.Id}:{(booking.CancelledAt is null ? "invited" : "off")}",
                Subject = subject,
                Text = string.Join("\n", lines),
                Calendar = InvitationOf(site, talk, booking, title).Write(now, booking.CancelledAt is not null),
                MadeAt = now,
                NextAt = now,
            }
        );
    }

    private Invitation InvitationOf(LiveSite site, TalkRow talk, BookingRow booking, string title) =>
        new(
            booking.Id,
            $"{title}, {site.Name}",
            booking.StartsAt,
            booking.Minutes,
            configuration["Mail:From"] ?? "outcry@localhost",
            site.Name,
            booking.Email!,
            talk.Page.Split('#', 2)[0]
        );

    private static string Said(
        LiveSite site,
        TalkRow talk,
        BookingRow booking,
        string title,
        string? language = null
    ) => $"{title}: {FreeTimes.SayAt(booking.StartsAt.InZone(site.Zone), language ?? talk.Language)}";

    private static async Task<string> TitleOfAsync(
        OutcryDb db,
        TalkRow talk,
        BookingRow booking,
        CancellationToken stop
    ) =>
        (await TalkScripts.ReadAsync(db, talk, stop))
            ?.Steps.FirstOrDefault(s => s.Id == booking.StepId)
            ?.Ask?.Times?.Title
            is { Length: > 0 } title
            ? title
            : "A time";
}

/// <summary>DELETE .../talks/{talkId}/booking: calls off what a talk has booked.</summary>
internal static class CallOffBooking
{
    public static async Task<Results<Ok<TalkDetailView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid talkId,
        OutcryDb db,
        Bookings bookings,
        TalkActs acts,
        LiveSites sites,
        CurrentMember member,
        CancellationToken stop
    )
    {
        var talk = await db.Talks.AsNoTracking().FirstOrDefaultAsync(t => t.Id == talkId && t.SiteId == siteId, stop);
        if (talk is null)
            return Problems.NotFound("talk");
        return await bookings.CallOffAsync(db, sites.GetById(siteId), talk, stop)
            ? await acts.DoAsync(
                siteId,
                talkId,
                (row, _) =>
                    (TalkVerdict.Done, row.Standing, [NewWord.Happened($"{member.Name} called the booked time off.")]),
                stop
            )
            : Problems.NotFound("booking");
    }
}
