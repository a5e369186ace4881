using System.Collections.Concurrent;
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
    OneNode oneNode,
    LoopWatch watch,
    IHostApplicationLifetime lifetime,
    IClock clock
)
{
    private readonly ConcurrentDictionary<Guid, bool> _underWay = new();

    /// <summary>Fetches one source now, whatever its turn.</summary>
    public async Task<PollOutcome> RunAsync(SourceRow source, CancellationToken stop)
    {
        using var trace = Telemetry.Begin("poll");
        var now = clock.GetCurrentInstant();
        // Its turn is taken whatever comes of it: a list that breaks the reader is not fetched anew each minute.
        await using (var db = database.Open())
            await db
                .Sources.Where(s => s.Id == source.Id)
                .ExecuteUpdateAsync(u => u.SetProperty(s => s.PolledAt, now), stop);
        var outcome = await TryAsync(source, now, stop);
        var trouble =
            outcome.Fault ?? (outcome.Items > 0 && outcome.Rejected == outcome.Items ? outcome.FirstRejected : null);
        Telemetry.Polled(isWell: trouble is null);
        if (trouble is not null)
            await recorder.RefusedAsync(source, trouble, now, stop);
        if (outcome.Added > 0)
            await news.TellAsync(source.SiteId, SiteChange.Definition);
        return outcome;
    }

    /// <summary>Begins to fetch every source whose turn has come, and waits for none.</summary>
    /// <remarks>
    /// Each workspace fetches its own one after another, beside the others: one whose lists answer slowly, or never, keeps
    /// nobody else waiting. A node takes a workspace only while no other does.
    /// </remarks>
    public async Task BeginDueAsync(CancellationToken stop)
    {
        foreach (var workspace in (await DueAsync(stop)).GroupBy(s => s.WorkspaceId))
            if (_underWay.TryAdd(workspace.Key, true))
                _ = Task.Run(() => RunOfAsync(workspace.Key, [.. workspace]), CancellationToken.None);
    }

    /// <summary>Fetches every source whose turn has come, and returns when all have been.</summary>
    public async Task RunDueAsync(CancellationToken stop)
    {
        foreach (var source in await DueAsync(stop))
            await RunContainedAsync(source, stop);
    }

    private async Task<List<SourceRow>> DueAsync(CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        var polled = sites
            .All.SelectMany(s => s.Sources.Values)
            .Where(s => s is { Poll: not null, PausedAt: null, DeletedAt: null })
            .ToList();
        var ids = polled.ConvertAll(s => s.Id);
        // What memory holds of the last fetch may be old; the rows know.
        await using var db = database.Open();
        var last = await db.Sources.Where(s => ids.Contains(s.Id)).ToDictionaryAsync(s => s.Id, s => s.PolledAt, stop);
        return polled.FindAll(s =>
            last.TryGetValue(s.Id, out var at) && (at is null || now - at >= Duration.FromMinutes(s.Poll!.EveryMinutes))
        );
    }

    private async Task RunOfAsync(Guid workspace, IReadOnlyList<SourceRow> sources)
    {
        try
        {
            await oneNode.RunAsync(
                $"polls.{workspace:N}",
                async stop =>
                {
                    foreach (var source in sources)
                        await RunContainedAsync(source, stop);
                },
                lifetime.ApplicationStopping
            );
        }
        catch (Exception failure)
        {
            watch.PassedOver($"fetches of workspace {workspace}", failure);
        }
        finally
        {
            _underWay.TryRemove(workspace, out _);
        }
    }

    // One list's trouble is its own.
    private async Task RunContainedAsync(SourceRow source, CancellationToken stop)
    {
        try
        {
            await RunAsync(source, stop);
        }
        catch (Exception failure) when (!stop.IsCancellationRequested)
        {
            watch.PassedOver($"fetch of source {source.Id}", failure);
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

    // Whatever a foreign server answers is an answer; a reader that it breaks says so at its source.
    private async Task<(IReadOnlyList<ListItem> Items, string? Fault)> LookContainedAsync(
        Polling poll,
        CancellationToken stop
    )
    {
        try
        {
            return await LookAsync(poll, stop);
        }
        catch (Exception failure) when (!stop.IsCancellationRequested && !Problems.IsDatabaseAway(failure))
        {
            watch.PassedOver($"the answer of {poll.Address}", failure);
            return ([], "What it answers cannot be read as a list.");
        }
    }

    private async Task<PollOutcome> TryAsync(SourceRow source, Instant now, CancellationToken stop)
    {
        if (source.Poll is not { } poll)
            return PollOutcome.Failed("This source fetches nothing.");
        var (items, fault) = await LookContainedAsync(poll, stop);
        if (fault is not null)
            return PollOutcome.Failed(fault);
        var map = ListReader.OwnMap(poll.Format) ?? source.Map;
        if (map is null || map.Fault() is not null)
            return PollOutcome.Failed(map?.Fault() ?? "Say first what stands where in the list.");
        var zone = sites.GetById(source.SiteId).Zone;
        var arrivals = new List<IncomingEvent>();
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
    private static IncomingEvent Own(IncomingEvent arrival, SourceRow source, Polling poll, Instant now) =>
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
