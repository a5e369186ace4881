using System.Globalization;
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
/// <param name="TooOld">Usable, but too old for every live callout that draws on its source.</param>
/// <param name="HeldBecause">The word found, or empty where its source holds everything.</param>
internal sealed record EventView(
    Guid Id,
    Instant At,
    EventKind Kind,
    EventState State,
    bool TooOld,
    IReadOnlyList<Span> Spans,
    string Meta,
    string? WordedBy,
    string Source,
    Guid SourceId,
    string? Path,
    string MaskedName,
    string MaskedEmail,
    string MaskedPhone,
    string? Amount,
    string? HiddenBy,
    string? HeldBecause,
    string? CorrectedBy
);

/// <param name="Total">Events that pass the filter, counted up to <paramref name="TotalIsMore"/>'s limit; 0 on later pages.</param>
/// <param name="TotalIsMore">Whether there are more than were counted.</param>
/// <param name="Waiting">Held events of the site, whatever the filter.</param>
internal sealed record EventPage(
    IReadOnlyList<EventView> Events,
    string? Next,
    int Total,
    bool TotalIsMore,
    int Waiting
);

/// <summary>The ledger, newest first, paged by key.</summary>
internal static class ListEvents
{
    private const int PageSize = 50;

    /// <summary>Counting goes no further: what stands beyond ten thousand nobody reads one by one.</summary>
    private const int MostCounted = 10_000;

    public static async Task<Results<Ok<EventPage>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        [AsParameters] EventFilter filter,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop,
        string? after = null
    )
    {
        var cursor = EventCursor.TryParse(after);
        if (after is not null && cursor is null)
            return Problems.BadField("after", "This is not a place in the ledger. Start again without it.");
        var site = sites.GetById(siteId);
        var now = clock.GetCurrentInstant();
        var (wanted, problem) = filter.Apply(db, site, now);
        if (wanted is null)
            return problem!;
        var total = cursor is null ? await wanted.Select(e => e.Id).Take(MostCounted + 1).CountAsync(stop) : 0;
        var waiting = await db.Events.CountAsync(e => e.SiteId == siteId && e.State == EventState.Held, stop);
        if (cursor is not null)
            // As one row value, so that the index is entered at that place; an "or" would walk to it from the newest.
            wanted = wanted.Where(e =>
                EF.Functions.LessThan(ValueTuple.Create(e.At, e.Id), ValueTuple.Create(cursor.At, cursor.Id))
            );
        var rows = await wanted
            .OrderByDescending(e => e.At)
            .ThenByDescending(e => e.Id)
            .Take(PageSize)
            .ToListAsync(stop);
        var wording = new EventWording(site, now);
        return TypedResults.Ok(
            new EventPage(
                rows.ConvertAll(e => View(e, site, wording)),
                rows.Count == PageSize ? new EventCursor(rows[^1].At, rows[^1].Id).ToString() : null,
                Math.Min(total, MostCounted),
                total > MostCounted,
                waiting
            )
        );
    }

    public static EventView View(EventRow row, LiveSite site, EventWording wording)
    {
        var happened = row.ToEvent();
        var worded = wording.Word(happened);
        return new EventView(
            row.Id,
            row.At,
            row.Kind,
            row.State,
            row.State == EventState.Usable && wording.IsTooOldForAll(happened),
            worded.Spans,
            worded.Meta,
            worded.By?.Name,
            site.Sources.TryGetValue(row.SourceId, out var source) ? source.Name : "",
            row.SourceId,
            row.Page is { } page && Uri.TryCreate(page, UriKind.Absolute, out var uri) ? uri.AbsolutePath : null,
            row.MaskedName,
            row.MaskedEmail,
            row.MaskedPhone,
            row.Amount is { } amount ? Figures.Money(amount, row.Currency, CultureInfo.InvariantCulture) : null,
            row.HiddenBy,
            row.HeldBecause,
            row.CorrectedBy
        );
    }
}
