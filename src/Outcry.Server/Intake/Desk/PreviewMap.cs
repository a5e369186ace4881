using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Intake;
using Outcry.Server.Intake.Polls;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>A sample and how it is to be read.</summary>
/// <param name="Sample">One JSON object as text.</param>
/// <param name="Map">How; null to guess.</param>
internal sealed record PreviewMapRequest(
    EventKind EventKind,
    string Sample,
    EventMap? Map = null,
    DisplayPolicy? Display = null
);

/// <param name="Map">How the items are to be read; null to guess, or for formats that say it themselves.</param>
internal sealed record PreviewListRequest(
    EventKind EventKind,
    Polling Poll,
    EventMap? Map = null,
    DisplayPolicy? Display = null
);

/// <summary>An event that would come of a sample.</summary>
/// <param name="Spans">As visitors would read it, were its place shared by enough people.</param>
/// <param name="State">The state it would begin in.</param>
/// <param name="Because">What holds it, or why it cannot be taken.</param>
/// <param name="Field">Which part is at fault; null when none is.</param>
internal sealed record PreviewEventView(
    IReadOnlyList<Span> Spans,
    Instant? At,
    EventState? State,
    string? Because,
    string? Field
);

/// <summary>Where everything stands in a sample, the map it is read with, and what comes of it.</summary>
/// <param name="Places">Places that can be pointed at, with an example each.</param>
/// <param name="Meanings">What places can mean in this kind of event.</param>
/// <param name="MapFault">What the map lacks; null when nothing.</param>
/// <param name="Items">Items in the list.</param>
/// <param name="Fault">Why nothing could be read; null when it could.</param>
internal sealed record PreviewView(
    IReadOnlyList<JsonPlace> Places,
    IReadOnlyList<FieldMeaning> Meanings,
    EventMap Map,
    string? MapFault,
    int Items,
    IReadOnlyList<PreviewEventView> Events,
    string? Fault
);

/// <summary>Reads a sample with a map and shows the resulting events; takes nothing in.</summary>
internal static class PreviewMap
{
    private const int EventsShown = 5;

    public static Results<Ok<PreviewView>, ProblemHttpResult> OfJsonAsync(
        Guid siteId,
        PreviewMapRequest request,
        LiveSites sites,
        IClock clock
    )
    {
        if (request.Sample.Length > BodyLimits.IntakeBytes)
            return Problems.BadField("sample", "The sample is larger than a delivery may be.");
        try
        {
            var document = JsonGate.Parse(request.Sample);
            if (document.ValueKind != JsonValueKind.Object)
                return Problems.BadField("sample", "A sample is one JSON object, in braces.");
            var list = ItemList.OfJson([document]);
            return TypedResults.Ok(
                View(
                    sites.GetById(siteId),
                    list,
                    request.EventKind,
                    request.Map,
                    request.Display,
                    clock.GetCurrentInstant()
                )
            );
        }
        catch (JsonException bad)
        {
            return Problems.BadField("sample", CloudEventReader.NotJson(bad).Sentence);
        }
    }

    public static async Task<Results<Ok<PreviewView>, ProblemHttpResult>> OfListAsync(
        Guid siteId,
        PreviewListRequest request,
        LiveSites sites,
        SafeFetch fetch,
        IClock clock,
        CancellationToken stop
    )
    {
        var empty = request.Map ?? EventMap.Empty(request.EventKind);
        var fetched = await fetch.GetAsync(request.Poll.Address, stop);
        if (fetched.Fault is { } away)
            return TypedResults.Ok(new PreviewView([], [], empty, null, 0, [], away));
        var list = ListReader.Read(fetched.Text, request.Poll);
        if (list.Fault is { } unreadable)
            return TypedResults.Ok(new PreviewView([], [], empty, null, 0, [], unreadable));
        return TypedResults.Ok(
            View(
                sites.GetById(siteId),
                list,
                request.EventKind,
                ListReader.OwnMap(request.Poll.Format) ?? request.Map,
                request.Display,
                clock.GetCurrentInstant()
            )
        );
    }

    private static PreviewView View(
        LiveSite site,
        ItemList list,
        EventKind kind,
        EventMap? given,
        DisplayPolicy? display,
        Instant now
    )
    {
        var map = (given ?? MapGuess.Guess(kind, [.. list.Places.Select(p => p.Pointer)])) with { Kind = kind };
        var policy = display ?? DisplayPolicy.For(kind);
        return new PreviewView(
            list.Places,
            EventMap.Offered(kind),
            map,
            map.Fault(),
            list.Items.Count,
            [.. list.Items.Take(EventsShown).Select(i => EventOf(i, map, policy, site, now))],
            null
        );
    }

    public static PreviewEventView EventOf(
        ListItem item,
        EventMap map,
        DisplayPolicy display,
        LiveSite site,
        Instant now
    )
    {
        var (arrival, fault) = MapReader.Read(map, item.Read, new ReadingContext(item.ContentId, now, site.Zone));
        if (arrival is null)
            return new PreviewEventView([], null, null, fault!.Sentence, fault.Field);
        var first = FirstLook.Decide(arrival, SourceRules.Open, site.Words, isOwn: false, isRepeat: false);
        var source = new SourceRow
        {
            WorkspaceId = site.WorkspaceId,
            SiteId = site.Id,
            Name = "",
            EventKind = map.Kind,
            Display = display,
        };
        var happened = EventRows.Make(arrival, source, site, first, now).ToEvent();
        return new PreviewEventView(
            EventWording.Preview(happened, display, site.Voice, now),
            happened.At,
            first.State,
            first.Because.Length > 0 ? first.Because : null,
            null
        );
    }
}
