using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Installing;
using Outcry.Core.Pages;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Install;

/// <summary>A host, and when and where the snippet was last heard there.</summary>
internal sealed record HostView(string Host, bool IsTest, Instant? HeardAt, string? HeardPage);

/// <summary>The one line, where it may speak, and how it stands.</summary>
/// <param name="State">How the snippet stands.</param>
/// <param name="RefusedHost">A host that is not allowed and from which it spoke lately.</param>
/// <param name="FetchedAt">When a browser last fetched the script.</param>
/// <param name="FetchedFrom">For which page's host, where the browser said so.</param>
internal sealed record InstallView(
    string SiteName,
    string HomeAddress,
    string Snippet,
    string Key,
    IReadOnlyList<string> Hosts,
    IReadOnlyList<string> TestHosts,
    HearingState State,
    Instant? HeardAt,
    string? HeardPage,
    string? RefusedHost,
    Instant? RefusedAt,
    Instant? FetchedAt,
    string? FetchedFrom,
    IReadOnlyList<HostView> HostsHeard,
    Core.Care.ConsentMode Consent
);

internal sealed record HostsRequest(IReadOnlyList<string> Hosts, IReadOnlyList<string>? TestHosts = null);

internal sealed record LinkView(string Url, Instant GoodUntil);

/// <summary>Putting the snippet on the site and seeing that it speaks.</summary>
internal static partial class InstallFeature
{
    private static readonly Duration LinkLife = Duration.FromDays(90);

    public static void AddInstall(this WebApplicationBuilder builder) => builder.Services.AddSingleton<PageHearing>();

    public static void MapInstall(this RouteGroupBuilder api)
    {
        var install = api.MapGroup("/sites/{siteId:guid}/install").WithTags("Install");
        install.MapGet("", GetAsync).WithName("GetInstall");
        install.MapPut("/hosts", SetHostsAsync).For(Right.Connect).WithName("SetHosts");
        install.MapPost("/visit-link", MakeVisitLink).WithName("MakeVisitLink");
        install.MapPost("/check", CheckPage.HandleAsync).WithName("CheckPage");
        install
            .MapPost("/hand-over", HandOver.SendAsync)
            .For(Right.Draft)
            .RequireRateLimiting(Limits.SignIn)
            .WithName("HandOver");
        install.MapPost("/install-link", HandOver.MakeLink).For(Right.Draft).WithName("MakeInstallLink");
        api.MapGet("/install-links/{token}", HandOver.ShowAsync)
            .AllowAnonymous()
            .RequireRateLimiting(Limits.Visitor)
            .WithTags("Install")
            .WithName("GetInstallByLink");
    }

    private static async Task<Ok<InstallView>> GetAsync(
        Guid siteId,
        LiveSites sites,
        OutcryDb db,
        HttpRequest request,
        IClock clock,
        CancellationToken stop
    ) => TypedResults.Ok(await ReadAsync(sites.GetById(siteId), db, request, clock.GetCurrentInstant(), stop));

    public static async Task<InstallView> ReadAsync(
        LiveSite site,
        OutcryDb db,
        HttpRequest request,
        Instant now,
        CancellationToken stop
    )
    {
        var line = $"<script async src=\"{request.Scheme}://{request.Host}/o/{site.Key}.js\"></script>";
        var kept = await db
            .HeardHosts.AsNoTracking()
            .IgnoreQueryFilters()
            .Where(h => h.SiteId == site.Id)
            .ToDictionaryAsync(h => h.Host, h => new HostHeard(h.HeardAt, h.Page), stop);
        foreach (var (host, heard) in site.Hearing.Hosts)
            if (!kept.TryGetValue(host, out var before) || before.At < heard.At)
                kept[host] = heard;
        return new InstallView(
            site.Name,
            site.HomeAddress,
            line,
            site.Key,
            site.AllowedHosts,
            site.TestHosts,
            Hearing.Judge(new Traces(site.Hearing.HeardAt, site.Hearing.FetchedAt, site.Hearing.RefusedAt), now),
            site.Hearing.HeardAt,
            site.Hearing.HeardPage,
            site.Hearing.RefusedHost,
            site.Hearing.RefusedAt,
            site.Hearing.FetchedAt,
            site.Hearing.FetchedFrom,
            [
                .. kept.OrderByDescending(h => h.Value.At)
                    .Select(h => new HostView(h.Key, site.IsTestHost(h.Key), h.Value.At, h.Value.Page)),
            ],
            site.Consent
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SetHostsAsync(
        Guid siteId,
        HostsRequest request,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        var hosts = Tidy(request.Hosts);
        var tests = request.TestHosts is null ? row.TestHosts : Tidy(request.TestHosts);
        if (hosts.Count == 0)
            return Problems.BadField("hosts", "Keep at least one host, or the snippet is answered nowhere.");
        if (hosts.Count + tests.Count > 50)
            return Problems.BadField("hosts", "At most 50 hosts.");
        if (hosts.Find(h => !Host().IsMatch(h)) is { } bad)
            return Problems.BadField("hosts", NoHost(bad));
        if (tests.Find(h => !Host().IsMatch(h)) is { } badTest)
            return Problems.BadField("testHosts", NoHost(badTest));
        if (tests.Find(hosts.Contains) is { } both)
            return Problems.BadField(
                "testHosts",
                $"{both} is an allowed host too. A host is either for visitors or for trying things out."
            );
        traces.Add(
            "changed the hosts of",
            row.Name,
            siteId,
            TraceBook.Between(new HostsRequest(row.AllowedHosts, row.TestHosts), new HostsRequest(hosts, tests))
        );
        (row.AllowedHosts, row.TestHosts) = (hosts, tests);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }

    private static Ok<LinkView> MakeVisitLink(Guid siteId, LiveSites sites, IClock clock)
    {
        var site = sites.GetById(siteId);
        var until = clock.GetCurrentInstant() + LinkLife;
        var token = PrivateToken.Make(site, PrivateToken.Member, null, until);
        return TypedResults.Ok(new LinkView($"{site.HomeAddress}#{PrivateToken.FragmentName}={token}", until));
    }

    private static List<string> Tidy(IReadOnlyList<string> hosts) =>
        [.. hosts.Select(h => WebHost.OnTheWire(h.Trim().ToLowerInvariant())).Where(h => h.Length > 0).Distinct()];

    private static string NoHost(string bad) =>
        $"{bad} is not a host. Write it without https:// and path, as in shop.example or *.shop.example.";

    // A host name (RFC 1123), perhaps under a leading "*.", with a port where it is not the usual one.
    [GeneratedRegex(@"^(\*\.)?[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*(:\d{1,5})?$")]
    private static partial Regex Host();
}
