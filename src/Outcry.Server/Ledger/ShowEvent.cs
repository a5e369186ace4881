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

/// <summary>A field of an event: what visitors can ever read of it, and what arrived.</summary>
internal sealed record EventFieldView(string Field, string? VisitorsSee, string Arrived);

/// <summary>A live callout and what it makes of the event.</summary>
/// <param name="Said">How this callout words it, or would.</param>
internal sealed record EventUseView(Guid CalloutId, string Name, bool Counts, string Note, IReadOnlyList<Span> Said);

internal sealed record CorrectionView(string Field, string Was, string Is, string By, Instant At);

/// <param name="Correctable">Fields that can be corrected, with what they are.</param>
/// <param name="Corrections">What was corrected, newest first; what it was is kept.</param>
internal sealed record EventDetail(
    EventView Event,
    IReadOnlyList<EventFieldView> Fields,
    string? PlaceNote,
    IReadOnlyList<EventUseView> Uses,
    IReadOnlyDictionary<string, string> Correctable,
    IReadOnlyList<CorrectionView> Corrections,
    string? CorrectedBy,
    Instant? CorrectedAt
);

/// <summary>One event opened: all it holds, and who draws on it.</summary>
internal static class ShowEvent
{
    public static async Task<Results<Ok<EventDetail>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid eventId,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db
            .Events.AsNoTracking()
            .FirstOrDefaultAsync(e => e.Id == eventId && e.SiteId == siteId && e.State != EventState.Deleted, stop);
        if (row is null)
            return Problems.NotFound("event");
        var site = sites.GetById(siteId);
        var now = clock.GetCurrentInstant();
        // The same crowd that decided the words above decides the fields below.
        var wording = new EventWording(site, now);
        var worded = wording.Word(row.ToEvent());
        var corrections = await db
            .Corrections.AsNoTracking()
            .Where(c => c.EventId == eventId)
            .OrderByDescending(c => c.At)
            .Select(c => new CorrectionView(c.Field, c.Was, c.Is, c.By, c.At))
            .ToListAsync(stop);
        return TypedResults.Ok(
            new EventDetail(
                ListEvents.View(row, site, wording),
                Fields(row, site.DisplayOf(row.SourceId), worded.Crowd, now),
                PlaceNote(row.ToEvent().Place, site.DisplayOf(row.SourceId), worded),
                Uses(row.ToEvent(), site, wording, now),
                CorrectEvent.Correctable(row),
                corrections,
                row.CorrectedBy,
                row.CorrectedAt
            )
        );
    }

    private static List<EventFieldView> Fields(EventRow row, DisplayPolicy display, PlaceCrowd crowd, Instant now)
    {
        var shown = EventTokens.Read(row.ToEvent(), display, crowd, now);
        var place = string.Join(", ", new[] { row.City, row.Region, row.Country }.Where(p => p.Length > 0));
        var fields = new List<EventFieldView>
        {
            new("name", Value(shown, "name"), row.MaskedName),
            new("e-mail", null, row.MaskedEmail),
            new("phone", null, row.MaskedPhone),
            new("place", Value(shown, "place"), place),
            new("product", Value(shown, "product"), row.ProductName ?? ""),
            new("category", Value(shown, "category"), row.ProductCategory ?? ""),
            new(
                "amount",
                Value(shown, EventTokens.Amount),
                row.Amount is { } amount ? Figures.Money(amount, row.Currency, CultureInfo.InvariantCulture) : ""
            ),
        };
        fields.AddRange(row.Fields.Select(f => new EventFieldView(f.Key, Value(shown, f.Key), f.Value)));
        return fields.FindAll(f => f.Arrived.Length > 0);
    }

    private static string? Value(TokenValues shown, string token) =>
        shown.TryGetValue(token, out var value) && value.Length > 0 ? value : null;

    private static string? PlaceNote(Place place, DisplayPolicy display, WordedEvent worded)
    {
        if (place == Place.Unknown || display.Place == PlaceLevel.None)
            return null;
        var crowd = worded.Crowd;
        var level = crowd.FinestLevel(place, display.Place);
        if (level == PlaceLevel.None)
            return $"No place is said: fewer than {PlaceCrowd.FewestPeople} people share it {worded.Window}.";
        var people = crowd.SharedBy(place, level).ToString(CultureInfo.InvariantCulture);
        var kept =
            level < display.Place
                ? $" {place.Named(display.Place)} is not said: fewer than {PlaceCrowd.FewestPeople} share it."
                : "";
        return $"{place.Named(level)} is said because {people} people share it {worded.Window}.{kept}";
    }

    private static List<EventUseView> Uses(LedgerEvent happened, LiveSite site, EventWording wording, Instant now)
    {
        var uses = new List<EventUseView>();
        for (var i = 0; i < site.Snapshot.Callouts.Count; i++)
        {
            var callout = site.Snapshot.Callouts[i];
            var refusal = callout.Evidence.Refuses(happened, now);
            if (refusal == EvidenceRefusal.OtherSource)
                continue;
            var rank = site.Snapshot.Evidence[i].Events.TakeWhile(e => e.Id != happened.Id).Count() + 1;
            uses.Add(
                new EventUseView(
                    callout.Id,
                    callout.Name,
                    refusal is null,
                    refusal switch
                    {
                        null => $"drawn on, number {rank} of {site.Snapshot.Evidence[i].Counted}, newest first",
                        EvidenceRefusal.Test => "a test is never public",
                        EvidenceRefusal.Hidden => "hidden here",
                        EvidenceRefusal.Held => "waiting for review",
                        EvidenceRefusal.Duplicate => "reported twice",
                        EvidenceRefusal.TooOld => "older than its window",
                        EvidenceRefusal.Future => "dated in the future",
                        _ => "does not meet its conditions",
                    },
                    wording.WordBy(i, happened).Spans
                )
            );
        }
        return uses;
    }
}
