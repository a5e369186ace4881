using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>Something done on a page of a planned visit.</summary>
/// <param name="AtSeconds">Seconds since the page view began.</param>
/// <param name="Kind">What is done.</param>
/// <param name="Callout">To which callout, for close and click.</param>
/// <param name="Target">To which element, or the name of a page event.</param>
public sealed record PlannedAct(double AtSeconds, ActKind Kind, Guid? Callout = null, string Target = "");

/// <summary>A page of a visit as somebody at the desk plans it.</summary>
/// <param name="Path">The page.</param>
/// <param name="StaySeconds">Seconds on it, 1 to 1,800.</param>
/// <param name="ScrollPercent">How far it is scrolled, evenly over the stay: 0 to 100.</param>
/// <param name="Leaves">Whether the visitor turns to leave a second before the end.</param>
/// <param name="Acts">What else is done there.</param>
public sealed record PlannedPage(
    string Path,
    int StaySeconds,
    int ScrollPercent = 0,
    bool Leaves = false,
    IReadOnlyList<PlannedAct>? Acts = null
)
{
    /// <summary>Pages in a visit, and acts on a page, at most.</summary>
    public const int Most = 40;

    /// <summary>Seconds on a page at most.</summary>
    public const int MostSeconds = 1_800;

    /// <summary>What is wrong with it, said to a person; null for nothing.</summary>
    [JsonIgnore]
    public string? Problem =>
        !Path.StartsWith('/') || Path.Length > 500 || PageAddress.TryAt("page.example", Path) is null
            ? $"\"{Path}\" is no page of the site: a path begins with /."
        : StaySeconds is < 1 or > MostSeconds ? $"Somebody stays 1 to {MostSeconds} seconds on a page."
        : ScrollPercent is < 0 or > 100 ? "A page is scrolled to 0 to 100 %."
        : Acts is { Count: > Most } ? $"At most {Most} acts on one page."
        : (Acts ?? []).Any(a => a.AtSeconds < 0 || a.AtSeconds > StaySeconds)
            ? "An act lies within the stay on its page."
        : null;

    /// <summary>The page as a rehearsal plays it.</summary>
    /// <param name="host">The site's host.</param>
    /// <param name="device">What the visitor holds, by which leaving shows.</param>
    /// <param name="depths">The depths that matter, in percent.</param>
    public JourneyPage ToJourneyPage(string host, Device device, IEnumerable<int> depths)
    {
        var stayMs = StaySeconds * 1_000L;
        var acts = (Acts ?? []).Select(a => new Act((long)(a.AtSeconds * 1_000), a.Kind, a.Callout, Target: a.Target));
        var scrolls = depths
            .Where(d => d <= ScrollPercent)
            .Select(d => new Act(Math.Max(0, stayMs - LastMs) * d / ScrollPercent, ActKind.Scroll, Number: d));
        IEnumerable<Act> busy =
            ScrollPercent > 0 ? [new Act(0, ActKind.Busy, Number: (int)Math.Max(0, stayMs - LastMs))] : [];
        IEnumerable<Act> leaving = Leaves
            ? [new Act(Math.Max(0, stayMs - LastMs), device == Device.Desktop ? ActKind.PointerOut : ActKind.FlickUp)]
            : [];
        return new JourneyPage(
            PageAddress.TryAt(host, Path) ?? PageAddress.Recorded(host, Path),
            stayMs,
            [.. busy.Concat(acts).Concat(scrolls).Concat(leaving).OrderBy(a => a.AtMs)]
        );
    }

    // The last acts of a page view lie this long before its end, as in a replay.
    private const long LastMs = 1_000;
}

/// <summary>Plays planned visits.</summary>
public static class PlannedVisit
{
    /// <summary>Plays the pages in order.</summary>
    /// <param name="site">The site.</param>
    /// <param name="host">Its host.</param>
    /// <param name="who">Who visits.</param>
    /// <param name="pages">The pages.</param>
    /// <param name="now">When the visit begins.</param>
    /// <param name="liftLimits">Whether caps, hush and least numbers are lifted.</param>
    public static IReadOnlyList<RehearsedPage> Play(
        SiteSnapshot site,
        string host,
        ImaginedVisitor who,
        IReadOnlyList<PlannedPage> pages,
        Instant now,
        bool liftLimits = false
    )
    {
        var depths = site
            .Callouts.SelectMany(c => c.Targeting.Triggers)
            .Where(t => t.Kind == TriggerKind.Scroll)
            .Select(t => t.Number)
            .Distinct()
            .ToList();
        return Rehearsal
            .Play(
                site,
                who.RecordAt("rehearsal", now, site.Callouts),
                who.FactsAt(now, site.Zone),
                pages.Select(p => p.ToJourneyPage(host, who.Device, depths) with { CameBy = who.CameBy }),
                now,
                new PlanOptions(Explain: true, liftLimits) { PastEvents = who.PastEventsAt(now), AsShare = true }
            )
            .Pages;
    }
}
