using System.Runtime.CompilerServices;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Server.Sites;

namespace Outcry.Server.RunSheet;

/// <summary>Sites as they would have been at an earlier moment, the last one asked for kept: a sheet and its lanes ask alike.</summary>
internal static class PastSnapshots
{
    private static readonly ConditionalWeakTable<LiveSite, Holder> Known = [];

    /// <summary>The callouts that are live now, with the events that were known then.</summary>
    public static SiteSnapshot Get(LiveSite site, Instant at)
    {
        var holder = Known.GetValue(site, _ => new Holder());
        lock (holder)
            if (holder.Snapshot is null || holder.Snapshot.At != at)
                holder.Snapshot = site.Snapshot.AsOf(
                    at,
                    site.Callouts,
                    [.. site.Events.SkipWhile(e => e.At > at)],
                    site.DisplayOf,
                    site.TrafficAt(at)
                );
        return holder.Snapshot;
    }

    private sealed class Holder
    {
        public SiteSnapshot? Snapshot { get; set; }
    }
}
