using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>A site as a member describes it.</summary>
/// <param name="HomeAddress">Where it starts, with https://; its host is allowed from the beginning.</param>
/// <param name="TimeZone">IANA time zone.</param>
/// <param name="Language">BCP 47 tag.</param>
internal sealed record SiteRequest(string Name, string HomeAddress, string TimeZone, string Language);

/// <summary>Adds a site to the workspace, or says anew what one is.</summary>
internal static class ChangeSites
{
    private const int MostSites = 100;

    public static async Task<Results<Created<SiteView>, ProblemHttpResult>> AddAsync(
        Guid workspaceId,
        SiteRequest request,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var (_, objection) = Check(request);
        if (objection is not null)
            return objection;
        if (await LimitAsync(db, stop) is { } limit)
            return limit;
        var row = Make(request, member.WorkspaceId, clock.GetCurrentInstant());
        db.Sites.Add(row);
        db.PageGroups.Add(FirstGroup(row));
        traces.Add("added the site", row.Name, row.Id);
        await db.SaveChangesAsync(stop);
        await news.TellAsync(row.Id, SiteChange.Definition);
        return TypedResults.Created($"/api/sites/{row.Id}", SiteView.Of(row));
    }

    public static async Task<Results<Ok<SiteView>, ProblemHttpResult>> ChangeAsync(
        Guid siteId,
        SiteRequest request,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var (home, objection) = Check(request);
        if (objection is not null)
            return objection;
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        var before = SiteView.Of(row);
        (row.Name, row.TimeZone, row.Language) = (request.Name.Trim(), request.TimeZone, request.Language);
        row.HomeAddress = home!.GetLeftPart(UriPartial.Path);
        var host = home.Authority.ToLowerInvariant();
        if (!row.AllowedHosts.Contains(host))
            row.AllowedHosts = [.. row.AllowedHosts, host];
        traces.Add("changed the site", row.Name, siteId, TraceBook.Between(before, SiteView.Of(row)));
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(SiteView.Of(row));
    }

    /// <summary>Why the workspace has no room for one more site; null when it has.</summary>
    public static async Task<ProblemHttpResult?> LimitAsync(OutcryDb db, CancellationToken stop)
    {
        var own = await db.Workspaces.Where(w => w.Id == db.CurrentWorkspace).Select(w => w.Limits).FirstAsync(stop);
        var most = Math.Min(own.Sites ?? MostSites, MostSites);
        return await db.Sites.CountAsync(s => s.RemovedAt == null, stop) >= most
            ? Problems.BadField("name", $"The workspace has {most} sites, and that is its limit.")
            : null;
    }

    /// <summary>A site as it begins.</summary>
    /// <param name="request">One that <see cref="Objection"/> has nothing against.</param>
    /// <param name="workspaceId">Whose it is.</param>
    /// <param name="now">When it is made.</param>
    public static SiteRow Make(SiteRequest request, Guid workspaceId, Instant now)
    {
        var home = Check(request).Home!;
        return new SiteRow
        {
            WorkspaceId = workspaceId,
            Name = request.Name.Trim(),
            Key = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(8)),
            HomeAddress = home.GetLeftPart(UriPartial.Path),
            AllowedHosts = [home.Authority.ToLowerInvariant()],
            TimeZone = request.TimeZone,
            Language = request.Language,
            Rules = HouseRules.Start,
            Words = WordChoice.For(request.Language),
            CreatedAt = now,
        };
    }

    /// <summary>The page group that every site begins with.</summary>
    public static PageGroupRow FirstGroup(SiteRow site) =>
        new()
        {
            WorkspaceId = site.WorkspaceId,
            SiteId = site.Id,
            Name = "Home",
            Includes = ["/"],
        };

    /// <summary>What is wrong with a site as it was described; null for nothing.</summary>
    public static ProblemHttpResult? Objection(SiteRequest request) => Check(request).Objection;

    private static (Uri? Home, ProblemHttpResult? Objection) Check(SiteRequest request)
    {
        if (request.Name.Trim().Length is 0 or > 80)
            return (null, Problems.BadField("name", "Give the site a name of 1 to 80 characters."));
        if (
            !Uri.TryCreate(request.HomeAddress.Trim(), UriKind.Absolute, out var home)
            || home.Scheme is not ("http" or "https")
            || home.UserInfo.Length > 0
        )
            return (null, Problems.BadField("homeAddress", "Write the site's address with https:// at its beginning."));
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(request.TimeZone) is null)
            return (null, Problems.BadField("timeZone", "Choose a time zone from the list, such as Europe/London."));
        return IsLanguage(request.Language)
            // Browsers say their page's host as it goes over the wire, and so it stands in headers.
            ? (WebHost.OnTheWire(home), null)
            : (null, Problems.BadField("language", "Write the language as a tag such as en, de or pt-BR (BCP 47)."));
    }

    // The shape of a BCP 47 tag: a language of two or three letters, then parts of up to eight.
    private static bool IsLanguage(string tag) =>
        tag.Length <= 35
        && tag.Split('-') is [{ Length: 2 or 3 } main, .. var rest]
        && main.All(char.IsAsciiLetterLower)
        && rest.All(p => p.Length is > 0 and <= 8 && p.All(char.IsAsciiLetterOrDigit));
}
