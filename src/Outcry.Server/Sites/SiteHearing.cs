using System.Collections.Concurrent;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>When a host was last heard, and from which of its pages.</summary>
internal sealed record HostHeard(Instant At, string Page);

/// <summary>When and where a site's snippet was last heard, fetched and refused.</summary>
internal sealed class SiteHearing(SiteRow row)
{
    /// <summary>Hosts remembered; under a wildcard anybody can make them up, so the one not heard for longest makes way.</summary>
    public const int MostHosts = 200;

    private const int LongestHost = 255;

    // Words closer together than this say nothing new.
    private static readonly Duration Fresh = Duration.FromSeconds(1);
    private const int MostUnclaimed = 50;

    private readonly ConcurrentDictionary<string, HostHeard> _hosts = new();
    private readonly ConcurrentDictionary<string, int> _unclaimed = new();

    public Instant? HeardAt { get; private set; } = row.HeardAt;
    public string? HeardPage { get; private set; } = row.HeardPage;
    public Instant? FetchedAt { get; private set; } = row.FetchedAt;
    public string? FetchedFrom { get; private set; } = row.FetchedFrom;
    public Instant? RefusedAt { get; private set; } = row.RefusedAt;
    public string? RefusedHost { get; private set; } = row.RefusedHost;

    /// <summary>When and on which page each host was last heard, since this node started.</summary>
    public IReadOnlyDictionary<string, HostHeard> Hosts => _hosts;

    /// <summary>Names of events that pages reported and no source takes, the most frequent first.</summary>
    public IReadOnlyList<string> Unclaimed => [.. _unclaimed.OrderByDescending(u => u.Value).Select(u => u.Key)];

    /// <summary>Notes that the snippet spoke up.</summary>
    /// <returns>Whether that is news: the first word ever, or the first after a minute of silence.</returns>
    public bool Heard(PageAddress page, Instant now)
    {
        var path = page.RecordedPath;
        if (
            page.Host.Length <= LongestHost
            && !(_hosts.TryGetValue(page.Host, out var last) && now - last.At < Fresh && last.Page == path)
        )
            Remember(page.Host, new HostHeard(now, path));
        var isNews = HeardAt is not { } before || now - before > Duration.FromMinutes(1);
        HeardAt = now;
        HeardPage = path;
        return isNews;
    }

    private void Remember(string host, HostHeard heard)
    {
        if (_hosts.Count >= MostHosts && !_hosts.ContainsKey(host))
            _hosts.TryRemove(_hosts.MinBy(h => h.Value.At).Key, out _);
        _hosts[host] = heard;
    }

    /// <summary>Notes that a browser fetched the script, and for which page's host where it said so.</summary>
    /// <returns>Whether that is news: after half a minute without.</returns>
    public bool Fetched(string? from, Instant now)
    {
        var isNews = FetchedAt is not { } before || now - before > Duration.FromSeconds(30);
        (FetchedAt, FetchedFrom) = (now, from ?? FetchedFrom);
        return isNews;
    }

    /// <summary>Notes that the snippet spoke on a host that is not allowed.</summary>
    /// <returns>Whether that is news: another host, or half a minute later.</returns>
    public bool Refused(string host, Instant now)
    {
        if (host.Length > LongestHost)
            return false;
        var isNews = RefusedHost != host || RefusedAt is not { } before || now - before > Duration.FromSeconds(30);
        (RefusedAt, RefusedHost) = (now, host);
        return isNews;
    }

    /// <summary>Notes a named event that no source takes, so that the desk can offer to listen to it.</summary>
    public void NoteUnclaimed(string name)
    {
        // Names that were made up once make way for one that comes again and again.
        if (_unclaimed.Count >= MostUnclaimed && !_unclaimed.ContainsKey(name))
            _unclaimed.TryRemove(_unclaimed.MinBy(u => u.Value).Key, out _);
        _unclaimed.AddOrUpdate(name, 1, (_, times) => times + 1);
    }

    /// <summary>Takes over what a site knew that this one replaces.</summary>
    public void Inherit(SiteHearing before)
    {
        foreach (var (name, times) in before._unclaimed)
            _unclaimed[name] = times;
        foreach (var (host, last) in before._hosts)
            _hosts[host] = last;
        if (before.FetchedAt > FetchedAt || FetchedAt is null)
            (FetchedAt, FetchedFrom) = (before.FetchedAt, before.FetchedFrom);
        if (before.RefusedAt > RefusedAt || RefusedAt is null)
            (RefusedAt, RefusedHost) = (before.RefusedAt, before.RefusedHost);
        if (before.HeardAt is { } heard && !(HeardAt > heard))
            (HeardAt, HeardPage) = (heard, before.HeardPage);
    }
}
