using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Callouts;

/// <summary>All callouts of a site with their figures; archived ones only when asked for.</summary>
internal static class ListCallouts
{
    // Rehearsing costs some milliseconds each; whoever has more silent callouts asks for the rest one by one.
    private const int MostAsked = 20;

    public static async Task<Ok<List<CalloutListView>>> HandleAsync(
        Guid siteId,
        OutcryDb db,
        LiveSites sites,
        CalloutFigures figures,
        TrafficReader reader,
        IClock clock,
        CancellationToken stop,
        bool archived = false,
        bool deleted = false
    )
    {
        var asked = db.On(DefinitionQueries.ShelfOf(archived, deleted), siteId, BriefKind.Callout);
        var rows = await asked.AsNoTracking().OrderBy(c => c.CreatedAt).ToListAsync(stop);
        var ids = rows.ConvertAll(r => r.Id);
        var live = await db.PublishedOf(asked).ToDictionaryAsync(r => r.DefinitionId, stop);
        var counted = await figures.ReadAsync(ids, stop);
        var (site, now) = (sites.GetById(siteId), clock.GetCurrentInstant());
        var notes = new Notes(site, await reader.ReadAsync(siteId, stop), now);
        return TypedResults.Ok(
            rows.ConvertAll(c =>
            {
                var figure = counted.GetValueOrDefault(c.Id, FiguresView.None);
                var revision = live.GetValueOrDefault(c.Id);
                var published = revision?.Content.TryRead<Brief>();
                return new CalloutListView(
                    c.Id,
                    c.Name,
                    c.Group,
                    c.State,
                    CalloutStandings.Of(c.State, published, now, site.Zone),
                    c.Revision,
                    revision is not null && !revision.Content.Equals(c.Draft),
                    // One whose draft somebody spoilt by hand is told as it is published.
                    c.Draft.TryRead<Brief>()
                        ?? published
                        ?? StarterBrief.Moment(EventKind.Purchase, []),
                    figure,
                    revision is not null && c.State == DefinitionState.Live
                        ? notes.Of(revision, published, figure)
                        : [],
                    c.ChangedAt,
                    c.ChangedBy,
                    c.DeletedAt + DefinitionQueries.Undo
                );
            })
        );
    }

    /// <summary>Looks at live callouts one after another.</summary>
    private sealed class Notes(LiveSite site, SiteTraffic traffic, Instant now)
    {
        private readonly Dictionary<Guid, Callout> _live = site.Snapshot.Callouts.ToDictionary(c => c.Id);
        private readonly Dictionary<Guid, string> _names = NotShownView.Names(site.Snapshot);
        private int _asked;

        private static Duration Lately { get; } = Duration.FromMinutes(10);

        public IReadOnlyList<CalloutNoteView> Of(RevisionRow revision, Brief? published, FiguresView figures)
        {
            var notes = new List<CalloutNoteView>();
            if (site.Broken.TryGetValue(revision.DefinitionId, out var broken))
                notes.Add(
                    new CalloutNoteView(
                        broken.GoesOn ? CalloutNote.ShownAsBefore : CalloutNote.CannotBeShown,
                        broken.Why,
                        ControlPlace.State
                    )
                );
            if (published is null || broken is { GoesOn: false })
                return notes;
            if (StarterWording.IsUntouched(published.Say.Message))
                notes.Add(new CalloutNoteView(CalloutNote.StarterWording, "", ControlPlace.Say));
            if (MessageTemplate.TryParse(published.Say.Message, out _)?.FailsAlways is { } failure)
                return [.. notes, new CalloutNoteView(CalloutNote.CannotBeShown, failure, ControlPlace.Say)];
            var day = Duration.FromHours(24);
            var isYoung = now - revision.PublishedAt < day;
            if (figures.LastShownAt is { } shown && (now - shown < day || isYoung))
                return notes;
            // A site heard a short while before it went live is no site that has lost its snippet.
            if (site.Hearing.HeardAt is not { } heard || heard < revision.PublishedAt - Lately)
                notes.Add(new CalloutNoteView(CalloutNote.NotHeard, "", null));
            else
                notes.Add(Silent(revision.DefinitionId, isYoung));
            return notes;
        }

        private CalloutNoteView Silent(Guid callout, bool isYoung)
        {
            var note = isYoung ? CalloutNote.WaitingForFirst : CalloutNote.NotShownLately;
            if (!_live.TryGetValue(callout, out var compiled) || _asked++ >= MostAsked)
                return new CalloutNoteView(note, "", null);
            var (findings, _) = AskWhy.Ask(site, DefinitionState.Live, callout, compiled, traffic, now);
            if (findings.Reasons is not [var first, ..] || findings.ShownShare > 0.5)
                return new CalloutNoteView(note, "Nobody it is for came by yet.", null);
            return new CalloutNoteView(
                note,
                ReasonSentence.Say(first.Reason, site.Zone, id => _names.GetValueOrDefault(id)),
                ReasonCatalogue.ControlOf(first.Reason)
            );
        }
    }
}
