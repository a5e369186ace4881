using Microsoft.EntityFrameworkCore;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Store;

namespace Outcry.Server.Sites;

/// <summary>A callout, archived or not, with everything of it that may name a shared piece: what is put away may come back.</summary>
/// <param name="Live">What is published; null before the first publication.</param>
internal sealed record BriefInUse(Guid Id, string Name, Brief Draft, Brief? Live)
{
    /// <summary>Shared pieces that its draft names, or what is published of it.</summary>
    public References References =>
        References.Join((Live is null ? [Draft] : new[] { Draft, Live }).Select(BriefReferences.Of));
}

/// <summary>Reads the briefs that may name segments, page groups and pictures, in their draft or in what is live.</summary>
internal static class BriefsInUse
{
    public static async Task<IReadOnlyList<BriefInUse>> ReadAsync(OutcryDb db, Guid siteId, CancellationToken stop)
    {
        var callouts = await db.Callouts.AsNoTracking().Where(c => c.SiteId == siteId).ToListAsync(stop);
        var live = await db
            .Callouts.Where(c => c.SiteId == siteId)
            .Join(
                db.Revisions,
                c => new { c.Id, Number = c.Revision },
                r => new { Id = r.CalloutId, r.Number },
                (c, r) => new { c.Id, r.Brief }
            )
            .ToDictionaryAsync(r => r.Id, r => r.Brief, stop);
        return callouts.ConvertAll(c => new BriefInUse(c.Id, c.Name, c.Draft, live.GetValueOrDefault(c.Id)));
    }
}
