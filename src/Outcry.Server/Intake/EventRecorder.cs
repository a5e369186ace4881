using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Events;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>What became of something that arrived.</summary>
/// <param name="Verdict">Taken in, there already, or left out.</param>
/// <param name="EventId">The event in the ledger, new or not; null when it was left out.</param>
/// <param name="State">The state it has there.</param>
/// <param name="Because">Why it was left out or held.</param>
internal sealed record Recorded(
    DeliveryVerdict Verdict,
    Guid? EventId,
    EventState? State = null,
    string? Because = null
);

/// <summary>What became of many.</summary>
internal sealed record RecordedMany(int Added, int Repeated, int Held, int LeftOut);

/// <summary>Puts events into the ledger, each once, and tells whoever must know.</summary>
internal sealed class EventRecorder(
    SystemDb database,
    LiveSites sites,
    SiteNews news,
    EventCopy copy,
    Tombstones tombstones
)
{
    public const string PausedSentence = "The source is paused, so nothing comes in. Resume it in the ledger.";
    public const string ConditionsSentence = "It does not meet the source's conditions.";

    /// <summary>Commits the event; one that is already there is left as it is.</summary>
    /// <param name="isOwn">Whether a member, a test host or a test send is behind it.</param>
    public async Task<Recorded> RecordAsync(
        IncomingEvent arrival,
        SourceRow source,
        bool isOwn,
        Instant now,
        CancellationToken stop
    )
    {
        var recorded = await CommitAsync(arrival, source, isOwn, now, stop);
        Telemetry.CameIn(1, recorded.Verdict);
        return recorded;
    }

    private async Task<Recorded> CommitAsync(
        IncomingEvent arrival,
        SourceRow source,
        bool isOwn,
        Instant now,
        CancellationToken stop
    )
    {
        if (source.PausedAt is not null)
            return new Recorded(DeliveryVerdict.LeftOut, null, null, PausedSentence);
        var site = sites.GetById(source.SiteId);
        var row = EventRows.Make(arrival, source, site, State(arrival, source, site, isOwn, isRepeat: false), now);
        if (!source.Rules.Admits(row.ToEvent()))
            return new Recorded(DeliveryVerdict.LeftOut, null, null, ConditionsSentence);
        if ((await tombstones.FindAsync(site.Id, [row], stop)).Count > 0)
            return new Recorded(DeliveryVerdict.LeftOut, null, null, Tombstones.Sentence);
        if (!await TryAddAsync(row, source, stop))
            return await FindAsync(source, row, stop);
        site.Add(row.ToEvent());
        // It is committed: whatever befalls the news of it, its sender is told so.
        await news.TellAsync(site.Id, SiteChange.Event, row.Id);
        return new Recorded(DeliveryVerdict.Accepted, row.Id, row.State, row.HeldBecause);
    }

    // Between asking who told the like before and writing it down nobody else may tell of the same person.
    private async Task<bool> TryAddAsync(EventRow row, SourceRow source, CancellationToken stop)
    {
        await using var db = database.Open();
        var keys = KeysOf(row).ToList();
        await using var transaction =
            keys.Count > 0 && row.State != EventState.OwnTest ? await db.Database.BeginTransactionAsync(stop) : null;
        if (transaction is not null)
        {
            // In one order for all, so that two who share two keys do not wait for each other.
            foreach (var key in keys.Order(StringComparer.Ordinal))
                await db.Database.ExecuteSqlAsync(
                    $"select pg_advisory_xact_lock(hashtextextended({$"{row.SiteId:N}{key}"}, 0))",
                    stop
                );
            await MarkRepeatsAsync(db, [row], source, stop);
        }
        db.Events.Add(row);
        try
        {
            await db.SaveChangesAsync(stop);
        }
        catch (DbUpdateException clash)
            when (clash.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            return false;
        }
        if (transaction is not null)
            await transaction.CommitAsync(stop);
        return true;
    }

    /// <summary>Commits many at once, as an import or a fetched list brings them; those already there are left as they are.</summary>
    /// <param name="dryRun">Only counts what would become of them.</param>
    public async Task<RecordedMany> RecordManyAsync(
        IReadOnlyList<IncomingEvent> arrivals,
        SourceRow source,
        Guid? import,
        bool dryRun,
        Instant now,
        CancellationToken stop
    )
    {
        var site = sites.GetById(source.SiteId);
        await using var db = database.Open();
        var rows = new List<EventRow>(arrivals.Count);
        foreach (var arrival in arrivals)
        {
            var row = EventRows.Make(
                arrival,
                source,
                site,
                State(arrival, source, site, isOwn: false, isRepeat: false),
                now,
                import
            );
            if (source.Rules.Admits(row.ToEvent()))
                rows.Add(row);
        }
        var gone = await tombstones.FindAsync(site.Id, rows, stop);
        rows.RemoveAll(r => gone.Contains(r.Id));
        await MarkRepeatsAsync(db, rows, source, stop);
        var added = dryRun ? await copy.CountNewAsync(rows, stop) : await copy.AddAsync(rows, stop);
        var held = rows.Count(r => added.Contains(r.Id) && r.State == EventState.Held);
        return new RecordedMany(added.Count, rows.Count - added.Count, held, arrivals.Count - rows.Count);
    }

    /// <summary>Notes that something was refused at a source, for its health.</summary>
    public async Task RefusedAsync(SourceRow source, string because, Instant now, CancellationToken stop)
    {
        await using var db = database.Open();
        await db
            .Sources.Where(s => s.Id == source.Id)
            .ExecuteUpdateAsync(
                u => u.SetProperty(s => s.RefusedAt, now).SetProperty(s => s.RefusedBecause, PlainText.Clean(because)),
                stop
            );
    }

    private static FirstState State(
        IncomingEvent arrival,
        SourceRow source,
        LiveSite site,
        bool isOwn,
        bool isRepeat
    ) => FirstLook.Decide(arrival, source.Rules, site.Words, isOwn, isRepeat);

    // The e-mail address and the phone number that an event names, as hashes.
    private static IEnumerable<string> KeysOf(EventRow row) =>
        new[] { row.PersonKey, row.PhoneKey }.OfType<string>().Where(k => k[0] is 'e' or 'p').Distinct();

    // One question for many rows: who of these people told something like it a short while before or after?
    private static async Task MarkRepeatsAsync(
        Store.OutcryDb db,
        List<EventRow> rows,
        SourceRow source,
        CancellationToken stop
    )
    {
        var people = rows.Where(r => r.State != EventState.OwnTest && KeysOf(r).Any()).ToList();
        if (people.Count == 0)
            return;
        var keys = people.SelectMany(KeysOf).Distinct().ToList();
        var phones = keys.Where(k => k[0] == 'p').ToList();
        var (from, to) = (people.Min(r => r.At) - Repetition.Window, people.Max(r => r.At) + Repetition.Window);
        // The site is compared here and not there, so that the people are looked up by their own index and nothing else.
        var told = await ToldAsync(db.Events.Where(e => keys.Contains(e.PersonKey)), from, to, stop);
        if (phones.Count > 0)
            told.AddRange(
                await ToldAsync(
                    db.Events.Where(e =>
                        e.SiteId == source.SiteId && e.PhoneKey != null && phones.Contains(e.PhoneKey)
                    ),
                    from,
                    to,
                    stop
                )
            );
        var before = told.Where(t => t.SiteId == source.SiteId)
            .SelectMany(t => KeysOf(t).Select(k => (Key: k, Row: t)))
            .ToLookup(t => t.Key, t => t.Row);
        foreach (var row in people)
            if (
                KeysOf(row)
                    .SelectMany(k => before[k])
                    .Any(t =>
                        !(t.SourceId == row.SourceId && t.ExternalId == row.ExternalId)
                        && Repetition.IsRepeat(EventRows.ToldEvent(row, source), EventRows.ToldEvent(t))
                    )
            )
                (row.State, row.HeldBecause) = (EventState.Duplicate, null);
    }

    private static Task<List<EventRow>> ToldAsync(
        IQueryable<EventRow> by,
        Instant from,
        Instant to,
        CancellationToken stop
    ) =>
        by.AsNoTracking()
            .Where(e => e.At >= from && e.At <= to)
            .Where(e =>
                e.State != EventState.OwnTest && e.State != EventState.Deleted && e.State != EventState.Duplicate
            )
            .Select(e => new EventRow
            {
                SiteId = e.SiteId,
                SourceId = e.SourceId,
                Kind = e.Kind,
                PersonKey = e.PersonKey,
                PhoneKey = e.PhoneKey,
                ProductName = e.ProductName,
                At = e.At,
                ExternalId = e.ExternalId,
            })
            .ToListAsync(stop);

    private async Task<Recorded> FindAsync(SourceRow source, EventRow row, CancellationToken stop)
    {
        await using var db = database.Open();
        var found = await db
            .Events.Where(e => e.SourceId == source.Id)
            .Where(e => e.ExternalId == row.ExternalId || (row.DeliveryId != null && e.DeliveryId == row.DeliveryId))
            .Select(e => new { e.Id, e.State })
            .FirstAsync(stop);
        return new Recorded(DeliveryVerdict.Repeated, found.Id, found.State);
    }
}
