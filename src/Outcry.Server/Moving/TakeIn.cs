using System.Text.Json;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Moving;

/// <summary>Where a copy of a site is to stand.</summary>
internal sealed record CopySiteRequest(string Name, string HomeAddress);

internal sealed record CopiedSiteView(SiteView Site, TakenInView Taken);

/// <summary>Takes a bundle in, or a site over into a copy. A dry run does all of it and lets go of it again.</summary>
internal sealed class TakeIn(
    OutcryDb db,
    CurrentMember member,
    TraceBook traces,
    LiveKinds kinds,
    SiteNews news,
    IClock clock
)
{
    /// <summary>A whole workspace with its pictures, in bytes.</summary>
    public const int MostBytes = 20 * 1024 * 1024;

    private const int MostSites = 100;
    private const int MostOfAKind = 2_000;

    public async Task<Results<Ok<TakenInView>, ProblemHttpResult>> HandleAsync(
        Guid workspaceId,
        HttpRequest request,
        bool dryRun,
        CancellationToken stop
    )
    {
        if (request.HttpContext.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = MostBytes + 1;
        if (await BodyLimits.TryReadAsync(request, MostBytes, stop) is not { } bytes)
            return Problems.TooLarge(MostBytes);
        var (bundle, fault) = Read(bytes);
        if (bundle is null || Objection(bundle) is { } objection && (fault = objection) is not null)
            return fault!;
        var (touched, views) = (new List<Guid>(), new List<TakenInView>());
        await using (var transaction = await db.Database.BeginTransactionAsync(stop))
        {
            foreach (var from in bundle.Sites)
            {
                var home = from.HomeAddress;
                var here = await db.Sites.FirstOrDefaultAsync(s => s.HomeAddress == home && s.RemovedAt == null, stop);
                if (here is null && ChangeSites.Objection(Asked(from)) is not null)
                    return Problems.BadField(
                        "sites",
                        $"The site {from.Name} has an address, zone or language that cannot be."
                    );
                if (here is null && await ChangeSites.LimitAsync(db, stop) is { } full)
                    return full;
                var site = here ?? Add(Asked(from), from, workspaceId);
                await db.SaveChangesAsync(stop);
                views.Add(
                    await new SiteTaker(db, member, kinds, clock, from, site, here is null).TakeAsync(dryRun, stop)
                );
                touched.Add(site.Id);
            }
            traces.Add("took in", bundle.Workspace);
            await db.SaveChangesAsync(stop);
            if (!dryRun)
                await transaction.CommitAsync(stop);
        }
        if (!dryRun)
            foreach (var site in touched)
                await news.TellAsync(site, SiteChange.Definition);
        return TypedResults.Ok(
            new TakenInView(
                dryRun,
                [.. views.SelectMany(v => v.New)],
                [.. views.SelectMany(v => v.Differs)],
                [.. views.SelectMany(v => v.Missing)],
                views.Sum(v => v.Same)
            )
        );
    }

    /// <summary>Copies a site for trying things: what was made, nothing that happened; nothing of it is live and nothing shared.</summary>
    public async Task<Results<Ok<CopiedSiteView>, ProblemHttpResult>> CopyAsync(
        Guid siteId,
        CopySiteRequest request,
        CancellationToken stop
    )
    {
        var original = await db.Sites.AsNoTracking().FirstAsync(s => s.Id == siteId, stop);
        var asked = new SiteRequest(
            request.Name.Trim(),
            request.HomeAddress.Trim(),
            original.TimeZone,
            original.Language
        );
        if (ChangeSites.Objection(asked) is { } objection)
            return objection;
        if (await ChangeSites.LimitAsync(db, stop) is { } limit)
            return limit;
        var from = await TakeOut.ReadAsync(original, db, stop);
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var site = Add(asked, from, original.WorkspaceId);
        traces.Add("copied the site", original.Name, site.Id);
        await db.SaveChangesAsync(stop);
        var taken = await new SiteTaker(db, member, kinds, clock, from, site, isNew: true).TakeAsync(false, stop);
        await transaction.CommitAsync(stop);
        await news.TellAsync(site.Id, SiteChange.Definition);
        return TypedResults.Ok(new CopiedSiteView(SiteView.Of(site), taken));
    }

    private SiteRow Add(SiteRequest asked, BundledSite from, Guid workspaceId)
    {
        var site = ChangeSites.Make(asked, workspaceId, clock.GetCurrentInstant());
        // Rules that could not be set here are not taken over.
        site.Rules = HouseRulesCheck.Check(from.Rules).Count == 0 ? from.Rules : HouseRules.Start;
        site.Nouns = from.Nouns.ToDictionary(n => n.Key, n => n.Value);
        site.OwnWords = from.OwnWords.ToDictionary(w => w.Key, w => w.Value);
        site.Consent = from.Consent;
        site.Keeps = from.Keeps.Fault() is null ? from.Keeps : Retention.Start;
        site.Words = from.Words;
        site.Kit = from.Kit is { } kit && !KitCheck.Problems(kit).Any(p => p.Blocks) ? kit : null;
        db.Sites.Add(site);
        return site;
    }

    private static SiteRequest Asked(BundledSite from) =>
        new(from.Name, from.HomeAddress, from.TimeZone, from.Language);

    private static (Bundle? Bundle, ProblemHttpResult? Fault) Read(byte[] bytes)
    {
        try
        {
            return JsonSerializer.Deserialize<Bundle>(JsonGate.Clean(bytes).Span, JsonReading) is { } bundle
                ? (bundle, null)
                : (null, NoBundle("it is empty"));
        }
        catch (Exception bad) when (bad is JsonException or NotSupportedException or FormatException)
        {
            return (
                null,
                NoBundle(bad is JsonException { Path: { } path } ? $"it is not as expected at {path}" : "it is no JSON")
            );
        }
    }

    private static ProblemHttpResult? Objection(Bundle bundle) =>
        bundle.Format != Bundle.Name ? NoBundle("it does not say that it is one")
        : bundle.Version > Bundle.Newest ? NoBundle("it was made by a newer version of Outcry; update this one first")
        : bundle.Sites.Count > MostSites
        || bundle.Sites.Any(s =>
            s.Definitions.Count > MostOfAKind
            || s.Groups.Count > MostOfAKind
            || s.Segments.Count > MostOfAKind
            || s.Sources.Count > MostOfAKind
            || s.Pictures.Count > MostOfAKind
            || s.Definitions.Any(d => d.Revisions.Count > MostOfAKind)
        )
            ? NoBundle("it holds more than a workspace can")
        : null;

    private static ProblemHttpResult NoBundle(string why) =>
        Problems.BadField("bundle", $"This file is no bundle that can be taken in: {why}.");

    // As the interface reads: nothing that is missing is made up.
    private static readonly JsonSerializerOptions JsonReading = Strict();

    private static JsonSerializerOptions Strict()
    {
        var options = new JsonSerializerOptions(JsonSerializerDefaults.Web);
        PlatformFeature.ConfigureJson(options);
        return options;
    }
}
