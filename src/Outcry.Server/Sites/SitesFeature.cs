using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Planning;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>The workspace's sites and the figures of the on-air strip.</summary>
internal static class SitesFeature
{
    public static void AddSites(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<LiveSites>();
        builder.Services.AddSingleton<SiteNews>();
        builder.Services.AddSingleton<TrafficReader>();
        if (!PlatformFeature.IsDocumentBuild)
            builder.Services.AddHostedService<SiteKeeper>();
    }

    public static void MapSites(this RouteGroupBuilder api)
    {
        var sites = api.MapGroup("/sites").WithTags("Sites");
        sites.MapGet("", ListAsync).WithName("ListSites");
        sites.MapGet("/{siteId:guid}/strip", StripAsync).WithName("GetStrip");
        sites.MapGet("/{siteId:guid}/sources", SourcesAsync).WithName("ListSources");
    }

    private static async Task<Ok<List<SiteView>>> ListAsync(OutcryDb db, CancellationToken stop)
    {
        var rows = await db.Sites.AsNoTracking().OrderBy(s => s.Name).ToListAsync(stop);
        return TypedResults.Ok(
            rows.ConvertAll(s => new SiteView(s.Id, s.Name, s.Key, s.HomeAddress, s.TimeZone, s.Rules))
        );
    }

    private static async Task<Ok<StripView>> StripAsync(
        Guid siteId,
        LiveSites sites,
        OutcryDb db,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var last = await db
            .Events.AsNoTracking()
            .Where(e => e.SiteId == siteId && e.State == Core.Evidence.EventState.Usable)
            .OrderByDescending(e => e.At)
            .ThenByDescending(e => e.Id)
            .FirstOrDefaultAsync(stop);
        var now = clock.GetCurrentInstant();
        return TypedResults.Ok(
            new StripView(
                site.OffAir,
                site.HeardAt,
                site.HeardPage,
                site.VisitorsNow(now),
                site.Callouts.Count,
                last is null ? null : EventWording.Default(last.ToEvent(), site, now).Text,
                last?.At
            )
        );
    }

    private static async Task<Ok<List<SourceView>>> SourcesAsync(
        Guid siteId,
        OutcryDb db,
        CurrentMember member,
        HttpRequest request,
        IClock clock,
        CancellationToken stop
    )
    {
        var today = clock.GetCurrentInstant() - Duration.FromHours(24);
        var figures = await db
            .Events.Where(e => e.SiteId == siteId)
            .GroupBy(e => e.SourceId)
            .Select(g => new
            {
                g.Key,
                Last = g.Max(e => e.At),
                Day = g.Count(e => e.At >= today),
            })
            .ToDictionaryAsync(g => g.Key, stop);
        var rows = await db
            .Sources.AsNoTracking()
            .Where(s => s.SiteId == siteId)
            .OrderBy(s => s.CreatedAt)
            .ToListAsync(stop);
        return TypedResults.Ok(
            rows.ConvertAll(s =>
            {
                var figure = figures.GetValueOrDefault(s.Id);
                return new SourceView(
                    s.Id,
                    s.Name,
                    s.Kind,
                    s.EventKind,
                    figure?.Last,
                    figure?.Day ?? 0,
                    s.RefusedAt,
                    s.RefusedBecause,
                    s.Kind == SourceKind.SignedWebhook ? $"{request.Scheme}://{request.Host}/in/{s.Id}" : null,
                    member.Role >= Role.Owner ? s.Secret : null,
                    s.Form,
                    BriefCheck.OfferedTokens([Offer(s)]),
                    [.. Core.Evidence.EventFields.Common.Concat(s.Form?.Fields ?? [])]
                );
            })
        );
    }

    public static SourceOffer Offer(SourceRow source) =>
        new(
            source.Id,
            source.Name,
            source.Display,
            source.Form is null || source.Form.FirstName is not null,
            source.Form?.Fields ?? []
        );
}

internal sealed record SiteView(
    Guid Id,
    string Name,
    string Key,
    string HomeAddress,
    string TimeZone,
    HouseRules Rules
);

internal sealed record StripView(
    bool OffAir,
    Instant? HeardAt,
    string? HeardPage,
    int VisitorsNow,
    int CalloutsLive,
    string? LastEvent,
    Instant? LastEventAt
);

internal sealed record SourceView(
    Guid Id,
    string Name,
    SourceKind Kind,
    Core.Evidence.EventKind EventKind,
    Instant? LastEventAt,
    int EventsLastDay,
    Instant? RefusedAt,
    string? RefusedBecause,
    string? Address,
    string? Secret,
    FormMapping? Form,
    IReadOnlyList<string> Tokens,
    IReadOnlyList<string> Fields
);
