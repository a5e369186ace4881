using System.Text.Json;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Passports;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>The sources that a shop fills.</summary>
internal sealed record ShopSources(SourceRow Orders, SourceRow Stock);

/// <summary>Takes a shop's events into the ledger.</summary>
internal sealed class ShopIntake(EventRecorder recorder, SiteNews news)
{
    /// <summary>Events in one message at most.</summary>
    public const int Most = 200;

    /// <summary>So far back orders of the past are asked for.</summary>
    public static Duration Past { get; } = Duration.FromDays(90);

    /// <summary>From so many on a message is taken as a lot, after which the site is read anew.</summary>
    private const int ManyAtOnce = 10;

    private const int MostNamed = 20;

    public async Task<ShopReceipt> TakeAsync(
        LiveSite site,
        ShopSources to,
        JsonElement list,
        string message,
        Instant now,
        CancellationToken stop
    )
    {
        var faults = new List<ShopFault>();
        var read = new List<(SourceRow Source, IncomingEvent Event, bool IsOwn)>();
        var index = 0;
        foreach (var item in list.EnumerateArray())
        {
            var body = System.Text.Encoding.UTF8.GetBytes(item.GetRawText());
            var (arrival, fault) = CloudEventReader.Read(body, $"{message}-{index}", now);
            var source = arrival is null ? null : SourceOf(arrival.Kind, to);
            if (arrival is not null && source is not null)
                read.Add((source, arrival, IsOwn(site, arrival)));
            else if (faults.Count < MostNamed)
                faults.Add(
                    fault is null
                        ? new ShopFault(index, "type", "A shop sends orders, purchases, bookings and stock levels.")
                        : new ShopFault(index, fault.Field, fault.Sentence)
                );
            index++;
        }
        var receipt =
            read.Count < ManyAtOnce ? await OneByOneAsync(read, now, stop) : await AsLotAsync(site, read, now, stop);
        return receipt with { Refused = faults };
    }

    private async Task<ShopReceipt> OneByOneAsync(
        List<(SourceRow Source, IncomingEvent Event, bool IsOwn)> read,
        Instant now,
        CancellationToken stop
    )
    {
        var (added, repeated, leftOut) = (0, 0, 0);
        foreach (var (source, arrival, isOwn) in read)
            switch ((await recorder.RecordAsync(arrival, source, isOwn, now, stop)).Verdict)
            {
                case DeliveryVerdict.Accepted:
                    added++;
                    break;
                case DeliveryVerdict.Repeated:
                    repeated++;
                    break;
                default:
                    leftOut++;
                    break;
            }
        return new ShopReceipt(added, repeated, leftOut, []);
    }

    private async Task<ShopReceipt> AsLotAsync(
        LiveSite site,
        List<(SourceRow Source, IncomingEvent Event, bool IsOwn)> read,
        Instant now,
        CancellationToken stop
    )
    {
        var paused = read.FindAll(r => r.Source.PausedAt is not null);
        var sum = new ShopReceipt(0, 0, paused.Count, []);
        foreach (var lot in read.Except(paused).Where(r => !r.IsOwn).GroupBy(r => r.Source))
        {
            var taken = await recorder.RecordManyAsync(
                [.. lot.Select(r => r.Event)],
                lot.Key,
                null,
                dryRun: false,
                now,
                stop
            );
            sum = sum with
            {
                Added = sum.Added + taken.Added,
                Repeated = sum.Repeated + taken.Repeated,
                LeftOut = sum.LeftOut + taken.LeftOut,
            };
        }
        var own = await OneByOneAsync(read.FindAll(r => r.IsOwn && r.Source.PausedAt is null), now, stop);
        await news.TellAsync(site.Id, SiteChange.Definition);
        return sum with
        {
            Added = sum.Added + own.Added,
            Repeated = sum.Repeated + own.Repeated,
            LeftOut = sum.LeftOut + own.LeftOut,
        };
    }

    private static SourceRow? SourceOf(EventKind kind, ShopSources to) =>
        kind switch
        {
            EventKind.Purchase or EventKind.Booking => to.Orders,
            EventKind.StockLevel => to.Stock,
            _ => null,
        };

    // What a member's own browser did, or what happened on a test host, is a test, whoever reports it.
    private static bool IsOwn(LiveSite site, IncomingEvent arrival) =>
        (arrival.VisitorId is { } visitor && Passport.IsMember(visitor)) || site.IsTestPage(arrival.Page);
}
