using System.Collections.Concurrent;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>Tells open desks that callouts' figures have moved, once a second at most, however many signals come.</summary>
internal sealed class FigureNews(SiteNews news) : BackgroundService
{
    private readonly ConcurrentDictionary<Guid, bool> _moved = new();

    public void Moved(Guid siteId) => _moved[siteId] = true;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(1));
        try
        {
            while (await timer.WaitForNextTickAsync(stoppingToken))
                foreach (var siteId in _moved.Keys)
                    if (_moved.TryRemove(siteId, out _))
                        await news.TryTellAsync(siteId, SiteChange.Figures, stoppingToken);
        }
        catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
        {
            // The host is stopping; desks will ask again when they reconnect.
        }
    }
}
