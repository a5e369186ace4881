using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Following;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>Brings people into follow-ups, each into one once.</summary>
internal static class FollowUps
{
    /// <summary>Brings somebody who may be written to into every live follow-up that follows their yes, or one of the tags they were given.</summary>
    /// <param name="yesTo">The prompt or script to which they said yes; null for none.</param>
    /// <param name="desk">Address under which links in its mails are opened.</param>
    public static async Task EnterAsync(
        OutcryDb db,
        LiveSite site,
        LeadRow lead,
        Guid? yesTo,
        IReadOnlyList<string> tags,
        string desk,
        Instant now,
        CancellationToken stop
    )
    {
        if (!lead.Life.MayBeWrittenTo)
            return;
        foreach (var live in site.Compiled.Values.OfType<LiveFollowUp>())
            if (live.FollowUp.Follows(yesTo, tags))
                await db.Database.ExecuteSqlAsync(
                    $"""
                    insert into follow_runs
                      (id, workspace_id, site_id, follow_up_id, revision, lead_id, at, step_id, passed, begun_at, since, due_at, desk)
                    select {Guid.CreateVersion7()}, {site.WorkspaceId}, {site.Id}, d.id, d.revision, {lead.Id}, 0,
                      {live.FollowUp.Steps[0].Id}, array[]::uuid[], {now}, {now}, {now}, {desk}
                    from definitions d where d.id = {live.Definition.Id}
                    on conflict (follow_up_id, lead_id) do nothing
                    """,
                    stop
                );
    }
}
