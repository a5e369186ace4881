using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Briefs;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Leads;

/// <summary>GET .../callouts/{id}/mail: the mail with which a draft asks to confirm, as it comes, for the desk to frame.</summary>
internal static class ShowMail
{
    /// <param name="language">BCP 47 tag; empty for the site's own.</param>
    public static async Task<Results<ContentHttpResult, ProblemHttpResult>> ConfirmAsync(
        Guid siteId,
        Guid calloutId,
        string? language,
        OutcryDb db,
        LiveSites sites,
        HttpContext http,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var tag = language is { Length: > 0 } asked ? asked : site.Context.Language;
        if (!LanguageTag.IsWellFormed(tag))
            return Problems.BadField("language", "There is no such language.");
        var row = await db
            .Definitions.AsNoTracking()
            .FirstOrDefaultAsync(
                d => d.Id == calloutId && d.SiteId == siteId && d.Kind == BriefKind.Callout && d.DeletedAt == null,
                stop
            );
        if (row?.Draft.Read<Brief>().Ask is not { Confirms: true } ask)
            return Problems.NotFound("mail");
        http.Items[SecurityHeaders.FramedByDesk] = SecurityHeaders.Mail;
        http.Response.Headers.CacheControl = "no-store";
        return TypedResults.Content(LeadLetters.ConfirmPage(site, ask, tag), "text/html; charset=utf-8");
    }
}
