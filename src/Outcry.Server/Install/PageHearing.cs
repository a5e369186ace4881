using NodaTime;
using Outcry.Store.Signals;

namespace Outcry.Server.Install;

/// <summary>When a page was last heard from, and how often it was viewed in the last 30 days.</summary>
internal sealed record PageHeard(Instant At, int Views);

/// <summary>Asks the page views whether the snippet was ever heard from a page.</summary>
internal sealed class PageHearing(SignalFigures signals)
{
    public async Task<PageHeard?> FindAsync(Guid siteId, string path, Instant now, CancellationToken stop) =>
        await signals.OfPageAsync(siteId, path, (now - Duration.FromDays(30)).InUtc().Date, stop) is { } heard
            ? new PageHeard(heard.At, heard.Views)
            : null;
}
