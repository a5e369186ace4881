using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Core.Talks;
using Outcry.Core.Targeting;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>The workspace's sites and the figures of the on-air strip.</summary>
internal static class SitesFeature
{
    public static void AddSites(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<SuppliedWords>();
        builder.Services.AddSingleton<LookedCounter>();
        builder.Services.AddSingleton<TeamPresence>();
        builder.Services.AddSingleton<LiveKinds>();
        builder.Services.AddSingleton<LiveSites>();
        builder.Services.AddSingleton<ISiteBook>(p => p.GetRequiredService<LiveSites>());
        builder.Services.AddScoped<DefinitionsInUse>();
        builder.Services.AddSingleton<SiteNews>();
        builder.Services.AddSingleton<TrafficReader>();
        if (!PlatformFeature.IsDocumentBuild)
        {
            builder.Services.AddSingleton<SiteKeeper>();
            builder.Services.AddSingleton<IBeforeReady>(s => s.GetRequiredService<SiteKeeper>());
            builder.Services.AddHostedService(s => s.GetRequiredService<SiteKeeper>());
        }
    }

    public static void MapSites(this RouteGroupBuilder api)
    {
        var sites = api.MapGroup("/sites").WithTags("Sites");
        sites.MapGet("", ListAsync).For(Right.Enter).WithName("ListSites");
        sites.MapGet("/{siteId:guid}/strip", StripAsync).For(Right.Enter).WithName("GetStrip");
        var workspace = api.MapGroup("/workspaces/{workspaceId:guid}/sites").WithTags("Sites");
        workspace.MapPost("", ChangeSites.AddAsync).For(Right.Connect).WithName("AddSite");
        sites.MapPut("/{siteId:guid}", ChangeSites.ChangeAsync).For(Right.Connect).WithName("ChangeSite");
        sites.MapPost("/{siteId:guid}/remove", RemoveSite.HandleAsync).For(Right.Govern).WithName("RemoveSite");
        workspace.MapGet("/removed", RemoveSite.ListAsync).For(Right.Govern).WithName("ListRemovedSites");
        workspace
            .MapPost("/removed/{removedId:guid}/restore", RemoveSite.RestoreAsync)
            .For(Right.Govern)
            .WithName("RestoreSite");
        sites
            .MapPut("/{siteId:guid}/house-rules", ChangeHouseRules.HandleAsync)
            .For(Right.Publish)
            .WithName("ChangeHouseRules");
        sites.MapPost("/{siteId:guid}/keys", ChangeKeys.HandleAsync).For(Right.Govern).WithName("ChangeKeys");
        sites.MapGet("/{siteId:guid}/words/{language}", OwnWords.ShowAsync).WithName("GetOwnWords");
        sites
            .MapPut("/{siteId:guid}/words/{language}", OwnWords.ChangeAsync)
            .For(Right.Publish)
            .WithName("ChangeOwnWords");
        sites.MapPut("/{siteId:guid}/off-air", SwitchAir.HandleAsync).For(Right.Publish).WithName("SwitchAir");
        var groups = sites.MapGroup("/{siteId:guid}/page-groups");
        groups.MapGet("", PageGroups.ListAsync).For(Right.Enter).WithName("ListPageGroups");
        groups.MapPost("", ChangePageGroups.AddAsync).For(Right.Draft).WithName("AddPageGroup");
        groups.MapPut("/order", ChangePageGroups.OrderAsync).For(Right.Draft).WithName("OrderPageGroups");
        groups.MapPut("/{groupId:guid}", ChangePageGroups.ChangeAsync).For(Right.Publish).WithName("ChangePageGroup");
        groups
            .MapDelete("/{groupId:guid}", ChangePageGroups.RemoveAsync)
            .For(Right.Publish)
            .WithName("RemovePageGroup");
        sites.MapGet("/{siteId:guid}/traffic", ShowTraffic.HandleAsync).WithName("GetTraffic");
    }

    // Of all of a member's workspaces: the address of a page says which one is meant.
    private static async Task<Ok<List<SiteView>>> ListAsync(OutcryDb db, CurrentMember member, CancellationToken stop)
    {
        var theirs = member.Roles.Keys.ToList();
        var rows = await db
            .Sites.IgnoreQueryFilters()
            .AsNoTracking()
            .Where(s => s.RemovedAt == null && theirs.Contains(s.WorkspaceId))
            .OrderBy(s => s.Name)
            .ToListAsync(stop);
        return TypedResults.Ok(rows.ConvertAll(s => SiteView.Of(s)));
    }

    private static CalloutStanding StandingOf(LiveSite site, Callout callout, Instant now) =>
        CalloutStandings.Of(callout.State, callout.Brief, now, site.Zone);

    private static async Task<Ok<StripView>> StripAsync(
        Guid siteId,
        LiveSites sites,
        OutcryDb db,
        TeamPresence team,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var last = await db
            .Events.AsNoTracking()
            .Where(e =>
                e.SiteId == siteId
                && e.State == Core.Evidence.EventState.Usable
                && !Core.Evidence.EventKinds.DoneByNobody.Contains(e.Kind)
            )
            .OrderByDescending(e => e.At)
            .ThenByDescending(e => e.Id)
            .FirstOrDefaultAsync(stop);
        var now = clock.GetCurrentInstant();
        return TypedResults.Ok(
            new StripView(
                site.OffAir,
                site.SwitchedBy,
                site.SwitchedAt,
                site.Hearing.HeardAt,
                site.Hearing.HeardPage,
                site.Presence.Count(now),
                site.Callouts.Count(c => c.Greets is null && StandingOf(site, c, now) == CalloutStanding.Live),
                site.Callouts.Count(c => c.Greets is null && StandingOf(site, c, now) == CalloutStanding.Scheduled),
                last is null ? null : new EventWording(site, now).Default(last.ToEvent()).Text,
                last?.At,
                team.NamesOf(site.WorkspaceId),
                await WaitLongAsync(db, site, member.Habits.Answers, now, stop)
            )
        );
    }

    // Visitors who have waited for an answer so long, in open time, that everybody is to know.
    private static async Task<int> WaitLongAsync(
        OutcryDb db,
        LiveSite site,
        AnswerHabits habits,
        Instant now,
        CancellationToken stop
    )
    {
        var limits = new WaitingLimits(habits.GroupMinutes, habits.EverybodyMinutes);
        var since = now - Duration.FromMinutes(habits.EverybodyMinutes);
        var waiting = await db
            .Talks.Where(t => t.SiteId == site.Id && t.WaitingSince < since && !t.IsBlocked && !t.IsTest)
            .Select(t => new { t.LauncherId, t.WaitingSince })
            .ToListAsync(stop);
        return waiting.Count(t =>
            Waiting.Of(
                t.WaitingSince,
                now,
                (site.Compiled.GetValueOrDefault(t.LauncherId) as Core.Greetings.Launcher)?.Times,
                limits
            ) == Urgency.Everybody
        );
    }

    public static SourceOffer Offer(SourceRow source) =>
        new(
            source.Id,
            source.Name,
            source.Display,
            source.Form is null
                ? source.Map is null || source.Map.PlaceOf(Core.Sources.FieldMeaning.FirstName) is not null
                : source.Form.FirstName is not null,
            [.. (source.Form?.Fields ?? []).Concat(source.Map?.Fields.Keys ?? [])]
        )
        {
            Kind = source.EventKind,
        };
}

internal sealed record SiteView(
    Guid Id,
    Guid WorkspaceId,
    string Name,
    string Key,
    string HomeAddress,
    string TimeZone,
    string Language,
    HouseRules Rules
)
{
    public static SiteView Of(SiteRow s) =>
        new(s.Id, s.WorkspaceId, s.Name, s.Key, s.HomeAddress, s.TimeZone, s.Language, s.Rules);
}

internal sealed record StripView(
    bool OffAir,
    string? SwitchedBy,
    Instant? SwitchedAt,
    Instant? HeardAt,
    string? HeardPage,
    int VisitorsNow,
    int CalloutsLive,
    int CalloutsScheduled,
    string? LastEvent,
    Instant? LastEventAt,
    IReadOnlyList<string> Answering,
    int WaitLong
);
