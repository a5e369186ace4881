using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Install;

internal sealed record InstallView(
    string Snippet,
    string Key,
    IReadOnlyList<string> Hosts,
    Instant? HeardAt,
    string? HeardPage
);

internal sealed record HostsRequest(IReadOnlyList<string> Hosts);

internal sealed record LinkView(string Url, Instant GoodUntil);

/// <summary>Putting the snippet on the site and seeing that it speaks.</summary>
internal static partial class InstallFeature
{
    private static readonly Duration LinkLife = Duration.FromDays(90);

    public static void MapInstall(this RouteGroupBuilder api)
    {
        var install = api.MapGroup("/sites/{siteId:guid}/install").WithTags("Install");
        install.MapGet("", Get).WithName("GetInstall");
        install.MapPut("/hosts", SetHostsAsync).For(Role.Owner).WithName("SetHosts");
        install.MapPost("/visit-link", MakeVisitLink).WithName("MakeVisitLink");
    }

    private static Ok<InstallView> Get(Guid siteId, LiveSites sites, HttpRequest request)
    {
        var site = sites.GetById(siteId);
        var line = $"<script async src=\"{request.Scheme}://{request.Host}/o/{site.Key}.js\"></script>";
        return TypedResults.Ok(new InstallView(line, site.Key, site.AllowedHosts, site.HeardAt, site.HeardPage));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SetHostsAsync(
        Guid siteId,
        HostsRequest request,
        OutcryDb db,
        SiteNews news,
        CancellationToken stop
    )
    {
        var hosts = request.Hosts.Select(h => h.Trim().ToLowerInvariant()).Where(h => h.Length > 0).Distinct().ToList();
        if (hosts.Count == 0)
            return Problems.BadField("hosts", "Keep at least one host, or the snippet is answered nowhere.");
        if (hosts.Count > 50)
            return Problems.BadField("hosts", "At most 50 hosts.");
        if (hosts.Find(h => !Host().IsMatch(h)) is { } bad)
            return Problems.BadField(
                "hosts",
                $"{bad} is not a host. Write it without https:// and path, as in shop.example or *.shop.example."
            );
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        row.AllowedHosts = hosts;
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition, null, stop);
        return TypedResults.NoContent();
    }

    private static Ok<LinkView> MakeVisitLink(Guid siteId, LiveSites sites, IClock clock)
    {
        var site = sites.GetById(siteId);
        var until = clock.GetCurrentInstant() + LinkLife;
        var token = PrivateToken.Make(site, PrivateToken.Member, null, until);
        return TypedResults.Ok(new LinkView($"{site.HomeAddress}#{PrivateToken.FragmentName}={token}", until));
    }

    // A host name (RFC 1123), perhaps under a leading "*.", with a port where it is not the usual one.
    [GeneratedRegex(@"^(\*\.)?[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*(:\d{1,5})?$")]
    private static partial Regex Host();
}
