using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>A draft to keep.</summary>
/// <param name="Version">The version it was made from; a newer one at the server is never overwritten.</param>
internal sealed record SaveDraftRequest(string Name, Brief Brief, int Version);

/// <summary>Keeps a draft as it is, right or wrong, and says what is wrong with it. Nothing goes live by saving.</summary>
internal static class SaveDraft
{
    private const int LongestName = 80;

    public static async Task<Results<Ok<CalloutView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid calloutId,
        SaveDraftRequest request,
        OutcryDb db,
        LiveSites sites,
        SiteNews news,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        var name = request.Name.Trim();
        if (name.Length is 0 or > LongestName)
            return Problems.BadField("name", $"A name has 1 to {LongestName} characters.");
        if (IsTooLarge(request.Brief))
            return Problems.BadField("brief", "The brief is larger than any that could be published.");
        var row = await CalloutView.FindAsync(db, siteId, calloutId, stop);
        if (row is null)
            return Problems.NotFound("callout");
        if (row.DraftVersion != request.Version)
            return Newer(row.ChangedBy);
        var asked = LiveSites.AskedBy(row.Draft).ToHashSet();
        row.Name = name;
        var site = sites.GetById(siteId);
        var source = request.Brief.From.Sources.Select(s => site.Sources.GetValueOrDefault(s)).FirstOrDefault();
        row.Draft = StarterWording.Follow(request.Brief, source?.EventKind, site.Shared.Language);
        row.DraftVersion++;
        row.ChangedAt = clock.GetCurrentInstant();
        row.ChangedBy = member.Name;
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateConcurrencyException)
        {
            return Newer("a colleague");
        }
        // Pages are asked about a new place from now on, so that publishing can say whether it is there.
        if (!LiveSites.AskedBy(row.Draft).All(asked.Contains))
            await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(await CalloutView.ReadAsync(db, row, site, stop));
    }

    private const int MostLanguages = 60;
    private const int MostOfOneList = 200;
    private const int LongestWording = 2_000;

    // Whatever is kept is checked, staged and rehearsed at every key; what could never be published is not kept.
    private static bool IsTooLarge(Brief brief) =>
        brief.Say.Message.Length > LongestWording
        || brief.Say.Detail.Length > LongestWording
        || brief.Say.Button.Length > LongestWording
        || brief.Say.Translations.Count > MostLanguages
        || brief.Say.Translations.Any(t =>
            t.Message.Length > LongestWording || t.Detail.Length > LongestWording || t.Button.Length > LongestWording
        )
        || brief.Where.Includes.Count + brief.Where.Excludes.Count > 500
        || brief.Where.Groups.Count > MostOfOneList
        || brief.From.Sources.Count > MostOfOneList
        || brief.From.Conditions.Count > MostOfOneList
        || brief.From.Pages.Count > MostOfOneList
        || brief.When.Triggers.Count > MostOfOneList;

    private static ProblemHttpResult Newer(string who) =>
        Problems.Of(
            StatusCodes.Status409Conflict,
            "draft-changed",
            "The draft has changed meanwhile",
            $"{who} saved a newer version. Reload to see it; what you typed last was not saved."
        );
}
