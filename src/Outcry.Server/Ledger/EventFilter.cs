using System.Linq.Expressions;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

/// <summary>What the ledger is filtered by, as its address has it.</summary>
internal sealed record EventFilter
{
    /// <summary>From one source.</summary>
    public Guid? Source { get; init; }

    /// <summary>One kind of event.</summary>
    public string? Kind { get; init; }

    /// <summary>One state, or "tooOld" for usable ones that are too old for every live callout.</summary>
    public string? State { get; init; }

    /// <summary>Part of the page's address; a * at its end changes nothing.</summary>
    public string? Page { get; init; }

    /// <summary>So many hours back; null for all time.</summary>
    public int? Hours { get; init; }

    /// <summary>Words, each of which begins a word of the event's name, place, product or category.</summary>
    public string? Text { get; init; }

    public const string TooOld = "tooOld";
    private const int LongestText = 100;

    /// <summary>The events that pass, newest first is not yet decided; or what is wrong with the filter.</summary>
    public (IQueryable<EventRow>? Events, ProblemHttpResult? Problem) Apply(OutcryDb db, LiveSite site, Instant now)
    {
        if (Hours is < 1 or > 24 * 3_650)
            return (null, Problems.BadField("hours", "Between 1 hour and 10 years."));
        if (!QueryChoice.TryRead<EventKind>(Kind, out var kind))
            return (null, Problems.BadField("kind", "There is no such kind of event."));
        EventState? state = null;
        if (State != TooOld && (!QueryChoice.TryRead(State, out state) || state == EventState.Deleted))
            return (
                null,
                Problems.BadField("state", "The state is usable, held, ownTest, hidden, duplicate or tooOld.")
            );
        if (Text?.Length > LongestText || Page?.Length > LongestText)
            return (null, Problems.BadField("text", $"At most {LongestText} characters."));
        var siteId = site.Id;
        var events = db.Events.AsNoTracking().Where(e => e.SiteId == siteId && e.State != EventState.Deleted);
        if (Source is not null)
            events = events.Where(e => e.SourceId == Source);
        if (kind is not null)
            events = events.Where(e => e.Kind == kind);
        if (state is not null)
            events = events.Where(e => e.State == state);
        if (State == TooOld)
            events = events.Where(OlderThanAll(site, now));
        if (Hours is { } back)
        {
            var since = now - Duration.FromHours(back);
            events = events.Where(e => e.At >= since);
        }
        if (!string.IsNullOrWhiteSpace(Page))
        {
            var part = $"%{LikePattern.Literal(Page.Trim().TrimEnd('*'))}%";
            events = events.Where(e => e.Page != null && EF.Functions.ILike(e.Page, part, LikePattern.Escape));
        }
        if (Query() is { } query)
            events = events.Where(e => e.Search.Matches(EF.Functions.ToTsQuery("simple", query)));
        return (events, null);
    }

    // Each word as a prefix, all of them wanted; what is no letter or digit could be an operator and is left out.
    private string? Query()
    {
        var words = (Text ?? "")
            .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
            .Select(w => new string([.. w.Where(char.IsLetterOrDigit)]))
            .Where(w => w.Length > 0)
            .ToList();
        return words.Count == 0 ? null : string.Join(" & ", words.Select(w => $"{w}:*"));
    }

    // For each source the longest window any live callout draws on; a callout of all time leaves nothing too old.
    private static Expression<Func<EventRow, bool>> OlderThanAll(LiveSite site, Instant now)
    {
        var row = Expression.Parameter(typeof(EventRow), "e");
        Expression any = Expression.Constant(false);
        foreach (var source in site.Sources.Keys)
        {
            var windows = site
                .Callouts.Where(c => c.Evidence.Sources.Contains(source))
                .Select(c => c.Evidence.Window)
                .ToList();
            if (windows.Count == 0 || windows.Contains(null))
                continue;
            var cut = now - windows.Max(w => w!.Value);
            any = Expression.OrElse(
                any,
                Expression.AndAlso(
                    Expression.Equal(Expression.Property(row, nameof(EventRow.SourceId)), Expression.Constant(source)),
                    Expression.LessThan(Expression.Property(row, nameof(EventRow.At)), Expression.Constant(cut))
                )
            );
        }
        var usable = Expression.Equal(
            Expression.Property(row, nameof(EventRow.State)),
            Expression.Constant(EventState.Usable)
        );
        return Expression.Lambda<Func<EventRow, bool>>(Expression.AndAlso(usable, any), row);
    }
}
