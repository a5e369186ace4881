using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>The site as it would be with a draft live in place of what is live of it.</summary>
internal static class DraftSnapshot
{
    /// <summary>The site with the draft, or null when the draft cannot be compiled yet.</summary>
    public static async Task<(SiteSnapshot Site, Callout Draft)?> TryMakeAsync(
        LiveSite site,
        CalloutRow row,
        LookedCounter counter,
        Instant now,
        CancellationToken stop
    )
    {
        if (CalloutView.Check(row.Draft, site).Any(p => p.StopsTrying))
            return null;
        var draft = LiveSites.Compile(row, row.Draft, DefinitionState.Live, site.Shared);
        var others = site.Snapshot.Callouts.Where(c => c.Id != row.Id);
        return (await DraftSite.WithAsync(site, [.. others, draft], draft, counter, now, stop), draft);
    }
}
