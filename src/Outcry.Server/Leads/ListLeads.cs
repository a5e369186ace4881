using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Asking;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>How leads are asked for.</summary>
internal sealed record LeadFilter
{
    /// <summary>Part of an address, a number, a name or an answer.</summary>
    public string? Words { get; init; }

    /// <summary>Only in this state.</summary>
    public string? State { get; init; }

    /// <summary>Only with this tag.</summary>
    public string? Tag { get; init; }

    /// <summary>Only who said yes to this prompt.</summary>
    public Guid? Callout { get; init; }

    /// <summary>Only by this campaign.</summary>
    public string? Campaign { get; init; }

    /// <summary>Whether members' own tries are among them.</summary>
    public bool? Tests { get; init; }

    /// <summary>Where to go on, as an answer before said.</summary>
    public string? After { get; init; }

    private const int LongestWords = 200;

    /// <summary>The leads of a site that pass; or what is wrong with the asking.</summary>
    public (IQueryable<LeadRow>? Leads, ProblemHttpResult? Problem) Apply(OutcryDb db, Guid siteId)
    {
        if (Words?.Length > LongestWords)
            return (null, Problems.BadField("words", $"At most {LongestWords} characters."));
        if (!QueryChoice.TryRead<LeadState>(State, out var state))
            return (null, Problems.BadField("state", "There is no such state."));
        var leads = db.Leads.AsNoTracking().Where(l => l.Sites.Contains(siteId));
        if (Tests != true)
            leads = leads.Where(l => !l.IsTest);
        if (state is { } only)
            leads = leads.Where(l => l.State == only);
        if (Tag is { Length: > 0 } tag)
            leads = leads.Where(l => l.Tags.Contains(tag));
        if (Campaign is { Length: > 0 } campaign)
            leads = leads.Where(l => l.Campaign == campaign);
        if (Callout is { } callout)
            leads = leads.Where(l => db.LeadYeses.Any(y => y.LeadId == l.Id && y.CalloutId == callout));
        if (PlainText.OrNull(Words) is { } words)
        {
            var like = $"%{LikePattern.Literal(words)}%";
            leads = leads.Where(l =>
                EF.Functions.ILike(l.Email!, like, LikePattern.Escape)
                || EF.Functions.ILike(l.Phone!, like, LikePattern.Escape)
                || EF.Functions.ILike(l.FirstName + " " + l.Surname, like, LikePattern.Escape)
                || EF.Functions.ILike(l.From, like, LikePattern.Escape)
            );
        }
        return (leads, null);
    }
}

/// <summary>A lead in the table.</summary>
internal sealed record LeadView(
    Guid Id,
    LeadState State,
    string? Email,
    string? Phone,
    string Name,
    string From,
    string Page,
    string Campaign,
    Instant GaveAt,
    Instant ChangedAt,
    IReadOnlyList<string> Tags,
    string Language,
    string Place,
    bool IsTest
)
{
    public static LeadView Of(LeadRow row) =>
        new(
            row.Id,
            row.State,
            row.Email,
            row.Phone,
            $"{row.FirstName} {row.Surname}".Trim(),
            row.From,
            row.Page,
            row.Campaign,
            row.GaveAt,
            row.ChangedAt,
            row.Tags,
            row.Language,
            row.Place,
            row.IsTest
        );
}

/// <summary>How many stand in each state.</summary>
internal sealed record LeadCountsView(int Waiting, int Confirmed, int Withdrawn, int Unreachable);

/// <param name="Next">Asks for those after these; null when there are none.</param>
internal sealed record LeadPageView(
    IReadOnlyList<LeadView> Leads,
    string? Next,
    LeadCountsView Counts,
    IReadOnlyList<string> Tags
);

/// <summary>The table of leads: filtered, the latest change first, page by page.</summary>
internal static class ListLeads
{
    private const int InPage = 50;
    private const int MostTags = 100;

    public static async Task<Results<Ok<LeadPageView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        [AsParameters] LeadFilter filter,
        OutcryDb db,
        CancellationToken stop
    )
    {
        var (leads, problem) = filter.Apply(db, siteId);
        if (leads is null)
            return problem!;
        if (filter.After is { } after)
        {
            if (ReadCursor(after) is not var (at, id))
                return Problems.BadField("after", "This is not where an answer before ended.");
            leads = leads.Where(l => l.ChangedAt < at || (l.ChangedAt == at && l.Id < id));
        }
        var rows = await leads
            .OrderByDescending(l => l.ChangedAt)
            .ThenByDescending(l => l.Id)
            .Take(InPage + 1)
            .ToListAsync(stop);
        var ofSite = db.Leads.Where(l => l.Sites.Contains(siteId) && !l.IsTest);
        var counts = await ofSite
            .GroupBy(l => l.State)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, stop);
        var tags = await ofSite.SelectMany(l => l.Tags).Distinct().OrderBy(t => t).Take(MostTags).ToListAsync(stop);
        var shown = rows.Take(InPage).ToList();
        return TypedResults.Ok(
            new LeadPageView(
                shown.ConvertAll(LeadView.Of),
                rows.Count > InPage ? WriteCursor(shown[^1]) : null,
                new LeadCountsView(
                    counts.GetValueOrDefault(LeadState.Waiting),
                    counts.GetValueOrDefault(LeadState.Confirmed),
                    counts.GetValueOrDefault(LeadState.Withdrawn),
                    counts.GetValueOrDefault(LeadState.Unreachable)
                ),
                tags
            )
        );
    }

    private static string WriteCursor(LeadRow last) =>
        $"{InstantPattern.ExtendedIso.Format(last.ChangedAt)}_{last.Id.ToString("N", CultureInfo.InvariantCulture)}";

    private static (Instant At, Guid Id)? ReadCursor(string text) =>
        text.Split('_') is [var at, var id]
        && InstantPattern.ExtendedIso.Parse(at) is { Success: true, Value: var when }
        && Guid.TryParse(id, out var lead)
            ? (when, lead)
            : null;
}
