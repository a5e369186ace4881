using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Imports;

/// <summary>What is to be read from a file, and how.</summary>
/// <param name="Newest">Only so many of the newest rows; null for all.</param>
internal sealed record ImportOrder(Upload Upload, SourceRow Source, EventMap Map, int? Newest, bool DryRun, string By);

/// <summary>Reads files into the ledger, a lot at a time, so that a large file never has to fit into memory.</summary>
internal sealed partial class ImportRunner(
    EventRecorder recorder,
    UploadStore uploads,
    SystemDb database,
    LiveSites sites,
    SiteNews news,
    IClock clock,
    IHostApplicationLifetime lifetime,
    ILogger<ImportRunner> log
)
{
    /// <summary>Rows in one commit.</summary>
    private const int Lot = 2_000;

    /// <summary>Rejected rows kept with their reason; more are counted only.</summary>
    public const int MostRejects = 10_000;

    private const int MostFieldName = 200;

    /// <summary>Characters of a rejected row that are kept, so that it can be found and mended.</summary>
    private const int MostOriginal = 2_000;

    private readonly ConcurrentDictionary<Guid, CancellationTokenSource> _running = new();

    /// <summary>Begins an import and returns its row; it goes on by itself.</summary>
    public async Task<ImportRow> BeginAsync(ImportOrder order, CancellationToken stop)
    {
        var row = await AddRowAsync(order, stop);
        var cancel = CancellationTokenSource.CreateLinkedTokenSource(lifetime.ApplicationStopping);
        _running[row.Id] = cancel;
        _ = Task.Run(() => RunAsync(order, row, cancel), CancellationToken.None);
        return row;
    }

    /// <summary>Imports a file and returns when it is done, for programs that have nobody to show progress to.</summary>
    public async Task<ImportRow> RunToEndAsync(ImportOrder order, CancellationToken stop)
    {
        var row = await AddRowAsync(order, stop);
        await RunAsync(order, row, CancellationTokenSource.CreateLinkedTokenSource(stop));
        return row;
    }

    private async Task<ImportRow> AddRowAsync(ImportOrder order, CancellationToken stop)
    {
        var row = new ImportRow
        {
            WorkspaceId = order.Source.WorkspaceId,
            SiteId = order.Source.SiteId,
            SourceId = order.Source.Id,
            FileName = order.Upload.FileName,
            StartedBy = order.By,
            StartedAt = clock.GetCurrentInstant(),
            State = ImportState.Running,
            IsDryRun = order.DryRun,
        };
        await using var db = database.Open();
        db.Imports.Add(row);
        await db.SaveChangesAsync(stop);
        return row;
    }

    /// <summary>Stops an import after the lot at hand; what was read stays. False when it does not run here.</summary>
    public bool Cancel(Guid importId)
    {
        if (!_running.TryGetValue(importId, out var cancel))
            return false;
        cancel.Cancel();
        return true;
    }

    private async Task RunAsync(ImportOrder order, ImportRow row, CancellationTokenSource cancel)
    {
        try
        {
            await ReadAsync(order, row, cancel.Token);
            row.State = ImportState.Done;
        }
        catch (OperationCanceledException)
        {
            row.State = ImportState.Cancelled;
        }
        catch (CsvHelper.MaxFieldSizeException bad)
        {
            row.State = ImportState.Failed;
            row.Because =
                $"In or after row {row.Read + 2} a cell is longer than 64 KB: a quotation mark may not be closed there. What was read before is in the ledger.";
            Broken(row.Id, bad);
        }
        catch (Exception bad) when (Problems.IsDatabaseAway(bad))
        {
            row.State = ImportState.Failed;
            row.Because =
                "The database was away. What was read so far is in the ledger; import the file again, nothing counts twice.";
            Broken(row.Id, bad);
        }
        catch (Exception bad)
        {
            // Whatever it is, the list must not say for ever that the file is being read.
            row.State = ImportState.Failed;
            row.Because = "The file could not be read to its end. What was read so far is in the ledger.";
            Broken(row.Id, bad);
        }
        finally
        {
            _running.TryRemove(row.Id, out _);
            cancel.Dispose();
            row.EndedAt = clock.GetCurrentInstant();
            await SaveAsync(row, []);
            if (!order.DryRun)
                uploads.Forget(order.Upload.Id);
            if (row.Added > 0 && !order.DryRun)
                await news.TellAsync(row.SiteId, SiteChange.Definition);
        }
    }

    private async Task ReadAsync(ImportOrder order, ImportRow row, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        var zone = sites.GetById(order.Source.SiteId).Zone;
        var from = order.Newest is { } newest ? OldestOfNewest(order, newest, now, zone, stop) : Instant.MinValue;
        var lot = new List<IncomingEvent>(Lot);
        var rejects = new List<RejectRow>();
        var taken = 0;
        // While one lot is written the next is masked and looked at, and the one after that is read.
        var (making, writing) = (Task.CompletedTask, Task.CompletedTask);
        async Task WriteAsync()
        {
            await making;
            var (read, refused, before) = (lot, rejects, writing);
            var made = Task.Run(() => recorder.MakeRows(read, order.Source, row.Id, now), CancellationToken.None);
            making = made;
            writing = Task.Run(
                async () =>
                {
                    await before;
                    await FlushAsync(order, row, await made, read.Count, refused, stop);
                },
                CancellationToken.None
            );
            // No more than this many lots are in memory at once.
            await before;
            (lot, rejects) = (new List<IncomingEvent>(Lot), []);
        }
        try
        {
            foreach (var line in ImportFile.Rows(order.Upload.Path, order.Upload.Shape))
            {
                stop.ThrowIfCancellationRequested();
                row.Read++;
                var (arrival, fault) = Read(order, line, now, zone);
                if (fault is not null)
                    Reject(row, rejects, line, fault);
                else if (arrival!.At >= from && (order.Newest is not { } most || taken < most))
                {
                    taken++;
                    lot.Add(arrival);
                }
                if (lot.Count >= Lot || rejects.Count >= Lot)
                    await WriteAsync();
            }
            await WriteAsync();
        }
        finally
        {
            // Where the file cannot be read to its end, what is under way is still written, and counted.
            await writing;
        }
    }

    private static (IncomingEvent?, ArrivalFault?) Read(
        ImportOrder order,
        FileRow line,
        Instant now,
        DateTimeZone zone
    ) =>
        line.Item is { } item
            ? MapReader.Read(order.Map, item.Read, new ReadingContext(item.ContentId, now, zone))
            : (null, new ArrivalFault("", line.Fault!));

    private static void Reject(ImportRow row, List<RejectRow> rejects, FileRow line, ArrivalFault fault)
    {
        row.Rejected++;
        if (row.Rejected <= MostRejects)
            rejects.Add(
                new RejectRow
                {
                    WorkspaceId = row.WorkspaceId,
                    ImportId = row.Id,
                    Row = line.Row,
                    Field = PlainText.Clip(PlainText.Clean(fault.Field), MostFieldName),
                    Because = PlainText.Clean(fault.Sentence),
                    Original = PlainText.Clip(PlainText.Clean(line.Original.TrimEnd('\r', '\n')), MostOriginal),
                }
            );
    }

    // A first reading that keeps only times finds the oldest of the newest N; the second one takes them.
    private static Instant OldestOfNewest(
        ImportOrder order,
        int newest,
        Instant now,
        DateTimeZone zone,
        CancellationToken stop
    )
    {
        var times = new PriorityQueue<Instant, Instant>();
        foreach (var line in ImportFile.Rows(order.Upload.Path, order.Upload.Shape))
        {
            stop.ThrowIfCancellationRequested();
            if (Read(order, line, now, zone).Item1 is not { } arrival)
                continue;
            times.Enqueue(arrival.At, arrival.At);
            if (times.Count > newest)
                times.Dequeue();
        }
        return times.Count < newest ? Instant.MinValue : times.Peek();
    }

    private async Task FlushAsync(
        ImportOrder order,
        ImportRow row,
        List<EventRow> rows,
        int arrived,
        List<RejectRow> rejects,
        CancellationToken stop
    )
    {
        if (arrived > 0)
        {
            var counts = await recorder.RecordRowsAsync(rows, arrived, order.Source, order.DryRun, stop);
            row.Added += counts.Added;
            row.Repeated += counts.Repeated;
            row.Held += counts.Held;
            row.LeftOut += counts.LeftOut;
        }
        await SaveAsync(row, rejects);
        await news.TellAsync(row.SiteId, SiteChange.Imports);
    }

    private async Task SaveAsync(ImportRow row, IReadOnlyCollection<RejectRow> rejects)
    {
        try
        {
            await using var db = database.Open();
            db.Imports.Update(row);
            db.Rejects.AddRange(rejects);
            await db.SaveChangesAsync(CancellationToken.None);
        }
        catch (Exception away)
        {
            // The figures are saved with the next lot, or at the end.
            Broken(row.Id, away);
        }
    }

    [LoggerMessage(1203, LogLevel.Warning, "Import {Import} met trouble")]
    private partial void Broken(Guid import, Exception bad);
}
