using System.Collections.Concurrent;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Server.Sites;

namespace Outcry.Server.Intake;

/// <summary>What becomes of something that a browser reports.</summary>
internal enum QuotaVerdict
{
    /// <summary>It is taken.</summary>
    Taken,

    /// <summary>It is taken, and waits for a look: more comes at once than ever does at this source.</summary>
    Held,

    /// <summary>It is refused: this visitor, or this network, reports more than any person does.</summary>
    Refused,
}

/// <summary>
/// Limits what anybody's browser can put into the ledger: for each visitor and each network block so many a minute and an
/// hour, and for each source no more than it usually has before a member has looked.
/// </summary>
/// <remarks>Counted in each node's memory, in whole minutes and hours; nothing of it is kept.</remarks>
internal sealed class VisitorQuota(IConfiguration configuration)
{
    private readonly int _visitorPerMinute = configuration.GetValue("Limits:EventsPerVisitorAndMinute", 10);
    private readonly int _visitorPerHour = configuration.GetValue("Limits:EventsPerVisitorAndHour", 60);
    private readonly int _blockPerMinute = configuration.GetValue("Limits:EventsPerAddressAndMinute", 60);
    private readonly int _blockPerHour = configuration.GetValue("Limits:EventsPerAddressAndHour", 600);

    /// <summary>Counters held at most; a flood of made-up visitors must not fill memory.</summary>
    private const int MostCounters = 200_000;

    private readonly ConcurrentDictionary<(string Who, Guid What, long Slot), int> _counts = new();
    private long _lastSlot;

    /// <summary>Counts one report and says what becomes of it.</summary>
    /// <param name="site">The site.</param>
    /// <param name="actor">Who reports.</param>
    /// <param name="about">The source, or the site for what goes to none.</param>
    /// <param name="now">When.</param>
    public QuotaVerdict Take(LiveSite site, PageActor actor, Guid about, Instant now)
    {
        var minute = now.ToUnixTimeSeconds() / 60;
        ForgetBefore(minute);
        // Hours and ten minutes are counted under keys of their own, so that one table serves for all.
        var fits =
            Count($"v{actor.VisitorId}", site.Id, minute) <= _visitorPerMinute
            & Count($"V{actor.VisitorId}", site.Id, minute / 60) <= _visitorPerHour
            & Count($"a{actor.Block}", site.Id, minute) <= _blockPerMinute
            & Count($"A{actor.Block}", site.Id, minute / 60) <= _blockPerHour;
        if (!fits)
            return QuotaVerdict.Refused;
        var lately = Count("s", about, minute / (long)Rush.Window.TotalMinutes);
        return lately > Rush.AlwaysUsual && lately > Rush.Most(LastWeek(site, about, now))
            ? QuotaVerdict.Held
            : QuotaVerdict.Taken;
    }

    private int Count(string who, Guid what, long slot) => _counts.AddOrUpdate((who, what, slot), 1, (_, n) => n + 1);

    // Only asked once a source has more than is usual anywhere.
    private static int LastWeek(LiveSite site, Guid source, Instant now)
    {
        var week = now - Duration.FromDays(7);
        return site.Events.Count(e => e.SourceId == source && e.At >= week && e.State == EventState.Usable);
    }

    private void ForgetBefore(long minute)
    {
        var last = Interlocked.Exchange(ref _lastSlot, minute);
        if (last == minute && _counts.Count < MostCounters)
            return;
        if (_counts.Count >= MostCounters)
        {
            _counts.Clear();
            return;
        }
        foreach (var key in _counts.Keys)
            if (key.Slot != minute && key.Slot != minute / 60 && key.Slot != minute / (long)Rush.Window.TotalMinutes)
                _counts.TryRemove(key, out _);
    }
}
