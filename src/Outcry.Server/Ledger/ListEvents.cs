using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

/// <summary>One row of the ledger.</summary>
/// <param name="Spans">As visitors read it.</param>
/// <param name="Meta">The rough time that stands under it.</param>
/// <param name="WordedBy">The live callout that words it so; null for the starter words.</param>
internal sealed record EventView(
    Guid Id,
    Instant At,
    EventKind Kind,
    EventState State,
    IReadOnlyList<Span> Spans,
    string Meta,
    string? WordedBy,
    string Source,
    Guid SourceId,
    string? Path,
    string MaskedName,
    string MaskedEmail,
    string? Amount,
    string? HiddenBy
);

internal sealed record EventPage(IReadOnlyList<EventView> Events, string? Next, int Total);

/// <summary>The ledger, newest first, paged by key.</summary>
internal static class ListEvents
{
    private const int PageSize = 50;

    public static async Task<Results<Ok<EventPage>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop,
        string? after = null,
        Guid? source = null,
        string? state = null,
        int? hours = null
    )
    {
        var cursor = EventCursor.TryParse(after);
        if (after is not null && cursor is null)
            return Problems.BadField("after", "This is not a place in the ledger. Start again without it.");
        if (hours is < 1 or > 24 * 730)
            return Problems.BadField("hours", "Between 1 hour and 730 days.");
        if (!QueryChoice.TryRead<EventState>(state, out var wantedState))
            return Problems.BadField("state", "The state is usable, ownTest or hidden.");
        var now = clock.GetCurrentInstant();
        var wanted = db.Events.AsNoTracking().Where(e => e.SiteId == siteId);
        if (source is not null)
            wanted = wanted.Where(e => e.SourceId == source);
        if (wantedState is not null)
            wanted = wanted.Where(e => e.State == wantedState);
        if (hours is { } back)
        {
            var since = now - Duration.FromHours(back);
            wanted = wanted.Where(e => e.At >= since);
        }
        var total = cursor is null ? await wanted.CountAsync(stop) : 0;
        if (cursor is not null)
            wanted = wanted.Where(e => e.At < cursor.At || (e.At == cursor.At && e.Id.CompareTo(cursor.Id) < 0));
        var rows = await wanted
            .OrderByDescending(e => e.At)
            .ThenByDescending(e => e.Id)
            .Take(PageSize)
            .ToListAsync(stop);
        var site = sites.GetById(siteId);
        return TypedResults.Ok(
            new EventPage(
                rows.ConvertAll(e => View(e, site, now)),
                rows.Count == PageSize ? new EventCursor(rows[^1].At, rows[^1].Id).ToString() : null,
                total
            )
        );
    }

    public static EventView View(EventRow row, LiveSite site, Instant now)
    {
        var worded = EventWording.Word(row.ToEvent(), site, now);
        return new EventView(
            row.Id,
            row.At,
            row.Kind,
            row.State,
            worded.Spans,
            worded.Meta,
            worded.By?.Name,
            site.Sources.TryGetValue(row.SourceId, out var source) ? source.Name : "",
            row.SourceId,
            row.Page is { } page && Uri.TryCreate(page, UriKind.Absolute, out var uri) ? uri.AbsolutePath : null,
            row.MaskedName,
            row.MaskedEmail,
            row.Amount is { } amount ? EventTokens.Money(amount, row.Currency) : null,
            row.HiddenBy
        );
    }
}
