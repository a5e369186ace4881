using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Following;
using Outcry.Core.Talks;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>Takes people on in the follow-ups they are in: each stretch is one transaction, so a mail is written once whatever breaks off.</summary>
internal sealed class FollowRound(
    SystemDb database,
    LeadLetters letters,
    LiveSites sites,
    LoopWatch watch,
    IClock clock
) : BackgroundService
{
    private const string Round = "follow-ups";
    private const int MostAtOnce = 100;
    private const int MostTags = 30;
    private static readonly TimeSpan Tick = TimeSpan.FromSeconds(5);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        watch.KeepAsync(Round, GoAsync, stoppingToken);

    private async Task GoAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(Tick);
        while (await timer.WaitForNextTickAsync(stop))
        {
            try
            {
                while (await RunAsync(stop) == MostAtOnce) { }
            }
            catch (Exception away) when (!stop.IsCancellationRequested && Problems.IsDatabaseAway(away))
            {
                watch.PassedOver(Round, away);
            }
            watch.WentRound(Round);
        }
    }

    /// <summary>One round, as of now; how many were taken on.</summary>
    public async Task<int> RunAsync(CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await using var db = database.Open();
        // While one is paused, whoever is in it stays where they are.
        var due = await db
            .FollowRuns.AsNoTracking()
            .Where(r =>
                r.DueAt <= now
                && db.Definitions.Any(d => d.Id == r.FollowUpId && d.State == Core.Publishing.DefinitionState.Live)
            )
            .OrderBy(r => r.DueAt)
            .Take(MostAtOnce)
            .Select(r => r.Id)
            .ToListAsync(stop);
        // What cannot be taken on now, as that of a site that is not loaded, is left for the next round.
        var taken = 0;
        foreach (var id in due)
            try
            {
                taken += await TakeOnAsync(id, now, stop) ? 1 : 0;
            }
            catch (Exception failure) when (!stop.IsCancellationRequested && !Problems.IsDatabaseAway(failure))
            {
                // One person's trouble is their own: the others are taken on.
                watch.PassedOver($"follow-up of {id}", failure);
            }
        return taken;
    }

    private async Task<bool> TakeOnAsync(Guid id, Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // Another node takes others: what is locked is being taken on.
        var run = await db
            .FollowRuns.FromSql($"select * from follow_runs where id = {id} and due_at <= {now} for update skip locked")
            .AsTracking()
            .FirstOrDefaultAsync(stop);
        if (
            run is null
            || sites.FindById(run.SiteId) is not { } site
            || await db
                .Leads.FromSql($"select * from leads where id = {run.LeadId} for update")
                .AsTracking()
                .FirstOrDefaultAsync(stop)
                is not { } lead
        )
            return false;
        var content = await db
            .Revisions.AsNoTracking()
            .Where(r => r.DefinitionId == run.FollowUpId && r.Number == run.Revision)
            .Select(r => r.Content)
            .FirstOrDefaultAsync(stop);
        if (content?.Read<FollowUp>() is not { } follow)
            return false;
        var moment = await MomentOfAsync(db, site, follow, run, lead, stop);
        var turn = FollowWalk.Go(follow, run.At, run.Since, moment, now, FollowWalk.ZoneOf(lead.Zone, site.Zone));
        foreach (var step in turn.Does)
            switch (step.Kind)
            {
                case FollowKind.Tag:
                    await TagAsync(db, site, lead, step.Tag.Trim(), run.Desk, now, stop);
                    break;
                case FollowKind.Tell:
                    await LeadHooks.TellStepAsync(db, site, lead, run.FollowUpId, step, now, stop);
                    break;
                default:
                    letters.FollowUp(db, site, lead, run, step);
                    lead.FollowedAt = now;
                    break;
            }
        run.Passed = [.. run.Passed.Concat(follow.Steps.Skip(run.At).Take(turn.At - run.At).Select(s => s.Id))];
        (run.At, run.Since, run.DueAt, run.End) = (turn.At, turn.Since, turn.DueAt, turn.End);
        run.EndedAt = turn.End is null ? null : now;
        // Where it ended on the way is kept: the desk tells at which step.
        run.StepId = turn.At < follow.Steps.Count ? follow.Steps[turn.At].Id : null;
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return true;
    }

    private static async Task TagAsync(
        OutcryDb db,
        LiveSite site,
        LeadRow lead,
        string tag,
        string desk,
        Instant now,
        CancellationToken stop
    )
    {
        lead.Tags = [.. lead.Tags.Append(tag).Distinct(StringComparer.OrdinalIgnoreCase).Take(MostTags)];
        lead.ChangedAt = now;
        await FollowUps.EnterAsync(db, site, lead, null, [tag], desk, now, stop);
    }

    private static async Task<FollowMoment> MomentOfAsync(
        OutcryDb db,
        LiveSite site,
        FollowUp follow,
        FollowRunRow run,
        LeadRow lead,
        CancellationToken stop
    )
    {
        var visitors = lead.Visitors;
        var talked =
            follow.EndsWithTalk
            && await db.TalkWords.AnyAsync(
                w =>
                    w.By == SaidBy.Visitor
                    && w.At > run.BegunAt
                    && db.Talks.Any(t =>
                        t.Id == w.TalkId
                        && t.SiteId == site.Id
                        && (visitors.Contains(t.VisitorId) || (lead.Email != null && t.Email == lead.Email))
                    ),
                stop
            );
        // A purchase that the shop tells of knows the buyer's address and not their browser.
        var clues = PersonClues.Of(site.PersonKey, lead.Email, lead.Phone, site.Region);
        var people = new[] { clues.EmailKey, clues.PhoneKey }.OfType<string>().ToList();
        var reached =
            follow.GoalSourceId is { } goal
            && await db.Events.AnyAsync(
                e =>
                    e.SourceId == goal
                    && e.At > run.BegunAt
                    && (people.Contains(e.PersonKey) || (e.VisitorId != null && visitors.Contains(e.VisitorId))),
                stop
            );
        return new FollowMoment(
            lead.State,
            lead.Email is not null,
            lead.Phone is not null,
            reached,
            talked,
            lead.FollowedAt
        );
    }
}
