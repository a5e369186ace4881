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
internal sealed class EventRecorder
{
    /// <summary>Events in one commit at most.</summary>
    private const int MostInGroup = 200;

    private readonly SystemDb _database;
    private readonly LiveSites _sites;
    private readonly SiteNews _news;
    private readonly Tombstones _tombstones;
    private readonly GroupCommit<Arriving, Fate> _groups;

    public EventRecorder(SystemDb database, LiveSites sites, SiteNews news, Tombstones tombstones)
    {
        (_database, _sites, _news, _tombstones) = (database, sites, news, tombstones);
        _groups = new GroupCommit<Arriving, Fate>(AddTogetherAsync, MostInGroup);
    }

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
        var site = _sites.GetById(source.SiteId);
        var first = FirstLook.Decide(arrival, source.Rules, site.Words, isOwn, isRepeat: false);
        var row = EventRows.Make(arrival, source, site, first, now);
        if (!source.Rules.Admits(row.ToEvent()))
            return new Recorded(DeliveryVerdict.LeftOut, null, null, ConditionsSentence);
        // Committed is committed: that its sender went away meanwhile undoes nothing.
        switch (await _groups.AskAsync(new Arriving(row, source)))
        {
            case Fate.Gone:
                return new Recorded(DeliveryVerdict.LeftOut, null, null, Tombstones.Sentence);
            case Fate.Known:
                return await FindAsync(source, row, stop);
            default:
                site.Add(row.ToEvent());
                await _news.TellHereAsync(site.Id, SiteChange.Event);
                return new Recorded(DeliveryVerdict.Accepted, row.Id, row.State, row.HeldBecause);
        }
    }

    private enum Fate
    {
        Added,

        /// <summary>It was there already.</summary>
        Known,

        /// <summary>It was deleted or erased before.</summary>
        Gone,
    }

    private async Task<IReadOnlyList<Fate>> AddTogetherAsync(IReadOnlyList<Arriving> arriving)
    {
        var stop = CancellationToken.None;
        foreach (var one in arriving)
            one.BeginAnew();
        await using var db = _database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var fresh = await AskAsync(db, arriving, hold: true, stop);
        var news = new NewsOfEvents(SiteNews.Channel, SiteNews.From);
        var added = await db.AddEventsAsync([.. fresh.Select(a => a.Row)], news, stop);
        await transaction.CommitAsync(stop);
        return
        [
            .. arriving.Select(a =>
                !fresh.Contains(a) ? Fate.Gone
                : added.Contains(a.Row.Id) ? Fate.Added
                : Fate.Known
            ),
        ];
    }

    // Those that were not deleted or erased before; of them those that repeat what was told are marked.
    private async Task<List<Arriving>> AskAsync(
        Store.OutcryDb db,
        IReadOnlyList<Arriving> arriving,
        bool hold,
        CancellationToken stop
    )
    {
        var answer = await db.AskAsync(RepeatMarks.QuestionOf(arriving, _tombstones.KeyOf, hold), stop);
        List<Arriving> fresh =
        [
            .. arriving.Where(a =>
                answer.Stones.Count == 0 || !answer.Stones.Contains((a.Row.SiteId, _tombstones.KeyOf(a.Row)))
            ),
        ];
        RepeatMarks.Mark(fresh, answer.Told);
        return fresh;
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
        var rows = MakeRows(arrivals, source, import, now);
        return await RecordRowsAsync(rows, arrivals.Count, source, dryRun, stop);
    }

    /// <summary>What many become in the ledger, as far as that can be said without asking it: masked, hashed, looked at; those that meet the source's conditions.</summary>
    public List<EventRow> MakeRows(IReadOnlyList<IncomingEvent> arrivals, SourceRow source, Guid? import, Instant now)
    {
        var site = _sites.GetById(source.SiteId);
        var rows = new List<EventRow>(arrivals.Count);
        var (words, asked) = (site.Words.Remembering(), new AskedFields(source, site));
        foreach (var arrival in arrivals)
        {
            var first = FirstLook.Decide(arrival, source.Rules, words, isOwn: false, isRepeat: false);
            var row = EventRows.Make(arrival, source, site, first, now, import, asked);
            if (source.Rules.Conditions.Count == 0 || source.Rules.Admits(row.ToEvent()))
                rows.Add(row);
        }
        return rows;
    }

    /// <summary>Commits rows that were made before; those already there are left as they are.</summary>
    /// <param name="arrived">Of how many they were made.</param>
    public async Task<RecordedMany> RecordRowsAsync(
        List<EventRow> rows,
        int arrived,
        SourceRow source,
        bool dryRun,
        CancellationToken stop
    )
    {
        await using var db = _database.Open();
        var arriving = await AskAsync(db, rows.ConvertAll(r => new Arriving(r, source)), hold: false, stop);
        rows = arriving.ConvertAll(a => a.Row);
        var added = dryRun ? await db.FindNewEventsAsync(rows, stop) : await db.AddEventsAsync(rows, news: null, stop);
        var held = rows.Count(r => added.Contains(r.Id) && r.State == EventState.Held);
        return new RecordedMany(added.Count, rows.Count - added.Count, held, arrived - rows.Count);
    }

    /// <summary>Notes that something was refused at a source, for its health.</summary>
    public async Task RefusedAsync(SourceRow source, string because, Instant now, CancellationToken stop)
    {
        await using var db = _database.Open();
        await db
            .Sources.Where(s => s.Id == source.Id)
            .ExecuteUpdateAsync(
                u => u.SetProperty(s => s.RefusedAt, now).SetProperty(s => s.RefusedBecause, PlainText.Clean(because)),
                stop
            );
    }

    private async Task<Recorded> FindAsync(SourceRow source, EventRow row, CancellationToken stop)
    {
        await using var db = _database.Open();
        var found = await db
            .Events.Where(e => e.SourceId == source.Id)
            .Where(e => e.ExternalId == row.ExternalId || (row.DeliveryId != null && e.DeliveryId == row.DeliveryId))
            .Select(e => new { e.Id, e.State })
            .FirstAsync(stop);
        return new Recorded(DeliveryVerdict.Repeated, found.Id, found.State);
    }
}
