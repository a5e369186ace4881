using System.Collections.Concurrent;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>Tells open desks that callouts' figures have moved, once a second at most, however many signals come.</summary>
internal sealed class FigureNews(SiteNews news, LoopWatch watch) : BackgroundService
{
    private readonly ConcurrentDictionary<Guid, bool> _moved = new();

    public void Moved(Guid siteId) => _moved[siteId] = true;

    private const string Loop = "news of figures";

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        watch.KeepAsync(Loop, GoRoundAsync, stoppingToken);

    private async Task GoRoundAsync(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(1));
        while (await timer.WaitForNextTickAsync(stop))
        {
            foreach (var siteId in _moved.Keys)
                if (_moved.TryRemove(siteId, out _))
                    await news.TellAsync(siteId, SiteChange.Figures);
            watch.WentRound(Loop);
        }
    }
}
