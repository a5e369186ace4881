using System.Globalization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Store.Signals;

namespace Outcry.Server.Team;

/// <summary>Looks whether workspaces come near their limits of visitors: tells the owners once, and takes sites off air where they chose so.</summary>
internal sealed class LimitRound(SystemDb database, SignalFigures signals, Postman postman, SiteNews news, IClock clock)
{
    /// <summary>Who the strip says took the site off air.</summary>
    public const string By = "the limit of visitors a month";

    public async Task RunAsync(CancellationToken stop)
    {
        await using var db = database.Open();
        foreach (var workspace in await db.Workspaces.ToListAsync(stop))
            await LookAtAsync(workspace, db, stop);
    }

    private async Task LookAtAsync(WorkspaceRow workspace, OutcryDb db, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        var month = now.InUtc().Date.ToString("uuuu-MM", CultureInfo.InvariantCulture);
        var limits = workspace.Limits;
        var visitors = limits.VisitorsAMonth is null
            ? 0
            : (await WorkspaceUse.CountAsync(workspace.Id, db, signals, now, stop)).Visitors;
        var isOver = limits.VisitorsAMonth is { } most && visitors >= most;
        var touched = new List<SiteRow>();
        var sites = await db.Sites.Where(s => s.WorkspaceId == workspace.Id && s.RemovedAt == null).ToListAsync(stop);
        if (isOver && workspace.LimitReached != month)
        {
            workspace.LimitReached = workspace.LimitWarned = month;
            if (limits.AtVisitors == AtLimit.GoQuiet)
                touched.AddRange(sites.Where(s => !s.OffAir));
            foreach (var site in touched)
                (site.OffAir, site.SwitchedBy, site.SwitchedAt) = (true, By, now);
        }
        else if (!isOver)
        {
            // A new month, or a limit that was raised: what the limit took off air comes back, and nothing else.
            touched.AddRange(sites.Where(s => s is { OffAir: true, SwitchedBy: By }));
            foreach (var site in touched)
                (site.OffAir, site.SwitchedAt) = (false, now);
        }
        var warns =
            !isOver && WorkspaceLimits.IsNear(limits.VisitorsAMonth, visitors) && workspace.LimitWarned != month;
        if (warns)
            workspace.LimitWarned = month;
        var tells = db.ChangeTracker.HasChanges() && (warns || workspace.LimitReached == month && isOver);
        foreach (var site in touched)
            db.Traces.Add(
                new TraceRow
                {
                    WorkspaceId = workspace.Id,
                    AboutSite = site.Id,
                    At = now,
                    By = By,
                    Act = site.OffAir ? "took off air" : "put back on air",
                    Subject = site.Name,
                }
            );
        await db.SaveChangesAsync(stop);
        foreach (var site in touched)
            await news.TellAsync(site.Id, SiteChange.Definition);
        if (tells)
            await TellAsync(workspace, visitors, isOver, db, stop);
    }

    private async Task TellAsync(WorkspaceRow workspace, int visitors, bool isOver, OutcryDb db, CancellationToken stop)
    {
        if (!postman.IsSet)
            return;
        var owners = await db
            .Memberships.Where(m => m.WorkspaceId == workspace.Id && m.Role == Role.Owner)
            .Join(db.Users, m => m.MemberId, u => u.Id, (m, u) => u.Email)
            .ToListAsync(stop);
        var (most, quiet) = (workspace.Limits.VisitorsAMonth, workspace.Limits.AtVisitors == AtLimit.GoQuiet);
        var subject = isOver
            ? $"{workspace.Name}: this month's visitors are used up"
            : $"{workspace.Name}: this month's visitors are nearly used up";
        var follows =
            isOver && quiet ? "Its sites are off air until the month is over. An owner can put them back at once."
            : isOver ? "Everything goes on, as you chose."
            : quiet ? "When they are used up, its sites go off air until the month is over, as you chose."
            : "When they are used up, everything goes on, as you chose.";
        var text = string.Create(
            CultureInfo.InvariantCulture,
            $"""
            Hello,

            {visitors:N0} of {most:N0} visitors of this month have met {workspace.Name}. {follows}

            Limits stand under Team, House.

            """
        );
        foreach (var owner in owners.OfType<string>())
            await postman.TrySendAsync(new Letter(owner, subject, text), stop);
    }
}
