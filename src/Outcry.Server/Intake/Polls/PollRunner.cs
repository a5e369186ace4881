using System.Globalization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Polls;

/// <summary>What a fetch came to.</summary>
/// <param name="Fault">Why nothing could be read; null when it could.</param>
/// <param name="FirstRejected">The first item that could not be taken, and why.</param>
internal sealed record PollOutcome(
    int Items,
    int Added,
    int Repeated,
    int Held,
    int LeftOut,
    int Rejected,
    string? FirstRejected,
    string? Fault
)
{
    public static PollOutcome Failed(string fault) => new(0, 0, 0, 0, 0, 0, null, fault);
}

/// <summary>Fetches the lists that sources draw on, and takes in what is new.</summary>
internal sealed class PollRunner(
    SafeFetch fetch,
    EventRecorder recorder,
    SystemDb database,
    LiveSites sites,
    SiteNews news,
    IClock clock
)
{
    /// <summary>Fetches one source now, whatever its turn.</summary>
    public async Task<PollOutcome> RunAsync(SourceRow source, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        var outcome = await TryAsync(source, now, stop);
        await using var db = database.Open();
        await db
            .Sources.Where(s => s.Id == source.Id)
            .ExecuteUpdateAsync(u => u.SetProperty(s => s.PolledAt, now), stop);
        var trouble =
            outcome.Fault ?? (outcome.Items > 0 && outcome.Rejected == outcome.Items ? outcome.FirstRejected : null);
        if (trouble is not null)
            await recorder.RefusedAsync(source, trouble, now, stop);
        if (outcome.Added > 0)
            await news.TellAsync(source.SiteId, SiteChange.Definition, null, stop);
        return outcome;
    }

    /// <summary>Fetches every source whose turn has come.</summary>
    public async Task RunDueAsync(CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        foreach (var site in sites.All)
        foreach (var source in site.Sources.Values.Where(s => s is { Poll: not null, PausedAt: null, DeletedAt: null }))
        {
            // What memory holds of the last fetch may be old; the row knows.
            await using var db = database.Open();
            var last = await db.Sources.Where(s => s.Id == source.Id).Select(s => s.PolledAt).FirstOrDefaultAsync(stop);
            if (last is null || now - last >= Duration.FromMinutes(source.Poll!.EveryMinutes))
                await RunAsync(source, stop);
        }
    }

    /// <summary>Reads a list as a source would, and says what would come of it; takes nothing in.</summary>
    public async Task<(IReadOnlyList<ListItem> Items, string? Fault)> LookAsync(Polling poll, CancellationToken stop)
    {
        var fetched = await fetch.GetAsync(poll.Address, stop);
        if (fetched.Fault is not null)
            return ([], fetched.Fault);
        var list = ListReader.Read(fetched.Text, poll);
        return (list.Items, list.Fault);
    }

    private async Task<PollOutcome> TryAsync(SourceRow source, Instant now, CancellationToken stop)
    {
        if (source.Poll is not { } poll)
            return PollOutcome.Failed("This source fetches nothing.");
        var (items, fault) = await LookAsync(poll, stop);
        if (fault is not null)
            return PollOutcome.Failed(fault);
        var map = ListReader.OwnMap(poll.Format) ?? source.Map;
        if (map is null || map.Fault() is not null)
            return PollOutcome.Failed(map?.Fault() ?? "Say first what stands where in the list.");
        var zone = sites.GetById(source.SiteId).Zone;
        var arrivals = new List<Arrival>();
        var rejected = 0;
        string? firstRejected = null;
        foreach (var item in items)
        {
            var (arrival, bad) = MapReader.Read(
                map with
                {
                    Kind = source.EventKind,
                },
                item.Read,
                new ReadingContext(item.ContentId, now, zone)
            );
            if (arrival is not null)
                arrivals.Add(Own(arrival, source, poll, now));
            else
            {
                rejected++;
                firstRejected ??= $"Item {item.Row}, {bad!.Field}: {bad.Sentence}";
            }
        }
        var newest = arrivals.OrderByDescending(a => a.At).Take(poll.Most).ToList();
        var taken = await recorder.RecordManyAsync(newest, source, null, dryRun: false, now, stop);
        return new PollOutcome(
            items.Count,
            taken.Added,
            taken.Repeated,
            taken.Held,
            taken.LeftOut,
            rejected,
            firstRejected,
            null
        );
    }

    // A total is news once a day or when it has changed; which of the two its id says.
    private static Arrival Own(Arrival arrival, SourceRow source, Polling poll, Instant now) =>
        source.EventKind != EventKind.Total
            ? arrival
            : arrival with
            {
                At = now,
                ExternalId = string.Create(
                    CultureInfo.InvariantCulture,
                    $"{now.InUtc().Date:uuuu-MM-dd}:{arrival.Fields.GetValueOrDefault(EventFields.Total)}"
                ),
                Fields = new Dictionary<string, string>(arrival.Fields) { [EventFields.Of] = poll.Of },
            };
}
