using System.Runtime.CompilerServices;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Replaying;
using Outcry.Core.Visitors;
using Outcry.Store.Signals;

namespace Outcry.Server.Replays;

/// <summary>A lot of visitors with all their visits of a period, and how much of the period's record it took.</summary>
internal sealed record VisitorLot(IReadOnlyList<IReadOnlyList<RecordedVisit>> Visitors, long Reports);

/// <summary>Reads visits back from what snippets reported, visitor by visitor.</summary>
internal sealed partial class RecordedVisits(SignalRecord signals, ILogger<RecordedVisits> log)
{
    private const int VisitorsInLot = 200;

    /// <summary>How many reports a period holds.</summary>
    public Task<long> CountAsync(Guid siteId, Instant from, Instant until, CancellationToken stop) =>
        signals.CountAsync(siteId, from, until, stop);

    /// <summary>Reads a period, in lots of whole visitors.</summary>
    /// <param name="siteId">The site.</param>
    /// <param name="host">Its host, since only paths are recorded.</param>
    /// <param name="zone">Its time zone, by which visitors' clocks are taken to go.</param>
    /// <param name="from">From here.</param>
    /// <param name="until">To here, this end not included.</param>
    /// <param name="stop">Ends the reading.</param>
    public async IAsyncEnumerable<VisitorLot> ReadAsync(
        Guid siteId,
        string host,
        DateTimeZone zone,
        Instant from,
        Instant until,
        [EnumeratorCancellation] CancellationToken stop
    )
    {
        var pages = new Dictionary<SignalPage, PageAddress>();
        var (lot, reports) = (new List<IReadOnlyList<RecordedVisit>>(), 0L);
        var (current, builder) = ("", (VisitBuilder?)null);
        await foreach (var report in signals.ReadAsync(siteId, from, until, stop))
        {
            if (report.VisitorId != current)
            {
                Close();
                if (lot.Count >= VisitorsInLot)
                {
                    yield return new VisitorLot(lot, reports);
                    (lot, reports) = ([], 0);
                }
                (current, builder) = (report.VisitorId, new VisitBuilder(report.VisitorId));
            }
            reports++;
            Report(report, builder!, PageOf(report.Page), zone);
        }
        Close();
        if (reports > 0)
            yield return new VisitorLot(lot, reports);

        // Of a visitor whose page views lie before the period only ends may lie within it.
        void Close()
        {
            if (builder?.Build() is { Count: > 0 } visits)
                lot.Add(visits);
        }
        PageAddress PageOf(SignalPage recorded) =>
            pages.TryGetValue(recorded, out var page)
                ? page
                : pages[recorded] = PageAddress.Recorded(recorded.Host ?? host, recorded.Path, recorded.Query ?? "");
    }

    // What visitors' browsers once said is read as far as it can be: a visit without its traits is still a visit.
    private VisitTraits? TraitsOf(VisitReport report)
    {
        if (report.Traits is null)
            return null;
        try
        {
            return VisitTraits.Read(report.Traits);
        }
        catch (System.Text.Json.JsonException unreadable)
        {
            NotRead(unreadable, report.VisitorId, report.At);
            return null;
        }
    }

    [LoggerMessage(
        1501,
        LogLevel.Warning,
        "The traits of a visit of {Visitor} at {At} cannot be read; it counts without them"
    )]
    private partial void NotRead(Exception unreadable, string visitor, Instant at);

    private void Report(VisitReport report, VisitBuilder builder, PageAddress page, DateTimeZone zone)
    {
        switch (report.Kind)
        {
            case SignalKind.View:
                var traits = TraitsOf(report);
                builder.View(
                    report.Visit,
                    page,
                    report.At,
                    () => Facts(traits, (Device)report.Device, zone.GetUtcOffset(report.At)),
                    () => new WayIn(page.ToNote(), traits?.Referrer ?? "", traits?.Campaign ?? WayIn.Unknown.Campaign)
                );
                break;
            case SignalKind.Left:
                builder.Left(page, report.Value);
                break;
            case SignalKind.Depth:
                builder.Depth(page, report.Value);
                break;
        }
    }

    private static VisitorFacts Facts(VisitTraits? traits, Device device, Offset offset) =>
        new()
        {
            Device = device,
            Languages = traits?.Languages ?? [],
            Place = traits is null ? Place.Unknown : new Place(traits.City, traits.Region, traits.Country),
            Agreed = true,
            LocalOffset = offset,
        };
}
