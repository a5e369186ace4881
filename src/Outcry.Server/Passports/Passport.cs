using System.Collections.Immutable;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using System.Security.Cryptography;
using MemoryPack;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;

namespace Outcry.Server.Passports;

/// <summary>A visitor's record, signed, so that the server need not keep it and the browser cannot alter it.</summary>
internal static class Passport
{
    /// <summary>Callouts remembered at most; those met longest ago are forgotten first.</summary>
    private const int MostExposures = 60;

    /// <summary>Marks the visitor ids of members' own browsers, whose doings are tests.</summary>
    public const string MemberPrefix = "m-";

    public static bool IsMember(string visitorId) => visitorId.StartsWith(MemberPrefix, StringComparison.Ordinal);

    public static VisitorRecord New(Instant now, bool isMember) =>
        VisitorRecord.New(
            (isMember ? MemberPrefix : "") + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(10)),
            now
        );

    /// <summary>Writes a visitor's record, with the page view that was planned for it.</summary>
    public static string Write(LiveSite site, VisitorRecord visitor, PageAddress page, Instant now)
    {
        var (visit, wayIn) = (visitor.Visit, visitor.Visit.WayIn);
        return SignedBytes.Sign(
            site.PassportKeys,
            MemoryPackSerializer.Serialize(
                new PassportBody
                {
                    VisitorId = visitor.VisitorId,
                    FirstSeenMs = visitor.FirstSeenAt.ToUnixTimeMilliseconds(),
                    VisitNumber = visit.Number,
                    VisitPages = visit.Pages,
                    VisitStartedMs = visit.StartedAt.ToUnixTimeMilliseconds(),
                    VisitLastSeenMs = visit.LastSeenAt.ToUnixTimeMilliseconds(),
                    VisitStarts = visit.Starts,
                    VisitLastEndMs = visit.LastEndAt?.ToUnixTimeMilliseconds(),
                    HushUntilMs = visitor.HushUntil?.ToUnixTimeMilliseconds(),
                    DialogHushUntilMs = visitor.DialogHushUntil?.ToUnixTimeMilliseconds(),
                    PagesEver = visitor.PagesEver,
                    LastVisitMs = visitor.LastVisitAt?.ToUnixTimeMilliseconds(),
                    EntryPage = TextOrNull(wayIn.EntryPage),
                    Referrer = TextOrNull(wayIn.Referrer),
                    Campaign = wayIn.Campaign.Count == 0 ? null : new Dictionary<string, string>(wayIn.Campaign),
                    Page = MarkOf(page),
                    GivenMs = now.ToUnixTimeMilliseconds(),
                    Noted = visitor.Noted.Count == 0 ? null : [.. visitor.Noted],
                    Exposures = visitor.Exposures.Count == 0 ? [] : ExposuresOf(visitor),
                }
            )
        );
    }

    private static ExposureBody[] ExposuresOf(VisitorRecord visitor) =>
        [
            .. visitor
                .Exposures.OrderByDescending(x => x.Value.LastStartAt)
                .Take(MostExposures)
                .Select(x => new ExposureBody
                {
                    Callout = x.Key,
                    Visits = x.Value.Visits,
                    LastStartMs = x.Value.LastStartAt.ToUnixTimeMilliseconds(),
                    LastStartVisit = x.Value.LastStartVisit,
                    LastCloseMs = x.Value.LastCloseAt?.ToUnixTimeMilliseconds(),
                    LastClickMs = x.Value.LastClickAt?.ToUnixTimeMilliseconds(),
                    RecentMs = x.Value.RecentStarts is [_]
                        ? null
                        : [.. x.Value.RecentStarts.Select(r => r.ToUnixTimeMilliseconds())],
                }),
        ];

    /// <summary>The record in a passport of this site, or null when there is none that can be trusted.</summary>
    public static VisitorRecord? TryRead(LiveSite site, string? passport) =>
        TryOpen(site, passport) is { } body ? Record(body) : null;

    /// <summary>The record in a passport, and whether it was given out for a view of this page that can still be open.</summary>
    public static (VisitorRecord Visitor, bool IsOfPage)? TryRead(
        LiveSite site,
        string? passport,
        PageAddress page,
        Instant now
    ) =>
        TryOpen(site, passport) is { } body
            ? (Record(body), body.Page == MarkOf(page) && now - At(body.GivenMs) <= LongestView)
            : null;

    // A tab may be left open over night; a passport copied out of it is worth no more than that page view.
    private static readonly Duration LongestView = Duration.FromHours(24);

    // The page itself would make every passport longer by it; within what is signed nobody can look for another like it.
    private static ulong MarkOf(PageAddress page)
    {
        var hash = new XxHash3();
        hash.Append(MemoryMarshal.AsBytes(page.Host.AsSpan()));
        hash.Append(MemoryMarshal.AsBytes(page.RecordedPath.AsSpan()));
        return hash.GetCurrentHashAsUInt64();
    }

    private static PassportBody? TryOpen(LiveSite site, string? passport)
    {
        if (passport is null || SignedBytes.TryOpen(site.PassportKeys, passport) is not { } bytes)
            return null;
        try
        {
            return
                MemoryPackSerializer.Deserialize<PassportBody>(bytes)
                    is { VisitorId: not null, Exposures: not null } body
                ? body
                : null;
        }
        catch (MemoryPackSerializationException)
        {
            return null;
        }
    }

    private static VisitorRecord Record(PassportBody body) =>
        new(
            body.VisitorId,
            At(body.FirstSeenMs),
            new VisitFigures(
                body.VisitNumber,
                body.VisitPages,
                At(body.VisitStartedMs),
                At(body.VisitLastSeenMs),
                body.VisitStarts,
                AtOrNull(body.VisitLastEndMs)
            )
            {
                WayIn = new WayIn(
                    body.EntryPage ?? "",
                    body.Referrer ?? "",
                    body.Campaign ?? (IReadOnlyDictionary<string, string>)ImmutableDictionary<string, string>.Empty
                ),
            },
            AtOrNull(body.HushUntilMs),
            AtOrNull(body.DialogHushUntilMs),
            body.Exposures.Length == 0
                ? ImmutableDictionary<Guid, Exposure>.Empty
                : body.Exposures.ToImmutableDictionary(x => x.Callout, Met)
        )
        {
            PagesEver = body.PagesEver,
            LastVisitAt = AtOrNull(body.LastVisitMs),
            Noted = body.Noted is { } noted ? [.. noted] : [],
        };

    private static Exposure Met(ExposureBody met) =>
        new(met.Visits, At(met.LastStartMs), met.LastStartVisit, AtOrNull(met.LastCloseMs), AtOrNull(met.LastClickMs))
        {
            RecentStarts = met.RecentMs is { } recent ? [.. recent.Select(At)] : [At(met.LastStartMs)],
        };

    private static string? TextOrNull(string text) => text.Length == 0 ? null : text;

    /// <summary>When a passport was given out, which is when its page view was planned; null for one that is not this site's.</summary>
    public static Instant? GivenAt(LiveSite site, string passport) =>
        TryOpen(site, passport) is { } body ? At(body.GivenMs) : null;

    private static Instant At(long ms) => Instant.FromUnixTimeMilliseconds(ms);

    private static Instant? AtOrNull(long? ms) => ms is { } m ? At(m) : null;
}
