using NodaTime;

namespace Outcry.Core.Care;

/// <summary>How long each kind of data is kept, in whole days of 24 hours; what is older is deleted once a day.</summary>
/// <param name="EventDays">Events in the ledger: 1 to 3,650.</param>
/// <param name="VisitDays">Page views and what became of callouts: 1 to 400.</param>
/// <param name="DeliveryDays">Bodies of webhook deliveries: 0 (kept for none) to 30.</param>
/// <param name="VisitorDays">Visitors known by what the page said of them, since last seen: 1 to 730.</param>
public sealed record Retention(int EventDays, int VisitDays, int DeliveryDays, int VisitorDays)
{
    /// <summary>Two years of events, 90 days of visits, 7 days of deliveries, 180 days of visitors.</summary>
    public static Retention Start { get; } = new(730, 90, 7, 180);

    /// <summary>A sentence for the first figure out of range, with its name; null when all are in range.</summary>
    public (string Field, string Sentence)? Fault() =>
        EventDays is < 1 or > 3_650 ? ("eventDays", "Events are kept between 1 day and 10 years.")
        : VisitDays is < 1 or > 400 ? ("visitDays", "Visits are kept between 1 and 400 days.")
        : DeliveryDays is < 0 or > 30 ? ("deliveryDays", "Deliveries are kept between 0 and 30 days.")
        : VisitorDays is < 1 or > 730 ? ("visitorDays", "Visitors are kept between 1 and 730 days.")
        : null;

    /// <summary>Events before this instant go.</summary>
    public Instant EventsFrom(Instant now) => now - Duration.FromDays(EventDays);

    /// <summary>Page views and the like before the start of this UTC day go, so that whole day partitions can be dropped.</summary>
    public LocalDate VisitsFrom(Instant now) => (now - Duration.FromDays(VisitDays)).InUtc().Date;

    /// <summary>Deliveries before this instant go.</summary>
    public Instant DeliveriesFrom(Instant now) => now - Duration.FromDays(DeliveryDays);

    /// <summary>Visitors last seen before this instant go.</summary>
    public Instant VisitorsFrom(Instant now) => now - Duration.FromDays(VisitorDays);
}
