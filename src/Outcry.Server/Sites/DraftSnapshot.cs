using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>The site as it would be with a draft live in place of what is live of it.</summary>
internal static class DraftSnapshot
{
    /// <summary>The site with the draft, or null when the draft cannot be compiled yet.</summary>
    public static async Task<(SiteSnapshot Site, Callout Draft)?> TryMakeAsync(
        LiveSite site,
        DefinitionRow row,
        LookedCounter counter,
        Instant now,
        CancellationToken stop
    )
    {
        if (
            BriefKind
                .Instance.Check(row.Draft.Read<Brief>(), site.CheckSetting(now))
                .Any(p => BriefFields.StopsTrying(p))
        )
            return null;
        var draft = BriefKind.Instance.Compile(row.In(DefinitionState.Live), row.Draft.Read<Brief>(), site.Context);
        var others = site.Snapshot.Callouts.Where(c => c.Id != row.Id);
        return (await DraftSite.WithAsync(site, [.. others, draft], draft, counter, now, stop), draft);
    }
}
