using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Planning;

namespace Outcry.Server.Sites;

/// <summary>A site with a draft among its callouts, for whoever looks at it before it is live.</summary>
internal static class DraftSite
{
    /// <summary>The site with some callouts, one of which is a draft whose traffic nobody has counted yet.</summary>
    public static async Task<SiteSnapshot> WithAsync(
        LiveSite site,
        IReadOnlyList<Callout> callouts,
        Callout draft,
        LookedCounter counter,
        Instant now,
        CancellationToken stop
    )
    {
        var counted = await counter.CountAsync(site.Id, site.HomeHost, [draft], now, stop);
        var traffic = new Traffic(site.PresentFor(draft, now), counted);
        return site.Snapshot.With(callouts, site.Events, site.DisplayOf, now, traffic);
    }
}
