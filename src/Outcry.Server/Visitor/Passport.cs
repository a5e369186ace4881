using System.Buffers.Text;
using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>What the browser carries between page views, in short. Times are Unix milliseconds.</summary>
internal sealed record PassportBody(
    string V,
    long F,
    int N,
    int P,
    long S,
    long L,
    int B,
    IReadOnlyDictionary<Guid, ExposureBody> X,
    long? E = null,
    long? H = null,
    long? D = null,
    int T = 0,
    long? B4 = null,
    string? W = null,
    string? R = null,
    IReadOnlyDictionary<string, string>? U = null,
    string? G = null,
    long G4 = 0,
    IReadOnlyList<string>? M = null
);

internal sealed record ExposureBody(
    int N,
    long S,
    int V,
    long? C = null,
    long? K = null,
    IReadOnlyList<long>? R = null
);

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
        var body = new PassportBody(
            visitor.VisitorId,
            visitor.FirstSeenAt.ToUnixTimeMilliseconds(),
            visitor.Visit.Number,
            visitor.Visit.Pages,
            visitor.Visit.StartedAt.ToUnixTimeMilliseconds(),
            visitor.Visit.LastSeenAt.ToUnixTimeMilliseconds(),
            visitor.Visit.Starts,
            visitor
                .Exposures.OrderByDescending(x => x.Value.LastStartAt)
                .Take(MostExposures)
                .ToDictionary(
                    x => x.Key,
                    x => new ExposureBody(
                        x.Value.Visits,
                        x.Value.LastStartAt.ToUnixTimeMilliseconds(),
                        x.Value.LastStartVisit,
                        x.Value.LastCloseAt?.ToUnixTimeMilliseconds(),
                        x.Value.LastClickAt?.ToUnixTimeMilliseconds(),
                        x.Value.RecentStarts is [_]
                            ? null
                            : [.. x.Value.RecentStarts.Select(s => s.ToUnixTimeMilliseconds())]
                    )
                ),
            visitor.Visit.LastEndAt?.ToUnixTimeMilliseconds(),
            visitor.HushUntil?.ToUnixTimeMilliseconds(),
            visitor.DialogHushUntil?.ToUnixTimeMilliseconds(),
            visitor.PagesEver,
            visitor.LastVisitAt?.ToUnixTimeMilliseconds(),
            TextOrNull(visitor.Visit.WayIn.EntryPage),
            TextOrNull(visitor.Visit.WayIn.Referrer),
            visitor.Visit.WayIn.Campaign.Count == 0 ? null : visitor.Visit.WayIn.Campaign,
            MarkOf(page),
            now.ToUnixTimeMilliseconds(),
            visitor.Noted.Count == 0 ? null : visitor.Noted
        );
        return SignedText.Sign(
            site.PassportKey,
            JsonSerializer.SerializeToUtf8Bytes(body, VisitorJson.Default.PassportBody)
        );
    }

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
            ? (Record(body), body.G == MarkOf(page) && now - At(body.G4) <= LongestView)
            : null;

    // A tab may be left open over night; a passport copied out of it is worth no more than that page view.
    private static readonly Duration LongestView = Duration.FromHours(24);

    private const int MarkBytes = 6;

    // The page itself would make every passport longer by it.
    private static string MarkOf(PageAddress page)
    {
        Span<byte> hash = stackalloc byte[SHA256.HashSizeInBytes];
        SHA256.HashData(Encoding.UTF8.GetBytes($"{page.Host}{page.RecordedPath}"), hash);
        return Base64Url.EncodeToString(hash[..MarkBytes]);
    }

    private static PassportBody? TryOpen(LiveSite site, string? passport)
    {
        if (passport is null || SignedText.TryOpen(site.PassportKey, passport) is not { } bytes)
            return null;
        try
        {
            return
                JsonSerializer.Deserialize(bytes, VisitorJson.Default.PassportBody) is { V: not null, X: not null } body
                ? body
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static VisitorRecord Record(PassportBody body) =>
        new(
            body.V,
            At(body.F),
            new VisitFigures(body.N, body.P, At(body.S), At(body.L), body.B, AtOrNull(body.E))
            {
                WayIn = new WayIn(body.W ?? "", body.R ?? "", body.U ?? ImmutableDictionary<string, string>.Empty),
            },
            AtOrNull(body.H),
            AtOrNull(body.D),
            body.X.ToImmutableDictionary(
                x => x.Key,
                x => new Exposure(x.Value.N, At(x.Value.S), x.Value.V, AtOrNull(x.Value.C), AtOrNull(x.Value.K))
                {
                    RecentStarts = x.Value.R is { } recent ? [.. recent.Select(At)] : [At(x.Value.S)],
                }
            )
        )
        {
            PagesEver = body.T,
            LastVisitAt = AtOrNull(body.B4),
            Noted = body.M is { } noted ? [.. noted] : [],
        };

    private static string? TextOrNull(string text) => text.Length == 0 ? null : text;

    private static Instant At(long ms) => Instant.FromUnixTimeMilliseconds(ms);

    private static Instant? AtOrNull(long? ms) => ms is { } m ? At(m) : null;
}
