using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>Start a callout of a kind, on a source if one is named and for a page group if one is; or from a ready brief.</summary>
internal sealed record StartRequest(
    Guid? Source = null,
    Guid? PageGroup = null,
    CalloutKind? Kind = null,
    string? Ready = null
);

/// <summary>Begins a callout with start values that are good enough to leave alone.</summary>
internal static class StartCallout
{
    public static async Task<Results<Created<CalloutView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        StartRequest request,
        OutcryDb db,
        LiveSites sites,
        DefinitionDesk<Brief, Callout> desk,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var (name, brief, problem) = request.Ready is { } key
            ? FromReady(site, key)
            : Begin(site, request.Kind ?? KindFor(site, request.Source), request.Source);
        if (problem is not null)
            return problem;
        if (request.PageGroup is { } groupId)
        {
            if (
                await db.PageGroups.FirstOrDefaultAsync(g => g.Id == groupId && g.SiteId == siteId, stop)
                is not { } group
            )
                return Problems.BadField("pageGroup", "There is no such page group on this site.");
            brief = brief! with { Where = new WhereFacet([], [], [group.Id], Replaces: false) };
        }
        var kit = await db.Sites.Where(s => s.Id == siteId).Select(s => s.Kit).FirstAsync(stop);
        brief = kit is null ? InColoursOf(site, brief!) : BriefKind.Instance.Dress(brief!, kit);
        var (made, refusal) = await desk.StartAsync(siteId, await NameApartAsync(db, siteId, name, stop), brief, stop);
        return made is null
            ? refusal!
            : TypedResults.Created($"/api/sites/{siteId}/callouts/{made.Row.Id}", CalloutView.Of(made));
    }

    // What went live last says best which colours the site speaks in.
    private static Brief InColoursOf(LiveSite site, Brief brief) =>
        site
            .Callouts.Where(c => c.Targeting.Definition.State == DefinitionState.Live)
            .MaxBy(c => c.Targeting.Definition.CreatedAt)
            is { Brief.Look: var look }
            ? brief with
            {
                Look = brief.Look with { Band = look.Band, Ground = look.Ground },
            }
            : brief;

    // Two of one name could not be told apart in any list.
    private static async Task<string> NameApartAsync(OutcryDb db, Guid siteId, string name, CancellationToken stop)
    {
        var taken = await db.DefinitionsOf(siteId, BriefKind.Callout)
            .Where(d => d.Name.StartsWith(name))
            .Select(d => d.Name)
            .ToListAsync(stop);
        if (!taken.Contains(name))
            return name;
        var next = 2;
        while (taken.Contains($"{name} {next}"))
            next++;
        return $"{name} {next}";
    }

    private static (string Name, Brief? Brief, ProblemHttpResult? Problem) Begin(
        LiveSite site,
        CalloutKind kind,
        Guid? sourceId
    )
    {
        if (sourceId is null)
        {
            // Where only one source brings what the kind tells, there is nothing to choose.
            var fitting = site.Sources.Values.Where(s => s.DeletedAt is null && Fits(kind, s.EventKind)).ToList();
            return fitting is [var only]
                ? Begin(site, kind, only.Id)
                : (
                    $"A new {kind.ToString().ToLowerInvariant()}",
                    StarterBrief.For(kind, EventKind.Purchase, [], site.Context.Language),
                    null
                );
        }
        if (!site.Sources.TryGetValue(sourceId.Value, out var source))
            return ("", null, Problems.BadField("source", "There is no such source on this site."));
        return (
            NameOf(kind, source.EventKind),
            StarterBrief.For(kind, source.EventKind, [source.Id], site.Context.Language),
            null
        );
    }

    private static (string Name, Brief? Brief, ProblemHttpResult? Problem) FromReady(LiveSite site, string key)
    {
        if (ReadyBrief.All.FirstOrDefault(r => r.Key == key) is not { } ready)
            return ("", null, Problems.BadField("ready", "There is no such ready brief."));
        var source = ListReady.SourceFor(site, ready);
        return (
            ready.Name,
            ready.On(source?.EventKind ?? ready.Usual, source is null ? [] : [source.Id], site.Context.Language),
            null
        );
    }

    // What a source's events are told by, where nobody says otherwise.
    private static CalloutKind KindFor(LiveSite site, Guid? source) =>
        source is { } id && site.Sources.TryGetValue(id, out var found)
            ? found.EventKind switch
            {
                EventKind.StockLevel => CalloutKind.Remainder,
                EventKind.Review or EventKind.Endorsement => CalloutKind.Quote,
                EventKind.Total => CalloutKind.Standing,
                _ => CalloutKind.Moment,
            }
            : CalloutKind.Moment;

    private static bool Fits(CalloutKind kind, EventKind of) =>
        kind switch
        {
            CalloutKind.Remainder => of == EventKind.StockLevel,
            CalloutKind.Quote => of is EventKind.Review or EventKind.Endorsement,
            CalloutKind.Standing => of == EventKind.Total,
            CalloutKind.Moment or CalloutKind.Tally => of
                is EventKind.Purchase
                    or EventKind.Booking
                    or EventKind.SignUp
                    or EventKind.Enquiry
                    or EventKind.BasketAddition
                    or EventKind.Own,
            _ => false,
        };

    private static string NameOf(CalloutKind kind, EventKind of) =>
        kind switch
        {
            CalloutKind.Tally => $"How many {Did(of)}",
            CalloutKind.Remainder => "Nearly gone",
            CalloutKind.Quote => "What people say",
            CalloutKind.Standing => "Where we stand",
            _ => $"Somebody {Did(of)}",
        };

    private static string Did(EventKind of) =>
        of switch
        {
            EventKind.Purchase => "bought",
            EventKind.Booking => "booked",
            EventKind.SignUp => "signed up",
            _ => "asked",
        };
}
