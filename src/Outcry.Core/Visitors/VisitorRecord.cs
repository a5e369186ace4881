using System.Collections.Immutable;
using NodaTime;

namespace Outcry.Core.Visitors;

/// <summary>What Outcry knows of one visitor of one site: carried by the visitor's own browser, holding no personal data.</summary>
/// <param name="VisitorId">Random id, made at the first page view.</param>
/// <param name="FirstSeenAt">First page view.</param>
/// <param name="Visit">The running visit.</param>
/// <param name="HushUntil">End of the hush that a closed floating callout started, if any.</param>
/// <param name="DialogHushUntil">End of the hush that a closed dialog started for dialogs, if any.</param>
/// <param name="Exposures">What was met, by callout.</param>
public sealed record VisitorRecord(
    string VisitorId,
    Instant FirstSeenAt,
    VisitFigures Visit,
    Instant? HushUntil,
    Instant? DialogHushUntil,
    ImmutableDictionary<Guid, Exposure> Exposures
)
{
    /// <summary>Stretch without activity after which the next page view begins a new visit.</summary>
    public static Duration VisitGap { get; } = Duration.FromMinutes(30);

    /// <summary>A visitor who has just arrived for the first time; <see cref="Arrive"/> has yet to count the page.</summary>
    public static VisitorRecord New(string visitorId, Instant now) =>
        new(
            visitorId,
            now,
            new VisitFigures(0, 0, now, now, 0, null),
            null,
            null,
            ImmutableDictionary<Guid, Exposure>.Empty
        );

    /// <summary>Whether this is the visitor's first visit.</summary>
    public bool IsNew => Visit.Number <= 1;

    /// <summary>Page views ever, this one included.</summary>
    public int PagesEver { get; init; }

    /// <summary>Last activity of the visit before the running one; null in a first visit.</summary>
    public Instant? LastVisitAt { get; init; }

    /// <summary>Notes of the visitor's browsers remembered at most.</summary>
    public const int MostNoted = 50;

    /// <summary>Keys of what the visitor's browser noted and this record has already, the latest last.</summary>
    public ImmutableList<string> Noted { get; init; } = [];

    /// <summary>Remembers that a note was taken; of more than <see cref="MostNoted"/> the oldest are forgotten.</summary>
    public VisitorRecord WithNoted(string key)
    {
        var noted = Noted.Add(key);
        return this with { Noted = noted.Count > MostNoted ? noted.RemoveAt(0) : noted };
    }

    /// <summary>Notes by which way the running visit came in; of a visit that has begun before nothing changes.</summary>
    public VisitorRecord CameIn(WayIn wayIn) =>
        Visit.Pages == 1 ? this with { Visit = Visit with { WayIn = wayIn } } : this;

    /// <summary>Counts a page view, beginning a new visit after <see cref="VisitGap"/> without activity.</summary>
    public VisitorRecord Arrive(Instant now)
    {
        var begins = Visit.Number == 0 || now - Visit.LastSeenAt >= VisitGap;
        var visit = begins
            ? new VisitFigures(Visit.Number + 1, 1, now, now, 0, null)
            : Visit with
            {
                Pages = Visit.Pages + 1,
                LastSeenAt = Instant.Max(now, Visit.LastSeenAt),
            };
        return this with
        {
            Visit = visit,
            PagesEver = PagesEver + 1,
            LastVisitAt = begins && Visit.Number > 0 ? Visit.LastSeenAt : LastVisitAt,
        };
    }

    /// <summary>Counts the start of a callout's first turn.</summary>
    /// <param name="callout">Which callout.</param>
    /// <param name="at">When.</param>
    /// <param name="takesBudget">False for insets and asked callouts, which leave the visit's budget alone.</param>
    public VisitorRecord Started(Guid callout, Instant at, bool takesBudget)
    {
        var before = Exposures.GetValueOrDefault(callout);
        var sameVisit = before is not null && before.LastStartVisit == Visit.Number;
        var after = before is null
            ? new Exposure(1, at, Visit.Number)
            : before with
            {
                Visits = before.Visits + (sameVisit ? 0 : 1),
                LastStartAt = at,
                LastStartVisit = Visit.Number,
                RecentStarts =
                [
                    .. before
                        .RecentStarts.Take(before.RecentStarts.Count - (sameVisit ? 1 : 0))
                        .TakeLast(Exposure.MostRecent - 1),
                    at,
                ],
            };
        return this with
        {
            Exposures = Exposures.SetItem(callout, after),
            Visit = Visit with
            {
                Starts = Visit.Starts + (takesBudget ? 1 : 0),
                LastSeenAt = Instant.Max(at, Visit.LastSeenAt),
            },
        };
    }

    /// <summary>Notes that a callout left the screen; from the last such end the gap to the next is counted, in whichever order they are told.</summary>
    public VisitorRecord Ended(Instant at) =>
        this with
        {
            Visit = Visit with
            {
                LastEndAt = Latest(Visit.LastEndAt, at),
                LastSeenAt = Instant.Max(at, Visit.LastSeenAt),
            },
        };

    /// <summary>Notes a close mark and the hush it starts.</summary>
    /// <param name="callout">Which callout.</param>
    /// <param name="at">When.</param>
    /// <param name="hush">How long the visitor is left alone.</param>
    /// <param name="dialogsOnly">True after a dialog, which had to be closed to go on: only dialogs are hushed.</param>
    public VisitorRecord Closed(Guid callout, Instant at, Duration hush, bool dialogsOnly)
    {
        var until = at + hush;
        var alive = Seen(at);
        var closed = Exposures.TryGetValue(callout, out var met)
            ? alive with
            {
                Exposures = Exposures.SetItem(callout, met with { LastCloseAt = at }),
            }
            : alive;
        return dialogsOnly
            ? closed with
            {
                DialogHushUntil = Latest(DialogHushUntil, until),
            }
            : closed with
            {
                HushUntil = Latest(HushUntil, until),
            };
    }

    /// <summary>Notes a click on the callout's link or button, which starts no hush.</summary>
    public VisitorRecord Clicked(Guid callout, Instant at) =>
        Exposures.TryGetValue(callout, out var met)
            ? Seen(at) with
            {
                Exposures = Exposures.SetItem(callout, met with { LastClickAt = at }),
            }
            : Seen(at);

    /// <summary>Notes a sign of life; a visit goes on for as long as they are less than <see cref="VisitGap"/> apart.</summary>
    public VisitorRecord Seen(Instant at) =>
        this with
        {
            Visit = Visit with { LastSeenAt = Instant.Max(at, Visit.LastSeenAt) },
        };

    /// <summary>The visitor as if nothing had been closed and nothing had come on in this visit, as where limits are lifted; what was met stays known.</summary>
    public VisitorRecord Unrestrained() =>
        this with
        {
            HushUntil = null,
            DialogHushUntil = null,
            Visit = Visit with { Starts = 0, LastEndAt = null },
        };

    private static Instant Latest(Instant? known, Instant candidate) => known is { } k && k > candidate ? k : candidate;
}

/// <summary>The figures of one visit: page views less than 30 minutes apart.</summary>
/// <param name="Number">1 for the visitor's first visit; 0 before it.</param>
/// <param name="Pages">Page views so far in this visit.</param>
/// <param name="StartedAt">First page view of the visit.</param>
/// <param name="LastSeenAt">Last activity.</param>
/// <param name="Starts">Callouts started in this visit that count against its budget.</param>
/// <param name="LastEndAt">When a floating or dialog callout last left the screen in this visit, if one did.</param>
public sealed record VisitFigures(
    int Number,
    int Pages,
    Instant StartedAt,
    Instant LastSeenAt,
    int Starts,
    Instant? LastEndAt
)
{
    /// <summary>By which way it came in.</summary>
    public WayIn WayIn { get; init; } = WayIn.Unknown;
}

/// <summary>By which way a visit came in.</summary>
/// <param name="EntryPage">Its first page, as <see cref="Pages.PageAddress.ToNote"/> writes it; a bare path where no more is known.</param>
/// <param name="Referrer">Host of the page that led here; empty for none, or for the site's own.</param>
/// <param name="Campaign">Campaign parameters of the first page's address, by name without "utm_": source, medium, campaign, term, content.</param>
public sealed record WayIn(string EntryPage, string Referrer, IReadOnlyDictionary<string, string> Campaign)
{
    /// <summary>Nothing is known.</summary>
    public static WayIn Unknown { get; } = new("", "", ImmutableDictionary<string, string>.Empty);
}
